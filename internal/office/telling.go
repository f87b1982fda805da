package office

import (
	"turret/internal/book"
	"turret/internal/tell"
)

// Tell is what is told of the projects of a list.
func (m *Moment) Tell(l *List) *tell.Group {
	r := l.Total.Now
	fresh, recovered := m.News()
	return &tell.Group{
		Value: r.Value, Currency: r.Currency, Counts: r.Counts, All: l.All, Shown: l.Total.Shown, Filtered: !m.Filter.Empty(),
		Period: m.Period.Name, Since: m.Since.Name, Fresh: fresh, Recovered: recovered,
	}
}

// DatedMilestones are the raised milestones with the dates stated of them.
func (s *Sheet) DatedMilestones() []tell.DatedMilestone {
	var out []tell.DatedMilestone
	for _, m := range s.Milestones {
		if m.Raised {
			out = append(out, tell.DatedMilestone{Name: m.Name, Slip: m.Slip, State: m.State, Stated: m.Stated})
		}
	}
	return out
}

// Telling is what is told of one project.
func Telling(r *book.Reading) *tell.Project {
	return &tell.Project{Value: r.Value, Currency: r.Currency, State: r.State, Standing: r.Standing, Why: r.Why, HasSaid: r.HasSaid, Stated: r.Stated}
}
