package board

import (
	"fmt"
	"html/template"
	"strings"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/weigh"
	"turret/internal/tell"
)

// Row is a project or group as the board shows it.
type Row struct {
	Group  bool
	Indent int
	Code   string // of a project
	Name   string
	Note   string // its state where it is not active; how many of a group are shown
	Link   string // of a project's sheet, or of a programme's board
	Fold   string // address with the group folded or not; "" for none
	Folded bool
	Key    string
	Cells  []Cell
}

// Cell is one value with its trail, and the compared one where it differs.
type Cell struct {
	tell.Cell
	Class string
	Glyph template.HTML // in place of a text
	Link  string
	Was   string // of the compared period, in words; "" where it is the same
}

// Classes are those of the table cell.
func (c Cell) Classes() string {
	if c.Was != "" {
		return strings.TrimSpace(c.Class + " differs")
	}
	return c.Class
}

func (p *Page) row(r board.Row) Row {
	n := r.Now
	row := Row{Group: r.Group, Indent: r.Depth, Name: n.Name, Folded: r.Folded, Key: r.Key}
	switch {
	case !r.Group:
		row.Code, row.Link = n.Code, p.State.Project(n.Code)
		if n.State != portfolio.Active {
			row.Note = string(n.State)
		}
	default:
		row.Fold = p.Toggle("fold", r.Key)
		if r.Scope != "*" && r.Scope != p.Moment.Scope.Code {
			row.Link = p.State.With("scope", r.Scope).Board()
		}
		if !p.Moment.Filter.Empty() || r.Folded {
			row.Note = tell.Plural(r.Shown, "project", "projects")
		}
	}
	for _, c := range p.Columns {
		cell := p.cell(r, c)
		cell.Class = strings.TrimSpace(cell.Class + " c-" + c.Name)
		row.Cells = append(row.Cells, cell)
	}
	return row
}

func (p *Page) cell(r board.Row, c Column) Cell {
	n := r.Now
	switch c.Kind {
	case "glyph":
		return p.glyph(r, c.dimension)
	case "strip":
		if r.Group {
			return Cell{}
		}
		return Cell{Glyph: p.strip(n.Code), Link: p.State.Project(n.Code) + "#history"}
	case "outlook":
		over, stated := tell.Float(n.Value(figure.ComputedOver)), tell.Float(n.Value(figure.StatedOver))
		cell := Cell{Glyph: chart.Outlook(1+over, 1+stated, n.Standing[standing.Cost]).SVG()}
		if !n.Value(figure.ComputedOver).Known {
			cell.Glyph, cell.Cell = "", tell.Percent(n.Value(figure.ComputedOver))
		}
		return cell
	case "milestone":
		cell := Cell{Class: "next quiet", Cell: tell.Cell{Text: n.Next.Said(p.Moment.Period.Last), Known: true}}
		if n.Next.Name == "" {
			return Cell{Class: "next quiet", Cell: tell.Cell{Text: tell.Dash, Title: "No raised milestone of what runs is left"}}
		}
		cell.Title = fmt.Sprintf("%s, %s", n.Next.Said(p.Moment.Period.Last), tell.Date(n.Next.Date))
		if r.Before != nil && r.Before.Next.Name != n.Next.Name && r.Before.Next.Name != "" {
			cell.Was = r.Before.Next.Name
		}
		return cell
	case "text":
		return p.words(r, c.Name)
	case "error":
		return p.missed(r)
	}
	return p.figure(r, c.id)
}

func (p *Page) glyph(r board.Row, d standing.Dimension) Cell {
	n := r.Now
	g := chart.Glyph{
		Standing: n.Standing[d],
		Overall:  d == standing.Overall,
		What:     tell.Capital(p.Moment.DimensionTitle(d)),
	}
	if d == standing.Overall && g.Standing == standing.Unrated {
		g.Why = n.Why
	}
	cell := Cell{Class: "g", Glyph: g.SVG()}
	if !r.Group {
		cell.Link = p.State.Project(n.Code) + "#standing"
		if d == standing.Overall && n.HasSaid && n.Stated != n.Standing[d] && n.Stated != standing.Unrated &&
			n.Standing[d] != standing.Unrated {
			cell.Glyph += chart.Glyph{Standing: n.Stated, Small: true, What: "Stated"}.SVG()
		}
	}
	if r.Before != nil && r.Before.Standing[d] != n.Standing[d] {
		cell.Was = r.Before.Standing[d].String()
	}
	return cell
}

