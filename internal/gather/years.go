package gather

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// A period may stand in two columns: its year, and its month or its number in the year.

var (
	yearHeads   = phrases("year|calendar year|jahr|kalenderjahr|ar|annee|ano|anno|jaar|yr")
	fiscalHeads = phrases("fiscal year|financial year|fy|fin year|gj|geschaftsjahr|haushaltsjahr|wirtschaftsjahr|exercice|ejercicio|esercizio|boekjaar|regnskapsar|rakenskapsar|accounting year|budget year")
	monthHeads  = phrases("month|month no|month number|monat|maned|manad|mois|mes|mese|maand")
	periodHeads = phrases("period|posting period|fiscal period|accounting period|per|p|periode|buchungsperiode|period no|period number|fiscal month|fin period")
)

// years finds the columns of a year and of the month or the period in it.
func (f *finder) years() {
	f.yearAt, f.periodAt = -1, -1
	fiscal := false
	for i := range f.rows[f.at].cells {
		head := Normal(f.head(f.at, i))
		switch {
		case (yearHeads[head] || fiscalHeads[head]) && f.yearAt < 0 && f.allBelow(i, func(s string) bool { y, _ := readYear(s); return y != 0 }):
			f.yearAt, fiscal = i, fiscalHeads[head]
		case (monthHeads[head] || periodHeads[head]) && f.periodAt < 0 && f.allBelow(i, isMonthOrNumber):
			f.periodAt = i
			fiscal = fiscal || periodHeads[head]
		}
	}
	if f.yearAt < 0 || f.periodAt < 0 {
		f.yearAt, f.periodAt = -1, -1
		return
	}
	f.u.Year, f.u.Fiscal = f.yearAt+1, fiscal
	f.u.note("%q and %q tell the period together.", f.head(f.at, f.yearAt), f.head(f.at, f.periodAt))
}

// inYear finds the one year that titles and names state, where months stand without one in a
// column.
func (f *finder) inYear() {
	u := f.u
	at := u.column("period")
	if at < 0 || u.Year != 0 || !f.allBelow(at, func(s string) bool { return monthNamed(s) != 0 }) {
		return
	}
	if u.InYear = f.fiscalAbove(f.at, true); u.InYear == "" {
		years := make(map[string]bool)
		for _, text := range f.aroundRow(f.at) {
			for _, y := range aYear.FindAllString(text, -1) {
				years[y] = true
			}
		}
		if len(years) != 1 {
			return
		}
		for y := range years {
			u.InYear = y
		}
	}
	u.note("Months under %s are of %s, as a title or a name says.", f.called(at), u.InYear)
}

var aYear = regexp.MustCompile(`\b20\d\d\b`)

// allBelow tells whether all that stands below a head is so.
func (f *finder) allBelow(column int, is func(string) bool) bool {
	n := 0
	for _, r := range f.rows[f.at+1:] {
		if column >= len(r.cells) || startsTotal(r.cells) {
			continue
		}
		text := f.shownAt(r, column)
		if text == "" || text == f.head(f.at, column) {
			continue
		}
		if !is(text) {
			return false
		}
		n++
	}
	return n > 0
}

func isMonthOrNumber(text string) bool {
	n, err := strconv.Atoi(strings.TrimLeft(text, "Pp0 "))
	const most = 16 // periods of a year
	return err == nil && n > 0 && n <= most || monthNamed(text) != 0
}

// together gives the period of a year and a month, or a number in the year.
func (r *reader) together(year, month string) calendar.Period {
	y, fiscal := readYear(strings.TrimFunc(year, isSpace))
	fiscal = fiscal || r.Fiscal
	month = strings.TrimFunc(month, isSpace)
	if y == 0 || month == "" {
		return 0
	}
	if m := monthNamed(month); m != 0 {
		if !fiscal {
			return r.o.Periods.InMonth(y, m)
		}
		for _, in := range [...]int{y - 1, y} {
			if p := r.o.Periods.InMonth(in, m); p != 0 && r.o.Periods.FiscalYear(p) == y {
				return p
			}
		}
		return 0
	}
	n, err := strconv.Atoi(strings.TrimLeft(month, "Pp0 "))
	switch {
	case err != nil:
		return 0
	case fiscal:
		return r.o.Periods.InYear(y, n)
	}
	return r.o.Periods.InMonth(y, n)
}

// inYear sets the period of a row whose year and month stand apart.
func (r *reader) inYear(line *Line) (column, value, why string) {
	at := r.column("period")
	if r.Year == 0 || at < 0 {
		return "", "", ""
	}
	year, month := line.At(r.Year-1).Text, line.At(at).Text
	if isBlank(year) && isBlank(month) {
		return "", "", ""
	}
	p := r.together(year, month)
	if p == 0 {
		return r.head(at), month, fmt.Sprintf("%q of %q is no period that exists", month, year)
	}
	r.out.Fields[r.t.Index("period")].Said = portfolio.Value
	r.out.Fields[r.t.Index("period")].Int = int64(p)
	return "", "", ""
}

// kindHeading gives the kind of amounts that a row alone says.
func kindHeading(line *Line) string {
	const few = 4 // words
	text := textOf(line)
	if filled(line) != 1 || len(strings.Fields(text)) > few {
		return ""
	}
	return kindIn(text)
}

// classWords are those by which headings tell capital from operating cost.
var classWords = map[string]string{
	"capex": "capex", "capital": "capex", "investment": "capex", "investments": "capex", "investitionen": "capex", "investering": "capex",
	"investeringer": "capex", "investissement": "capex", "investissements": "capex", "inversiones": "capex", "investimenti": "capex",
	"opex": "opex", "operating": "opex", "revenue": "opex", "betriebskosten": "opex", "drift": "opex", "fonctionnement": "opex",
}

// classHeading gives the class of costs that a row alone says.
func classHeading(line *Line) (class string) {
	const few = 4 // words
	text := textOf(line)
	if filled(line) != 1 || len(strings.Fields(text)) > few || isTotal(text) {
		return ""
	}
	for w := range strings.FieldsSeq(strings.Map(apart, Normal(text))) {
		if c := classWords[w]; c != "" && class != "" && c != class {
			return ""
		} else if c != "" {
			class = c
		}
	}
	return class
}

// classesBetween finds whether headings between the rows tell capital from operating cost:
// each class has one.
func (f *finder) classesBetween() {
	u := f.u
	if f.t.Name != "costs" || f.uses("class") || u.Fixed["class"] != "" {
		return
	}
	found := make(map[string]bool)
	for _, r := range f.rows[f.at+1:] {
		if c := classHeading(&Line{N: r.n, Cells: r.cells}); c != "" {
			found[c] = true
		}
	}
	if len(found) == 0 {
		return
	}
	u.Classes = true
	u.note("Headings between the rows tell what of the amounts is capital and what is operating cost.")
}

// kindsBetween finds whether headings between the rows tell the kind of amounts.
func (f *finder) kindsBetween() {
	u := f.u
	if f.t.Name != "costs" || !f.lacks("kind") || f.kindsAbove() {
		return
	}
	found := make([]string, 0, 2)
	for _, r := range f.rows[f.at+1:] {
		if k := kindHeading(&Line{N: r.n, Cells: r.cells}); k != "" && !slices.Contains(found, k) {
			found = append(found, k)
		}
	}
	if len(found) == 0 {
		return
	}
	u.Kinds = true
	u.note("Headings between the rows tell what the amounts below them are: %s.", strings.Join(found, ", "))
}
