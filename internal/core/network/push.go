package network

import (
	"slices"

	"turret/internal/core/calendar"
)

// Change gives an unfinished activity other stated dates; of what was started the finish
// counts alone.
type Change struct {
	Activity      int32
	Start, Finish calendar.Date
}

// Pushed is an activity whose early dates a change moves.
type Pushed struct {
	Activity int32
	Was, Is  [2]calendar.Date // early start and finish
	Days     int              // working days of its own by which its early finish moves; its start, where that stays
}

// End is a project whose end a change moves.
type End struct {
	Project int
	Was, Is calendar.Date
}

// Push gives what changes of stated dates move: the activities whose early dates differ from
// those of the network as it is, in its order, and the ends of projects. Only what the
// changes reach is computed.
func (n *Network) Push(changes []Change) (moved []Pushed, ends []End) {
	m := *n
	m.Activities, m.Dates, m.at = slices.Clone(n.Activities), slices.Clone(n.Dates), slices.Clone(n.at)
	touched := make([]bool, len(n.Activities))
	for _, c := range changes {
		a := &m.Activities[c.Activity]
		if a.Progress == Finished || n.Dates[c.Activity].Outside {
			continue
		}
		if a.Progress == Waiting && c.Start != 0 {
			a.Start = c.Start
		}
		if c.Finish != 0 {
			a.Finish = c.Finish
		}
		if a.Milestone {
			a.Start = a.Finish
		}
		touched[c.Activity] = true
	}
	of := make(map[int]bool) // projects
	for _, i := range n.order {
		if !touched[i] {
			continue
		}
		m.Dates[i].Driver = -1
		m.early(i)
		was, is := &n.at[i], &m.at[i]
		if *was == *is {
			continue
		}
		moved = append(moved, n.pushed(&m, i))
		of[int(n.Activities[i].Project)] = true
		for _, x := range n.outof.of(i) {
			touched[n.Links[x].To] = true
		}
	}
	return moved, n.otherEnds(&m, of)
}

// Relink gives what other links between the same activities move, as Push does, and the
// activities that then wait for themselves, loop by loop.
func (n *Network) Relink(links []Link) (moved []Pushed, ends []End, loops [][]int32) {
	m := Solve(n.Day, n.Activities, links)
	of := make(map[int]bool)
	for _, i := range n.order {
		if n.Dates[i].Outside || m.Dates[i].Outside || n.at[i] == m.at[i] {
			continue
		}
		moved = append(moved, n.pushed(m, i))
		of[int(n.Activities[i].Project)] = true
	}
	return moved, n.otherEnds(m, of), m.Loops
}

// pushed gives how an activity's dates differ in another network.
func (n *Network) pushed(m *Network, i int32) Pushed {
	was, is := &n.at[i], &m.at[i]
	p := Pushed{
		Activity: i, Days: is.f - was.f,
		Was: [2]calendar.Date{n.Dates[i].EarlyStart, n.Dates[i].EarlyFinish}, Is: [2]calendar.Date{m.Dates[i].EarlyStart, m.Dates[i].EarlyFinish},
	}
	if p.Days == 0 {
		p.Days = is.s - was.s
	}
	return p
}

// otherEnds lists the projects, of some, whose ends differ in another network.
func (n *Network) otherEnds(m *Network, of map[int]bool) (ends []End) {
	latest := make(map[int]calendar.Date, len(of))
	for _, i := range n.order {
		if p := int(n.Activities[i].Project); of[p] {
			latest[p] = max(latest[p], m.at[i].dayF)
		}
	}
	for p, day := range latest {
		if was := n.End(p); was != day {
			ends = append(ends, End{p, was, day})
		}
	}
	slices.SortFunc(ends, func(a, b End) int { return a.Project - b.Project })
	return ends
}
