package gather

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/money"
)

// totaller adds up columns and rows, and compares what the sheet states as their sums. A
// row of sums stands below what it sums, or above: it agrees where it is the sum of the
// groups right before it or right after it, a group being the rows between two such rows.
type totaller struct {
	u     *Layout
	loose bool // sums are of unrounded figures, as spreadsheets have them
	stack map[int]*groups
	found []Sum
	wide  bool // sums of rows stand in columns
	sides map[int]*side
	cells int // of sums that were compared
}

// groups are the sums of the rows of a column between its rows of sums.
type groups struct {
	shut    []int64 // sums of the groups before, and rows of each
	counts  []int
	open    int64
	rows    int
	waiting []waiting
}

// waiting is a sum that is none of what stands before it.
type waiting struct {
	at     int // groups shut before it
	sum    Sum
	stated int64
}

// side is a column of sums of rows: how often it was one, and the first that was not.
type side struct {
	agrees, differs int
	first           []Sum
}

const (
	sumScale   = 4     // decimals of the sums that are compared
	mostSums   = 50    // told of one sheet
	mostGroups = 2_000 // looked at for one sum
)

// newTotaller gives nil where the sheet has no amounts to add up.
func newTotaller(u *Layout, loose bool) *totaller {
	if u.Canonical {
		return nil
	}
	t := &totaller{u: u, loose: loose, stack: make(map[int]*groups), sides: make(map[int]*side)}
	rows := false
	for _, x := range u.Uses {
		switch x.As {
		case AsMonth, "amount", AsCredit:
			rows = true
		case AsTotal:
			t.wide = true
		}
	}
	if !rows {
		return nil
	}
	return t
}

func (t *totaller) number(l *Line, i int) (n int64, ok bool) {
	c := l.At(i)
	text := c.Text
	if c.Kind == Words {
		if isBlank(text) || isDash(text) {
			return 0, isDash(text)
		}
		var is bool
		if text, is = plainNumber(text, t.u.Uses[i].Form); !is {
			return 0, false
		}
	}
	if c.Kind == Uncalculated {
		return 0, false
	}
	if whole, part, has := strings.Cut(text, "."); has && len(part) > sumScale {
		text = whole + "." + part[:sumScale]
	}
	n, err := money.ParseScaled(text, sumScale)
	return n, err == nil
}

// see takes a row; total tells that it is one of sums.
func (t *totaller) see(l *Line, total bool) {
	u := t.u
	if t.wide {
		t.across(l)
	}
	for i, x := range u.Uses {
		if x.As != AsMonth && x.As != "amount" && x.As != AsCredit {
			continue
		}
		n, ok := t.number(l, i)
		if !ok {
			continue
		}
		g := t.stack[i]
		if g == nil {
			g = &groups{}
			t.stack[i] = g
		}
		if !total {
			if x.As == "amount" && n > 0 && u.isCredit(l) {
				n = -n
			}
			g.open += n
			g.rows++
			continue
		}
		t.cells++
		t.settle(g, l.N, u.Heads[i], t.inUnit(l, i, n, g.open))
	}
}

// inUnit gives a sum whose label tells a unit of its own, as "Total (kEUR)": what the rows
// add up to, where that is what it says in its own unit and with its own digits.
func (t *totaller) inUnit(l *Line, i int, stated, sum int64) int64 {
	for k := range l.Cells[:min(i, len(l.Cells))] {
		_, said := unitOf(l.Cells[k].Text)
		x, ok := unitIn(said)
		if by := x.places - t.u.Places; ok && x.scaled && by > 0 {
			unit := int64(1) // of the last digit that it has
			_, part, _ := strings.Cut(l.At(i).Text, ".")
			for range sumScale + by - min(len(part), sumScale) {
				unit *= 10
			}
			for range by {
				stated *= 10
			}
			if d := stated - sum; 2*d <= unit && -2*d <= unit {
				return sum
			}
			return stated
		}
	}
	return stated
}

