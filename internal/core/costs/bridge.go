package costs

import (
	"runtime"
	"slices"
	"sync"

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
	Holds    func() func(*portfolio.Project, *Key) bool // tells lines that count, to one worker; nil: all do
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
	pairs := paired(a.Projects, b.Projects)
	parts := make([]*Bridge, runtime.GOMAXPROCS(0))
	var wg sync.WaitGroup
	for w := range parts { // each a stretch, so that parts stay in order
		some := pairs[w*len(pairs)/len(parts) : (w+1)*len(pairs)/len(parts)]
		br := &bridger{out: &Bridge{}, measure: m, from: from, to: to, ps: ps, at: [2]calendar.Period{a.At, b.At}}
		parts[w] = br.out
		wg.Go(func() {
			for v, s := range [...]Side{a, b} {
				if s.Holds != nil {
					br.holds[v] = s.Holds()
				}
			}
			for _, p := range some {
				br.project(p[0], p[1])
			}
		})
	}
	wg.Wait()
	out := &Bridge{}
	all := &bridger{out: out}
	for _, p := range parts {
		out.TooLarge = out.TooLarge || p.TooLarge
		all.plus(&out.From, p.From)
		all.plus(&out.To, p.To)
		for c, n := range p.Steps {
			all.plus(&out.Steps[c], n)
		}
		out.Parts = append(out.Parts, p.Parts...)
	}
	return out
}

// paired gives the projects of both versions, those that are gone last.
func paired(a, b []*Project) (out [][2]*Project) {
	before := make(map[string]*Project, len(a))
	for _, p := range a {
		if p.Why == "" {
			before[p.Code] = p
		}
	}
	for _, p := range b {
		if p.Why == "" {
			out = append(out, [2]*Project{before[p.Code], p})
			delete(before, p.Code)
		}
	}
	for _, p := range a {
		if before[p.Code] == p {
			out = append(out, [2]*Project{p, nil})
		}
	}
	return out
}

type bridger struct {
	out      *Bridge
	measure  Measure
	from, to calendar.Period
	ps       *calendar.Periods
	at       [2]calendar.Period
	holds    [2]func(*portfolio.Project, *Key) bool // nil: all
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
		holds := br.holds[v]
		for i := 0; p != nil && i < len(p.Lines); i++ {
			l := &p.Lines[i]
			if _, adds := br.measure.Makes(l.Kind); adds && !l.Reserve && (holds == nil || holds(p.Project, &l.Key)) {
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
	var rest map[int]int64 // by fiscal year; what lies outside the span apart
	var years []int
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
		case br.measure == Running && c.in[0] && q > br.at[0] && q <= br.at[1]:
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
		if rest == nil {
			rest = make(map[int]int64)
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
			last = max(last, l.After())
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
			before := int64(0)
			for i, sum := range l.through {
				x := sum - before
				before = sum
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
	if len(years) == 0 {
		return nil
	}
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
