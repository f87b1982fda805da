package board

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/figure"
	"turret/internal/core/standing"
	"turret/internal/office/weigh"
	"turret/internal/tell"
)

// Column is a column that the board can show: a standing, a strip, an
// attribute of projects, or any figure of the catalogue.
type Column struct {
	Name, Title string
	Kind        string // glyph, strip, outlook, text, milestone, error, figure
	Unit        string
	Class       string
	dimension   standing.Dimension
	id          figure.ID

	Sort    string // address of the board sorted by it
	Sorted  string // ascending, descending, or ""
	Left    string // addresses of the board with the column moved or gone
	Right   string
	Without string
}

// rated are the dimensions that have rules today.
var rated = []standing.Dimension{
	standing.Overall,
	standing.Dates,
	standing.Cost,
	standing.Progress,
	standing.Risk,
	standing.Data,
}

// fresh is what the board shows until columns are chosen.
const fresh = "overall,dates,cost,progress,risk,data,strip,outlook,computed_over,at_stake,finish_stated,finish_slip,milestone"

var titles = map[figure.ID]string{
	figure.ComputedOver: "Over plan",
	figure.FinishStated: "Finish",
	figure.FinishSlip:   "Slip",
}

// every lists all columns, in the order in which they are offered.
var every = func() []Column {
	var out []Column
	for d := standing.Data + 1; d < standing.Most; d++ { // the office's own, where it has them
		out = append(out, Column{Name: d.String(), Title: d.String(), Kind: "glyph", Class: "g", dimension: d})
	}
	for _, d := range rated {
		out = append(
			out,
			Column{Name: d.String(), Title: tell.Capital(d.String()), Kind: "glyph", Class: "g", dimension: d},
		)
	}
	out = append(
		out,
		Column{
			Name:  "strip",
			Title: "12 periods",
			Kind:  "strip",
		},
		Column{Name: "outlook", Title: "Outlook against plan", Kind: "outlook"},
		Column{
			Name:  "milestone",
			Title: "Next milestone",
			Kind:  "milestone",
			Class: "next quiet",
		},
		Column{Name: "milestone_date", Title: "Next milestone's date", Kind: "text", Class: "n"},
	)
	for _, x := range [...][2]string{{"lead", "Lead"}, {"sponsor", "Sponsor"}, {"stage", "Stage"}, {"state", "State"}, {"currency", "Currency"}, {"stated", "Stated standing"}} {
		out = append(out, Column{Name: x[0], Title: x[1], Kind: "text"})
	}
	out = append(
		out,
		Column{
			Name:  weigh.ErrorColumn,
			Title: fmt.Sprintf("Forecast error, %d ahead", weigh.ErrorAhead),
			Kind:  "error",
			Class: "n",
		},
	)
	for i := range figure.Len() {
		e := figure.Get(figure.ID(i))
		out = append(
			out,
			Column{
				Name:  e.Name,
				Title: cmp.Or(titles[figure.ID(i)], e.Title),
				Kind:  "figure",
				Class: "n",
				id:    figure.ID(i),
			},
		)
	}
	return out
}()

var byName = func() map[string]Column {
	out := make(map[string]Column)
	for _, c := range every {
		out[c.Name] = c
	}
	return out
}()

// most columns that a board shows.
const mostColumns = 40

// chosen reads the columns of an address; unknown names are given back.
func chosen(cols string) (out []Column, unknown []string) {
	for name := range strings.SplitSeq(cmp.Or(cols, fresh), ",") {
		c, ok := byName[name]
		switch {
		case !ok:
			unknown = append(unknown, name)
		case len(out) < mostColumns && !slices.ContainsFunc(out, func(x Column) bool { return x.Name == name }):
			out = append(out, c)
		}
	}
	if len(out) == 0 {
		out, _ = chosen(fresh)
	}
	return out, unknown
}

func join(list []Column) string {
	names := make([]string, len(list))
	for i, c := range list {
		names[i] = c.Name
	}
	if s := strings.Join(names, ","); s != fresh {
		return s
	}
	return ""
}

// own names the columns of the office's own dimensions; those that it does not
// have are taken away. A board without chosen columns shows them all.
func (p *Page) own(list []Column) []Column {
	var out []Column
	for _, c := range list {
		if c.Kind == "glyph" && c.dimension.Own() {
			if !p.Moment.HasDimension(c.dimension) {
				continue
			}
			c.Title = tell.Capital(p.Moment.DimensionTitle(c.dimension))
		}
		out = append(out, c)
		if c.Name == standing.Risk.String() && p.State.Get("cols") == "" {
			for d := standing.Data + 1; p.Moment.HasDimension(d); d++ {
				x := byName[d.String()]
				x.Title = tell.Capital(p.Moment.DimensionTitle(d))
				out = append(out, x)
			}
		}
	}
	return out
}

// arrange gives each column its addresses.
func (p *Page) arrange() {
	p.Columns = p.own(p.Columns)
	by, falling := strings.CutPrefix(p.State.Get("sort"), "-")
	for i := range p.Columns {
		c := &p.Columns[i]
		c.Sort, c.Sorted = p.sortLink(c.sortName(), by, falling, c.Kind != "text" && c.Kind != "milestone")
		edit := func(list []Column) string { return p.Turn("cols", join(list)) + "#columns" }
		if i > 0 {
			list := slices.Clone(p.Columns)
			list[i-1], list[i] = list[i], list[i-1]
			c.Left = edit(list)
		}
		if i+1 < len(p.Columns) {
			list := slices.Clone(p.Columns)
			list[i+1], list[i] = list[i], list[i+1]
			c.Right = edit(list)
		}
		c.Without = edit(slices.Delete(slices.Clone(p.Columns), i, i+1))
		if c.Kind == "figure" {
			c.Unit = tell.Unit(figure.Get(c.id).Unit, p.Moment.Reporting)
			if c.Unit != "" && p.Moment.InProject {
				c.Unit = "k"
			}
		}
	}
	p.NameSort, p.NameSorted = p.sortLink("project", cmp.Or(by, "project"), falling, false)
	for _, c := range every {
		if c.Kind == "glyph" && c.dimension.Own() {
			if !p.Moment.HasDimension(c.dimension) {
				continue
			}
			c.Title = tell.Capital(p.Moment.DimensionTitle(c.dimension))
		}
		if !slices.ContainsFunc(p.Columns, func(x Column) bool { return x.Name == c.Name }) {
			p.Others = append(p.Others, c)
		}
	}
}

// sortName is what lists are sorted by for a column.
func (c *Column) sortName() string {
	switch c.Name {
	case "strip":
		return standing.Overall.String()
	case "outlook":
		return figure.Get(figure.ComputedOver).Name
	case "milestone_date":
		return "milestone"
	}
	return c.Name
}

func (p *Page) sortLink(name, by string, falling, fallFirst bool) (link, sorted string) {
	next := name
	if fallFirst {
		next = "-" + name
	}
	if by == name {
		sorted = "ascending"
		next = "-" + name
		if falling {
			sorted, next = "descending", name
		}
	}
	if next == "project" {
		next = ""
	}
	return p.Turn("sort", next), sorted
}
