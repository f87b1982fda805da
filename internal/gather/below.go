package gather

import (
	"math"
	"slices"
	"strconv"
	"strings"
)

// What the cells below a row of heads are.

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

// holdsNoDays tells that numbers stand below a head which are no days, as spreadsheets count
// them or as digits.
func (f *finder) holdsNoDays(at, column int) bool {
	const first, last, digits = 36_525, 58_000, 8 // from 2000 to 2058
	for _, r := range f.rows[at+1:] {
		if column >= len(r.cells) {
			continue
		}
		text := f.shownAt(r, column)
		n, err := strconv.ParseFloat(text, 64)
		if err == nil && (n < first || n > last || n != math.Trunc(n)) && len(text) != digits && len(text) != 6 && n != 0 {
			return true
		}
	}
	return false
}

// anyPeriods tells whether some column below a row holds nothing but periods.
func (f *finder) anyPeriods(at int) bool {
	if found, asked := f.periodic[at]; asked {
		return found
	}
	if f.periodic == nil {
		f.periodic = make(map[int]bool)
	}
	found := false
	for i := range f.rows[at].cells {
		found = found || f.holdsPeriods(at, i)
	}
	f.periodic[at] = found
	return found
}

// holdsPeriods tells whether all that stands below a head are months or periods, and no
// days.
func (f *finder) holdsPeriods(at, column int) bool {
	n := 0
	for _, r := range f.rows[at+1:] {
		if column >= len(r.cells) || startsTotal(r.cells) {
			continue
		}
		text := strings.TrimFunc(r.cells[column].Text, isSpace)
		if text == "" || text == f.head(at, column) {
			continue
		}
		p, _ := readMonth(text, "", f.o.Periods)
		if p == 0 || r.cells[column].Kind == Number || strings.Count(text, ".") > 1 || strings.Count(text, "/") > 1 || strings.Count(text, "-") > 1 {
			return false
		}
		n++
	}
	return n > 0
}

// holds tells whether some column holds codes that the office knows.
func (f *finder) holds(at int, name string) bool {
	if name != "project" && name != "cost_code" && name != "currency" {
		return false // what few words mean depends on the table
	}
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
	switch name {
	case "project", "cost_code":
		if f.o.Names == nil {
			return -1, 0
		}
	case "currency", "kind", "class", "flow", "section":
	default:
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
			if i >= len(r.cells) || startsTotal(r.cells) {
				continue
			}
			if text := strings.TrimFunc(r.cells[i].Text, isSpace); text != "" && !(name == "cost_code" && f.headsProject(r, text)) {
				all++
				if f.isKnown(name, text) || name == "kind" && f.t.Name == "risks" && isEntry(f.head(at, i), text) {
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

// headsProject tells a row that says nothing but a project: a heading above its codes.
func (f *finder) headsProject(r sample, text string) bool {
	return filled(&Line{Cells: r.cells}) == 1 && len(f.o.Names.Find("project", text)) == 1
}

// isKnown tells whether a text is a currency, a kind of amount, or a code or name that the
// office has.
func (f *finder) isKnown(name, text string) bool {
	switch name {
	case "currency":
		return isCurrency(text) && len(text) == 3
	case "kind", "class", "flow", "section":
		if name == "kind" && f.t.Name == "costs" {
			return kindOf(text) != ""
		}
		c := &f.t.Columns[f.t.Index(name)]
		return slices.Contains(c.Domain, chosen(f.t, c, text))
	}
	return len(f.o.Names.Find(name, text)) > 0
}
