package gather

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/record"
)

// A list of activities may tell in a column what comes before each, or after: the sheet
// then holds links too, which are read as a sheet of their own.

// What a column of links is; " by " and a head, or " by row", behind it says what the
// activities are called there.
const (
	AsBefore = "predecessors"
	AsAfter  = "successors"
)

// byRow is what activities are called by where they are counted from the first row.
const byRow = "row"

// Heads of columns of links.
var (
	beforeHeads = wordsOf("predecessor predecessors pred preds predecessorid predecessorids predecessorsid predecessoractivity predecessoractivities vorganger vorgangernr forganger forgangere forgjenger forgjengere foregaende foregangare predecesseur predecesseurs predecesora predecesoras predecesor predecesores predecessore predecessori voorganger voorgangers dependson dependency dependencies dependences")
	afterHeads  = wordsOf("successor successors succ succs successorid successorids successorsid successoractivity successoractivities nachfolger etterfolger etterfolgere efterfolger efterfolgere efterfoljare successeur successeurs sucesora sucesoras sucesor sucesores successore successori opvolger opvolgers")
)

// linkHead gives what a head says of links, "" for nothing.
func linkHead(head string) string {
	switch t := tight(head); {
	case beforeHeads[t]:
		return AsBefore
	case afterHeads[t]:
		return AsAfter
	}
	return ""
}

// linkUse parts what a column of links is taken for: AsBefore or AsAfter, and what the
// activities are called by, or "".
func linkUse(as string) (use, by string) {
	use, by, _ = strings.Cut(as, " by ")
	if use != AsBefore && use != AsAfter {
		return "", ""
	}
	return use, by
}

// An end is an activity that links name.
type end struct{ project, activity string }

// callings are the activities of a sheet by what links call them: within their project,
// and over the sheet.
type callings struct {
	own map[[2]string]end
	all map[string][]end
}

// callingOf is a calling without case and leading zeros; 1.1 is not 11, and words stay apart.
func callingOf(text string) string {
	text = strings.Join(strings.FieldsFunc(strings.ToLower(text), isSpace), " ")
	if whole, zero, ok := strings.Cut(text, "."); ok && allDigits(whole) && zero == "0" {
		text = whole // as a spreadsheet writes a number
	}
	if allDigits(text) {
		return strings.TrimLeft(text, "0")
	}
	return text
}

func (c *callings) add(calling string, e end) {
	if calling == "" {
		return
	}
	if c.own == nil {
		c.own, c.all = make(map[[2]string]end), make(map[string][]end)
	}
	key := [2]string{e.project, calling}
	if old, there := c.own[key]; there && old != e {
		c.own[key] = end{} // of two nobody knows which
	} else {
		c.own[key] = e
	}
	if !slices.Contains(c.all[calling], e) {
		c.all[calling] = append(c.all[calling], e)
	}
}

// find gives the activity that a project calls so, or the only one of the sheet.
func (c *callings) find(project, calling string) (end, bool) {
	calling = callingOf(calling)
	if e, ok := c.own[[2]string{project, calling}]; ok {
		return e, e != end{}
	}
	if list := c.all[calling]; len(list) == 1 {
		return list[0], true
	}
	return end{}, false
}

// walk hands over the rows of data as they are read, with the project and the code of the
// activity of each.
func (l *Layout) walk(s *Sheet, o *Options, most int, row func(n int, at end, line *Line) bool) {
	activity, n := l.column("activity"), 0
	if activity < 0 {
		activity = l.column("name")
	}
	l.filled(s, o, most, func(r *reader, line *Line) bool {
		n++
		e := end{project: r.projectOf(line)}
		e.activity = l.recoded(e.project, o.codeOf(e.project, strings.TrimFunc(line.At(activity).Text, isSpace)))
		return row(n, e, line)
	})
}

// projectOf is the project of a row, by its cell, the heading above it, or what all say.
func (r *reader) projectOf(line *Line) string {
	if i := r.column("project"); i >= 0 {
		if text := strings.TrimFunc(line.At(i).Text, isSpace); text != "" {
			return strings.Clone(r.recode("project", text))
		}
	}
	if r.under != "" {
		return r.under
	}
	return r.Fixed["project"]
}

