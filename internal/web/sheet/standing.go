package sheet

import (
	"fmt"
	"html/template"
	"math"
	"strconv"
	"strings"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/standing"
	"turret/internal/office/sheet"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// say says the project in words, each figure with its trail.
func (p *Page) say() []shell.Phrase {
	var out []shell.Phrase
	for _, x := range sheet.Telling(p.Sheet.Now, p.Moment.OwnCurrency(p.Code)).Say() {
		ph := shell.Phrase{Text: x.Text, Tone: x.Tone}
		if x.States {
			ph.Link = p.Figure(p.Code, figure.Get(x.Figure).Name)
		}
		out = append(out, ph)
	}
	return out
}

// Decides says which dimensions make the overall standing what it is.
func (p *Page) Decides() string { return sheet.Telling(p.Sheet.Now, "").Decides() }

// Reason is a rule: what it read, its limits, and what it said, or why it was
// silent.
type Reason struct {
	Glyph  chart.Glyph
	Name   string
	Value  tell.Cell
	Link   string
	Scale  template.HTML
	Limits string
	Silent string
	Was    string // of the compared period, where it differs
}

func (p *Page) reasons() {
	n, before := p.Sheet.Now, p.Sheet.Before
	for _, r := range n.Reasons {
		x := Reason{
			Glyph:  chart.Glyph{Standing: r.Standing, What: tell.Capital(r.Rates)},
			Name:   r.Title(),
			Silent: r.Silent,
			Limits: tell.Limits(r),
		}
		x.Value = tell.Reading(&r, n.Currency, true)
		if r.Own == "" && r.Value.Known {
			e := figure.Get(r.Reading)
			x.Link = p.Figure(p.Code, e.Name)
			if own := n.Value(r.Reading); !own.Equal(r.Value) { // the rule read the project's own currency
				x.Link = p.State.With("in", "project").Trail(p.Code, e.Name)
			}
		}
		if r.Silent == "" {
			x.Scale = chart.Scale(tell.Float(r.Value), parsed(r.Watch), parsed(r.Act), r.Direction == standing.Below).
				SVG()
		}
		if r.Own == "" && before != nil && !before.Value(r.Reading).Equal(n.Value(r.Reading)) {
			x.Was = tell.Figure(r.Reading, before.Value(r.Reading), before.Currency, true).Text
		}
		p.Reasons = append(p.Reasons, x)
	}
	for _, o := range n.Override {
		p.Overrides = append(
			p.Overrides,
			fmt.Sprintf(
				"%s set to %s until %s: %s",
				tell.Capital(o.Dimension),
				tell.Capital(o.Standing),
				p.Moment.PeriodName(o.Until),
				o.Reason,
			),
		)
	}
}

func parsed(limit string) float64 {
	f, err := strconv.ParseFloat(limit, 64)
	if err != nil {
		return math.NaN()
	}
	return f
}

// moved says which standings changed since the compared period, or the last
// closed one.
func (p *Page) moved() {
	if p.Sheet.Moved == nil {
		return
	}
	for _, c := range p.Sheet.Moved.Changes {
		p.Moved = append(p.Moved, fmt.Sprintf("%s %s → %s", strings.ToLower(c.Dimension.String()), c.Was, c.Is))
	}
}
