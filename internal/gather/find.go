package gather

import (
	"cmp"
	"fmt"
	"path"
	"strings"

	"turret/internal/core/portfolio"
)

// strict are tables that are only read in their own form: they are Turret's
// own business, and no one sends them otherwise.
var strict = map[string]bool{"settings": true, "rules": true, "overrides": true, "periods": true}

// find looks for the row that names the columns of a table.
func (f *finder) find() bool {
	hint := f.hint()
	best := 0.0
	var why string
	second := 0.0
	for i, r := range f.rows[:min(len(f.rows), within)] {
		if f.m.Head != 0 && r.n != f.m.Head {
			continue
		}
		for _, t := range portfolio.Tables {
			if strict[t.Name] || f.m.Table != "" && f.m.Table != t.Name || f.o.Table != nil && f.m.Table == "" && f.o.Table != t {
				continue
			}
			score, said := f.score(i, t, t == hint)
			switch {
			case score > best:
				if f.t != t {
					second = best
				}
				best, f.t, f.at, why = score, t, i, said
			case score > second && t != f.t:
				second = score
			}
		}
	}
	const enough = 3.5
	if f.t == nil || best < enough && f.m.Head == 0 && f.m.Table == "" {
		return false
	}
	u := f.u
	u.Table, u.Head, u.Why = f.t.Name, f.rows[f.at].n, why
	switch {
	case f.m.Table != "":
		u.Certainty, u.Why = Sure, "it was said so; "+why
	case best > second+3:
		u.Certainty = Sure
	case best > second+1:
		u.Certainty = Likely
	default:
		u.Certainty = Guess
	}
	return true
}

// hint is the table that the names of file and sheet speak of.
func (f *finder) hint() *portfolio.Table {
	if t := f.o.named(f.s); t != nil {
		return t
	}
	for _, text := range [...]string{f.s.Name, strings.TrimSuffix(path.Base(f.s.File), path.Ext(f.s.File))} {
		for w := range strings.FieldsSeq(strings.Map(apart, Normal(text))) {
			if name := tableWords[w]; name != "" {
				return portfolio.TableNamed(name)
			}
		}
	}
	return nil
}

// score tells how well a row names the columns of a table.
func (f *finder) score(at int, t *portfolio.Table, hinted bool) (score float64, why string) {
	row := f.rows[at]
	named := make(map[string]bool)
	months, words, matched := 0, 0, 0
	for i, c := range row.cells {
		text := strings.TrimFunc(c.Text, isSpace)
		if text == "" {
			continue
		}
		if f.month(at, i) != 0 {
			months++
			continue
		}
		if c.Kind == Number {
			score -= 0.5
			continue
		}
		words++
		column := f.m.Columns[Normal(text)]
		weight := 3
		if column == "" {
			label, _ := unitOf(text)
			column, weight = f.calls(at, i, t, label)
		}
		if weight == 0 || column == AsExtra || column == AsNone || named[column] {
			continue
		}
		named[column] = true
		matched++
		score += float64(weight) / 2
		if j := t.Index(column); j >= 0 && t.Columns[j].Key {
			score++
		}
	}
	if matched == 0 || matched+months < 2 {
		return 0, ""
	}
	for i := range t.Columns {
		c := &t.Columns[i]
		if !required(t, c) || named[c.Name] || f.m.Fixed[c.Name] != "" || c.Name == "period" && (months > 0 || f.o.Period != 0) || c.Name == "kind" && t.Name == "costs" {
			continue
		}
		if f.holds(at, c.Name) {
			score++
			continue
		}
		score -= 1.5
	}
	unfolds := unfolded(t) != ""
	if unfolds && months > 0 && !named[unfolded(t)] {
		score += min(float64(months), 6) / 2
	} else if months > 1 {
		score--
	}
	if hinted {
		score += 2
	}
	score -= 0.3 * float64(words-matched)
	why = fmt.Sprintf("row %d names %d columns of %s", row.n, matched, t.Name)
	if months > 0 && unfolds {
		why += fmt.Sprintf(" and %d periods", months)
	}
	if hinted {
		why += ", and so does the name of the file or sheet"
	}
	return score, why
}

// calls gives the column of a table that a head names, and how surely. Days
// under a head that no column of days has are finish dates: of "Forecast" the
// forecast finish, of "Baseline" the baseline finish.
func (f *finder) calls(at, i int, t *portfolio.Table, label string) (column string, weight int) {
	column, weight = called(t, label, f.o.Words)
	j := t.Index(column)
	fits := j >= 0 && !isNumeric(t.Columns[j].Type)
	if fits || weight == 0 && t.Index("finish") < 0 || !f.holdsDays(at, i) {
		return column, weight
	}
	if of, w := called(t, label+" finish", f.o.Words); w > 0 {
		return of, 2
	}
	if j >= 0 {
		return "", 0 // it counts, and these are days
	}
	return column, weight
}

