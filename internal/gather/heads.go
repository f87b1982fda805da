package gather

import (
	"regexp"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/record"
)

// What heads say: periods, kinds of amounts, and the heads above them.

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
	if q := f.monthNumber(at, column); q != 0 {
		return q
	}
	if q := f.shortMonths(at)[column]; q != 0 {
		return q
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
	if p := f.monthAhead(at, column); p != 0 {
		return p
	}
	if thisPeriod[Normal(bare)] && kindIn(text) != "" {
		if p := f.statedAbove(at); p != 0 {
			return int32(p) // "Actual this month"
		}
	}
	if p := f.monthTwice(text); p != 0 {
		return p
	}
	if bare != "" && !isUnit(text) && !ofTime(bare) && f.headRef("cost_code", at, column) == "" && f.headRef("project", at, column) == "" {
		return 0
	}
	for _, above := range f.aboves(at, column) { // a kind or a code below its month
		if q, _ := readMonth(bareHead(above), "", f.o.Periods); q != 0 {
			return int32(q)
		}
	}
	return 0
}

// inTwo parts a head that says one thing in two languages.
var inTwo = regexp.MustCompile(`\s+[/|]\s+|\s*\n\s*`)

// monthTwice is the period of a head that says it in two languages.
func (f *finder) monthTwice(text string) int32 {
	const two = 2
	parts := inTwo.Split(text, -1)
	if len(parts) != two {
		return 0
	}
	p, _ := readMonth(bareHead(parts[0]), "", f.o.Periods)
	q, _ := readMonth(bareHead(parts[1]), "", f.o.Periods)
	if p != q {
		return 0
	}
	return int32(p)
}

