package gather

import (
	"slices"
	"strings"

	"turret/internal/record"
)

// A lead's report may be no table: labels with what they say beside or below them. It is
// turned into a table of one row, whose heads are the labels, and read as any.

// report gives the sheet as such a table of narratives; nil where its labels do not tell
// the sections of one, or no more than one of them. left is what stands under no label,
// beside the titles.
func (f *finder) report() (form *Sheet, left []string) {
	if f.m.Table != "" && f.m.Table != "narratives" || f.o.Table != nil && f.o.Table.Name != "narratives" {
		return nil, nil
	}
	var heads, cells []string
	first := 0
	var open []string // what is said of a label that stands alone, so far
	shut := func() {
		if open != nil {
			cells[len(cells)-1] = strings.TrimSpace(strings.Join(open, "\n"))
			open = nil
		}
	}
	for _, r := range f.rows {
		var said []string
		for i := range r.cells {
			if text := f.shownAt(r, i); text != "" {
				said = append(said, text)
			}
		}
		if len(said) == 0 {
			continue
		}
		label, rest, colon := strings.Cut(said[0], ":")
		name := f.labelOf(label, colon || len(said) > 1 || len(strings.Fields(said[0])) <= 4)
		if colon && strings.TrimSpace(rest) != "" {
			said = slices.Insert(said, 1, strings.TrimSpace(rest))
		}
		switch {
		case name == "" && open != nil:
			open = append(open, strings.Join(said, " "))
		case name == "":
			if text := strings.Join(said, " "); !slices.Contains(f.titles(), text) {
				left = append(left, shorten(text, 60))
			}
		case slices.Contains(heads, name):
			return nil, nil // several of one: it is a list
		default:
			shut()
			if first == 0 {
				first = r.n
			}
			heads, cells = append(heads, name), append(cells, strings.Join(said[1:], " "))
			if len(said) == 1 {
				open = []string{}
			}
		}
	}
	shut()
	sections := 0
	for _, h := range heads {
		if sectionOf(h) != "" {
			sections++
		}
	}
	const few = 2
	if sections < few {
		return nil, nil
	}
	out := *f.s
	if !slices.Contains(heads, "project") {
		code := f.onlyProject()
		if code == "" {
			return nil, nil
		}
		heads, cells = append(heads, "project"), append(cells, code)
	}
	if !slices.Contains(heads, "period") {
		for _, text := range f.titles() {
			if p := stated(text, f.o.Periods); p != 0 {
				heads, cells = append(heads, "period"), append(cells, f.o.Periods.Code(p))
				break
			}
		}
	}
	out.Lines, out.plain = 2, false
	out.dates, out.shares, out.shown = nil, nil, nil
	grid := Grid(f.s.File, f.s.Name, []int{0, first}, [][]string{heads, cells})
	out.each = grid.each
	return &out, left
}

// labelOf gives the name under which a label is read: a section, the project, the period
// or the lead's own standing; "" where it is none.
func (f *finder) labelOf(label string, may bool) string {
	if !may {
		return ""
	}
	if s := sectionOf(label); s != "" {
		return s
	}
	column, weight := called(record.Narratives.Kind, label, f.o.Words)
	switch {
	case weight > 0 && (column == "project" || column == "period" || column == "stated_standing"):
		return column
	case slices.Contains([]string{"overall status", "project status", "overall rag", "rag status", "health"}, Normal(label)):
		return "stated_standing"
	}
	return ""
}

// onlyProject is the one project that titles and names speak of, or "".
func (f *finder) onlyProject() string {
	var codes []string
	for _, text := range append([]string{f.s.title(), f.s.File}, f.titles()...) {
		for _, c := range f.o.Names.Mentioned(text) {
			if !slices.Contains(codes, c) {
				codes = append(codes, c)
			}
		}
	}
	if len(codes) != 1 {
		return ""
	}
	return codes[0]
}

// titles are the first rows that say one thing.
func (f *finder) titles() (out []string) {
	const few = 4
	for _, r := range f.rows[:min(few, len(f.rows))] {
		var said []string
		for i := range r.cells {
			if text := f.shownAt(r, i); text != "" {
				said = append(said, text)
			}
		}
		if len(said) <= 2 {
			out = append(out, strings.Join(said, " "))
		}
	}
	return out
}
