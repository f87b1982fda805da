package gather

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// How sure a reading is.
const (
	Sure   = "sure"
	Likely = "likely"
	Guess  = "guess"
)

// Understanding is how a sheet was understood: its layout, how sure that is and
// why, and what must be answered before it can be read.
type Understanding struct {
	File   string `json:"file"`
	Sheet  string `json:"sheet,omitempty"`
	Format string `json:"format"`
	Layout
	Certainty string     `json:"certainty"`
	Why       string     `json:"why"`
	Columns   []Column   `json:"columns"`
	Rows      int        `json:"rows"`
	Hidden    int        `json:"hidden_rows,omitempty"`
	Sums      []Sum      `json:"totals,omitempty"`
	Questions []Question `json:"questions,omitempty"`
	Notes     []string   `json:"notes,omitempty"`
	Skipped   string     `json:"skipped,omitempty"` // why nothing of it is read
	NoTable   bool       `json:"no_table,omitempty"`
	Beside    string     `json:"beside,omitempty"`  // a table that the sheet holds too
	Linked    bool       `json:"linked,omitempty"`  // its activities name what comes before or after them
	From      string     `json:"mapping,omitempty"` // the named mapping that it was read by
	Trusted   bool       `json:"trusted,omitempty"` // someone said that it is right as it stands
	Scaled    bool       `json:"scaled,omitempty"`  // someone said in which unit its amounts are

	Said map[string]bool `json:"-"` // what all rows say of columns, that someone said

	sheet *Sheet
}

// Size is about how many rows the sheet has.
func (u *Understanding) Size() int { return u.sheet.Lines }

// Column is a column as it was understood.
type Column struct {
	Head      string   `json:"head"`
	Above     string   `json:"above,omitempty"` // the merged head above it
	As        string   `json:"as"`
	Certainty string   `json:"certainty"`
	Why       string   `json:"why"`
	Form      string   `json:"form,omitempty"`
	Sample    []string `json:"sample"`
}

// Question is what someone has to say before a sheet can be read. Column is
// the place of the column it is about, or -1.
type Question struct {
	Column  int      `json:"column"`
	About   string   `json:"about"` // what to set: columns, forms, dash, table, lines, places, negate, trust, or fixed.NAME
	Text    string   `json:"text"`
	Choices []string `json:"choices,omitempty"`
}

// Sum is a total that the sheet states, beside the sum of what it stands for.
type Sum struct {
	Row    int    `json:"row"`
	Head   string `json:"head"`
	Stated string `json:"stated"`
	Found  string `json:"found"`
	Agrees bool   `json:"agrees"`

	rows         int  // that it sums
	side, mostly bool // it stands beside its row, in a column that mostly is the sum
}

// Label is how messages call the sheet.
func (u *Understanding) Label() string { return (&Sheet{File: u.File, Name: u.Sheet}).Label() }

// Ready tells whether the sheet can be read.
func (u *Understanding) Ready() bool { return u.Skipped == "" && len(u.Questions) == 0 }

func (u *Understanding) note(format string, args ...any) {
	u.Notes = append(u.Notes, fmt.Sprintf(format, args...))
}

// Ask asks about what was found after the sheet was understood, as ask does.
func (u *Understanding) Ask(about, text string, choices ...string) {
	u.ask(-1, about, text, choices...)
}

// ask asks something, once: what all rows say of a column is not asked for two reasons.
func (u *Understanding) ask(column int, about, text string, choices ...string) {
	if strings.HasPrefix(about, "fixed.") &&
		slices.ContainsFunc(u.Questions, func(q Question) bool { return q.About == about }) {
		return
	}
	u.Questions = append(u.Questions, Question{column, about, text, choices})
}

// Look is what sheets of one source have in common: the heads of their columns
// in order, without periods and sums. "" has no look.
func (u *Understanding) Look() string {
	heads := make([]string, len(u.Columns))
	for i, c := range u.Columns {
		if c.As != AsMonth {
			heads[i] = c.Head
		}
	}
	return lookOf(heads)
}

func lookOf(heads []string) string {
	var out []string
	for _, h := range heads {
		if n := Normal(h); n != "" && !isTotal(n) {
			out = append(out, n)
		}
	}
	return strings.Join(out, "|")
}

// HasLook tells whether one of the first rows of a sheet has a look.
func HasLook(s *Sheet, look string, ps *calendar.Periods) bool { return rowOfLook(s, look, ps) > 0 }

