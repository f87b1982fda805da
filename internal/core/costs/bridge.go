package costs

import (
	"cmp"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Cause is why a sum is another in a later version.
type Cause uint8

// The causes, in the order in which a cell is asked for them: it is counted
// once, in the first that fits.
const (
	ProjectOnlyInOne Cause = iota
	BaselineChange         // of a plan, by another baseline in force
	CurrencyRate           // the same amount at another rate
	TurnedActual           // booked less forecast, of the periods between the two
	LineOnlyInOne
	MovedInTime // what a line loses in one fiscal year and gains in another
	MoreOrLess
	Causes // how many there are
)

// Title is what a screen calls a cause.
func (c Cause) Title() string {
	return [...]string{"projects only in one", "approved baseline changes", "currency", "forecast turned actual", "lines only in one", "moved in time", "more or less of the same"}[c]
}

// Code is what an address calls a cause.
func (c Cause) Code() string {
	return [...]string{"project", "baseline", "currency", "actual", "line", "moved", "more"}[c]
}

// Side is one version of a bridge.
type Side struct {
	At       calendar.Period // the period it is of
	Office   *portfolio.Office
	Projects []*Project
	Holds    func(*portfolio.Project, *Key) bool // lines that count; nil: all
}

// Part is what a line adds to a cause.
type Part struct {
	Project *Project // of the later version, else of the earlier
	Key     Key
	Cause   Cause
	Amount  int64
}

// Bridge leads from a sum in one version to that in another.
type Bridge struct {
	From, To int64
	Steps    [Causes]int64
	Parts    []Part // those that are not zero
	TooLarge bool   // a sum is beyond 64 bits
}

// NewBridge splits the change of a sum from version a to version b: of the plan,
// Planned, or of what is spent and still to come, Running; over some periods,
// both ends included. The steps add up to the change exactly, and so do the
// parts of each step.
func NewBridge(m Measure, from, to calendar.Period, ps *calendar.Periods, a, b Side) *Bridge {
	br := &bridger{out: &Bridge{}, measure: m, from: from, to: to, ps: ps, a: a, b: b}
	before := make(map[string]*Project)
	for _, p := range a.Projects {
		if p.Why == "" {
			before[p.Code] = p
		}
	}
	for _, p := range b.Projects {
		if p.Why != "" {
			continue
		}
		br.project(before[p.Code], p)
		delete(before, p.Code)
	}
	gone := make([]*Project, 0, len(before))
	for _, p := range before {
		gone = append(gone, p)
	}
	slices.SortFunc(gone, func(x, y *Project) int { return cmp.Compare(x.Code, y.Code) })
	for _, p := range gone {
		br.project(p, nil)
	}
	return br.out
}

type bridger struct {
	out      *Bridge
	measure  Measure
	from, to calendar.Period
	ps       *calendar.Periods
	a, b     Side
}

// cells are the amounts of one line by period, in both versions.
type cells struct {
	first  calendar.Period
	a, b   []int64
	oa, ob []int64        // in the line's own currency
	own    money.Currency // "" where it has several
	in     [2]bool        // whether the version has the line
}

func (br *bridger) project(a, b *Project) {
	of := [2]*Project{a, b}
	named := b
	if named == nil {
		named = a
	}
	var lines [2][]*Line // of what is wanted, by key
	for v, p := range of {
		side := []Side{br.a, br.b}[v]
		for i := 0; p != nil && i < len(p.Lines); i++ {
			l := &p.Lines[i]
			if _, adds := br.measure.Makes(l.Kind); adds && !l.Reserve && (side.Holds == nil || side.Holds(p.Project, &l.Key)) {
				lines[v] = append(lines[v], l)
			}
		}
	}
	rebased := br.measure == Planned && a != nil && b != nil && a.Number != b.Number
	for len(lines[0])+len(lines[1]) > 0 {
		key := br.lowest(lines)
		var of [2][]*Line
		for v := range lines {
			n := 0
			for n < len(lines[v]) && lines[v][n].Key == key {
				n++
			}
			of[v], lines[v] = lines[v][:n], lines[v][n:]
		}
		br.line(named, key, a == nil || b == nil, rebased, of)
	}
}

// lowest gives the key that comes first in either version.
func (br *bridger) lowest(lines [2][]*Line) Key {
	switch {
	case len(lines[0]) == 0:
		return lines[1][0].Key
	case len(lines[1]) == 0 || lines[0][0].Key.compare(lines[1][0].Key) <= 0:
		return lines[0][0].Key
	}
	return lines[1][0].Key
}

// line counts the cells of one line.
func (br *bridger) line(p *Project, key Key, alone, rebased bool, of [2][]*Line) {
	c := gather(of)
	var by [Causes]int64
	rest := make(map[int]int64) // by fiscal year; what lies outside the span apart
	years := make([]int, 0, 8)
	for i := range c.a {
		q := c.first + calendar.Period(i)
		d, inside := c.b[i]-c.a[i], q >= br.from && q <= br.to
		cause := MoreOrLess
		switch {
		case d == 0:
			continue
		case alone:
			cause = ProjectOnlyInOne
		case rebased && (c.own == "" || c.oa[i] != c.ob[i]):
			cause = BaselineChange
		case c.own != "" && c.oa[i] == c.ob[i] && c.in[0] && c.in[1]:
			cause = CurrencyRate
		case br.measure == Running && c.in[0] && q > br.a.At && q <= br.b.At:
			cause = TurnedActual
		case !c.in[0] || !c.in[1]:
			cause = LineOnlyInOne
		}
		if cause != MoreOrLess {
			if inside {
				br.plus(&by[cause], d)
			}
			continue
		}
		year := br.ps.FiscalYear(q) * 2
		if !inside {
			year++
		}
		if _, seen := rest[year]; !seen {
			years = append(years, year)
		}
		rest[year] += d
	}
	for y, moved := range movedBetween(years, rest) {
		if y%2 == 0 {
			br.plus(&by[MovedInTime], moved)
			br.plus(&by[MoreOrLess], rest[y]-moved)
		}
	}
	for i := range c.a {
		if q := c.first + calendar.Period(i); q >= br.from && q <= br.to {
			br.plus(&br.out.From, c.a[i])
			br.plus(&br.out.To, c.b[i])
		}
	}
	for cause, n := range by {
		if n != 0 {
			br.plus(&br.out.Steps[cause], n)
			br.out.Parts = append(br.out.Parts, Part{p, key, Cause(cause), n})
		}
	}
}

func (br *bridger) plus(to *int64, n int64) {
	s, ok := money.Add(*to, n)
	if !ok {
		br.out.TooLarge = true
	}
	*to = s
}

// gather adds the lines of one key up by period.
func gather(of [2][]*Line) *cells {
	c := &cells{}
	last := calendar.Period(0)
	several := false
	for v, list := range of {
		c.in[v] = len(list) > 0
		for _, l := range list {
			if c.first == 0 || l.First < c.first {
				c.first = l.First
			}
			last = max(last, l.First+calendar.Period(len(l.Cells)))
			several = several || c.own != "" && c.own != l.Currency
			c.own = l.Currency
		}
	}
	if several {
		c.own = ""
	}
	n := int(last - c.first)
	slab := make([]int64, 4*n)
	c.a, c.b, c.oa, c.ob = slab[:n], slab[n:2*n], slab[2*n:3*n], slab[3*n:]
	for v, list := range of {
		to, own := c.a, c.oa
		if v == 1 {
			to, own = c.b, c.ob
		}
		for _, l := range list {
			at := int(l.First - c.first)
			for i, x := range l.Cells {
				to[at+i] += x
				if l.Own != nil {
					x = l.Own[i]
				}
				own[at+i] += x
			}
		}
	}
	return c
}

// movedBetween gives of each year's change how much only moved: the smaller of
// what all years gain and what they lose. The side that is larger shares it by
// largest remainder, ties to the earlier year; the moves add up to nothing.
func movedBetween(years []int, change map[int]int64) map[int]int64 {
	out := make(map[int]int64, len(years))
	slices.Sort(years)
	var gained, lost int64
	for _, y := range years {
		out[y] = 0
		if d := change[y]; d > 0 {
			gained += d
		} else {
			lost -= d
		}
	}
	moved := min(gained, lost)
	for _, sign := range [...]int64{1, -1} {
		if moved == 0 {
			break
		}
		var weights []int64
		var whose []int
		for _, y := range years {
			if sign*change[y] > 0 {
				weights, whose = append(weights, sign*change[y]), append(whose, y)
			}
		}
		for i, n := range money.Share(moved, weights) {
			out[whose[i]] += sign * n
		}
	}
	return out
}
