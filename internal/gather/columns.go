package gather

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"turret/internal/record"
)

// columns decides what each column is, by its head and then by its cells.
func (f *finder) columns() {
	u, row := f.u, f.rows[f.at]
	if across, n := f.crossing(f.at, f.t); n > 0 && !f.namedBelow(across) {
		f.across = across
	}
	width := len(row.cells)
	for _, r := range f.rows[f.at+1:] {
		for i := width; i < len(r.cells); i++ {
			if strings.TrimFunc(r.cells[i].Text, isSpace) != "" {
				width = i + 1
			}
		}
	}
	f.unitsBelow()
	f.years()
	taken := make(map[string]int)
	f.high = make([][]string, width)
	for i := range width {
		head := f.head(f.at, i)
		f.high[i] = f.aboves(f.at, i)
		col := Column{Head: head, Above: strings.Join(f.high[i], ", "), Sample: f.samples(i)}
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
	f.activityColumns()
	f.bothWays()
	f.currenciesBeside()
	f.riskTitles()
	f.stories()
}

// unitsBelow takes the row right below the heads for a part of them where it says nothing
// but units.
func (f *finder) unitsBelow() {
	if f.at+1 >= len(f.rows) {
		return
	}
	r, units := f.rows[f.at+1], 0
	for _, c := range r.cells {
		text := strings.TrimFunc(c.Text, isSpace)
		if text == "" {
			continue
		}
		if c.Kind != Words || !isUnit(text) {
			return
		}
		units++
	}
	if units == 0 {
		return
	}
	f.units = r.cells
	f.u.Leave = append(slices.Clone(f.u.Leave), r.n)
	f.u.note("Row %d tells the units of the columns.", r.n)
}

// namedBelow tells whether a head says that what stands across stands below it.
func (f *finder) namedBelow(name string) bool {
	for i := range f.rows[f.at].cells {
		label, _ := unitOf(f.head(f.at, i))
		if column, weight := called(f.t, label, f.o.Words); column == name && weight > 0 && f.headRef(name, f.at, i) == "" {
			return true
		}
	}
	return false
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
	if f.t.Name == "costs" && (column == "period" || weight == 0 && (runningIn(head) != "" || ofPeriod[Normal(head)])) &&
		f.holdsAmounts(i) {
		column, weight = "amount", 1
	}
	p := f.month(f.at, i)
	if column == "activity" && f.t.Index("name") >= 0 && endsAsName(label) && f.codedElsewhere(i) {
		column = "name"
	}
	switch {
	case i == f.yearAt:
		use.As, col.Certainty, col.Why = AsNone, Sure, "it is the year of the period"
	case i == f.periodAt:
		use.As, col.Certainty, col.Why = "period", Sure, "with the year it tells the period"
	case f.across != "" && f.headRef(f.across, f.at, i) != "":
		code := f.headRef(f.across, f.at, i)
		*use = Use{As: "amount"}
		if f.t == record.Progress.Kind {
			use.As = "percent"
			if f.holdsDays(f.at, i) {
				use.As = "finish"
			}
		}
		use.cross(f.across, code)
		if p != 0 {
			use.As, use.Period = AsMonth, f.code(p)
		}
		use.Kind = kindIn(f.high[i]...)
		col.Certainty, col.Why = Sure, fmt.Sprintf("its head is the %s %s", strings.ReplaceAll(f.across, "_", " "), code)
	case p != 0 && f.t == record.Progress.Kind && f.holdsDays(f.at, i):
		f.trend(i, p, use, col)
	case p != 0 && f.t.Name == "costs" && wasStated(head):
		use.As, col.Certainty, col.Why = AsNone, Likely, "it is what was stated before"
		if text := fmt.Sprintf("%s is left out: it is what was stated before.", head); !slices.Contains(f.u.Notes, text) {
			f.u.note("%s", text)
		}
	case p != 0 && unfolded(f.t) != "":
		*use = Use{As: AsMonth, Period: f.code(p)}
		if f.t.Name == "costs" {
			use.Kind = cmp.Or(headKind(head), bandKind(f.high[i]))
			f.crossAbove(i, use)
		}
		col.Certainty, col.Why = Sure, "its head is a period"
	case runningIn(head) != "" && p == 0 && f.months() && f.m.Running == "":
		use.As, col.Certainty, col.Why = AsNone, Likely, "it is all up to a period, beside amounts of periods"
		f.u.note("%s is left out: it is all up to a period, beside amounts of periods of their own.", head)
	case quarters.MatchString(Normal(head)) && f.months():
		use.As, col.Certainty, col.Why = AsTotal, Likely, "a quarter is the sum of its months"
	case f.t.Name == "costs" && column == "amount" && kindIn(head) == "plan" && p == 0 && f.months() && f.across == "":
		use.As, col.Certainty, col.Why = AsNone, Likely, "it is of no period, beside amounts of periods"
		f.u.note("%s is left out: it is of no period, beside amounts of periods.", head)
	case f.t.Name == "costs" && column == "amount" && kindIn(head) != "" && p == 0 && f.months() && f.across == "":
		use.As, col.Certainty, col.Why = AsNone, Likely, ofNoMonth
	case weight == 0 && saidBefore(f.t, label):
		use.As, col.Certainty, col.Why = AsNone, Likely, "it is what was stated before"
		f.u.note("%s is left out: it is what was stated before.", head)
	case isTotal(head) && f.spread():
		use.As, col.Certainty, col.Why = AsTotal, Likely, "its head says that it is a sum"
	case weight > 0:
		use.As = column
		if use.Left = column == "percent" && leftHead(label); use.Left {
			f.u.note("%s tells what is left to do: what is done is the rest of 100%%.", head)
		}
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

// endsAsName tells a head that ends with a word for names.
func endsAsName(label string) bool {
	words := strings.Fields(Normal(label))
	return len(words) > 1 && nameTails[words[len(words)-1]]
}

var nameTails = wordsOf("name names title description bezeichnung navn nom nombre nome naam namn")

// codedElsewhere tells whether another head is that of the codes of activities.
func (f *finder) codedElsewhere(but int) bool {
	for i := range f.rows[f.at].cells {
		label, _ := unitOf(f.head(f.at, i))
		if i == but || endsAsName(label) {
			continue
		}
		if column, weight := f.calls(f.at, i, f.t, label); column == "activity" && weight > 1 {
			return true
		}
	}
	return false
}

// cross sets what all amounts of a column are of.
func (x *Use) cross(column, code string) {
	if column == "project" {
		x.Project = code
	} else if column == "activity" {
		x.Activity = code
	} else {
		x.Code = code
	}
}

// crossAbove finds the project or the cost code that a head above periods names, where the
// heads above name several.
func (f *finder) crossAbove(i int, use *Use) {
	for _, name := range [...]string{"cost_code", "project"} {
		if f.namedBelow(name) {
			continue
		}
		seen := make(map[string]bool)
		mine := ""
		for j := range f.rows[f.at].cells {
			for _, above := range f.aboves(f.at, j) {
				if found := f.o.Names.Find(name, above); len(found) == 1 && f.month(f.at, j) != 0 {
					seen[found[0]] = true
					if i == j {
						mine = found[0]
					}
				}
			}
		}
		if len(seen) > 1 && mine != "" {
			use.cross(name, mine)
		}
	}
}

// ofPeriod are heads of amounts of the period that a sheet is about.
var ofPeriod = map[string]bool{
	"this month": true, "current month": true, "in month": true, "month actual": true, "period actual": true, "this period": true,
	"current period": true, "monat": true, "laufender monat": true, "denne maned": true, "mois en cours": true,
}

// holdsAmounts tells whether all that stands below a head are amounts, and no periods.
func (f *finder) holdsAmounts(column int) bool {
	n := 0
	for _, r := range f.rows[f.at+1:] {
		if column >= len(r.cells) {
			continue
		}
		text := f.shownAt(r, column)
		if text == "" || isDash(text) {
			continue
		}
		if p, needs := readMonth(text, "", f.o.Periods); p != 0 || needs {
			return false
		}
		_, point := plainNumber(text, Point)
		_, comma := plainNumber(text, Comma)
		if !point && !comma {
			return false
		}
		n++
	}
	return n > 0
}

// quarters are heads of sums of three months.
var quarters = regexp.MustCompile(`^(q ?[1-4]|[1-4] ?q|quarter [1-4]|[1-4] quartal|quartal [1-4]|[1-4] kvartal|kvartal [1-4]|trimestre [1-4]|t[1-4])( |$|fy|\d)`)

// months tells that a head is a period.
func (f *finder) months() bool {
	for i := range f.rows[f.at].cells {
		if unfolded(f.t) != "" && f.month(f.at, i) != 0 {
			return true
		}
	}
	return false
}

// spread tells that amounts stand under several heads, periods or codes: what is headed
// as a sum is one then.
func (f *finder) spread() bool {
	if f.across != "" {
		return true
	}
	for i := range f.rows[f.at].cells {
		if unfolded(f.t) != "" && f.month(f.at, i) != 0 {
			return true
		}
	}
	return false
}

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
