// Package network computes the dates of activities that wait for each other, across
// projects: early and late dates, floats, what drives what, broken links and loops.
//
// It counts in instants: the ends of working days, numbered on an activity's own calendar
// (calendar.Instant). An activity has a start S, the instant of the day before it begins,
// and a finish F; a milestone has both in one. An instant meets another calendar by its
// day. Nothing is pulled ahead of what is stated.
package network

import "turret/internal/core/calendar"

// Progress tells how far an activity is on the last day of the period.
type Progress uint8

// An activity waits, was started, or is finished. A milestone is never started.
const (
	Waiting Progress = iota
	Started
	Finished
)

// Type says which ends a link ties: the predecessor's and the successor's.
type Type uint8

// The types of links.
const (
	FinishStart Type = iota
	StartStart
	FinishFinish
	StartFinish
)

// TypeNamed reads FS, SS, FF and SF; any other is FS.
func TypeNamed(s string) Type {
	switch s {
	case "SS":
		return StartStart
	case "FF":
		return FinishFinish
	case "SF":
		return StartFinish
	}
	return FinishStart
}

func (t Type) String() string { return [...]string{"FS", "SS", "FF", "SF"}[t] }

// fromStart tells whether the predecessor's start counts, toStart the successor's.
func (t Type) fromStart() bool { return t == StartStart || t == StartFinish }
func (t Type) toStart() bool   { return t == FinishStart || t == StartStart }

// Constraint binds the date of an activity by itself.
type Constraint uint8

// The constraints; those of the start mean the day of a milestone.
const (
	Free Constraint = iota
	NotBefore
	On
	NotAfter
)

// ConstraintNamed reads "not before", "on" and "not after"; any other binds nothing.
func ConstraintNamed(s string) Constraint {
	switch s {
	case "not before":
		return NotBefore
	case "on":
		return On
	case "not after":
		return NotAfter
	}
	return Free
}

// Activity is a task without children or a milestone, as it is stated at the end of a
// period. Dates of Began and Done count as they are said; zero where they are not.
type Activity struct {
	Project       int32 // a number for all activities of one project, from 0
	Milestone     bool
	Progress      Progress
	Calendar      *calendar.Calendar
	Start, Finish calendar.Date // current ones; of what is finished or started, actual ones where they are known
	Constraint    Constraint
	Bound         calendar.Date // of the constraint
}

// Link is a dependency between two activities, by their places. Lag is in working days of
// the successor.
type Link struct {
	From, To int32
	Type     Type
	Lag      int32
}

// Hold tells whether a link holds its successor.
type Hold uint8

// A link holds, or holds nothing: its successor is finished, or was started before it, or
// one of its ends stands in a loop.
const (
	Holds Hold = iota
	Over
	Overtaken
	Looped
)

// Cause is what an early date comes from.
type Cause uint8

// An early date is the stated one, that of what was done, the first day after the period,
// held by a link, or by a constraint.
const (
	ByStatement Cause = iota
	ByFact
	ByPeriod
	ByLink
	ByConstraint
)

// Dates are what the passes give of one activity.
type Dates struct {
	Outside                 bool // it stands in a loop, and has no dates
	EarlyStart, EarlyFinish calendar.Date
	LateStart, LateFinish   calendar.Date // zero where finished; the start zero where started
	Total, Free             int           // working days of the activity; none where it is finished
	Cause                   Cause
	Driver                  int32 // the link that holds it, or -1
}

// Critical tells whether an unfinished activity has no float.
func (n *Network) Critical(i int) bool {
	return !n.Dates[i].Outside && n.Activities[i].Progress != Finished && n.Dates[i].Total <= 0
}

// Network is what the passes give of all activities and links on a day.
type Network struct {
	Day        calendar.Date
	Activities []Activity
	Links      []Link
	Dates      []Dates // by activity
	Hold       []Hold  // by link
	Loops      [][]int32

	into, outof fans // links by their successor, and by their predecessor
	order       []int32
	at          []times
	ends        []calendar.Date // the latest early finish of each project
}

// times are the early instants of an activity, with their days: that before the start, and
// the finish.
type times struct {
	s, f       int
	dayS, dayF calendar.Date
}

// fans lists links by activity.
type fans struct{ first, link []int32 }

func (f *fans) of(i int32) []int32 {
	if f.first == nil {
		return nil
	}
	return f.link[f.first[i]:f.first[i+1]]
}

func fan(n int, links []Link, end func(*Link) int32) fans {
	f := fans{make([]int32, n+1), make([]int32, len(links))}
	for i := range links {
		f.first[end(&links[i])+1]++
	}
	for i := range n {
		f.first[i+1] += f.first[i]
	}
	next := append([]int32(nil), f.first...)
	for i := range links {
		e := end(&links[i])
		f.link[next[e]] = int32(i)
		next[e]++
	}
	return f
}

// Solve makes both passes over activities and links, on the last day of a period.
func Solve(day calendar.Date, activities []Activity, links []Link) *Network {
	n := &Network{
		Day: day, Activities: activities, Links: links,
		Dates: make([]Dates, len(activities)), Hold: make([]Hold, len(links)), at: make([]times, len(activities)),
		into:  fan(len(activities), links, func(l *Link) int32 { return l.To }),
		outof: fan(len(activities), links, func(l *Link) int32 { return l.From }),
	}
	n.arrange()
	for i := range links {
		n.Hold[i] = n.holds(&links[i])
	}
	n.forward()
	n.backward()
	return n
}

// holds tells whether a link can hold its successor.
func (n *Network) holds(l *Link) Hold {
	to := &n.Activities[l.To]
	switch {
	case n.Dates[l.From].Outside || n.Dates[l.To].Outside:
		return Looped
	case to.Progress == Finished:
		return Over
	case to.Progress == Started && l.Type.toStart():
		return Overtaken
	}
	return Holds
}

// arrange puts activities in an order in which predecessors come first, and those of loops
// outside.
func (n *Network) arrange() {
	if n.order = n.sorted(); len(n.order) == len(n.Activities) {
		return
	}
	n.Loops = n.loops()
	for _, loop := range n.Loops {
		for _, i := range loop {
			n.Dates[i].Outside = true
		}
	}
	n.order = n.sorted()
}

// sorted gives what can be put in order of what stands inside.
func (n *Network) sorted() []int32 {
	waits := make([]int32, len(n.Activities))
	order := make([]int32, 0, len(n.Activities))
	for i := range n.Links {
		if l := &n.Links[i]; !n.Dates[l.From].Outside && !n.Dates[l.To].Outside {
			waits[l.To]++
		}
	}
	for i := range n.Activities {
		if waits[i] == 0 && !n.Dates[i].Outside {
			order = append(order, int32(i))
		}
	}
	for k := 0; k < len(order); k++ {
		for _, x := range n.outof.of(order[k]) {
			if to := n.Links[x].To; !n.Dates[to].Outside {
				if waits[to]--; waits[to] == 0 {
					order = append(order, to)
				}
			}
		}
	}
	return order
}
