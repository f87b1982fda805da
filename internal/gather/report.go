package gather

import (
	"slices"
	"strings"

	"turret/internal/record"
)

// A lead's report may be no table: labels with what they say beside or below them. It is
// turned into a table of one row, whose heads are the labels, and read as any.

// form is one report: labels, and what each says.
type form struct {
	first        int // row
	heads, cells []string
}

// report gives the sheet as such a table of narratives, with a row for each report that it
// holds: a label that comes again begins the next. nil where its labels do not tell the
// sections of one, or no more than one of them. left is what stands under no label, beside
// the titles.
func (f *finder) report() (sheet *Sheet, left []string) {
	if f.m.Table != "" && f.m.Table != "narratives" || f.o.Table != nil && f.o.Table.Name != "narratives" {
		return nil, nil
	}
	if f.manyProjects() {
		return nil, nil
	}
	forms, left := f.forms()
	heads := []string{}
	for _, x := range forms {
		sections := 0
		for _, h := range x.heads {
			if f.section(h) != "" {
				sections++
			}
			if !slices.Contains(heads, h) {
				heads = append(heads, h)
			}
		}
		const few = 2
		if sections < few {
			return nil, nil
		}
	}
	if len(forms) == 0 {
		return nil, nil
	}
	for _, h := range [...]string{"project", "period"} {
		if !slices.Contains(heads, h) {
			heads = append(heads, h)
		}
	}
	numbers, rows := []int{0}, [][]string{heads}
	for _, x := range forms {
		row := make([]string, len(heads))
		for i, h := range heads {
			if at := slices.Index(x.heads, h); at >= 0 {
				row[i] = x.cells[at]
			}
		}
		if at := slices.Index(heads, "project"); row[at] == "" && len(forms) == 1 {
			row[at] = f.onlyProject()
		}
		if at := slices.Index(heads, "period"); row[at] == "" {
			row[at] = f.titlePeriod()
		}
		if row[slices.Index(heads, "project")] == "" {
			return nil, nil
		}
		numbers, rows = append(numbers, x.first), append(rows, row)
	}
	at := slices.Index(heads, "period")
	if !slices.ContainsFunc(rows[1:], func(r []string) bool { return r[at] != "" }) {
		for i := range rows {
			rows[i] = slices.Delete(rows[i], at, at+1)
		}
	}
	out := *f.s
	out.Lines, out.plain = len(rows), false
	out.dates, out.shares, out.shown = nil, nil, nil
	out.each = Grid(f.s.File, f.s.Name, numbers, rows).each
	return &out, left
}

// manyProjects tells a row that says "Project" and then several of them: each column after
// the labels is one's.
func (f *finder) manyProjects() bool {
	const few = 2
	for _, r := range f.rows {
		n := 0
		for i := range r.cells {
			text := f.shownAt(r, i)
			if i == 0 && f.labelOf(strings.TrimSuffix(text, ":"), true) != "project" {
				break
			}
			if len(f.o.Names.Find("project", text)) == 1 {
				n++
			}
		}
		if n >= few {
			return true
		}
	}
	return false
}

// titlePeriod is the one period that the titles state, or "".
func (f *finder) titlePeriod() string {
	p, other := f.statedPeriods(f.titles())
	if p == 0 || other != 0 {
		return ""
	}
	return f.o.Periods.Code(p)
}

// forms parts the rows into reports by their labels.
func (f *finder) forms() (forms []form, left []string) {
	var x form
	var open []string // what is said of a label that stands alone, so far
	shut := func() {
		if open != nil {
			x.cells[len(x.cells)-1] = strings.TrimSpace(strings.Join(open, "\n"))
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
		if len(said) == 1 && isFarewell(said[0]) {
			shut() // and who wrote it
		}
		label, rest, colon := strings.Cut(said[0], ":")
		const few = 4 // words of a label
		name := f.labelOf(label, colon || len(said) > 1 || len(strings.Fields(said[0])) <= few)
		if colon && strings.TrimSpace(rest) != "" {
			said = slices.Insert(said, 1, strings.TrimSpace(rest))
		}
		if name == "" && len(said) == 1 && !colon && f.namesProject(said[0]) {
			name, said = "project", []string{"Project", said[0]}
		}
		switch {
		case name == "" && open != nil:
			open = append(open, strings.Join(said, " "))
		case name == "":
			if text := strings.Join(said, " "); !slices.Contains(f.titles(), text) {
				left = append(left, shorten(text, 60))
			}
		default:
			shut()
			if slices.Contains(x.heads, name) {
				forms = append(forms, x)
				x = form{}
			}
			if x.first == 0 {
				x.first = r.n
			}
			x.heads, x.cells = append(x.heads, name), append(x.cells, strings.Join(said[1:], " "))
			if len(said) == 1 {
				open = []string{}
			}
		}
	}
	shut()
	if len(x.heads) > 0 {
		forms = append(forms, x)
	}
	return forms, left
}

// namesProject tells a line that is a project: its code, its name or both, and nothing else.
func (f *finder) namesProject(line string) bool {
	codes, others := f.o.Names.mentions(line)
	return len(f.o.Names.Find("project", line)) == 1 || len(codes) == 1 && others == 0
}

// farewells are words with which mails end, before who wrote them.
var farewells = wordsOf(`regards best kind kindest warm sincerely yours faithfully cheers thanks many rgds mit freundlichen grussen gruss viele beste
liebe mfg vg med vennlig venlig hilsen mvh hilsner cordialement bien a vous salutations distinguees saludos atentamente un cordial saludo cordiali
distinti saluti met vriendelijke groet groeten med vanliga halsningar halsning and wishes`)

// isFarewell tells a line that ends a mail: few words, all of farewells, or a rule of hyphens.
func isFarewell(line string) bool {
	const few = 4
	words := strings.Fields(Normal(line))
	if len(words) == 0 {
		return strings.TrimFunc(line, isSpace) == "--"
	}
	return len(words) <= few && !slices.ContainsFunc(words, func(w string) bool { return !farewells[w] })
}

// labelOf gives the name under which a label is read: a section, the project, the period
// or the lead's own standing; "" where it is none.
func (f *finder) labelOf(label string, may bool) string {
	if !may {
		return ""
	}
	if s := f.section(label); s != "" {
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