// rowOfLook gives the first row that has a look, or zero.
func rowOfLook(s *Sheet, look string, ps *calendar.Periods) (row int) {
	if look == "" {
		return 0
	}
	n := 0
	s.Each(func(l *Line) bool {
		var heads []string
		for _, c := range l.Cells {
			text := strings.TrimFunc(c.Text, isSpace)
			if p, needs := readMonth(text, "", ps); c.Kind == Words && p == 0 && !needs {
				heads = append(heads, text)
			}
		}
		if lookOf(heads) == look {
			row = l.N
		}
		n++
		return row == 0 && n < within
	})
	return row
}

// By is the understanding of a sheet whose layout is known.
func By(s *Sheet, l Layout) *Understanding {
	return &Understanding{
		File:      s.File,
		Sheet:     s.Name,
		Format:    s.Format,
		Layout:    l,
		Certainty: Sure,
		Why:       "it is read as it was before",
		sheet:     s,
	}
}

// sampled is the number of rows that are looked at for the header, and shown.
const sampled = 200

// within is the number of rows among which the header is looked for.
const within = 60

// Understand finds how a sheet is to be read. What the mapping says counts. One that names
// no columns may lie on its side, with its heads in the first column.
func Understand(s *Sheet, o *Options, m Mapping) *Understanding {
	u := understood(s, o, m)
	if !u.namesTooFew() || m.Head != 0 || len(m.Columns) > 0 || m.Without {
		return u
	}
	if side := s.onSide(); side != nil {
		if out := understood(side, o, m); out.Ready() && out.Rows > 0 {
			out.note("It lies on its side: its heads stand in the first column, and each column after it is read as a row.")
			return out
		}
	}
	if rates := s.asRates(); rates != nil {
		if out := understood(rates, o, m); out.Ready() && out.Rows > 0 {
			out.note("Its lines say what currencies are worth.")
			return out
		}
	}
	if blocks := s.asBlocks(); blocks != nil {
		if out := understood(blocks, o, m); out.Ready() && out.Rows > 0 {
			out.note("It holds a block of labels for each row.")
			return out
		}
	}
	if paths := s.asPaths(o.Names); paths != nil {
		if out := understood(paths, o, m); out.Ready() && out.Rows > 0 {
			out.note("A column holds paths: each begins with its project and ends with its activity.")
			return out
		}
	}
	if out := understoodAs(s, o, m, true); out.Ready() && out.Rows > 0 {
		return out
	}
	return u
}

// namesTooFew tells a sheet in which no table was found, or none with the columns that it
// needs.
func (u *Understanding) namesTooFew() bool {
	if u.Canonical {
		return false
	}
	return u.NoTable || slices.ContainsFunc(u.Questions, func(q Question) bool { return strings.HasPrefix(q.About, "columns.") })
}

func understood(s *Sheet, o *Options, m Mapping) *Understanding { return understoodAs(s, o, m, false) }

