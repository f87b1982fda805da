package office

import (
	"context"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/claim"
	"turret/internal/core/dates"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/tell"
)

// Alive fills the living figures of a text, names in braces, from a reading: figures of the
// catalogue, how it stands overall or in a dimension, the next milestone, and milestones by their
// code, of which milestone tells the day. What is not known reads so; a name that is none stays as
// it stands.
func Alive(text string, r *Reading, milestone func(code string) (string, bool)) string {
	return claim.Living(text, func(name string) (string, bool) {
		if code, ok := strings.CutPrefix(name, "milestone "); ok {
			if milestone == nil {
				return "", false
			}
			return milestone(code)
		}
		if code, ok := strings.CutPrefix(name, "standing_"); ok {
			d, ok := standing.ParseDimension(code)
			if !ok {
				return "", false
			}
			return r.Standing[d].String(), true
		}
		switch name {
		case "standing":
			return r.Standing[standing.Overall].String(), true
		case "next":
			if r.Next.Name == "" {
				return "no milestone", true
			}
			return r.Next.Name + ", " + tell.Date(r.Next.Date), true
		}
		id, ok := figure.Lookup(name)
		if !ok {
			return "", false
		}
		v := r.Value(id)
		switch {
		case !v.Known:
			return "not known", true
		case figure.Get(id).Unit == figure.Money:
			return tell.Millions(v, r.Currency), true
		}
		return tell.Figure(id, v, r.Currency, false).Text, true
	})
}

// Living fills the living figures of what was said of a project for a period, as a moment reads
// it: they follow its figures until it is closed, and stay as the cut has them.
func (o *Office) Living(ctx context.Context, m *Moment, code string, at calendar.Period, text string) (string, error) {
	if !claim.Lives(text) {
		return text, nil
	}
	r := m.Readings().Project(code)
	if at != m.Period.Number {
		var err error
		if r, err = o.book.Reading(ctx, m.snap, code, at, portfolio.Latest, !m.InProject); err != nil {
			return text, err
		}
	}
	if r == nil {
		return text, nil
	}
	milestone, err := o.milestones(ctx, m, code, at, text)
	return Alive(text, r, milestone), err
}

// milestoneDays tells of milestones by their code on which day they are, or that it is not known.
func milestoneDays(v *portfolio.View) func(code string) (string, bool) {
	days := make(map[string]calendar.Date)
	for _, x := range dates.Milestones(v) {
		days[v.Activities[x.Activity].Code] = x.Current
	}
	return func(code string) (string, bool) {
		d, ok := days[code]
		if ok && d == 0 {
			return "not known", true
		}
		return tell.Date(d), ok
	}
}

// milestones is milestoneDays of a project at a period, where a text names some.
func (o *Office) milestones(ctx context.Context, m *Moment, code string, at calendar.Period, text string) (func(string) (string, bool), error) {
	if !strings.Contains(text, "{milestone ") {
		return nil, nil
	}
	in, err := o.book.InputsAt(ctx, m.snap, at)
	if err != nil {
		return nil, err
	}
	v, err := in.View(ctx, code, at, portfolio.Latest)
	if err != nil || v == nil {
		return nil, err
	}
	return milestoneDays(v), nil
}

// livingOf is Living for what was said of a group.
func (o *Office) livingOf(ctx context.Context, m *Moment, group string, at calendar.Period, text string) (string, error) {
	if !claim.Lives(text) {
		return text, nil
	}
	rs := m.Readings()
	if at != m.Period.Number {
		var err error
		if rs, err = o.book.Readings(ctx, m.snap, at, portfolio.Latest, !m.InProject); err != nil {
			return text, err
		}
	}
	if r := rs.Group(group); r != nil {
		return Alive(text, r, nil), nil
	}
	return text, nil
}