func (p *Page) strip(code string) template.HTML {
	var marks []chart.StripMark
	for i, m := range p.strips(code) {
		marks = append(marks, chart.StripMark{Standing: m.Standing, Known: m.Known, Period: p.names[i]})
	}
	return chart.Strip(marks).SVG()
}

func (p *Page) words(r board.Row, name string) Cell {
	n := r.Now
	text := map[string]string{"lead": n.Lead, "sponsor": n.Sponsor, "stage": n.Stage, "state": string(n.State), "currency": string(n.Currency)}[name]
	switch {
	case name == "milestone_date" && n.Next.Date != 0:
		return Cell{Class: "n", Cell: tell.Cell{Text: tell.Date(n.Next.Date), Known: true}}
	case name == "stated" && n.HasSaid:
		return Cell{Glyph: chart.Glyph{Standing: n.Stated, What: "Stated"}.SVG()}
	case r.Group:
		return Cell{}
	case text == "":
		return Cell{Cell: tell.Cell{Text: tell.Dash, Title: "Not stated"}}
	}
	return Cell{Cell: tell.Cell{Text: text, Known: true}}
}

// missed tells by how much a project's forecasts missed what came.
func (p *Page) missed(r board.Row) Cell {
	e := p.errors[r.Now.Code]
	switch {
	case r.Group:
		return Cell{Class: "n"}
	case e.Count == 0:
		return Cell{Class: "n", Cell: tell.Cell{Text: tell.Dash, Title: "No forecast is old enough"}}
	}
	return Cell{
		Class: "n",
		Link:  p.State.Forecasts(r.Now.Code, weigh.ErrorAhead),
		Cell: tell.Cell{
			Text: tell.Ratio(e.Absolute, false),
			Title: fmt.Sprintf(
				"%s missed by %s, mean %s",
				tell.Plural(e.Count, "statement", "statements"),
				tell.Ratio(e.Absolute, false),
				tell.Ratio(e.Mean, true),
			),
			Known: true,
		},
	}
}

func (p *Page) figure(r board.Row, id figure.ID) Cell {
	v := r.Now.Value(id)
	cell := Cell{Class: "n", Cell: tell.Figure(id, v, r.Now.Currency, false)}
	if id == figure.AtStake && v.Known && v.N == 0 {
		cell.Text = "–"
	}
	if cell.Known {
		cell.Link = p.trail(r, id)
	}
	switch {
	case r.Group:
	case id == figure.ComputedOver && r.Now.Standing[standing.Cost] == standing.Act && v.Known && v.R.Sign() > 0,
		id == figure.FinishSlip && r.Now.Standing[standing.Dates] == standing.Act && v.Known && v.N > 0:
		cell.Class = "n bad"
	}
	if r.Before != nil && !r.Before.Value(id).Equal(v) {
		cell.Was = tell.Figure(id, r.Before.Value(id), r.Before.Currency, false).Text
	}
	return cell
}

// Moved is a project whose standings changed, in words.
type Moved struct {
	Code, Name, Link string
	Was, Is          chart.Glyph
	Lines            []string
}

func (p *Page) moved(x office.Moved) Moved {
	out := Moved{Code: x.Now.Code, Name: x.Now.Name, Link: p.State.Project(x.Now.Code) + "#standing"}
	first := x.Changes[0]
	what := tell.Capital(first.Name)
	overall := first.Dimension == standing.Overall
	out.Was = chart.Glyph{Standing: first.Was, What: what + " then", Overall: overall}
	out.Is = chart.Glyph{Standing: first.Is, What: what + " now", Overall: overall}
	out.Lines = x.Lines()
	return out
}