// understoodAs does so, and takes heads with a slip of the pen where it is told to.
func understoodAs(s *Sheet, o *Options, m Mapping, slips bool) *Understanding {
	m, past := m.recalled()
	if past.HeadSaid && m.Head == 0 {
		m.Head = rowOfLook(s, past.look, o.Periods)
	}
	u := &Understanding{File: s.File, Sheet: s.Name, Format: s.Format, Notes: slices.Clone(s.Notes), sheet: s}
	u.From1904, u.Negate, u.Codes, u.Skip, u.Leave, u.Keep = s.from1904, m.Negate, m.Codes, m.Skip, m.Leave, m.Keep
	u.Trusted, u.Scaled = m.Trust || o.Trust, m.Places != nil && m.Places != past.Places
	if m.Without {
		u.Skipped = "it is left out"
	}
	if s.Hidden {
		u.note("The spreadsheet does not show this sheet; it was read all the same.")
	}
	u.NoSums = m.NoSums
	if s.isCover && m.Table == "" && m.Head == 0 {
		u.NoTable, u.Skipped = true, "it is the cover of the workbook, and holds no table: "+strings.Join(s.cover, "; ")
		return u
	}
	f := &finder{u: u, s: s, o: o, m: m, past: past, slips: slips}
	f.collect()
	f.lowerHeads()
	if f.canonical() {
		u.Rows = max(s.Lines-u.Head, 0)
		return u
	}
	if !f.find() {
		if form, left := f.report(); form != nil {
			m.Table, m.Head = "narratives", 0
			out := Understand(form, o, m)
			out.Why = "its labels name sections of what a lead tells"
			if len(left) > 0 {
				out.note("Left out, since no label tells what it is: %s.", strings.Join(left, "; "))
			}
			return out
		}
		if u.Skipped == "" && f.o.Period == 0 && f.onlyAhead() {
			u.NoTable, u.Skipped = true, "its heads count months, as M+1, from a period that nothing states; say in which it is stated"
		} else if u.Skipped == "" {
			u.NoTable, u.Skipped = true, fmt.Sprintf(
				"no table was found in it: none of its first %d rows names the columns of one; name the columns, or say which table it is",
				within,
			)
		}
		return u
	}
	f.columns()
	f.fix()
	if f.namesActivities() {
		m.Table = record.Progress.Name
		out := understood(s, o, m)
		out.note("It names activities that are known, and lists no new ones: it is read as their progress.")
		return out
	}
	f.marks()
	f.running()
	f.repeats()
	f.scan()
	f.unnamed()
	f.parents()
	f.money()
	f.scales()
	f.nearNames()
	f.watch(f.voids(), f.otherNames(), f.namedOther(), f.openYetClosed())
	f.required()
	f.recall()
	f.equals()
	f.linked()
	f.nesting()
	f.lasting()
	f.alsoProgress()
	f.matching()
	f.describe()
	f.proof()
	return u
}

// sample is a row kept for looking at.
type sample struct {
	n     int
	cells []Cell
}

// finder works out an understanding.
type finder struct {
	u      *Understanding
	s      *Sheet
	o      *Options
	m      Mapping
	past   Mapping // what was said of such sheets before
	t      *record.Kind
	rows   []sample
	at     int        // of the header among rows
	across string     // what stands as heads: cost_code or project; or ""
	high   [][]string // the heads above each column
	held   map[held]bool
	alone  seen
	alones int // rows that say nothing but words
	totals int // rows of sums

	yearAt, periodAt int // columns that tell a period together, or -1

	speaks *bool // whether a name or a row with few cells speaks of a project
	heads  *bool // whether a row with one cell names a cost code

	proven     map[int]bool            // rows of parents, which are the sums of those below
	fiscal     map[int]string          // the fiscal year that what stands above rows states
	compared   map[string]aHead        // heads as they are compared
	periodic   map[int]bool            // whether a column below a row holds periods
	stating    map[int]calendar.Period // what stands above rows states
	spoken     map[int]map[string]bool // tables that what stands above rows speaks of
	monthly    map[[2]int]int32        // periods that heads tell
	projects   map[string]bool         // that cells name
	slipOf     map[string]string       // heads that were taken with one
	units      []Cell                  // of the columns, in a row below the heads
	soon       string                  // a day early in a month, where nothing else tells the period
	sheetMonth bool                    // the sheet is named by the month of its amounts
	slips      bool                    // heads may have slips of the pen
	summary    bool                    // the one text is the summary
	daily      map[[2]int]bool         // whether days stand below heads
	short      map[int]map[int]int32   // periods of heads that are two short numbers
	serial     map[int]bool            // whether the numbers of a row of heads are months
}

// collect keeps the first rows.
func (f *finder) collect() {
	f.s.Each(func(l *Line) bool {
		if l.Wrong == "" && !l.Blank() {
			row := sample{n: l.N}
			for _, c := range l.Cells {
				c.Text = strings.Clone(c.Text)
				if c.Text == "#" && len(f.rows) < within {
					c.Text = "No" // a head
				}
				row.cells = append(row.cells, c)
			}
			f.rows = append(f.rows, row)
		}
		return len(f.rows) < sampled
	})
}