// settle compares a sum with the groups before it, and begins another group.
func (t *totaller) settle(g *groups, row int, head string, stated int64) {
	sum, rows := g.open, g.rows
	agrees := t.same(stated, sum, rows)
	for k := len(g.shut) - 1; k >= 0 && !agrees && len(g.shut)-k < mostGroups; k-- {
		sum, rows = sum+g.shut[k], rows+g.counts[k]
		agrees = t.same(stated, sum, rows)
	}
	if g.rows > 0 {
		g.shut, g.counts = append(g.shut, g.open), append(g.counts, g.rows)
	}
	s := Sum{Row: row, Head: head, Stated: written(stated), Found: written(g.open), Agrees: true, rows: g.rows}
	g.open, g.rows = 0, 0
	if agrees {
		s.Found = s.Stated
		t.note(s)
		return
	}
	g.waiting = append(g.waiting, waiting{len(g.shut), s, stated})
}

// end gives what was found, once all rows were seen.
func (t *totaller) end() []Sum {
	for i := range t.u.Uses {
		g := t.stack[i]
		if g == nil {
			continue
		}
		if g.rows > 0 {
			g.shut, g.counts = append(g.shut, g.open), append(g.counts, g.rows)
		}
		for _, w := range g.waiting {
			sum, rows, agrees := int64(0), 0, false
			for k := w.at; k < len(g.shut) && !agrees && k-w.at < mostGroups; k++ {
				sum, rows = sum+g.shut[k], rows+g.counts[k]
				agrees = t.same(w.stated, sum, rows)
				if k == w.at && w.sum.rows == 0 {
					w.sum.Found, w.sum.rows = written(sum), rows
				}
			}
			if w.sum.Agrees = agrees; agrees {
				w.sum.Found = w.sum.Stated
			}
			t.note(w.sum)
		}
	}
	for i, x := range t.u.Uses {
		// a column that is seldom the sum of its row is another figure
		if s := t.sides[i]; x.As == AsTotal && s != nil {
			for _, x := range s.first {
				x.mostly = s.agrees > 2*s.differs
				t.note(x)
			}
		}
	}
	return t.found
}

// same tells whether a sum is what was stated. A spreadsheet's is of unrounded figures.
func (t *totaller) same(stated, sum int64, rows int) bool {
	const cent = 100 // of the scale
	d := stated - sum
	return d == 0 || t.loose && rows > 0 && d >= -cent && d <= cent
}

// across compares a sum at the side with the months before it: all of them, or
// those since the sum before.
func (t *totaller) across(l *Line) {
	var all, since int64
	months := false
	for i, x := range t.u.Uses {
		switch x.As {
		case AsMonth, "amount":
			if x.As == "amount" && x.Code == "" && x.Project == "" {
				break
			}
			n, _ := t.number(l, i)
			all, since, months = all+n, since+n, true
		case AsTotal:
			n, ok := t.number(l, i)
			if !ok {
				continue
			}
			if !months { // it stands before its months
				for j, y := range t.u.Uses {
					if y.As == AsMonth || y.Code != "" || y.Project != "" {
						m, _ := t.number(l, j)
						all += m
					}
				}
				t.beside(i, l.N, n, all)
				all = 0
				continue
			}
			found := all
			if t.same(n, since, 1) {
				found = since
			}
			t.beside(i, l.N, n, found)
			since = 0
		}
	}
}

// beside keeps a sum that stands beside what it sums.
func (t *totaller) beside(i, row int, stated, found int64) {
	s := t.sides[i]
	if s == nil {
		s = &side{}
		t.sides[i] = s
	}
	t.cells++
	x := Sum{Row: row, Head: t.u.Heads[i], Stated: written(stated), Found: written(found), Agrees: true, rows: 1, side: true}
	if t.same(stated, found, 1) {
		s.agrees++
	} else {
		s.differs++
		x.Agrees = false
	}
	if len(s.first) < mostSums || !x.Agrees && len(s.first) < 2*mostSums {
		s.first = append(s.first, x)
	}
}

