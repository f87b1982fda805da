// Package dates computes finishes, slips and the state of milestones of one
// project at a period.
package dates

import (
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// Planned gives the latest baseline finish of tasks and milestones; without
// any baseline date the project's own finish; zero where neither is known.
func Planned(v *portfolio.View) calendar.Date {
	_, finish := v.BaselineSpan()
	return finish
}

// Stated gives the latest current finish of tasks and milestones, the actual
// one where it is said; zero where none is known.
func Stated(v *portfolio.View) calendar.Date {
	var latest calendar.Date
	for i := range v.Activities {
		if v.Activities[i].Kind != portfolio.Summary {
			latest = max(latest, current(v.Status(i, v.Period)))
		}
	}
	return latest
}

func current(s *portfolio.Status) calendar.Date {
	if s.Done != 0 {
		return s.Done
	}
	return s.Finish
}

// State is what became of a milestone.
type State string

// The states of a milestone on the last day of a period.
const (
	Met       State = "met"
	Missed    State = "missed"
	Slipping  State = "slipping"
	Ahead     State = "ahead"
	AsPlanned State = "as planned"
	Unknown   State = "" // it has no baseline or no current date
)

// Milestone is a milestone at a period. Slip is in working days, from the
// baseline to the actual date of a met one, to the later of the current date
// and the period's end of a missed one, else to the current date.
type Milestone struct {
	Activity int
	Baseline calendar.Date
	Current  calendar.Date // the actual date where it is met
	State    State
	Slip     int
	Source   portfolio.Source
}

// Milestones gives the milestones of a project in the order of its activities.
func Milestones(v *portfolio.View) []Milestone {
	var out []Milestone
	for i := range v.Activities {
		if v.Activities[i].Kind != portfolio.Milestone {
			continue
		}
		s := v.Status(i, v.Period)
		m := Milestone{Activity: i, Current: s.Finish, Source: s.Source}
		if m.Current == 0 {
			m.Current = s.Start
		}
		if r := v.Row(i); r != nil {
			m.Baseline = r.Finish
			if m.Baseline == 0 {
				m.Baseline = r.Start
			}
		}
		met := s.Done != 0 && s.Done <= v.Day
		if s.Done != 0 {
			m.Current = s.Done
		}
		to := m.Current
		switch {
		case met:
			m.State = Met
		case m.Baseline != 0 && m.Baseline <= v.Day:
			m.State, to = Missed, max(m.Current, v.Day)
		case m.Baseline == 0 || m.Current == 0:
			m.State = Unknown
		case m.Current > m.Baseline:
			m.State = Slipping
		case m.Current < m.Baseline:
			m.State = Ahead
		default:
			m.State = AsPlanned
		}
		if m.Baseline != 0 && to != 0 {
			m.Slip = v.Cal.Slip(m.Baseline, to)
		}
		out = append(out, m)
	}
	return out
}

// MissedSlip gives the largest slip of a missed milestone of programme or
// portfolio level, 0 where none is missed; ok is false where no such milestone
// has a baseline date.
func MissedSlip(v *portfolio.View) (worst Milestone, ok bool) {
	for _, m := range Milestones(v) {
		if !v.Activities[m.Activity].Raised() || m.Baseline == 0 {
			continue
		}
		if !ok {
			worst, ok = Milestone{Activity: -1}, true
		}
		if m.State == Missed && m.Slip > worst.Slip {
			worst = m
		}
	}
	return worst, ok
}

// NextRaised gives the raised milestone that comes next after the period: of
// those not met the one with the earliest current date.
func NextRaised(v *portfolio.View) (next Milestone, ok bool) {
	for _, m := range Milestones(v) {
		if !v.Activities[m.Activity].Raised() || m.State == Met || m.Current == 0 {
			continue
		}
		if !ok || m.Current < next.Current {
			next, ok = m, true
		}
	}
	return next, ok
}

// History gives the date stated of an activity's finish at each period from one
// through the view's: the actual one where it was said; zero where none was.
func History(v *portfolio.View, activity int, from calendar.Period) []calendar.Date {
	var out []calendar.Date
	for q := from; q <= v.Period; q++ {
		s := v.Status(activity, q)
		d := current(s)
		if d == 0 {
			d = s.Start
		}
		out = append(out, d)
	}
	return out
}