// canonical tells whether the sheet is one of Turret's own tables in their own
// form; then it is read strictly.
func (f *finder) canonical() bool {
	if !f.s.plain || len(f.rows) == 0 || f.m.Table != "" || f.m.Head != 0 || len(f.m.Columns)+len(f.m.Forms) > 0 {
		return false
	}
	t := f.o.named(f.s)
	if t == nil {
		if t = tableOfHead(f.rows[0].cells); t == nil || f.wordsElsewhere(t) || f.figuresBeside(t) || f.littleOfIts(t) {
			return false
		}
	}
	if !namesKeys(t, f.rows[0].cells) || f.onlyKeys(t) || f.otherWords(t) || f.lacksVersion(t) || !f.tidy(t) {
		return false
	}
	u := f.u
	u.Table, u.Canonical, u.Head, u.Certainty, u.Why, u.Fixed = t.Name, true, f.rows[0].n, Sure, "its header is that of "+t.Name, f.m.Fixed
	seen := make(map[string]bool)
	for i, c := range f.rows[0].cells {
		name := strings.Clone(canonical(c.Text))
		as := AsExtra
		if t.Index(name) >= 0 {
			as = name
		}
		u.Heads, u.Uses = append(u.Heads, name), append(u.Uses, Use{As: as})
		u.Columns = append(
			u.Columns,
			Column{Head: name, As: as, Certainty: Sure, Why: "it has the column's own name", Sample: f.samples(i)},
		)
		switch {
		case name == "":
			u.Skipped = "a column of the header has no name; name it or take it out"
		case seen[name]:
			u.Skipped = fmt.Sprintf("the header names the column %q twice; keep one", name)
		}
		seen[name] = true
	}
	if len(u.Heads) > f.o.Limits.Columns {
		u.Skipped = fmt.Sprintf("it has %d columns and the limit is %d", len(u.Heads), f.o.Limits.Columns)
	}
	return true
}

// lacksVersion tells heads that name no period of what is stated, and none was said for all
// rows: what stands around them may tell it, or it is asked.
func (f *finder) lacksVersion(t *record.Kind) bool {
	i := t.Index(t.Version)
	return i >= 0 && t.Columns[i].Type == record.Period && f.o.Period == 0 && !t.Own &&
		!slices.ContainsFunc(f.rows[0].cells, func(c Cell) bool { return canonical(c.Text) == t.Version })
}

// otherWords tells whether a head is another word for a column that no head
// names itself.
func (f *finder) otherWords(t *record.Kind) bool {
	named := func(column string) bool {
		return slices.ContainsFunc(f.rows[0].cells, func(c Cell) bool { return canonical(c.Text) == column })
	}
	for _, c := range f.rows[0].cells {
		if t == record.Progress.Kind && leftHead(c.Text) {
			return true
		}
		if t == record.Activities.Kind || t == record.Progress.Kind {
			if ofSchedules(c.Text) {
				return true
			}
		}
		if column, weight := called(t, c.Text, f.o.Words); weight > 0 && t.Index(canonical(c.Text)) < 0 &&
			!named(column) {
			return true
		}
	}
	return false
}

// wordsElsewhere tells whether a head that the table does not know is a month,
// or a word for a column of another one: a sheet that no name tells from its
// table is then to be understood, lest what it says be kept as an extra.
func (f *finder) wordsElsewhere(t *record.Kind) bool {
	for i, c := range f.rows[0].cells {
		if t.Index(canonical(c.Text)) >= 0 {
			continue
		}
		if f.section(c.Text) != "" && f.mostlySentences(i) {
			return true // what a lead tells
		}
		if f.month(0, i) != 0 {
			return true
		}
		for _, other := range record.Kinds() {
			if _, weight := called(other, c.Text, f.o.Words); weight > 1 && !other.Own {
				return true
			}
		}
	}
	return false
}

// littleOfIts tells a row of heads of which one alone is the table's, among others that are
// written in words: it may be of anything that has that column.
func (f *finder) littleOfIts(t *record.Kind) bool {
	own, others := 0, 0
	for _, c := range f.rows[0].cells {
		switch {
		case t.Index(canonical(c.Text)) >= 0:
			own++
		case strings.ContainsAny(strings.TrimSpace(c.Text), " ()/") && !isBlank(c.Text):
			others++
		}
	}
	return own == 1 && others > 0
}

// onlyKeys tells heads of which the table knows its keys alone, with others beside that it does
// not know: what they say is to be understood.
func (f *finder) onlyKeys(t *record.Kind) bool {
	others := false
	if t.Keep != record.Parts {
		return false // a list of codes
	}
	for _, c := range f.rows[0].cells {
		i := t.Index(canonical(c.Text))
		if i >= 0 && !t.Columns[i].Key {
			return false
		}
		others = others || i < 0 && !isBlank(c.Text)
	}
	return others
}

