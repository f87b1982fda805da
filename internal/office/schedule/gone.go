package schedule

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/dates"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
)

// Gone is where the date of a raised milestone has gone.
type Gone struct {
	*Activity
	Stated []calendar.Date // by period; zero where nothing was said yet
	State  dates.State
	Moved  int    // working days from the first date that was stated to the last
	Steps  []Step // the periods in which it moved, the latest first
}

// Step is a period in which a date moved, with the lead's words of that period.
type Step struct {
	Period   string
	From, To calendar.Date
	Days     int
	Words    string
}

// Went is where the dates of raised milestones have gone.
type Went struct {
	*Schedule
	Periods    []string
	Ends       []calendar.Date // last days of the periods
	Milestones []Gone          // those that moved most first
	Still      int             // that did not move
}

// Went tells where the dates of the moment's raised milestones have gone, period by period.
func (o Room) Went(ctx context.Context, a right.Actor, m *office.Moment) (*Went, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.schedule(ctx, m, nil)
	if err != nil {
		return nil, err
	}
	out := &Went{Schedule: s}
	if m.Empty {
		return out, nil
	}
	first := cmp.Or(m.Snapshot().First(), m.Period.Number) // nothing may be stated for a period yet
	for p := first; p <= m.Period.Number; p++ {
		out.Periods, out.Ends = append(out.Periods, m.PeriodName(p)), append(out.Ends, s.periods.Last(p))
	}
	for _, r := range s.Projects {
		v, err := s.inputs.View(ctx, r.Code, m.Period.Number, m.Against)
		if err != nil || v == nil {
			return nil, err
		}
		state := make(map[int]dates.State)
		for _, x := range dates.Milestones(v) {
			state[x.Activity] = x.State
		}
		list := s.By[r.Code]
		for i := range list {
			x := &list[i]
			if !x.Milestone() || !x.Raised() {
				continue
			}
			g := Gone{Activity: x, State: state[x.id], Stated: dates.History(v, x.id, first)}
			var was calendar.Date
			for k, d := range g.Stated {
				if was != 0 && d != 0 && d != was {
					days := x.calendar.Slip(was, d)
					g.Moved += days
					p := first + calendar.Period(k)
					said, err := o.Living(ctx, m, r.Code, p, words(v.Narratives, p))
					if err != nil {
						return nil, err
					}
					g.Steps = append(g.Steps, Step{m.PeriodName(p), was, d, days, said})
				}
				was = cmp.Or(d, was)
			}
			slices.Reverse(g.Steps)
			if len(g.Steps) == 0 {
				out.Still++
			}
			out.Milestones = append(out.Milestones, g)
		}
	}
	slices.SortStableFunc(out.Milestones, func(a, b Gone) int { return cmp.Compare(b.Moved, a.Moved) })
	return out, nil
}

// words are those of a project's summary of a period.
func words(list []portfolio.Narrative, p calendar.Period) string {
	for i := range list {
		if list[i].Period == p && list[i].Section == "summary" {
			return list[i].Text
		}
	}
	return ""
}
