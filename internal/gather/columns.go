package gather

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"turret/internal/core/calendar"
)

// month gives the period that a head tells: alone, beside words for a kind of amount or a
// unit, or with the heads above it.
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
	bare, lacks := bareHead(text), false
	for _, t := range [...]string{text, bare} {
		q, needs := readMonth(t, "", f.o.Periods)
		if q != 0 {
			return int32(q)
		}
		if lacks = lacks || needs; !needs {
			continue
		}
		for _, above := range f.aboves(at, column) {
			for _, year := range [...]string{above, bareHead(above)} {
				if q, _ = readMonth(t, year, f.o.Periods); q != 0 {
					return int32(q)
				}
			}
		}
	}
	if year := f.fiscalAbove(at, lacks); year != "" {
		for _, t := range [...]string{text, bare} {
			if _, needs := readMonth(t, "", f.o.Periods); needs {
				if q, _ := readMonth(t, year, f.o.Periods); q != 0 {
					return int32(q)
				}
			}
		}
	}
	if p := f.monthInRow(at, column); p != 0 {
		return p
	}
	if bare != "" && f.headRef("cost_code", at, column) == "" && f.headRef("project", at, column) == "" {
		return 0
	}
	for _, above := range f.aboves(at, column) { // a kind or a code below its month
		if q, _ := readMonth(bareHead(above), "", f.o.Periods); q != 0 {
			return int32(q)
		}
	}
	return 0
}

// bareHead is a head without words for kinds of amounts, or its unit.
func bareHead(text string) string {
	label, _ := unitOf(text)
	words := strings.FieldsFunc(label, isSpace)
	kept := words[:0:0]
	for _, w := range words {
		if n := Normal(w); kinds[n] == "" && !wordsOfAmounts[n] && n != "" {
			kept = append(kept, w)
		}
	}
	if n := len(kept); n > 1 && kindLetters[Normal(kept[n-1])] != "" {
		kept = kept[:n-1]
	}
	return strings.Join(kept, " ")
}

// kindLetters stand behind a month for a kind of amount.
var kindLetters = map[string]string{"a": "actual", "act": "actual", "f": "forecast", "fct": "forecast", "b": "plan", "bud": "plan"}

// headKind is the kind that the head of a month names, in words or by a letter behind it.
func headKind(head string) string {
	if words := strings.Fields(Normal(head)); len(words) > 1 {
		if k := kindLetters[words[len(words)-1]]; k != "" {
			return k
		}
	}
	return kindIn(head)
}

// monthInRow gives the period of a head that is a month without a year, by the one period
// that titles and names state: the year in which the months of the row go through that
// period, or begin right after it. Zero where no year or several do.
func (f *finder) monthInRow(at, column int) int32 {
	if monthNamed(bareHead(f.head(at, column))) == 0 {
		return 0
	}
	base := f.statedAbove(at)
	if base == 0 {
		return 0
	}
	own := -1
	var months []int // since year 0, the first in the years about the period stated
	year := f.o.Periods.Last(base).Time().Year()
	stated := year*12 + int(f.o.Periods.Last(base).Time().Month()) - 1
	for i := range f.rows[at].cells {
		m := monthNamed(bareHead(f.head(at, i)))
		if m == 0 {
			continue
		}
		m--
		switch n := len(months); {
		case n == 0:
			months = append(months, m)
		default:
			next := months[n-1] - months[n-1]%12 + m
			if next < months[n-1] {
				next += 12
			}
			months = append(months, next)
		}
		if i == column {
			own = len(months) - 1
		}
	}
	if own < 0 {
		return 0
	}
	found := -1
	for y := year - 1; y <= year+1; y++ {
		first, last := y*12+months[0], y*12+months[len(months)-1]
		if first <= stated+1 && last >= stated {
			if found >= 0 {
				return 0
			}
			found = y*12 + months[own]
		}
	}
	if found < 0 {
		return 0
	}
	return int32(f.o.Periods.InMonth(found/12, found%12+1))
}

// aFiscalYear is one as titles write it.
var aFiscalYear = regexp.MustCompile(`(?i)(?:^|[^a-z0-9])((?:fy|gj) ?(?:\d{4}|\d{2})(?:[/-]\d{2,4})?|20\d\d/(?:20)?\d\d)(?:$|[^0-9])`)