// figuresBeside tells codes with nothing of their table but numbers beside them: they are
// figures of what the codes stand for, and no list of them.
func (f *finder) figuresBeside(t *record.Kind) bool {
	own, figures := 0, 0
	for i, c := range f.rows[0].cells {
		if t.Index(canonical(c.Text)) >= 0 {
			own++
			continue
		}
		numbers, all := 0, 0
		for _, r := range f.rows[1:] {
			if i < len(r.cells) && !isBlank(r.cells[i].Text) {
				all++
				if isPlain(strings.TrimSpace(r.cells[i].Text)) {
					numbers++
				}
			}
		}
		if all > 0 && numbers == all {
			figures++
		}
	}
	return own == 1 && figures > 0
}

// tidy tells whether the first rows hold nothing but what the canonical form
// has, or what no form can read.
func (f *finder) tidy(t *record.Kind) bool {
	o := &Options{Periods: f.o.Periods}
	for _, r := range f.rows[1:] {
		for i, c := range r.cells {
			if i >= len(f.rows[0].cells) || strings.TrimSpace(c.Text) == "" {
				continue
			}
			at := t.Index(canonical(f.rows[0].cells[i].Text))
			if at < 0 {
				continue
			}
			col := &t.Columns[at]
			if parseCell(col, strings.TrimSpace(c.Text), new(portfolio.Field), o) == "" {
				continue
			}
			_, point := plainNumber(c.Text, Point)
			_, comma := plainNumber(c.Text, Comma)
			month, _ := readMonth(c.Text, "", f.o.Periods)
			if col.Name == "level" && allDigits(strings.TrimSpace(c.Text)) || isNumeric(col.Type) && (point || comma) && !isPlain(strings.TrimSpace(c.Text)) ||
				isDay(col.Type) && (readDay(c.Text).any() || countedDay(strings.TrimSpace(c.Text)) != 0) ||
				col.Type == record.Period && month != 0 ||
				col.Type == record.Choice && slices.Contains(col.Domain, chosen(t, col, strings.TrimSpace(c.Text))) {
				return false
			}
		}
	}
	return true
}

func (f *finder) samples(column int) []string {
	const most = 4
	var out []string
	for _, r := range f.rows[min(f.at+1, len(f.rows)):] {
		if column < len(r.cells) && len(out) < most && !startsTotal(r.cells) {
			if text := strings.TrimFunc(r.cells[column].Text, isSpace); text != "" {
				out = append(out, shorten(text, 40))
			}
		}
	}
	return out
}

// startsTotal tells a row whose first words say that it is a sum.
func startsTotal(cells []Cell) bool {
	for _, c := range cells {
		if text := strings.TrimFunc(c.Text, isSpace); text != "" && c.Kind == Words {
			return isTotal(text)
		}
	}
	return false
}

func shorten(s string, most int) string {
	if r := []rune(s); len(r) > most {
		return string(r[:most-1]) + "…"
	}
	return s
}

// tableOfHead finds the one table whose canonical header this is.
func tableOfHead(head []Cell) *record.Kind {
	best, most := 0, []*record.Kind(nil)
	for _, t := range record.Kinds() {
		n := 0
		for _, c := range head {
			if t.Index(canonical(c.Text)) >= 0 {
				n++
			}
		}
		if !namesKeys(t, head) || t.Own && !whole(t, head) {
			n = 0
		}
		if n > best {
			best, most = n, nil
		}
		if n == best && n > 0 {
			most = append(most, t)
		}
	}
	if len(most) == 1 {
		return most[0]
	}
	return nil
}

// whole tells whether a header has nothing but columns of a table, and more than its key.
func whole(t *record.Kind, head []Cell) bool {
	says := false
	for _, c := range head {
		i := t.Index(canonical(c.Text))
		if i < 0 {
			return false
		}
		says = says || !t.Columns[i].Key
	}
	return says
}

// namesKeys tells whether a canonical header names all that a row must state.
func namesKeys(t *record.Kind, head []Cell) bool {
	for i := range t.Columns {
		if required(t, &t.Columns[i]) &&
			!slices.ContainsFunc(head, func(c Cell) bool { return canonical(c.Text) == t.Columns[i].Name }) {
			return false
		}
	}
	return true
}

// required tells whether a row must state a key column.
func required(t *record.Kind, c *record.Column) bool {
	return c.Key && !c.Blank && c.Default == "" && c.Name != t.Version
}
