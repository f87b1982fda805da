package schedule

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/core/backlog"
	"turret/internal/core/calendar"
	"turret/internal/core/due"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
)

// Backlog is a project's backlog at a moment.
type Backlog struct {
	*backlog.Backlog
	Of        *office.Reading
	Early     string // why pace and finish are silent; "" where they are not
	AsOf      calendar.Date
	Recent    []Recent // what happened in the seven days before, by person
	DueBy     []*portfolio.Item
	PlannedBy calendar.Date
}

// Recent is what a person's items did in the last seven days.
type Recent struct {
	Who                        string
	Created, Accepted, Dropped int
}

// Backlogs are the projects of a moment that have a backlog, and one of them.
type Backlogs struct {
	Projects []*office.Reading
	One      *Backlog
	Periods  *calendar.Periods
}

// week is how many days count as just now.
const week = 7

// Backlogs lists the projects of a moment that have a backlog, those least ready in time
// first, and reads one of them: the one asked for, else the first.
func (o Room) Backlogs(ctx context.Context, a right.Actor, m *office.Moment, of string) (*Backlogs, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	out := &Backlogs{}
	if m.Empty {
		return out, nil
	}
	for _, r := range m.Readings().Rows {
		if r.Group || !wanted(r) || !m.InScope(r) || !m.Filter.Wants(r) || !r.Value(figure.Scope).Known {
			continue
		}
		out.Projects = append(out.Projects, r)
	}
	slices.SortStableFunc(out.Projects, func(a, b *office.Reading) int {
		x, y := a.Value(figure.NotReady), b.Value(figure.NotReady)
		if x.Known != y.Known {
			return flag(y.Known) - flag(x.Known)
		}
		if !x.Known {
			return 0
		}
		return y.R.Cmp(x.R)
	})
	var r *office.Reading
	for _, x := range out.Projects {
		if x.Code == of || of == "" {
			r = x
			break
		}
	}
	inputs, err := o.Book().InputsAt(ctx, m.Snapshot(), m.Period.Number)
	if err != nil || r == nil {
		return out, err
	}
	out.Periods = inputs.Office.Periods
	v, err := inputs.View(ctx, r.Code, m.Period.Number, m.Against)
	if err != nil || v == nil {
		return out, err
	}
	b := backlog.Of(v)
	if b == nil {
		return out, nil
	}
	out.One = &Backlog{Backlog: b, Of: r, AsOf: v.Day}
	if p := r.Value(figure.Pace); !p.Known {
		out.One.Early = p.Why
	}
	if today := calendar.DateIn(o.Clock()); today < v.Day {
		out.One.AsOf = today
	}
	_, out.One.PlannedBy = v.BaselineSpan()
	out.One.recent()
	return out, nil
}

// recent counts what happened in the week before, by person, and lists what is due.
func (b *Backlog) recent() {
	by := make(map[string]*Recent)
	within := func(d calendar.Date) bool { return d != 0 && d > b.AsOf-week && d <= b.AsOf }
	for _, it := range b.Items() {
		who := by[it.Owner]
		if who == nil {
			who = &Recent{Who: it.Owner}
			by[it.Owner] = who
		}
		if within(it.Created) {
			who.Created++
		}
		if within(it.Accepted) {
			who.Accepted++
		}
		if within(it.Dropped) {
			who.Dropped++
		}
		if it.InScope(b.Day) && !it.Done(b.Day) && it.Due != 0 && it.Due <= b.AsOf+due.Ahead {
			b.DueBy = append(b.DueBy, it)
		}
	}
	for _, r := range by {
		if r.Created+r.Accepted+r.Dropped > 0 {
			b.Recent = append(b.Recent, *r)
		}
	}
	slices.SortFunc(b.Recent, func(x, y Recent) int {
		return cmp.Or(y.Created+y.Accepted+y.Dropped-x.Created-x.Accepted-x.Dropped, cmp.Compare(x.Who, y.Who))
	})
	slices.SortStableFunc(b.DueBy, func(x, y *portfolio.Item) int { return cmp.Compare(x.Due, y.Due) })
}