// fiscalAbove is the one fiscal year that titles and names state, where it is asked for; or
// "".
func (f *finder) fiscalAbove(at int, asks bool) string {
	if !asks {
		return ""
	}
	if y, asked := f.fiscal[at]; asked {
		return y
	}
	if f.fiscal == nil {
		f.fiscal = make(map[int]string)
	}
	found, years := "", make(map[int]bool)
	for _, text := range f.aroundRow(at) {
		for _, m := range aFiscalYear.FindAllStringSubmatch(text, -1) {
			if y, fiscal := readYear(m[1]); fiscal {
				found, years[y] = m[1], true
			}
		}
	}
	if len(years) != 1 {
		found = ""
	}
	f.fiscal[at] = found
	return found
}

// statedAbove is the one period that what stands above a row and the names of sheet and
// file state, or the one that was said; zero where there is none, or several.
func (f *finder) statedAbove(at int) calendar.Period {
	if f.o.Period != 0 {
		return f.o.Period
	}
	if p, asked := f.stating[at]; asked {
		return p
	}
	if f.stating == nil {
		f.stating = make(map[int]calendar.Period)
	}
	first, other := f.statedPeriods(f.aroundRow(at))
	if other != 0 {
		first = 0
	}
	f.stating[at] = first
	return first
}

// wordsOfAmounts may stand beside the month of a head.
var wordsOfAmounts = wordsOf("cost costs amount amounts value kosten kost betrag belop cout couts coste costes costo costi importe")

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

