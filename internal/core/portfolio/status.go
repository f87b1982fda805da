package portfolio

import "turret/internal/core/calendar"

// Status is what is in force of one activity at a period. A zero date is not
// known; Percent and Units are in millionths and below zero where never said.
type Status struct {
	Percent       int64
	Units         int64
	Start, Finish calendar.Date
	Began, Done   calendar.Date
	Source        Source          // of the last statement
	SaidIn        calendar.Period // zero where nothing was said
}

// course holds what came into force of activities from period to period: first what
// holds before anything is said, then a status for each row of each period, in the
// order in which they were said, so that those of one period lie together.
type course struct {
	points []Status
	before []int32 // of each status the one that it took over from, of the same activity
	last   []int32 // of each activity its last status
}

// Settle makes of what was said of the project's activities what is in force, and
// lets go of what was said: nothing else is made of it. Activities and progress do
// not change any more.
func (p *Project) Settle() {
	p.course = courseOf(p)
	for i := range p.Progress {
		p.Progress[i].Rows = nil
	}
}

// courseOf takes of each field the value last said, in the order of periods.
func courseOf(p *Project) *course {
	all := len(p.Activities)
	for i := range p.Progress {
		all += len(p.Progress[i].Rows)
	}
	c := &course{make([]Status, 0, all), make([]int32, 0, all), make([]int32, len(p.Activities))}
	for i := range p.Activities {
		a := &p.Activities[i]
		c.last[i] = int32(i)
		c.points = append(c.points, Status{Percent: -1, Units: -1, Start: a.Start, Finish: a.Finish, Source: a.Source})
		c.before = append(c.before, int32(i))
	}
	for i := range p.Progress {
		for j := range p.Progress[i].Rows {
			r := &p.Progress[i].Rows[j]
			from := c.last[r.Activity]
			s := c.points[from]
			number(&s.Percent, r.Percent)
			number(&s.Units, r.Units)
			date(&s.Start, r.Start)
			date(&s.Finish, r.Finish)
			date(&s.Began, r.Began)
			date(&s.Done, r.Done)
			s.Source, s.SaidIn = r.Source, p.Progress[i].Period
			c.last[r.Activity] = int32(len(c.points))
			c.points, c.before = append(c.points, s), append(c.before, from)
		}
	}
	return c
}

// Status gives what is in force of an activity at a period: of each field the value
// last said in a period at or before it. It is not the caller's to change.
func (p *Project) Status(activity int, at calendar.Period) *Status {
	c := p.course
	if c == nil { // a project that is not settled
		c = courseOf(p)
	}
	i := c.last[activity]
	for c.points[i].SaidIn > at && c.before[i] != i {
		i = c.before[i]
	}
	return &c.points[i]
}

func number(to *int64, m Mark) {
	switch m.Said {
	case Value:
		*to = m.Int
	case None:
		*to = -1
	}
}

func date(to *calendar.Date, m Mark) {
	switch m.Said {
	case Value:
		*to = calendar.Date(m.Int)
	case None:
		*to = 0
	}
}
