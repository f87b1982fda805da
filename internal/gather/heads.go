package gather

import (
	"regexp"
	"strings"

	"turret/internal/core/calendar"
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
