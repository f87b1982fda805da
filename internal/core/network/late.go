package network

import (
	"math"

	"turret/internal/core/calendar"
)

// none is later than any limit.
const none = math.MaxInt

// backward gives each unfinished activity its late dates and floats, successors first.
func (n *Network) backward() {
	late := make([]int, len(n.Activities))
	for k := len(n.order) - 1; k >= 0; k-- {
		i := n.order[k]
		a, d := &n.Activities[i], &n.Dates[i]
		if a.Progress == Finished {
			continue
		}
		end := a.Calendar.Instant(n.ends[a.Project])
		f := min(end, n.latest(i, late, nil))
		free := min(end, n.soonest(i))
		if a.Constraint == NotAfter {
			f = min(f, a.Calendar.Instant(a.Bound))
		}
		late[i] = f
		d.Total = f - n.at[i].f
		d.Free = min(d.Total, free-n.at[i].f)
		d.LateFinish = a.Calendar.Day(f)
		switch {
		case a.Milestone:
			d.LateStart = d.LateFinish
		case a.Progress == Waiting:
			d.LateStart = a.Calendar.Day(f - n.length(i) + 1)
		}
	}
}

// length is the distance of an activity's early instants.
func (n *Network) length(i int32) int { return n.at[i].f - n.at[i].s }

// latest gives the latest finish that an activity's successors allow with their late
// finishes: those that are among some, or all.
func (n *Network) latest(i int32, late []int, among []bool) int {
	out := none
	for _, x := range n.outof.of(i) {
		l := &n.Links[x]
		if n.Hold[x] != Holds || among != nil && !among[l.To] {
			continue
		}
		f := late[l.To]
		out = min(out, n.allows(l, f-n.length(l.To), f))
	}
	return out
}

// soonest is latest with the early dates of the successors.
func (n *Network) soonest(i int32) int {
	out := none
	for _, x := range n.outof.of(i) {
		if l := &n.Links[x]; n.Hold[x] == Holds {
			out = min(out, n.allows(l, n.at[l.To].s, n.at[l.To].f))
		}
	}
	return out
}

// allows gives the latest finish of a link's predecessor, on its calendar, with which the
// link holds a successor's start and finish; none where the link asks nothing of it.
func (n *Network) allows(l *Link, s, f int) int {
	p, to := &n.Activities[l.From], &n.Activities[l.To]
	k := f - int(l.Lag)
	if l.Type.toStart() {
		k = s - int(l.Lag)
	}
	if !l.Type.fromStart() || p.Milestone {
		if p.Calendar == to.Calendar {
			return k
		}
		return p.Calendar.Instant(to.Calendar.Day(k+1) - 1)
	}
	if p.Progress == Started { // its start is a fact
		return none
	}
	if p.Calendar != to.Calendar { // it begins on that day at the latest
		k = p.Calendar.Instant(to.Calendar.Day(k+1)) - 1
	}
	return k + n.length(l.From)
}

// FloatTo gives the total float of each activity to a milestone: by how many of its own
// working days its early finish may move without moving the milestone's. Where ok is false
// it leads nowhere near.
func (n *Network) FloatTo(milestone int) (float []int, ok []bool) {
	float, ok = make([]int, len(n.Activities)), make([]bool, len(n.Activities))
	if n.Dates[milestone].Outside || n.Activities[milestone].Progress == Finished {
		return float, ok
	}
	late := make([]int, len(n.Activities))
	ok[milestone] = true
	end := n.at[milestone].dayF
	for k := len(n.order) - 1; k >= 0; k-- {
		i := n.order[k]
		a := &n.Activities[i]
		if a.Progress == Finished || !ok[i] && !n.leads(i, ok) {
			continue
		}
		ok[i] = true
		late[i] = min(a.Calendar.Instant(end), n.latest(i, late, ok))
		if a.Constraint == NotAfter {
			late[i] = min(late[i], a.Calendar.Instant(a.Bound))
		}
		float[i] = late[i] - n.at[i].f
	}
	return float, ok
}

func (n *Network) leads(i int32, to []bool) bool {
	for _, x := range n.outof.of(i) {
		if n.Hold[x] == Holds && to[n.Links[x].To] {
			return true
		}
	}
	return false
}

// End gives the latest early finish of a project, zero where none of its activities stands
// in the network.
func (n *Network) End(project int) calendar.Date {
	if project >= len(n.ends) {
		return 0
	}
	return n.ends[project]
}