// note keeps a total: those that agree while there is room, those that do not longer.
func (t *totaller) note(s Sum) {
	if len(t.found) < mostSums || !s.Agrees && len(t.found) < 2*mostSums {
		t.found = append(t.found, s)
	}
}

func written(n int64) string { return trimmed(money.FormatScaled(n, sumScale)) }

func trimmed(s string) string {
	if !strings.Contains(s, ".") {
		return s
	}
	return strings.TrimSuffix(strings.TrimRight(s, "0"), ".")
}

// far tells that a sum differs by more than its rows can have been rounded by; one at the
// side of its row counts where its column nearly always is the sum.
func (s Sum) far() bool {
	if s.Agrees || s.side && !s.mostly {
		return false
	}
	stated, err1 := money.ParseScaled(s.Stated, sumScale)
	found, err2 := money.ParseScaled(s.Found, sumScale)
	if err1 != nil || err2 != nil {
		return true
	}
	_, part, _ := strings.Cut(s.Stated, ".")
	unit := int64(10_000)
	for range part {
		unit /= 10
	}
	d := stated - found
	return 2*max(d, -d) > max(unit, 1)*int64(s.rows+1)
}

// addUp sees all rows, those that someone left out as well where it is said.
func (f *finder) addUp(t *totaller, left bool) []Sum {
	u := f.u
	r := &reader{Layout: &u.Layout, o: f.o}
	f.s.Each(func(l *Line) bool {
		if l.N <= u.Head || l.Wrong != "" || l.Blank() || u.repeatsHead(l) || !left && u.leaves(l) || f.proven[l.N] {
			return true
		}
		heading := r.section(l)
		if !heading || u.Nested > 0 {
			t.see(l, heading || u.totalRow(l))
		}
		return true
	})
	return t.end()
}

func disagreeing(sums []Sum) (n int) {
	for _, s := range sums {
		if !s.Agrees {
			n++
		}
	}
	return n
}

// headOf gives a head as the sheet shows it.
func (u *Understanding) headOf(name string) string {
	if i := slices.Index(u.Heads, name); i >= 0 && u.Columns[i].Head != "" {
		return u.Columns[i].Head
	}
	return name
}

// proof compares what the sheet states as sums with its rows before any of them is taken.
// Where they differ it asks, unless someone said that it is right as it stands: a row may
// be missing, or be taken that should not.
func (f *finder) proof() {
	u := f.u
	if !u.Ready() || u.Canonical || f.t.Name == "progress" {
		return // percents do not add up
	}
	t := newTotaller(&u.Layout, f.s.Format == spreadsheet)
	if t == nil || !t.wide && f.totals == 0 && u.Nested == 0 {
		return
	}
	// A row that someone left out may well be in the sheet's sums.
	u.Sums = f.addUp(t, true)
	if len(u.Leave)+len(u.Skip) > 0 {
		if without := f.addUp(newTotaller(&u.Layout, f.s.Format == spreadsheet), false); disagreeing(without) < disagreeing(u.Sums) {
			u.Sums = without
		}
	}
	var bad []Sum
	for _, s := range u.Sums {
		if s.far() {
			bad = append(bad, s)
		}
	}
	if len(bad) == 0 || u.Trusted {
		return
	}
	s := bad[0]
	more := ""
	if len(bad) > 1 {
		more = fmt.Sprintf(", and %d more differ", len(bad)-1)
	}
	u.ask(-1, "trust", fmt.Sprintf(
		"the sum %s of %q in row %d is not that of its rows, %s%s: a row may be missing, or counted that is none; correct it, or say that the rows are right",
		money.Grouped(s.Stated), u.headOf(s.Head), s.Row, money.Grouped(s.Found), more,
	), "yes")
}