// holdsDays tells whether all that stands below a head are days.
func (f *finder) holdsDays(at, column int) (only bool) {
	key := [2]int{at, column}
	if only, asked := f.daily[key]; asked {
		return only
	}
	if f.daily == nil {
		f.daily = make(map[[2]int]bool)
	}
	for _, r := range f.rows[at+1:] {
		if column >= len(r.cells) {
			continue
		}
		text := f.shownAt(r, column)
		if text == "" || text == "-" || text == f.head(at, column) {
			continue
		}
		if only = !isPlain(text) && readDay(text).any(); !only {
			break
		}
	}
	f.daily[key] = only
	return only
}

// holds tells whether some column holds codes that the office knows.
func (f *finder) holds(at int, name string) bool {
	key := held{at, name}
	found, asked := f.held[key]
	if !asked {
		column, _ := f.known(at, name, func(int) bool { return true })
		found = column >= 0
		if f.held == nil {
			f.held = make(map[held]bool)
		}
		f.held[key] = found
	}
	return found
}

type held struct {
	at   int
	name string
}

// known finds the column most of whose cells below a row are known as codes of
// a column of the table, with their share; -1 where there is none.
func (f *finder) known(at int, name string, may func(int) bool) (column int, share float64) {
	if f.o.Known == nil || name != "project" && name != "cost_code" && name != "currency" {
		return -1, 0
	}
	const most = 0.8
	column = -1
	for i := range f.rows[at].cells {
		if !may(i) {
			continue
		}
		known, all := 0, 0
		for _, r := range f.rows[at+1:] {
			if i >= len(r.cells) {
				continue
			}
			if text := strings.TrimFunc(r.cells[i].Text, isSpace); text != "" {
				all++
				if name == "currency" && isCurrency(text) && len(text) == 3 || name != "currency" && f.o.Known(name, text) {
					known++
				}
			}
		}
		if s := float64(known) / float64(max(all, 1)); all > 0 && s >= most && s > share {
			column, share = i, s
		}
	}
	return column, share
}

// unfolded is the column of a table that stands under the heads of months.
func unfolded(t *portfolio.Table) string {
	switch t.Name {
	case "costs":
		return "amount"
	case "progress":
		return "percent"
	case "rates":
		return "rate"
	}
	return ""
}

// month gives the period that a head tells, alone or with the head above it.
func (f *finder) month(at, column int) (p int32) {
	key := [2]int{at, column}
	if p, asked := f.monthly[key]; asked {
		return p
	}
	if f.monthly == nil {
		f.monthly = make(map[[2]int]int32)
	}
	defer func() { f.monthly[key] = p }()
	text := f.head(at, column)
	if text == "" {
		return 0
	}
	q, needs := readMonth(text, "", f.o.Periods)
	if needs {
		q, _ = readMonth(text, f.above(at, column), f.o.Periods)
	}
	return int32(q)
}

// head is a head as the sheet shows it: a spreadsheet may keep a month as a
// number.
func (f *finder) head(at, column int) string {
	row := f.rows[at]
	if column >= len(row.cells) {
		return ""
	}
	c := row.cells[column]
	if shown := f.s.shown[row.n]; c.Kind == Number && column < len(shown) && showsDay(shown[column]) {
		if d := serialDay(c.Text, f.s.from1904); d != 0 {
			return d.String()
		}
	}
	return strings.TrimFunc(c.Text, isSpace)
}

// above is the head above a column: the value to its left where heads are
// merged. Only a row right above the header is one, and only where it heads
// more than one column.
func (f *finder) above(at, column int) string {
	if at == 0 || f.rows[at].n-f.rows[at-1].n > 1 {
		return ""
	}
	up := f.rows[at-1]
	filled := 0
	for _, c := range up.cells {
		if strings.TrimFunc(c.Text, isSpace) != "" {
			filled++
		}
	}
	if filled == 1 && len(up.cells) > 0 && strings.TrimFunc(up.cells[0].Text, isSpace) != "" {
		return "" // a title
	}
	for i := min(column, len(up.cells)-1); i >= 0; i-- {
		if text := strings.TrimFunc(up.cells[i].Text, isSpace); text != "" {
			return text
		}
	}
	return ""
}