// aboves are the heads above a column, the nearest first: each the value to its left
// where heads are merged. Only rows right above the header are heads, and only where they
// head more than one column.
func (f *finder) aboves(at, column int) (out []string) {
	const most = 2
	for k := at - 1; k >= 0 && at-k <= most && f.rows[k+1].n-f.rows[k].n == 1; k-- {
		up := f.rows[k]
		filled := 0
		for i := range up.cells {
			if f.head(k, i) != "" {
				filled++
			}
		}
		if filled == 1 && f.head(k, 0) != "" {
			return out // a title
		}
		for i := min(column, len(up.cells)-1); i >= 0; i-- {
			if text := f.head(k, i); text != "" {
				out = append(out, text)
				break
			}
		}
	}
	return out
}

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
	f.riskTitles()
	f.stories()
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
	if u.Uses[i].Code != "" || u.Uses[i].Project != "" || f.anotherKind(i) {
		return
	}
	if f.sameInAnother(i, at, taken) {
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

// sameInAnother decides between two columns of amounts of which one names a currency in
// its head: beside a column of currencies the other is what was booked, and that one is
// only the same in another currency. A sum up to the period is beside the period's own.
func (f *finder) sameInAnother(i, at int, taken map[string]int) bool {
	u := f.u
	if u.Uses[i].As != "amount" {
		return false
	}
	drop, why := -1, ""
	_, unit := unitOf(u.Columns[i].Head)
	_, before := unitOf(u.Columns[at].Head)
	switch runs, ran := runningIn(u.Columns[i].Head), runningIn(u.Columns[at].Head); {
	case runs != "" && ran == "":
		drop, why = i, "it is all up to the period, and "+letters(at)+" is the period's own"
	case ran != "" && runs == "":
		drop, why = at, "it is all up to the period, and "+letters(i)+" is the period's own"
	case f.currencies() && unit != "" && before == "":
		drop, why = i, "it is the same in another currency"
	case f.currencies() && before != "" && unit == "":
		drop, why = at, "it is the same in another currency"
	default:
		return false
	}
	if drop == at {
		taken["amount"] = i
	}
	u.Uses[drop].As, u.Columns[drop].As = AsNone, AsNone
	u.Columns[drop].Certainty, u.Columns[drop].Why = Likely, why
	u.note("%s is left out: %s.", f.called(drop), why)
	return true
}

// currencies tells whether a head names a column of currencies.
func (f *finder) currencies() bool {
	for i := range f.rows[f.at].cells {
		if column, _ := called(f.t, f.head(f.at, i), f.o.Words); column == "currency" {
			return true
		}
	}
	return false
}

// riskTitles tells the title of risks from their number: where one column is headed
// Risk and holds sentences, and another numbers them, the other is the risk.
func (f *finder) riskTitles() {
	if f.t.Name != "risks" {
		return
	}
	u := f.u
	code, sentences := -1, -1
	for i := range u.Uses {
		label, _ := unitOf(u.Columns[i].Head)
		column, _ := called(f.t, label, f.o.Words)
		switch {
		case f.m.Columns[u.Heads[i]] != "":
			if u.Uses[i].As == "risk" || u.Uses[i].As == "title" {
				return // someone said which is which
			}
		case column != "risk":
		case f.mostlySentences(i):
			sentences = i
		case code < 0:
			code = i
		}
	}
	if code < 0 || sentences < 0 {
		return
	}
	u.Questions = slices.DeleteFunc(
		u.Questions,
		func(q Question) bool { return q.Column == code || q.Column == sentences },
	)
	u.Uses[code].As, u.Columns[code].As = "risk", "risk"
	u.Columns[code].Certainty, u.Columns[code].Why = Sure, "it numbers the risks"
	as := "title"
	if f.uses("title") {
		as = AsExtra
	}
	u.Uses[sentences].As, u.Columns[sentences].As = as, as
	u.Columns[sentences].Certainty, u.Columns[sentences].Why = Sure, "it says what the risk is"
}

// mostlySentences tells a column that holds more than codes.
func (f *finder) mostlySentences(i int) bool {
	long, all := 0, 0
	for _, r := range f.rows[f.at+1:] {
		if i >= len(r.cells) {
			continue
		}
		if text := strings.TrimFunc(r.cells[i].Text, isSpace); text != "" {
			all++
			if len(strings.Fields(text)) > 1 {
				long++
			}
		}
	}
	return long*2 > all
}

// anotherKind takes columns of amounts that each name a kind of their own, as Budget
// and Actual, side by side.
func (f *finder) anotherKind(i int) bool {
	u := f.u
	if f.t.Name != "costs" || u.Uses[i].As != "amount" || f.m.Columns["kind"] != "" || f.m.Fixed["kind"] != "" {
		return false
	}
	kinds := make(map[string]bool)
	for j := range u.Uses[:i+1] {
		if u.Uses[j].As == "kind" {
			return false
		}
		if u.Uses[j].As == "amount" {
			k := kindIn(u.Columns[j].Head)
			if k == "" || kinds[k] || (f.m.Columns[u.Heads[j]] != "") != (f.m.Columns[u.Heads[i]] != "") {
				return false // or someone said which is the amount
			}
			kinds[k] = true
		}
	}
	for j := range u.Uses[:i+1] {
		if x := &u.Uses[j]; x.As == "amount" {
			x.Kind = kindIn(u.Columns[j].Head)
			u.Columns[j].Why = fmt.Sprintf("its head says that it is the %s of the row", x.Kind)
		}
	}
	return true
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
	switch {
	case i == f.yearAt:
		use.As, col.Certainty, col.Why = AsNone, Sure, "it is the year of the period"
	case i == f.periodAt:
		use.As, col.Certainty, col.Why = "period", Sure, "with the year it tells the period"
	case f.across != "" && f.headRef(f.across, f.at, i) != "":
		code := f.headRef(f.across, f.at, i)
		*use = Use{As: "amount"}
		use.cross(f.across, code)
		if p != 0 {
			use.As, use.Period = AsMonth, f.code(p)
		}
		use.Kind = kindIn(f.high[i]...)
		col.Certainty, col.Why = Sure, fmt.Sprintf("its head is the %s %s", strings.ReplaceAll(f.across, "_", " "), code)
	case p != 0 && unfolded(f.t) != "":
		*use = Use{As: AsMonth, Period: f.code(p)}
		if f.t.Name == "costs" {
			use.Kind = cmp.Or(headKind(head), kindIn(f.high[i]...))
			f.crossAbove(i, use)
		}
		col.Certainty, col.Why = Sure, "its head is a period"
	case runningIn(head) != "" && p == 0 && f.months() && f.m.Running == "":
		use.As, col.Certainty, col.Why = AsNone, Likely, "it is all up to a period, beside amounts of periods"
		f.u.note("%s is left out: it is all up to a period, beside amounts of periods of their own.", head)
	case quarters.MatchString(Normal(head)) && f.months():
		use.As, col.Certainty, col.Why = AsTotal, Likely, "a quarter is the sum of its months"
	case isTotal(head) && f.spread():
		use.As, col.Certainty, col.Why = AsTotal, Likely, "its head says that it is a sum"
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

// cross sets what all amounts of a column are of.
func (x *Use) cross(column, code string) {
	if column == "project" {
		x.Project = code
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
