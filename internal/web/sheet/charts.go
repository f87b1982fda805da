package sheet

import (
	"math"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/tell"
)

// pairWidth is the width of a chart that stands beside another.
const pairWidth = 486

// curve draws money over time, cumulative or by period.
func (p *Page) curve() Chart {
	c, n := p.Sheet.Curve, p.Sheet.Now
	out := Chart{Unit: tell.MillionUnit(n.Currency)}
	if len(c.Periods) == 0 {
		return out
	}
	x := c.Draw(
		n.Currency,
		p.Moment.Period.Name,
		p.Curved(),
		func(id figure.ID) string { return p.Figure(p.Code, figure.Get(id).Name) },
	)
	out.Picture = chart.Fit(pairWidth, x.Draw)
	out.Head = append(out.Head, "Period")
	for _, s := range x.Series {
		out.Head = append(out.Head, tell.Capital(s.Name))
	}
	for i, name := range c.Periods {
		row := []string{name}
		for _, s := range x.Series {
			text := tell.Dash
			if k := i - s.First; k >= 0 && k < len(s.Values) && !math.IsNaN(s.Values[k]) {
				text = tell.Amount(tell.Thousandths(s.Values[k], 3), 3)
			}
			row = append(row, text)
		}
		out.Rows = append(out.Rows, row)
	}
	return out
}

// dateLines draws where the dates of raised milestones have gone.
func (p *Page) dateLines() Chart {
	s := p.Sheet
	c := tell.DateLines(s.Dated, s.DatedMilestones(), "#milestones")
	if len(c.Lines) == 0 {
		return Chart{}
	}
	out := Chart{Picture: chart.Fit(pairWidth, c.Draw), Head: []string{"Period"}}
	for _, l := range c.Lines {
		out.Head = append(out.Head, l.Name)
	}
	for i, name := range s.Dated {
		row := []string{name}
		for _, l := range c.Lines {
			row = append(row, tell.Date(calendar.Date(l.Days[i])))
		}
		out.Rows = append(out.Rows, row)
	}
	return out
}
