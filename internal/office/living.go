package office

import (
	"context"

	"turret/internal/core/calendar"
	"turret/internal/core/claim"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/tell"
)

// Alive fills the living figures of a text, names in braces, from a reading: figures of the
// catalogue, how it stands, and the next milestone. What is not known reads so; a name that is
// none stays as it stands.
func Alive(text string, r *Reading) string {
	return claim.Living(text, func(name string) (string, bool) {
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
	return Alive(text, r), nil
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
		return Alive(text, r), nil
	}
	return text, nil
}
