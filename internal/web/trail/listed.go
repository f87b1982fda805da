package trail

import (
	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/tell"
)

// Listed is a project as lists of Weigh show it: some of its figures, each with
// the address of its trail.
type Listed struct {
	Code, Name, Lead, Link string
	Glyph                  chart.Glyph
	Figures                []LinkedCell
}

// LinkedCell is a figure with where it leads to, or "".
type LinkedCell struct {
	tell.Cell
	Link string
	Away bool // it leads to another page
}

// List writes a project with figures.
func (f Frame) List(r *office.Reading, ids ...figure.ID) Listed {
	x := Listed{
		Code:  r.Code,
		Name:  r.Name,
		Lead:  r.Lead,
		Link:  f.State.Project(r.Code),
		Glyph: chart.Glyph{Standing: r.Standing[standing.Overall], Overall: true, What: "Overall", Why: r.Why},
	}
	for _, id := range ids {
		c := LinkedCell{Cell: tell.Figure(id, r.Value(id), r.Currency, false)}
		if c.Known {
			c.Link = f.Figure(r.Code, figure.Get(id).Name)
		}
		x.Figures = append(x.Figures, c)
	}
	return x
}