// calledTwice gives the column that a head names in two languages.
func calledTwice(t *record.Kind, head string) (column string, weight int) {
	const two = 2
	parts := inTwo.Split(head, -1)
	if len(parts) != two {
		return "", 0
	}
	column, weight = calledSo(t, tight(parts[0]), parts[0])
	if other, also := calledSo(t, tight(parts[1]), parts[1]); also == 0 || other != column {
		return "", 0
	}
	return column, weight
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
var kindLetters = map[string]string{"a": "actual", "act": "actual", "f": "forecast", "fct": "forecast", "fcst": "forecast", "fc": "forecast", "b": "plan", "bud": "plan"}

// bandKind is the kind that what stands above a head names, in words or by an abbreviation.
func bandKind(high []string) string {
	for _, text := range high {
		if k := kindLetters[Normal(text)]; k != "" {
			return k
		}
	}
	return kindIn(high...)
}

// headKind is the kind that the head of a month names, in words or by a letter behind it.
func headKind(head string) string {
	if words := strings.Fields(Normal(head)); len(words) > 1 {
		if k := kindLetters[words[len(words)-1]]; k != "" {
			return k
		}
	}
	return kindIn(head)
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

// Words by which heads tell what is stated now from what was stated before.
var (
	nowWords = wordsOf("this new current latest updated revised aktuell aktuelle neu neue ny nye nuevo nuova nuovo nouveau nouvelle nieuwe")
	ofBefore = wordsOf("last previous prior old former letzte letzter letztes vorige voriger alte forrige siste tidligere precedent precedente anterior")
)

// ofTime tells a head of nothing but words for what is stated now, or was before.
func ofTime(head string) bool {
	words := strings.Fields(Normal(head))
	return len(words) > 0 && !slices.ContainsFunc(words, func(w string) bool { return !nowWords[w] && !ofBefore[w] })
}

// wasStated tells a head of what was stated before, below its month.
func wasStated(head string) bool {
	words := strings.Fields(Normal(bareHead(head)))
	return len(words) > 0 && !slices.ContainsFunc(words, func(w string) bool { return !ofBefore[w] })
}

// thisPeriod are heads of what is said in the period of the file.
var thisPeriod = phrases(`this month|this period|this report|current month|current period|diesen monat|dieser monat|aktueller monat|berichtsmonat|denne maned|denne perioden|
ce mois|mois en cours|este mes|mes actual|questo mese|mese corrente|deze maand|denna manad|in month|in the month|in period|month actual|this update|reported now`)

// without takes words off a head; ok tells that there were some, and that others are left.
func without(head string, words map[string]bool) (rest string, ok bool) {
	all := strings.Fields(Normal(head))
	var kept []string
	for _, w := range all {
		if !words[w] {
			kept = append(kept, w)
		}
	}
	return strings.Join(kept, " "), len(kept) > 0 && len(kept) < len(all)
}

// calledNow gives, weakly, the column of numbers or days that a head names as what is stated
// now: "This forecast".
func calledNow(t *record.Kind, head string) (column string, weight int) {
	rest, ok := without(head, nowWords)
	if !ok {
		return "", 0
	}
	return valued(t, rest)
}

// saidBefore tells the head of what was stated before: "Last forecast".
func saidBefore(t *record.Kind, head string) bool {
	rest, ok := without(head, ofBefore)
	if !ok {
		return false
	}
	_, weight := valued(t, rest)
	return weight > 0
}

// bothIn parts a head that names two columns in one.
var bothIn = regexp.MustCompile(`(?i)\s*[/&+|]\s*|\s+(?:and|or|und|oder|og|eller|et|ou|y|o|en|of|e)\s+`)

// calledBoth gives what a head names that stands for projects and what is below each, as
// "Project / cost code": what is below.
func calledBoth(t *record.Kind, head string) (column string, weight int) {
	const two, few = 2, 3
	if !strings.ContainsAny(head, "/&+|") && len(strings.Fields(head)) < few {
		return "", 0
	}
	parts := bothIn.Split(head, -1)
	if len(parts) != two {
		return "", 0
	}
	first, _ := calledSo(t, tight(parts[0]), parts[0])
	column, weight = calledSo(t, tight(parts[1]), parts[1])
	if first != "project" || weight == 0 || column != "cost_code" && column != "activity" {
		return "", 0
	}
	return column, 2
}

// valued gives the column of numbers or days that a head names.
func valued(t *record.Kind, head string) (column string, weight int) {
	column, _ = calledSo(t, strings.ReplaceAll(head, " ", ""), head)
	if j := t.Index(column); j < 0 || !isNumeric(t.Columns[j].Type) && !isDay(t.Columns[j].Type) {
		return "", 0
	}
	return column, 1
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
	text := strings.TrimFunc(c.Text, isSpace)
	if isSerial(text) && f.serials(at) {
		return serialDay(text, f.s.from1904).String()
	}
	return text
}

// isPair tells a row that is a label and what it says: "Cost code: 110".
func (f *finder) isPair(k, filled int) bool {
	const pair = 2
	label := f.head(k, 0)
	if label == "" || filled != pair || f.head(k, 1) == "" {
		return false
	}
	column, weight := called(record.Costs.Kind, strings.TrimSuffix(label, ":"), f.o.Words)
	return strings.HasSuffix(label, ":") || weight > 0 && column != "amount"
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
		if filled == 1 && f.head(k, 0) != "" || f.isPair(k, filled) {
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

// lowerHeads completes a row of kinds of amounts right below a row of heads, which names
// what its other columns hold: the lower row is then the one that names the columns.
func (f *finder) lowerHeads() {
	const two = 2
	for k := 0; k+1 < len(f.rows) && k < within; k++ {
		up, low := f.rows[k], &f.rows[k+1]
		if low.n != up.n+1 || f.m.Head == up.n || f.o.Periods == nil {
			continue
		}
		said, labels := 0, 0
		for i := range max(len(up.cells), len(low.cells)) {
			text := ""
			if i < len(low.cells) {
				text = strings.TrimFunc(low.cells[i].Text, isSpace)
			}
			above := f.head(k, i)
			switch {
			case text != "" && kindOf(text) == "":
				said = -len(low.cells)
			case text != "":
				said++
			case above == "":
			case f.month(k, i) != 0:
			default:
				labels++
			}
		}
		if said < two || labels == 0 {
			continue
		}
		for len(low.cells) < len(up.cells) {
			low.cells = append(low.cells, Cell{})
		}
		for i := range low.cells {
			if isBlank(low.cells[i].Text) && f.head(k, i) != "" {
				low.cells[i] = Cell{Text: f.head(k, i), Kind: Words}
			}
		}
	}
	clear(f.monthly)
}