// codeOf is the code of an activity that a project calls by its code or its name.
func (o *Options) codeOf(project, text string) string {
	if o.Activity != nil && o.Coded != nil && !o.Coded(project, text) {
		if code := o.Activity(project, text); code != "" {
			return code
		}
	}
	return strings.Clone(text)
}

// callings are the activities of the sheet by a column of it, or by their rows: -1.
func (l *Layout) callings(s *Sheet, o *Options, column, most int) *callings {
	var c callings
	l.walk(s, o, most, func(n int, e end, line *Line) bool {
		switch {
		case e.activity == "":
		case column < 0:
			c.add(fmt.Sprint(n), e)
		default:
			c.add(callingOf(line.At(column).Text), e)
		}
		return true
	})
	return &c
}

// linked finds the columns that tell what comes before each activity, or after, and by
// what they call it: a column that has all that they name.
func (f *finder) linked() {
	if f.t != record.Activities.Kind && f.t != record.Progress.Kind || !f.uses("activity") && !f.uses("name") {
		return
	}
	for i := range f.u.Uses {
		said := f.m.Columns[f.u.Heads[i]]
		use, by := linkUse(said)
		if said == "" && f.u.Uses[i].As == AsExtra {
			use = linkHead(f.u.Columns[i].Head)
		}
		if use != "" {
			f.links(i, use, by)
		}
	}
	f.linksTwice()
}

// cellsOfLinks are the cells of a column of links, with their projects, and the language
// that they are in.
func (f *finder) cellsOfLinks(i int) (cells, of []string, t tongue) {
	const most = 20_000 // rows that are looked at
	t = tongueOf(f.u.Columns[i].Head)
	f.u.walk(f.s, f.o, most, func(_ int, e end, line *Line) bool {
		if text := strings.TrimFunc(line.At(i).Text, isSpace); text != "" && !isDash(text) {
			t.hear(text)
			cells, of = append(cells, strings.Clone(text)), append(of, e.project)
		}
		return true
	})
	return cells, of, t
}

// links settles one such column.
func (f *finder) links(i int, use, by string) {
	const most = 20_000
	u := f.u
	cells, of, t := f.cellsOfLinks(i)
	col := &u.Columns[i]
	if len(cells) == 0 {
		u.Uses[i].As, col.As, col.Certainty, col.Why = AsNone, AsNone, Sure, "no row names any"
		return
	}
	type candidate struct {
		column, found, all int
		ends               []end
	}
	try := func(column int) candidate {
		c := u.callings(f.s, f.o, column, most)
		out := candidate{column: column}
		for k, text := range cells {
			known := func(s string) bool {
				if _, ok := c.find(of[k], s); ok {
					return true
				}
				return column == u.column("activity") && f.o.Coded != nil && f.o.Coded(of[k], s)
			}
			list, _ := t.entries(text, known)
			for _, e := range list {
				out.all++
				if at, ok := c.find(of[k], e.ref); e.found {
					if !ok {
						at = end{of[k], e.ref}
					}
					out.found, out.ends = out.found+1, append(out.ends, at)
				}
			}
		}
		return out
	}
	var all, some []candidate
	for j := range u.Uses {
		switch as := u.Uses[j].As; {
		case j == i || linkHead(u.Columns[j].Head) != "" || as != "activity" && as != "name" && as != AsExtra && as != AsNone:
			continue
		case by != "" && u.Heads[j] != by:
			continue
		}
		c := try(j)
		switch {
		case c.all > 0 && c.found == c.all:
			all = append(all, c)
		case c.found > 0:
			some = append(some, c)
		}
	}
	same := func(a, b candidate) bool { return slices.Equal(a.ends, b.ends) }
	called := func(j int) string {
		if j < 0 {
			return byRow
		}
		return u.Heads[j]
	}
	take := func(j int, sure, why string) {
		u.Uses[i].As, u.Uses[i].Refs = use, called(j)
		col.As, col.Certainty, col.Why = use, sure, why
		u.Linked = true
	}
	ask := func(text string, list []candidate) {
		var choices []string
		for _, c := range list {
			choices = append(choices, use+" by "+called(c.column))
		}
		u.ask(i, "columns", text, append(choices, AsExtra, AsNone)...)
	}
	slices.SortStableFunc(some, func(a, b candidate) int { return b.found - a.found })
	switch {
	case by == byRow:
		take(-1, Sure, "it counts the rows of the list from the first")
	case len(all) > 0 && !slices.ContainsFunc(all, func(c candidate) bool { return !same(c, all[0]) }):
		take(all[0].column, Sure, fmt.Sprintf("each becomes a link; they are called by %s", f.called(all[0].column)))
	case len(all) > 0:
		ask(fmt.Sprintf("the activities that %q names can be those of %s or of %s, which are not the same; say which", col.Head, f.called(all[0].column), f.called(all[len(all)-1].column)), all)
	case len(some) > 0 && (by != "" || some[0].found*10 >= some[0].all*8 && (len(some) == 1 || some[1].found < some[0].found)): //nolint:mnd // eight of ten
		take(some[0].column, Likely, fmt.Sprintf("%d of %d that it names are in %s", some[0].found, some[0].all, f.called(some[0].column)))
	default:
		if c := try(-1); c.all > 0 && c.found == c.all {
			ask(fmt.Sprintf("%q names activities by numbers that no column has; say whether they count the rows of the list", col.Head), []candidate{c})
			return
		}
		ask(fmt.Sprintf("no column has the activities that %q names, as %q; say what it names them by", col.Head, shorten(cells[0], 40)), some)
	}
}

