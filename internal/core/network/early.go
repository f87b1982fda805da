package network

import "turret/internal/core/calendar"

// forward gives each activity its early dates, predecessors first.
func (n *Network) forward() {
	for i := range n.Activities {
		if p := int(n.Activities[i].Project); p >= len(n.ends) {
			n.ends = append(n.ends, make([]calendar.Date, p+1-len(n.ends))...)
		}
		n.Dates[i].Driver = -1
	}
	for _, i := range n.order {
		n.early(i)
		p := n.Activities[i].Project
		n.ends[p] = max(n.ends[p], n.at[i].dayF)
	}
}

// early gives one activity its early dates; those of its predecessors are known.
func (n *Network) early(i int32) {
	a, t, d := &n.Activities[i], &n.at[i], &n.Dates[i]
	switch {
	case a.Progress == Finished:
		d.Cause = ByFact
		n.fact(a, t)
	case a.Milestone:
		n.milestone(i)
	case a.Progress == Started:
		d.Cause = ByStatement
		t.s, t.dayS = a.Calendar.Instant(a.Start-1), a.Start-1
		stated, next := a.Calendar.Instant(a.Finish), a.Calendar.Instant(n.Day)+1
		if t.f = stated; next > stated {
			t.f, d.Cause = next, ByPeriod
		}
		if f, by := n.held(i, false); by >= 0 && f >= t.f {
			t.f, d.Cause, d.Driver = f, ByLink, by
		}
		t.dayF = a.Calendar.Day(t.f)
	default:
		n.task(i)
	}
	d.EarlyStart, d.EarlyFinish = t.dayS+1, t.dayF
	if a.Milestone {
		d.EarlyStart = t.dayF
	}
}

// fact takes the actual dates as they are, working days or not.
func (n *Network) fact(a *Activity, t *times) {
	t.f, t.dayF = a.Calendar.Instant(a.Finish), a.Finish
	if a.Milestone {
		t.s, t.dayS = t.f, t.dayF
		return
	}
	t.s, t.dayS = a.Calendar.Instant(a.Start-1), a.Start-1
}

// milestone gives a milestone that is not met its day.
func (n *Network) milestone(i int32) {
	a, t, d := &n.Activities[i], &n.at[i], &n.Dates[i]
	d.Cause = ByStatement
	t.f = a.Calendar.Instant(a.Finish)
	if next := a.Calendar.Instant(n.Day) + 1; next > t.f {
		t.f, d.Cause = next, ByPeriod
	}
	for _, start := range [...]bool{true, false} {
		if f, by := n.held(i, start); by >= 0 && (f > t.f || f == t.f && d.Driver < 0) {
			t.f, d.Cause, d.Driver = f, ByLink, by
		}
	}
	switch bound := a.Calendar.Instant(a.Bound); {
	case a.Constraint == On, a.Constraint == NotBefore && bound > t.f:
		t.f, d.Cause, d.Driver = bound, ByConstraint, -1
	}
	t.s = t.f
	t.dayF = a.Calendar.Day(t.f)
	t.dayS = t.dayF
}

// task gives a task that was not started its early dates.
func (n *Network) task(i int32) {
	a, t, d := &n.Activities[i], &n.at[i], &n.Dates[i]
	d.Cause = ByStatement
	t.s = a.Calendar.Instant(a.Start - 1)
	if now := a.Calendar.Instant(n.Day); now > t.s {
		t.s, d.Cause = now, ByPeriod
	}
	if s, by := n.held(i, true); by >= 0 && s >= t.s {
		t.s, d.Cause, d.Driver = s, ByLink, by
	}
	bound := a.Calendar.Instant(a.Bound - 1)
	if a.Constraint == On || a.Constraint == NotBefore && bound > t.s {
		t.s, d.Cause, d.Driver = bound, ByConstraint, -1
	}
	t.f = t.s + a.days()
	if a.Constraint != On {
		if f, by := n.held(i, false); by >= 0 && f > t.f {
			t.f, d.Cause, d.Driver = f, ByLink, by
		}
	}
	t.dayS, t.dayF = a.Calendar.Day(t.s+1)-1, a.Calendar.Day(t.f)
}

// days is what a task takes: its stated working days, at least 1.
func (a *Activity) days() int {
	if a.Milestone {
		return 0
	}
	return max(1, a.Calendar.Duration(a.Start, a.Finish))
}

// held gives the latest start or finish that links into an activity ask for, and the first
// link that asks for it; -1 where none does.
func (n *Network) held(i int32, start bool) (latest int, by int32) {
	by = -1
	for _, x := range n.into.of(i) {
		l := &n.Links[x]
		if n.Hold[x] != Holds || l.Type.toStart() != start {
			continue
		}
		if k := n.asks(l, &n.at[l.From]); by < 0 || k > latest {
			latest, by = k, x
		}
	}
	return latest, by
}

// asks gives the instant that a link asks of its successor, by its predecessor's times.
func (n *Network) asks(l *Link, from *times) int {
	p, s := n.Activities[l.From].Calendar, n.Activities[l.To].Calendar
	k, day := from.f, from.dayF
	if l.Type.fromStart() {
		k, day = from.s, from.dayS
	}
	if p != s {
		k = s.Instant(day)
	}
	return k + int(l.Lag)
}

// Broken gives by how many working days of its successor a link does not hold with the
// stated dates, 0 where it holds; ok is false where it holds nothing.
func (n *Network) Broken(x int) (days int, ok bool) {
	if n.Hold[x] != Holds {
		return 0, false
	}
	l := &n.Links[x]
	from, to := n.stated(l.From), n.stated(l.To)
	is := to.f
	if l.Type.toStart() {
		is = to.s
	}
	return max(0, n.asks(l, &from)-is), true
}

// stated gives the times of an activity as they are stated.
func (n *Network) stated(i int32) (t times) {
	a := &n.Activities[i]
	if a.Progress == Finished {
		n.fact(a, &t)
		return t
	}
	t.f = a.Calendar.Instant(a.Finish)
	t.dayF = a.Calendar.Day(t.f)
	if a.Milestone {
		t.s, t.dayS = t.f, t.dayF
		return t
	}
	t.s = a.Calendar.Instant(a.Start - 1)
	t.dayS = a.Start - 1
	if a.Progress == Waiting {
		t.dayS = a.Calendar.Day(t.s+1) - 1
	}
	return t
}
