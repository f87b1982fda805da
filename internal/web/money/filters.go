package money

import (
	"strings"

	"turret/internal/core/costs"
)

// Filter narrows the table to some of its money: a choice among values, by a part
// of the address.
type Filter struct {
	Name, Part, Now string
	None            string // what no choice means
	Options         [][2]string
	Typed           bool // there are too many to list
}

// On tells whether a value is the one chosen.
func (f *Filter) On(value string) bool { return value == f.Now }

// mostOptions bounds the values that a filter lists; of more, one is typed.
const mostOptions = 200

// filter is the one for a dimension of rows; nil where there is none.
func (p *Page) filter(d costs.Dimension) *Filter {
	t := p.Table
	f := &Filter{Name: p.Named(d), None: "all"}
	switch d {
	case costs.ByProgramme:
		if f.Part = "scope"; t.Project != nil {
			return nil
		}
		for _, g := range p.Moment.Programmes() {
			f.Options = append(f.Options, [2]string{g.Code, g.Name})
		}
	case costs.ByProject:
		if f.Part = "of"; t.Project != nil {
			return nil
		}
		f.Options = p.Moment.ProjectNames()
	case costs.ByCode:
		f.Part, f.Options = "code", t.Codes
	case costs.ByCentre:
		f.Part, f.Options = "centre", t.Centres
	case costs.ByClass:
		f.Part = "class"
		for _, c := range t.Classes {
			f.Options = append(f.Options, [2]string{c, ""})
		}
	case costs.ByFlow:
		f.Part, f.None = "flow", "cost"
		f.Options = [][2]string{{"income", ""}, {"benefit", ""}, {"margin", "income less cost"}, {"all", "flows"}}
	case costs.ByActivity:
		f.Part, f.Options = "activity", t.Activities
	case costs.ByClient:
		return nil
	}
	if f.Now = p.State.Get(f.Part); len(f.Options) == 0 {
		return nil
	}
	f.Typed = len(f.Options) > mostOptions
	return f
}

// HeadFilter is a dimension in the head of the table, with its filter.
type HeadFilter struct {
	Name   string
	Filter *Filter // nil: there is nothing to choose
}

// Heads are the dimensions of the rows, each with its filter.
func (p *Page) Heads() (out []HeadFilter) {
	for _, d := range p.Table.Dims {
		out = append(out, HeadFilter{p.Named(d), p.filter(d)})
	}
	return out
}

// Filters are those that narrow any table, whatever its rows are.
func (p *Page) Filters() (out []*Filter) {
	for _, d := range []costs.Dimension{costs.ByCode, costs.ByCentre, costs.ByActivity, costs.ByClass, costs.ByFlow} {
		if f := p.filter(d); f != nil {
			out = append(out, f)
		}
	}
	return out
}

// FiltersNow says what the table is narrowed to.
func (p *Page) FiltersNow() string {
	var out []string
	for _, f := range p.Filters() {
		if f.Now != "" {
			out = append(out, f.Now)
		}
	}
	if len(out) == 0 {
		return "all cost"
	}
	return strings.Join(out, ", ")
}