// linksTwice leaves out the successors where all of them are told as predecessors too.
func (f *finder) linksTwice() {
	before, after := f.u.column(AsBefore), f.u.column(AsAfter)
	if before < 0 || after < 0 || f.m.Columns[f.u.Heads[after]] != "" {
		return
	}
	told := make(map[[2]end]bool)
	twice := true
	for _, i := range [...]int{before, after} {
		c := f.u.callings(f.s, f.o, f.u.refs(i), everyRow)
		t := f.u.hear(f.s, f.o, i)
		f.u.walk(f.s, f.o, everyRow, func(_ int, e end, line *Line) bool {
			list, _ := t.entries(line.At(i).Text, func(s string) bool { _, ok := c.find(e.project, s); return ok })
			for _, x := range list {
				other, _ := c.find(e.project, x.ref)
				if i == before {
					told[[2]end{other, e}] = true
				} else if !told[[2]end{e, other}] {
					twice = false
				}
			}
			return true
		})
	}
	if twice {
		f.u.Uses[after].As, f.u.Uses[after].Refs = AsNone, ""
		col := &f.u.Columns[after]
		col.As, col.Certainty, col.Why = AsNone, Sure, "the predecessors tell all of them"
	}
}

// everyRow is no limit of rows.
const everyRow = 1 << 40

// refs is the column by which a column of links calls activities, -1 for their rows.
func (l *Layout) refs(i int) int {
	if l.Uses[i].Refs == byRow {
		return -1
	}
	return slices.Index(l.Heads, l.Uses[i].Refs)
}

// hear learns from a column of links which language it is in.
func (l *Layout) hear(s *Sheet, o *Options, i int) (t tongue) {
	t = tongueOf(l.Heads[i])
	l.walk(s, o, everyRow, func(_ int, _ end, line *Line) bool {
		t.hear(line.At(i).Text)
		return true
	})
	return t
}

// week is the working days of a week of a project, five where it is not known.
func (o *Options) week(project string) int {
	const usual = 5
	if o.Works != nil {
		if c := o.Works(project); c != nil && c.DaysOfWeek() > 0 {
			return c.DaysOfWeek()
		}
	}
	return usual
}

// linksTable is the name of the table that links are.
const linksTable = "links"

// Links is how the links of a sheet of activities are read, beside it.
func (u *Understanding) Links() *Understanding {
	out := *u
	out.sheet = u.sheet.Beside(linksTable)
	out.Sheet = out.sheet.Name
	out.Layout = u.Layout
	out.Fixed = maps.Clone(u.Fixed)
	out.Table, out.Within, out.Linked, out.Beside, out.Notes, out.Sums, out.Questions = linksTable, u.Table, false, "", nil, nil, nil
	out.Certainty, out.Why = Sure, "its activities name what comes before or after them"
	out.Columns = slices.Clone(u.Columns)
	for i := range out.Columns {
		switch c := &out.Columns[i]; {
		case c.As == AsBefore || c.As == AsAfter:
			if c.Certainty == Likely {
				out.Certainty = Likely
			}
		case c.As != "project" && c.As != "activity" && c.As != "name":
			c.As, c.Certainty, c.Why = AsNone, Sure, "it says nothing of links"
		}
	}
	return &out
}
