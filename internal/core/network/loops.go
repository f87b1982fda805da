package network

import "slices"

// loops lists the activities that wait for themselves: the strongly connected parts of the
// graph that have more than one activity, or a link to itself. Tarjan's algorithm, without
// recursion, since chains are long.
func (n *Network) loops() [][]int32 {
	const unseen = -1
	index, low := make([]int32, len(n.Activities)), make([]int32, len(n.Activities))
	for i := range index {
		index[i] = unseen
	}
	on := make([]bool, len(n.Activities))
	var stack []int32
	var out [][]int32
	type step struct{ at, next int32 }
	var path []step
	count := int32(0)
	enter := func(i int32) {
		index[i], low[i], on[i] = count, count, true
		count++
		stack = append(stack, i)
		path = append(path, step{at: i})
	}
	for root := range n.Activities {
		if index[root] != unseen {
			continue
		}
		enter(int32(root))
		for len(path) > 0 {
			s := &path[len(path)-1]
			i := s.at
			if links := n.outof.of(i); int(s.next) < len(links) {
				to := n.Links[links[s.next]].To
				s.next++
				if index[to] == unseen {
					enter(to)
				} else if on[to] {
					low[i] = min(low[i], index[to])
				}
				continue
			}
			path = path[:len(path)-1]
			if len(path) > 0 {
				low[path[len(path)-1].at] = min(low[path[len(path)-1].at], low[i])
			}
			if low[i] != index[i] {
				continue
			}
			from := len(stack) - 1 // what belongs together lies at the end
			for stack[from] != i {
				from--
			}
			part := slices.Clone(stack[from:])
			stack = stack[:from]
			for _, k := range part {
				on[k] = false
			}
			if len(part) > 1 || n.waitsForItself(i) {
				slices.Sort(part)
				out = append(out, part)
			}
		}
	}
	slices.SortFunc(out, func(a, b []int32) int { return int(a[0] - b[0]) })
	return out
}

func (n *Network) waitsForItself(i int32) bool {
	return slices.ContainsFunc(n.outof.of(i), func(x int32) bool { return n.Links[x].To == i })
}
