package entry

import (
	"context"
	"slices"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/store"
)

// Effect is what a gather would do to the readings of one project in the period
// that is being worked on.
type Effect struct {
	Code   string                `json:"code"`
	Name   string                `json:"name"`
	Moves  []EffectMove          `json:"moves"`
	Before *office.Reading       `json:"-"` // nil for a new project
	After  *office.Reading       `json:"-"`
	Stands []office.StandingMove `json:"standings,omitempty"`
	Brings []string              `json:"brings,omitempty"`  // findings that it would bring, in words
	Ends   []string              `json:"settles,omitempty"` // findings that it would settle
	Dates  *Redated              `json:"dates,omitempty"`   // of a project whose schedule it changes
}

// EffectMove is a figure before and after, as readings write them; "" is not
// known.
type EffectMove struct {
	Figure string    `json:"figure"`
	ID     figure.ID `json:"-"`
	Was    string    `json:"was"`
	Is     string    `json:"is"`
}

// watched are the figures whose moves are told: those that people ask for
// first, then all others.
var watched = func() []figure.ID {
	out := []figure.ID{
		figure.BAC,
		figure.PV,
		figure.EV,
		figure.AC,
		figure.OnOrder,
		figure.EACStated,
		figure.EACComputed,
		figure.CPI,
		figure.SPIT,
		figure.FinishStated,
		figure.FinishSlip,
		figure.LateShare,
		figure.RiskExposure,
	}
	for i := range figure.Len() {
		if id := figure.ID(i); !slices.Contains(out, id) {
			out = append(out, id)
		}
	}
	return out
}()

// statedFor is the period that a batch states something for: the last of its dated
// statements, else the one that is being worked on.
func statedFor(snap *book.Snapshot, b *store.Batch) calendar.Period {
	var at calendar.Period
	for i := range b.Parts {
		if p := b.Parts[i].Part; p.Kind.Dated() {
			at = max(at, calendar.Period(p.Version))
		}
	}
	if at == 0 {
		return snap.Current()
	}
	return at
}

// effects reads the projects that a batch touches as they are and as it would
// leave them, in a period; zero is the one being worked on then. Unnamed is what schedules no
// longer name, by project.
func (o Room) effects(
	ctx context.Context,
	snap *book.Snapshot,
	b *store.Batch,
	at calendar.Period,
	unnamed map[int64]*Redated,
) ([]Effect, *book.Rules, error) {
	if b == nil || len(b.Parts)+len(b.Records) == 0 {
		return nil, snap.Rules, nil
	}
	after, err := snap.With(ctx, b)
	if err != nil {
		return nil, nil, err
	}
	if at == 0 {
		at = after.Current()
	}
	is, err := after.Live(ctx, at, 0, false)
	if err != nil {
		return nil, nil, err
	}
	was, err := snap.Live(ctx, at, 0, false)
	if err != nil {
		return nil, nil, err
	}
	scheduled := make(map[int64]bool)
	for i := range b.Parts {
		if k := b.Parts[i].Part.Kind; k == portfolio.ActivityPart || k == portfolio.ProgressPart || k == portfolio.LinkPart {
			scheduled[b.Parts[i].Part.Project] = true
		}
	}
	var out []Effect
	for _, r := range is.Rows {
		if r.Group {
			continue
		}
		e := Effect{Code: r.Code, Name: r.Name, Before: was.Project(r.Code), After: r}
		for _, id := range watched {
			v := r.Value(id)
			m := EffectMove{Figure: figure.Get(id).Name, ID: id}
			if e.Before != nil {
				if u := e.Before.Value(id); u.Equal(v) {
					continue
				} else if u.Known {
					m.Was = u.Text(r.Currency)
				}
			}
			if v.Known {
				m.Is = v.Text(r.Currency)
			}
			e.Moves = append(e.Moves, m)
		}
		if e.Before != nil {
			for _, d := range after.Rules.Dimensions() {
				if x, y := e.Before.Standing[d], r.Standing[d]; x != y {
					e.Stands = append(
						e.Stands,
						office.StandingMove{Dimension: d, Name: after.Rules.Code(d), Was: x.Code(), Is: y.Code()},
					)
				}
			}
		}
		settled, brought := e.Settles()
		for i := range settled {
			e.Ends = append(e.Ends, settled[i].Text)
		}
		for i := range brought {
			e.Brings = append(e.Brings, string(brought[i].Severity)+": "+brought[i].Text)
		}
		if p := after.Project(r.Code); p != nil && scheduled[p.ID] && e.Before != nil {
			if e.Dates, err = redates(ctx, snap, after, r.Code, at, unnamed[p.ID]); err != nil {
				return nil, nil, err
			}
		}
		if e.Before == nil || e.Dates != nil || len(e.Moves)+len(e.Stands)+len(settled)+len(brought) > 0 {
			out = append(out, e)
		}
	}
	return out, after.Rules, nil
}

// Settles tells which findings of a project an effect settles, and which it
// brings.
func (e *Effect) Settles() (settled, brought []finding.Finding) {
	return book.Settled(e.Before, e.After)
}

// New tells that the project would be made.
func (e *Effect) New() bool { return e.Before == nil }
