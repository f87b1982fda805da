package gather

import (
	"cmp"
	"fmt"
	"hash/maphash"
	"strings"

	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// RowOf is a row of a table as it was read, with the cells that it came from.
type RowOf struct {
	*portfolio.Row
	Cells func() map[string]string
}

// Read hands over each row of the understood sheet in turn; a row is only good
// until the next. Rows and cells that cannot be read come as refusals, with the
// row's cells by head. What is not ready is refused whole.
func (u *Understanding) Read(o *Options, row func(*portfolio.Row, func() map[string]string), refuse func(Refusal)) {
	label := u.Label()
	if u.Skipped != "" {
		refuse(Refusal{File: label, Reason: u.Skipped})
		return
	}
	for _, q := range u.Questions {
		r := Refusal{File: label, Reason: q.Text}
		if q.Column >= 0 {
			r.Column = u.Columns[q.Column].Head
		}
		refuse(r)
	}
	if len(u.Questions) > 0 {
		return
	}
	u.Layout.Read(u.sheet, o, row, refuse)
}

// Read hands over the rows of a sheet as the layout has them.
func (l *Layout) Read(
	s *Sheet,
	o *Options,
	row func(*portfolio.Row, func() map[string]string),
	refuse func(Refusal),
) {
	t := l.table()
	if t == nil {
		refuse(Refusal{File: s.Label(), Reason: fmt.Sprintf("%q is not a table", l.Table)})
		return
	}
	r := &reader{
		Layout: l,
		o:      o,
		t:      t,
		label:  s.Label(),
		refuse: refuse,
		row:    row,
	}
	r.prepare()
	r.handed = s.Format == handed
	r.above = make([]Cell, len(r.Down))
	if r.Head > 0 && r.Accounts { // the first heading may stand above the heads
		s.Each(func(l *Line) bool {
			if l.N < r.Head && l.Wrong == "" {
				r.account(l)
			}
			return l.N < r.Head
		})
	}
	r.findSeveral(s)
	r.nest(s)
	r.chains(s)
	n := 0
	s.Each(func(line *Line) bool {
		if line.N <= l.Head {
			return true
		}
		if n++; n > o.Limits.Rows {
			refuse(
				Refusal{
					File:   r.label,
					Row:    line.N,
					Reason: fmt.Sprintf("the file has more than %d rows; split it", o.Limits.Rows),
				},
			)
			return false
		}
		if o.Stop != nil && n%1000 == 0 && o.Stop() {
			return false
		}
		if o.Tick != nil && n%50_000 == 0 {
			o.Tick(n)
		}
		r.read(line)
		return true
	})
}

// reader reads the rows of one sheet.
type reader struct {
	*Layout
	o            *Options
	t            *record.Kind
	label        string
	out          portfolio.Row
	places       []int // of each column in the table, or -1
	months       []int // columns of which each gives a row: months, and kinds of amounts
	value        int   // place of what stands under months
	fixed        []fixed
	marks        bool                 // a column says which amounts are credits
	credit       int                  // column of amounts with their sign turned, or -1
	nests        map[int]string       // the activity above that of a row
	parents      map[int]bool         // rows with others below
	taken        map[string]bool      // codes that activities were matched to, as PROJECT/CODE
	chain        []chained            // columns of links
	linked       map[[3]string]entry  // links that were told, by project and ends
	several      map[string]bool      // documents of several lines
	equals       map[string]int       // postings that say the same, by what they say
	handed       bool                 // rows in hand, that were refused before
	nobody       string               // a heading above that names no project
	coded        map[[2]string]string // codes as they are written, by column, to the office's
	wholes       map[uint64]bool      // rows, where those of one cell add up
	seed         maphash.Seed
	kind, class  string // of the heading above
	state        string
	code, noCode string          // the cost code of the heading above, and its text where it is none
	above        []Cell          // of the columns whose empty cells stand for it
	beside       money.Currency  // that stands beside an amount of the row
	unit         int             // the column of the unit of each row, or -1
	scaled       int             // the places that amounts of the row are moved by
	stands       money.Currency  // that the unit of the row names
	under        string          // the project of the heading above, in a sheet of sections
	steps        map[string]step // of amounts that run on, by row
	row          func(*portfolio.Row, func() map[string]string)
	refuse       func(Refusal)
}

// fixed is what all rows say of a column of the table.
type fixed struct {
	at    int
	field portfolio.Field
}

func (r *reader) prepare() {
	r.out.Fields = make([]portfolio.Field, len(r.t.Columns))
	r.marks, r.unit = r.column(AsMark) >= 0, r.column(AsUnit)
	r.credit, r.value = -1, r.t.Index(unfolded(r.t))
	r.places = make([]int, len(r.Uses))
	for i, x := range r.Uses {
		r.places[i] = max(r.t.Index(x.As), r.ratesAt(x.As))
		switch x.As {
		case AsMonth:
			r.months = append(r.months, i)
		case "finish", "percent":
			if x.Activity != "" {
				r.months = append(r.months, i)
			}
		case "amount", "text":
			if x.Kind != "" || x.Code != "" || x.Project != "" || x.Class != "" {
				r.months, r.value = append(r.months, i), r.places[i]
			}
		case AsCredit:
			r.credit = i
		}
	}
	r.inOrder()
	for name, text := range r.Fixed {
		at := r.t.Index(name)
		if at < 0 {
			continue
		}
		var f portfolio.Field
		if why := parseCell(&r.t.Columns[at], text, &f, r.o); why == "" {
			r.fixed = append(r.fixed, fixed{at, f})
		}
	}
}

// cells gives the cells of a row by head.
func (r *reader) cells(line *Line) map[string]string {
	m := make(map[string]string, len(line.Cells))
	for i, c := range line.Cells {
		name := fmt.Sprintf("cell %d", i+1)
		if i < len(r.Heads) {
			name = r.Heads[i]
		}
		if c.Text != "" || r.Canonical {
			m[name] = strings.Clone(r.asText(i, c))
		}
	}
	return m
}

// asText writes a spreadsheet's number as the column's text has it, so that it
// reads the same.
func (r *reader) asText(i int, c Cell) string {
	if c.Kind != Number || i >= len(r.Uses) {
		return c.Text
	}
	use := &r.Uses[i]
	if at := r.places[i]; at >= 0 && isDay(r.t.Columns[at].Type) {
		if d := serialDay(c.Text, r.From1904); d != 0 {
			return d.String()
		}
	}
	text := c.Text
	if use.Share || use.OfOne {
		text = moved(text, 2) + "%"
	}
	if use.Form == Comma {
		text = strings.Replace(text, ".", ",", 1)
	}
	return text
}

func (r *reader) bad(line *Line, column, value, format string, args ...any) {
	x := Refusal{
		File:   r.label,
		Row:    line.N,
		Column: column,
		Value:  value,
		Reason: fmt.Sprintf(format, args...),
		Cells:  r.cells(line),
	}
	if r.t.Keep == record.Ledger {
		x.Amount, x.Unit = r.worth(line)
	}
	r.refuse(x)
}

// worth gives the amount of a posting that cannot be read otherwise, and its currency, as far
// as the row tells them.
func (r *reader) worth(line *Line) (amount, currency string) {
	read := func(name string, at int) string {
		i := r.t.Index(name)
		if at < 0 || i < 0 {
			return ""
		}
		var f portfolio.Field
		c := line.At(at)
		if why := r.cell(&r.t.Columns[i], &c, &r.Uses[at], &f); why != "" || f.Said != portfolio.Value {
			return ""
		}
		return strings.Clone(f.Text)
	}
	amount = read("amount", r.column("amount"))
	if credit := read("amount", r.credit); credit != "" && (amount == "" || isZero(amount)) {
		amount = negated(credit)
	}
	return amount, cmp.Or(read("currency", r.column("currency")), r.Fixed["currency"])
}

// read takes one row of the sheet: it becomes one of the table, or one for each
// month that says something.
func (r *reader) read(line *Line) {
	switch {
	case line.Wrong != "":
		r.bad(line, "", "", "%s", line.Wrong)
		return
	case line.Blank() || r.leaves(line) || r.repeatsHead(line):
		return
	case r.Canonical && len(line.Cells) != len(r.Heads):
		r.bad(
			line,
			"",
			"",
			"it has %d cells and the header has %d; check for a missing or stray comma",
			len(line.Cells),
			len(r.Heads),
		)
		return
	}
	if r.section(line) {
		return
	}
	if r.totalRow(line) {
		r.ends(line)
		return
	}
	if r.lone(line) {
		return
	}
	r.repeat(line)
	if r.sameAgain(line) {
		return
	}
	if column, value, why := r.parse(line); why != "" {
		if r.Within != "" {
			return // it is told of the row itself
		}
		r.bad(line, column, value, "%s", why)
		return
	}
	cells := func() map[string]string { return r.cells(line) }
	if column, value, why := r.matched(); why != "" {
		if r.Within == "" {
			r.bad(line, column, value, "%s", why)
		}
		return
	}
	if r.Within != "" {
		r.linksOf(line, cells)
		return
	}
	r.out.Source = portfolio.Source{Row: int32(line.N)}
	r.numbered(line, r.handed)
	r.placed(line)
	if column, value, why := r.lasts(line); why != "" {
		r.bad(line, column, value, "%s", why)
		return
	}
	if len(r.months) == 0 {
		if column, why := r.complete(); why != "" {
			r.bad(line, column, "", "%s", why)
			return
		}
		if why := r.lessen(); why != "" {
			r.bad(line, "amount", "", "%s", why)
			return
		}
		r.row(&r.out, cells)
		return
	}
	r.unfold(line, cells)
}

// parse reads the cells of a row into its fields.
func (r *reader) parse(line *Line) (column, value, why string) {
	clear(r.out.Fields)
	r.out.Extra = nil
	if column, value, why := r.united(line); why != "" {
		return column, value, why
	}
	for i := range line.Cells {
		cell := line.Cells[i]
		c := &cell
		if len(c.Text) > r.o.Limits.CellBytes {
			return r.head(
					i,
				), shorten(
					c.Text,
					50,
				), fmt.Sprintf(
					"the cell has more than %d characters, which is the limit",
					r.o.Limits.CellBytes,
				)
		}
		if i >= len(r.Uses) {
			if strings.TrimFunc(c.Text, isSpace) != "" {
				return r.head(
						i,
					), c.Text, fmt.Sprintf(
						"the row has %d cells and the header has %d; check for a stray separator",
						len(line.Cells),
						len(r.Heads),
					)
			}
			continue
		}
		at := r.places[i]
		if r.Year > 0 && r.Uses[i].As == "period" {
			continue // with its year
		}
		if at < 0 {
			if r.Uses[i].As == AsScore {
				r.scored(i, c.Text)
			}
			if text := strings.TrimSpace(c.Text); r.Uses[i].As == AsExtra && text != "" {
				if r.out.Extra == nil {
					r.out.Extra = make(map[string]string)
				}
				r.out.Extra[r.t.BesideName(r.Heads[i])] = strings.Clone(record.Unguard(text))
			}
			continue
		}
		if r.Uses[i].Kinds {
			r.kindBeside(c)
		}
		if blank := r.Uses[i].Blank; blank != "" && isBlank(c.Text) {
			c.Text, c.Kind = blank, Words
		}
		if r.Uses[i].Prefix {
			r.beginning(i, c, &r.out.Fields[at])
			continue
		}
		if r.t == record.Rates.Kind && r.Uses[i].As == "currency" {
			if other, _ := r.pair(c.Text); other != "" {
				c.Text = other
			}
		}
		if why := r.cell(&r.t.Columns[at], c, &r.Uses[i], &r.out.Fields[at]); why != "" {
			return r.head(i), strings.Clone(c.Text), why
		}
		r.actually(i, c, &r.out.Fields[at])
		if r.Uses[i].As == "rate" || r.Uses[i].As == AsInverse {
			if why := r.rated(line, &r.Uses[i], &r.out.Fields[at]); why != "" {
				return r.head(i), strings.Clone(c.Text), why
			}
		}
	}
	if column, value, why := r.underHeading(); why != "" {
		return column, value, why
	}
	if column, value, why := r.inYear(line); why != "" {
		return column, value, why
	}
	r.underKind()
	r.underClass()
	r.underState()
	if column, value, why := r.otherName(line); why != "" {
		return column, value, why
	}
	for _, x := range r.fixed {
		if r.out.Fields[x.at].Said == portfolio.Nothing {
			r.out.Fields[x.at] = x.field
		}
	}
	if column, value, why := r.credited(line); why != "" {
		return column, value, why
	}
	if why := r.signed(); why != "" {
		return "currency", "", why
	}
	r.marked(line)
	return "", "", ""
}

// beginning takes the project that a cell begins with, and keeps the whole beside.
func (r *reader) beginning(i int, c *Cell, f *portfolio.Field) {
	text := strings.TrimFunc(c.Text, isSpace)
	if text == "" {
		return
	}
	code := text
	if found, rest := r.o.Names.begins(text); found != "" {
		code = found
		if at := r.t.Index(r.Uses[i].Then); at >= 0 && r.out.Fields[at].Said != portfolio.Value {
			if then := r.then(r.Uses[i].Then, found, text, rest); then != "" {
				r.out.Fields[at] = portfolio.Field{Said: portfolio.Value, Text: r.o.keep(then)}
			}
		}
		if r.out.Extra == nil {
			r.out.Extra = make(map[string]string)
		}
		r.out.Extra[r.t.BesideName(r.Heads[i])] = strings.Clone(text)
	}
	*f = portfolio.Field{Said: portfolio.Value, Text: r.o.keep(r.recode("project", code))}
}

// then is what stands behind the code of a project: a cost code, or what the project calls
// a risk or an activity; all of it where that is a code of the project's own.
func (r *reader) then(column, project, text, rest string) string {
	switch {
	case column == "cost_code":
		return r.o.Names.follows(rest)
	case column == "activity" && r.o.Coded != nil && r.o.Coded(project, text):
		return text
	}
	return strings.Trim(rest, "-./:_ ")
}

func (r *reader) head(i int) string {
	if i < len(r.Heads) {
		return r.Heads[i]
	}
	return fmt.Sprintf("cell %d", i+1)
}
