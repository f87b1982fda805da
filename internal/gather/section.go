package gather

import (
	"fmt"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// A sheet may be parted by headings: rows that say nothing but whose rows come next,
// as "N-100 Northgate Substation", or "Project:" beside it.

// heading is what a row between rows heads.
type heading struct {
	text  string
	codes []string // the projects that it names
}

// headingIn gives what a row with few cells, all of words, heads; ok is false where it
// is no heading. The first cell may say what it is a heading of.
func headingIn(n *Names, line *Line) (h heading, labelled, ok bool) {
	const few = 3 // cells: a label, a code and a name
	filled := 0
	var text []string
	for i := range line.Cells {
		t := strings.TrimFunc(line.Cells[i].Text, isSpace)
		if t == "" {
			continue
		}
		if filled++; filled > few {
			return h, false, false
		}
		if filled == 1 {
			label, _, _ := strings.Cut(t, ":")
			column, _ := called(record.Projects.Kind, label, nil)
			labelled = column == "project"
		}
		if line.Cells[i].Kind != Words && !labelled {
			return h, false, false
		}
		text = append(text, t)
	}
	if h.text = strings.Join(text, " "); filled == 0 || isTotal(h.text) {
		return h, false, false
	}
	var others int
	h.codes, others = n.mentions(strings.Join(text, " | "))
	if len(h.codes) > 0 && others > few {
		return h, labelled, false // a remark that speaks of a project
	}
	if labelled && len(h.codes) == 0 && filled > 1 {
		h.codes = n.Find("project", text[1])
	}
	return h, labelled, true
}

// headed gives the heading that a row of the sheet is: it says nothing of what other
// rows say, no amount, percent or day.
func (l *Layout) headed(n *Names, line *Line) (h heading, ok bool) {
	if l.Nested > 0 {
		return l.nestedHeading(n, line)
	}
	h, labelled, ok := headingIn(n, line)
	if said, told := Recode(l.Codes, "project", textOf(line)); told {
		if h.codes = n.Find("project", said); len(h.codes) == 1 {
			h.text = textOf(line)
			return h, true // someone said whose rows it heads
		}
	}
	if !ok || labelled {
		return h, ok
	}
	for i, x := range l.Uses {
		switch x.As {
		case AsMonth, AsTotal, "amount", AsCredit, "percent", "date", "posting", "start", "finish":
			text := line.At(i).Text
			_, point := plainNumber(text, Point)
			_, comma := plainNumber(text, Comma)
			if point || comma || isDash(text) || readDay(text).any() {
				return h, false
			}
		}
	}
	return h, true
}

// underKind gives a row the kind of amounts of the heading above it.
func (r *reader) underKind() {
	at := r.t.Index("kind")
	if r.Kinds && r.kind != "" && r.out.Fields[at].Said != portfolio.Value {
		r.out.Fields[at] = portfolio.Field{Said: portfolio.Value, Text: r.kind}
	}
}

// underState gives a risk the state of the heading above it.
func (r *reader) underState() {
	if at := r.t.Index("state"); r.States && r.state != "" && r.out.Fields[at].Said != portfolio.Value {
		r.out.Fields[at] = portfolio.Field{Said: portfolio.Value, Text: r.state}
	}
}

// underClass gives a row the class of the heading above it.
func (r *reader) underClass() {
	at := r.t.Index("class")
	if r.Classes && r.class != "" && r.out.Fields[at].Said != portfolio.Value {
		r.out.Fields[at] = portfolio.Field{Said: portfolio.Value, Text: r.class}
	}
}

// sections finds whether the rows of a sheet without a column of projects stand under
// headings that name them.
func (f *finder) sections() {
	if f.o.Names == nil || !f.lacks("project") && f.u.Fixed["project"] == "" || f.m.Fixed["project"] != "" ||
		f.uses("project") {
		return
	}
	first, above := "", ""
	for i, r := range f.rows {
		if i == f.at {
			continue
		}
		h, ok := f.u.headed(f.o.Names, &Line{N: r.n, Cells: r.cells})
		switch {
		case !ok || len(h.codes) != 1:
		case i < f.at:
			above = h.codes[0]
		case first == "":
			first = h.codes[0]
		}
	}
	if first == "" {
		return
	}
	f.u.Section = "project"
	if f.u.Fixed["project"] = above; above == "" {
		delete(f.u.Fixed, "project")
	}
	f.u.note("Rows are taken for the project that the heading above them names, as %s.", first)
}

// nestedHeading gives the project that a row states in the column that holds both projects
// and what is below them. Its amounts are the sums of what follows.
func (l *Layout) nestedHeading(n *Names, line *Line) (h heading, ok bool) {
	text := strings.TrimFunc(line.At(l.Nested-1).Text, isSpace)
	below := l.Uses[l.Nested-1].As
	if text == "" || isTotal(text) || len(n.Find(below, text)) > 0 {
		return h, false
	}
	h.text = text
	if below == "activity" {
		h.codes = n.Find("project", text)
		return h, len(h.codes) > 0
	}
	if h.codes = n.Find("project", text); len(h.codes) == 0 {
		h.codes = n.Mentioned(text)
	}
	return h, len(h.codes) > 0
}

// nested finds the column that holds both projects and the cost codes below each, where
// nothing else tells either.
func (f *finder) nested() {
	u := f.u
	own := u.column("project") // it may hold the codes as well
	if f.o.Names == nil || !f.lacks("project") && own < 0 || u.Section != "" {
		return
	}
	if f.t.Name == "progress" && own < 0 {
		f.nestedActivities()
	}
	if f.t.Name != "costs" {
		return
	}
	for i, x := range u.Uses {
		if own >= 0 && i != own {
			continue
		}
		if own < 0 && x.As != AsExtra && x.As != AsNone && x.As != "cost_code" && x.As != "activity" ||
			x.As != "cost_code" && !f.lacks("cost_code") || f.m.Columns[u.Heads[i]] != "" {
			continue
		}
		projects, codes, all := 0, 0, 0
		u.data(f.s, func(l *Line) bool {
			text := strings.TrimFunc(l.At(i).Text, isSpace)
			if text == "" {
				return true
			}
			all++
			switch {
			case len(f.o.Names.Find("cost_code", text)) == 1:
				codes++
			case len(f.o.Names.Find("project", text)) == 1 && u.states(l, i):
				projects++
			}
			return all < sampled
		})
		const most = 0.9
		if projects == 0 || codes <= projects || float64(projects+codes) < most*float64(all) {
			continue
		}
		u.Uses[i].As, u.Columns[i].As = "cost_code", "cost_code"
		u.Columns[i].Certainty, u.Columns[i].Why = Likely, "it holds projects, and the cost codes below each"
		u.Nested, u.Section = i+1, "project"
		u.note("%s: a row of a project is the sum of the rows of its cost codes, which follow.", f.called(i))
		return
	}
}

// holdsBoth tells a column below a row of heads that holds projects and cost codes, and
// nothing else.
func (f *finder) holdsBoth(at int) bool {
	if f.o.Names == nil {
		return false
	}
	for i := range f.rows[at].cells {
		projects, codes, others := 0, 0, 0
		for _, r := range f.rows[at+1:] {
			if i >= len(r.cells) || isBlank(r.cells[i].Text) || isTotal(r.cells[i].Text) {
				continue
			}
			switch text := r.cells[i].Text; {
			case len(f.o.Names.Find("cost_code", text)) == 1:
				codes++
			case len(f.o.Names.Find("project", text)) == 1:
				projects++
			default:
				others++
			}
			if others > 0 {
				break
			}
		}
		if projects > 0 && codes > projects && others == 0 {
			return true
		}
	}
	return false
}

// nestedActivities finds projects among the activities that they head, with figures of
// their own: the first row is one, and each is followed by activities.
func (f *finder) nestedActivities() {
	u := f.u
	at := u.column("activity")
	if at < 0 || f.m.Columns[u.Heads[at]] != "" {
		return
	}
	projects, below, fits := 0, 1, true
	u.data(f.s, func(l *Line) bool {
		text := strings.TrimFunc(l.At(at).Text, isSpace)
		switch {
		case text == "":
		case len(f.o.Names.Find("project", text)) == 1:
			fits = fits && below > 0
			projects, below = projects+1, 0
		default:
			fits = fits && projects > 0
			below++
		}
		return fits
	})
	if projects == 0 || !fits || below == 0 {
		return
	}
	u.Nested, u.Section = at+1, "project"
	u.Columns[at].Why = "it holds projects, and the activities below each"
	u.note("%s: a row of a project says what its activities come to, which follow: it is passed over.", f.called(at))
}

func (f *finder) uses(name string) bool { return f.u.column(name) >= 0 }

// section takes a heading: the rows after it are its project's. Those after one that
// names several, or none that is known, are nobody's: they are refused rather than
// taken for the project before.
func (r *reader) section(line *Line) bool {
	if r.account(line) {
		return true
	}
	if r.Kinds {
		if k := kindHeading(line); k != "" {
			r.kind = k
			return true
		}
	}
	if r.Classes {
		if c := classHeading(line); c != "" {
			r.class = c
			return true
		}
	}
	if r.States {
		if s := stateHeading(line); s != "" {
			r.state = s
			return true
		}
	}
	if r.Section == "" {
		return false
	}
	h, ok := r.headed(r.o.Names, line)
	switch {
	case !ok:
		return false
	case len(h.codes) == 1:
		r.under, r.nobody = h.codes[0], ""
	case len(r.o.Names.Find("cost_code", h.text)) > 0:
		return false // it heads codes within a project
	default:
		r.under, r.nobody = "", h.text
	}
	return true
}

// underHeading gives a row the project of the heading above it. Before the first one
// the row has that of all rows, or is refused for having none.
func (r *reader) underHeading() (column, value, why string) {
	if column, value, why := r.underAccount(); why != "" {
		return column, value, why
	}
	at := r.t.Index("project")
	if r.Section == "" || at < 0 || r.out.Fields[at].Said == portfolio.Value {
		return "", "", ""
	}
	if r.nobody != "" {
		return "project", r.nobody, fmt.Sprintf(
			"the heading %q above it names no project that is known, or several; correct it, or say whose rows these are",
			r.nobody,
		)
	}
	if r.under != "" {
		r.out.Fields[at] = portfolio.Field{Said: portfolio.Value, Text: r.o.keep(r.under)}
	}
	return "", "", ""
}

// speaksOfProject tells whether the name of the sheet or file, or a row that says
// little else, names a project.
func (f *finder) speaksOfProject() bool {
	if f.speaks == nil {
		found := len(f.o.Names.Mentioned(f.s.title())) > 0 || len(f.o.Names.Mentioned(f.s.File)) > 0
		for _, text := range f.s.cover {
			found = found || len(f.o.Names.Mentioned(text)) > 0
		}
		for _, r := range f.rows {
			line := &Line{N: r.n, Cells: r.cells}
			h, _, ok := headingIn(f.o.Names, line)
			found = found || ok && len(h.codes) == 1
			const few = 12 // words of a title
			if text := textOf(line); !found && filled(line) == 1 && len(strings.Fields(text)) <= few {
				found = len(f.o.Names.Mentioned(text)) == 1
			}
		}
		f.speaks = &found
	}
	return *f.speaks
}