// columns decides what each column is, by its head and then by its cells.
func (f *finder) columns() {
	u, row := f.u, f.rows[f.at]
	width := len(row.cells)
	for _, r := range f.rows[f.at+1:] {
		for i := width; i < len(r.cells); i++ {
			if strings.TrimFunc(r.cells[i].Text, isSpace) != "" {
				width = i + 1
			}
		}
	}
	taken := make(map[string]int)
	f.high = make([]string, width)
	for i := range width {
		head := f.head(f.at, i)
		f.high[i] = f.above(f.at, i)
		col := Column{Head: head, Above: f.high[i], Sample: f.samples(i)}
		use := Use{}
		name := f.unique(head, i)
		switch said := f.m.Columns[name]; {
		case said != "":
			use.As, col.Certainty, col.Why = said, Sure, "it was said so"
			if said == AsMonth {
				use.Period = f.o.Periods.Code(f.o.Period)
				if p := f.month(f.at, i); p != 0 {
					use.Period = f.code(p)
				}
			}
		default:
			f.guess(i, head, &use, &col)
		}
		col.As = use.As
		u.Heads, u.Uses, u.Columns = append(u.Heads, name), append(u.Uses, use), append(u.Columns, col)
		f.settleTwice(i, taken)
	}
}

// settleTwice decides where a column is what another to its left is already:
// what was said wins, then the column's own name; two of the same head, or two
// words for what is counted or dated, are asked about.
func (f *finder) settleTwice(i int, taken map[string]int) {
	u := f.u
	as := u.Uses[i].As
	j := f.t.Index(as)
	if j < 0 {
		return
	}
	at, twice := taken[as]
	if !twice {
		taken[as] = i
		return
	}
	keep, drop := at, i
	if now, before := f.surely(i), f.surely(at); now > before {
		keep, drop, taken[as] = i, at, i
	} else if now == before && now < said {
		kind := f.t.Columns[j].Type
		if Normal(u.Columns[i].Head) == Normal(u.Columns[at].Head) {
			u.ask(i, "columns", fmt.Sprintf("two columns are headed %q; say which is %s, and what the other is", u.Columns[i].Head, as), as, AsExtra, AsNone)
		} else if isNumeric(kind) || isDay(kind) {
			u.ask(i, "columns", fmt.Sprintf("%q and %q both can be %s; say which is, and what the other is", u.Columns[at].Head, u.Columns[i].Head, as), as, AsExtra, AsNone)
		}
	}
	u.Uses[drop].As = AsExtra
	col := &u.Columns[drop]
	col.As, col.Certainty, col.Why = AsExtra, Guess, fmt.Sprintf("column %s is %s already", letters(keep), as)
}

// said is how surely a column is what someone said it is; below are the weights
// of words.
const said = 4

func (f *finder) surely(i int) int {
	if f.m.Columns[f.u.Heads[i]] != "" {
		return said
	}
	label, _ := unitOf(f.u.Columns[i].Head)
	_, weight := f.calls(f.at, i, f.t, label)
	return weight
}

func (f *finder) code(p int32) string { return f.o.Periods.Code(periodOf(p)) }

// guess decides a column by its head, or leaves it to its cells.
func (f *finder) guess(i int, head string, use *Use, col *Column) {
	label, unit := unitOf(head)
	column, weight := f.calls(f.at, i, f.t, label)
	p := f.month(f.at, i)
	switch {
	case p != 0 && unfolded(f.t) != "":
		*use = Use{As: AsMonth, Period: f.code(p), Kind: kindIn(f.high[i], f.headKind(head))}
		if f.t.Name != "costs" {
			use.Kind = ""
		}
		col.Certainty, col.Why = Sure, "its head is a period"
	case weight > 0:
		use.As = column
		col.Certainty, col.Why = Sure, "it has the column's own name"
		if weight < 3 {
			col.Why = fmt.Sprintf("%q is another word for it", head)
		}
		if unit != "" {
			col.Why += ", in " + unit
		}
	case isTotal(head) || f.yearTotal(head):
		use.As, col.Certainty, col.Why = AsTotal, Likely, "its head says that it is a sum"
	default:
		use.As, col.Certainty, col.Why = AsExtra, Sure, "no column of "+f.t.Name+" is called so"
		if head == "" {
			use.As, col.Why = AsNone, "it has no head"
		}
	}
}

// headKind is what a month's own head says of its kind: "Apr 26 actual".
func (f *finder) headKind(head string) string { return head }

// yearTotal tells the sum of a year among months: FY27.
func (f *finder) yearTotal(head string) bool {
	y, _ := readYear(head)
	return y != 0 && unfolded(f.t) != ""
}

// unique names a column so that no other has its name.
func (f *finder) unique(head string, i int) string {
	name := cmp.Or(Normal(head), "column "+letters(i))
	if f.t.Index(canonical(head)) >= 0 {
		name = canonical(head)
	}
	out := name
	for n := 2; ; n++ {
		free := true
		for _, h := range f.u.Heads {
			free = free && h != out
		}
		if free {
			return out
		}
		out = fmt.Sprintf("%s %d", name, n)
	}
}

// letters name a column as spreadsheets do.
func letters(i int) string {
	out := ""
	for i++; i > 0; i = (i - 1) / 26 {
		out = string(rune('A'+(i-1)%26)) + out
	}
	return out
}
