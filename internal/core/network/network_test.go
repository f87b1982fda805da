package network

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
)

var (
	five  = calendar.New("five", calendar.MondayToFriday, nil)
	six   = calendar.New("six", calendar.Week{false, true, true, true, true, true, true}, nil)
	quiet = calendar.New("quiet", calendar.Week{true, false, false, true, true, true, false}, []calendar.Date{on("2026-12-10"), on("2026-12-24"), on("2026-12-25")})
)

func on(s string) calendar.Date {
	d, err := calendar.ParseDate(s)
	if err != nil {
		panic(err)
	}
	return d
}

// november ends on a Monday.
var november = on("2026-11-30")

func task(start, finish string) Activity {
	return Activity{Calendar: five, Start: on(start), Finish: on(finish)}
}

func point(day string) Activity {
	return Activity{Calendar: five, Milestone: true, Start: on(day), Finish: on(day)}
}

func (a Activity) is(p Progress) Activity { a.Progress = p; return a }
func (a Activity) by(c Constraint, day string) Activity {
	a.Constraint, a.Bound = c, on(day)
	return a
}

func (a Activity) in(c *calendar.Calendar, project int32) Activity {
	a.Calendar, a.Project = c, project
	return a
}

// TestSolve has a network for each rule, with the dates worked out by hand. December 2026
// begins on a Tuesday; the fifth and sixth are a weekend.
func TestSolve(t *testing.T) {
	for name, c := range map[string]struct {
		activities []Activity
		links      []Link
		want       []string // early start, early finish, late start, late finish
		total      []int
		free       []int
		broken     []int // -1: holds nothing
		hold       []Hold
	}{
		"one alone ends its project": {
			activities: []Activity{task("2026-12-01", "2026-12-03")},
			want:       []string{"2026-12-01 2026-12-03 2026-12-01 2026-12-03"},
			total:      []int{0}, free: []int{0},
		},
		"FS with a lag of 2 pushes over the weekend": { // F = 3 Dec, then Fri, Mon: begins Tue 8
			activities: []Activity{task("2026-12-01", "2026-12-03"), task("2026-12-04", "2026-12-08")},
			links:      []Link{{0, 1, FinishStart, 2}},
			want:       []string{"2026-12-01 2026-12-03 2026-12-01 2026-12-03", "2026-12-08 2026-12-10 2026-12-08 2026-12-10"},
			total:      []int{0, 0}, free: []int{0, 0}, broken: []int{2},
		},
		"what waits has days to spare to the end of its project": {
			activities: []Activity{task("2026-12-01", "2026-12-02"), task("2026-12-03", "2026-12-03"), task("2026-12-01", "2026-12-09")},
			links:      []Link{{0, 1, FinishStart, 0}},
			want: []string{
				"2026-12-01 2026-12-02 2026-12-07 2026-12-08", "2026-12-03 2026-12-03 2026-12-09 2026-12-09",
				"2026-12-01 2026-12-09 2026-12-01 2026-12-09",
			},
			total: []int{4, 4, 0}, free: []int{0, 4, 0}, broken: []int{0},
		},
		"the period has ended: nothing begins before the day after": {
			activities: []Activity{task("2026-11-02", "2026-11-04"), point("2026-11-10")},
			want:       []string{"2026-12-01 2026-12-03 2026-12-01 2026-12-03", "2026-12-01 2026-12-01 2026-12-03 2026-12-03"},
			total:      []int{0, 2}, free: []int{0, 2},
		},
		"SS, FF and SF tie the ends they name": {
			activities: []Activity{
				task("2026-12-07", "2026-12-11"), task("2026-12-01", "2026-12-02"),
				task("2026-12-01", "2026-12-02"), task("2026-12-01", "2026-12-02"),
			},
			links: []Link{{0, 1, StartStart, 1}, {0, 2, FinishFinish, 1}, {0, 3, StartFinish, 2}},
			want: []string{
				"2026-12-07 2026-12-11 2026-12-07 2026-12-11",
				"2026-12-08 2026-12-09 2026-12-11 2026-12-14",
				"2026-12-01 2026-12-14 2026-12-01 2026-12-14", // stretched, as it begins as stated
				"2026-12-01 2026-12-08 2026-12-07 2026-12-14",
			},
			total: []int{0, 3, 0, 4}, free: []int{0, 3, 0, 4}, broken: []int{5, 8, 4},
		},
		"what was started goes on, and no start holds it": {
			activities: []Activity{task("2026-12-01", "2026-12-10"), task("2026-11-16", "2026-11-20").is(Started)},
			links:      []Link{{0, 1, FinishStart, 0}},
			want:       []string{"2026-12-01 2026-12-10 2026-12-01 2026-12-10", "2026-11-16 2026-12-01 - 2026-12-10"},
			total:      []int{0, 7}, free: []int{0, 7}, broken: []int{-1}, hold: []Hold{Overtaken},
		},
		"what is finished stays, on a Sunday too": {
			activities: []Activity{task("2026-11-16", "2026-11-29").is(Finished), task("2026-12-01", "2026-12-01")},
			links:      []Link{{0, 1, FinishStart, 2}},
			want:       []string{"2026-11-16 2026-11-29 - -", "2026-12-02 2026-12-02 2026-12-02 2026-12-02"},
		},
		"a Sunday on the other calendar": { // six works on Saturday 5 Dec, so F counts there
			activities: []Activity{task("2026-12-01", "2026-12-05").in(six, 0), task("2026-12-03", "2026-12-03").in(five, 1)},
			links:      []Link{{0, 1, FinishStart, 0}},
			want:       []string{"2026-12-01 2026-12-05 2026-12-01 2026-12-05", "2026-12-07 2026-12-07 2026-12-07 2026-12-07"},
			total:      []int{0, 0}, free: []int{0, 0}, broken: []int{2},
		},
		"not before, on and not after": {
			activities: []Activity{
				task("2026-12-01", "2026-12-02").by(NotBefore, "2026-12-05"), // a Saturday: Monday
				task("2026-12-01", "2026-12-02").by(On, "2026-12-03"),
				task("2026-12-01", "2026-12-04").by(NotAfter, "2026-12-02"),
				point("2026-12-08").by(On, "2026-12-02"),
			},
			links: []Link{{0, 1, FinishStart, 0}},
			want: []string{
				"2026-12-07 2026-12-08 2026-12-03 2026-12-04", "2026-12-03 2026-12-04 2026-12-07 2026-12-08",
				"2026-12-01 2026-12-04 2026-11-27 2026-12-02", "2026-12-02 2026-12-02 2026-12-08 2026-12-08",
			},
			total: []int{-2, 2, -2, 4}, free: []int{-4, 2, -2, 4}, broken: []int{2},
		},
		"a milestone between two tasks": {
			activities: []Activity{task("2026-12-01", "2026-12-04"), point("2026-12-02"), task("2026-12-01", "2026-12-01")},
			links:      []Link{{0, 1, FinishStart, 0}, {1, 2, FinishStart, 0}},
			want: []string{
				"2026-12-01 2026-12-04 2026-12-01 2026-12-04", "2026-12-04 2026-12-04 2026-12-04 2026-12-04",
				"2026-12-07 2026-12-07 2026-12-07 2026-12-07",
			},
			total: []int{0, 0, 0}, free: []int{0, 0, 0}, broken: []int{2, 2},
		},
		"a loop stands outside, and what follows it does not": {
			activities: []Activity{
				task("2026-12-01", "2026-12-02"), task("2026-12-01", "2026-12-02"), task("2026-12-01", "2026-12-02"),
				task("2026-12-01", "2026-12-02"),
			},
			links:  []Link{{0, 1, FinishStart, 0}, {1, 0, FinishStart, 0}, {1, 2, FinishStart, 9}, {3, 3, FinishStart, 0}},
			want:   []string{"", "", "2026-12-01 2026-12-02 2026-12-01 2026-12-02", ""},
			broken: []int{-1, -1, -1, -1}, hold: []Hold{Looped, Looped, Looped, Looped},
		},
	} {
		n := Solve(november, c.activities, c.links)
		for i, want := range c.want {
			d := n.Dates[i]
			got := ""
			if !d.Outside {
				text := func(d calendar.Date) string {
					if d == 0 {
						return "-"
					}
					return d.String()
				}
				got = text(d.EarlyStart) + " " + text(d.EarlyFinish) + " " + text(d.LateStart) + " " + text(d.LateFinish)
			}
			require.Equal(t, want, got, "%s: %d", name, i)
		}
		for i, want := range c.total {
			require.Equal(t, want, n.Dates[i].Total, "%s: total of %d", name, i)
			require.Equal(t, want <= 0, n.Critical(i), "%s: %d", name, i)
		}
		for i, want := range c.free {
			require.Equal(t, want, n.Dates[i].Free, "%s: free of %d", name, i)
		}
		for x, want := range c.broken {
			days, ok := n.Broken(x)
			if want < 0 {
				require.False(t, ok, "%s: link %d", name, x)
			} else {
				require.True(t, ok)
				require.Equal(t, want, days, "%s: link %d", name, x)
			}
		}
		for x, want := range c.hold {
			require.Equal(t, want, n.Hold[x], "%s: link %d", name, x)
		}
	}
}

// plain recomputes a network as its rules say it, by trying one day after another.
type plain struct {
	day        calendar.Date
	activities []Activity
	links      []Link
	in         []bool // no loop
	es, ef     []calendar.Date
	s, f       []int
	lf, ls     []int
	ends       map[int32]calendar.Date
}

const first = 739000 // a day in 2024; before it nothing counts

func working(c *calendar.Calendar, d calendar.Date) bool { return c.Duration(d, d) == 1 }

var counts = map[*calendar.Calendar]map[calendar.Date]int{}

func count(c *calendar.Calendar, d calendar.Date) int {
	m := counts[c]
	if m == nil {
		m = map[calendar.Date]int{}
		n := 0
		for x := calendar.Date(first); x < first+3000; x++ {
			if working(c, x) {
				n++
			}
			m[x] = n
		}
		counts[c] = m
	}
	n, ok := m[d]
	if !ok {
		panic("outside")
	}
	return n
}

// workday gives the k-th working day.
func workday(c *calendar.Calendar, k int) calendar.Date {
	for d := calendar.Date(first); ; d++ {
		if working(c, d) && count(c, d) == k {
			return d
		}
	}
}

// reaches tells whether links lead from one activity to another.
func (p *plain) reaches(from, to int32) bool {
	seen := map[int32]bool{}
	var walk func(int32) bool
	walk = func(i int32) bool {
		for _, l := range p.links {
			if l.From == i && (l.To == to || !seen[l.To]) {
				if l.To == to {
					return true
				}
				seen[l.To] = true
				if walk(l.To) {
					return true
				}
			}
		}
		return false
	}
	return walk(from)
}

// holds tells whether a link counts.
func (p *plain) holds(l Link) bool {
	to := p.activities[l.To]
	return p.in[l.From] && p.in[l.To] && to.Progress != Finished &&
		!(to.Progress == Started && (l.Type == FinishStart || l.Type == StartStart))
}

// kept tells whether a link holds with a predecessor's days, that before its start and its
// finish, and a successor's instants.
func (p *plain) kept(l Link, dayS, dayF calendar.Date, s, f int) bool {
	c := p.activities[l.To].Calendar
	switch l.Type {
	case FinishStart:
		return s >= count(c, dayF)+int(l.Lag)
	case StartStart:
		return s >= count(c, dayS)+int(l.Lag)
	case FinishFinish:
		return f >= count(c, dayF)+int(l.Lag)
	default:
		return f >= count(c, dayS)+int(l.Lag)
	}
}

func (p *plain) before(i int32) calendar.Date {
	if p.activities[i].Milestone {
		return p.ef[i]
	}
	return p.es[i] - 1
}

func (p *plain) solve() {
	n := len(p.activities)
	p.in = make([]bool, n)
	for i := range n {
		p.in[i] = !p.reaches(int32(i), int32(i))
	}
	p.es, p.ef = make([]calendar.Date, n), make([]calendar.Date, n)
	p.s, p.f = make([]int, n), make([]int, n)
	p.lf, p.ls = make([]int, n), make([]int, n)
	p.ends = map[int32]calendar.Date{}
	done := make([]bool, n)
	for again := true; again; {
		again = false
		for i := range int32(n) {
			ready := p.in[i] && !done[i]
			for _, l := range p.links {
				ready = ready && !(l.To == i && p.in[l.From] && !done[l.From])
			}
			if ready {
				p.early(i)
				a := p.activities[i]
				p.ends[a.Project] = max(p.ends[a.Project], p.ef[i])
				done[i], again = true, true
			}
		}
	}
	done = make([]bool, n)
	for again := true; again; {
		again = false
		for i := range int32(n) {
			ready := p.in[i] && !done[i] && p.activities[i].Progress != Finished
			for _, l := range p.links {
				ready = ready && !(l.From == i && p.holds(l) && !done[l.To])
			}
			if ready {
				p.late(i)
				done[i], again = true, true
			}
		}
	}
}

// early tries starts and finishes, from the earliest on.
func (p *plain) early(i int32) {
	a := p.activities[i]
	c := a.Calendar
	ok := func(s, f int, starts bool) bool {
		for _, l := range p.links {
			toStart := l.Type == FinishStart || l.Type == StartStart
			if l.To == i && p.holds(l) && toStart == starts && !p.kept(l, p.before(l.From), p.ef[l.From], s, f) {
				return false
			}
		}
		return true
	}
	switch {
	case a.Progress == Finished:
		p.es[i], p.ef[i] = a.Start, a.Finish
		p.s[i], p.f[i] = count(c, a.Start-1), count(c, a.Finish)
		if a.Milestone {
			p.es[i], p.s[i] = a.Finish, p.f[i]
		}
		return
	case a.Milestone:
		k := max(count(c, a.Finish), count(c, p.day)+1)
		if a.Constraint == NotBefore {
			k = max(k, count(c, a.Bound))
		}
		for !ok(k, k, true) || !ok(k, k, false) {
			k++
		}
		if a.Constraint == On {
			k = count(c, a.Bound)
		}
		p.s[i], p.f[i] = k, k
		p.es[i], p.ef[i] = workday(c, k), workday(c, k)
		return
	case a.Progress == Started:
		p.es[i], p.s[i] = a.Start, count(c, a.Start-1)
		p.f[i] = max(count(c, a.Finish), count(c, p.day)+1)
		for !ok(0, p.f[i], false) {
			p.f[i]++
		}
		p.ef[i] = workday(c, p.f[i])
		return
	}
	s := max(count(c, a.Start-1), count(c, p.day))
	if a.Constraint == NotBefore {
		s = max(s, count(c, a.Bound-1))
	}
	for !ok(s, 0, true) {
		s++
	}
	if a.Constraint == On {
		s = count(c, a.Bound-1)
	}
	d := 0
	for x := a.Start; x <= a.Finish; x++ {
		if working(c, x) {
			d++
		}
	}
	f := s + max(d, 1)
	for a.Constraint != On && !ok(0, f, false) {
		f++
	}
	p.s[i], p.f[i] = s, f
	p.es[i], p.ef[i] = workday(c, s+1), workday(c, f)
}

// late tries finishes, from the end of the project back.
func (p *plain) late(i int32) {
	p.lf[i] = p.limit(i, p.ls, p.lf)
	if a := p.activities[i]; a.Constraint == NotAfter {
		p.lf[i] = min(p.lf[i], count(a.Calendar, a.Bound))
	}
	p.ls[i] = p.lf[i] - (p.f[i] - p.s[i])
}

// limit is the latest finish that leaves the links to successors as they are, with the
// starts and finishes given.
func (p *plain) limit(i int32, starts, finishes []int) int {
	a := p.activities[i]
	c := a.Calendar
	least := count(c, p.ends[a.Project])
	for _, l := range p.links {
		if l.From != i || !p.holds(l) {
			continue
		}
		s, f := starts[l.To], finishes[l.To]
		fromStart := l.Type == StartStart || l.Type == StartFinish
		switch {
		case !fromStart || a.Milestone:
			k := least
			for {
				// a day is allowed where the link holds with it
				if d := workday(c, k); p.kept(l, d, d, s, f) {
					break
				}
				k--
			}
			least = min(least, k)
		case a.Progress != Started:
			k := least - (p.f[i] - p.s[i])
			for !p.kept(l, workday(c, k+1)-1, 0, s, f) {
				k--
			}
			least = min(least, k+p.f[i]-p.s[i])
		}
	}
	return least
}

// TestSolveRandomly compares with trying day by day: every type of link, calendars, lags
// before and after, progress, constraints, loops.
func TestSolveRandomly(t *testing.T) {
	r := rand.New(rand.NewPCG(13, 21))
	loops, held, broken := 0, 0, 0
	for range 800 {
		activities := make([]Activity, 1+r.IntN(9))
		for i := range activities {
			a := &activities[i]
			a.Calendar = [...]*calendar.Calendar{five, six, quiet}[r.IntN(3)]
			a.Project = int32(r.IntN(3))
			a.Milestone = r.IntN(4) == 0
			a.Progress = Progress(r.IntN(3))
			a.Start = november + calendar.Date(r.IntN(40)-12)
			a.Finish = a.Start + calendar.Date(r.IntN(12))
			if a.Progress == Finished {
				a.Finish = november - calendar.Date(r.IntN(9))
				a.Start = a.Finish - calendar.Date(r.IntN(9))
			}
			if a.Progress == Started {
				a.Start = november - calendar.Date(r.IntN(9))
				a.Finish = max(a.Start, a.Finish)
			}
			if a.Milestone {
				a.Start, a.Progress = a.Finish, a.Progress/2*2
			}
			if r.IntN(5) == 0 {
				a.Constraint = Constraint(r.IntN(4))
				a.Bound = november + calendar.Date(r.IntN(40)-5)
			}
		}
		var links []Link
		for range r.IntN(14) {
			l := Link{
				int32(r.IntN(len(activities))), int32(r.IntN(len(activities))), Type(r.IntN(4)), int32(r.IntN(9) - 3),
			}
			if l.From < l.To || r.IntN(12) == 0 {
				links = append(links, l)
			}
		}
		n := Solve(november, activities, links)
		p := &plain{day: november, activities: activities, links: links}
		p.solve()
		loops += len(n.Loops)
		for i := range activities {
			require.Equal(t, p.in[i], !n.Dates[i].Outside)
			if !p.in[i] {
				continue
			}
			d, c, a := n.Dates[i], activities[i].Calendar, activities[i]
			require.Equal(t, p.es[i], d.EarlyStart, "early start of %d\n%v\n%v", i, activities, links)
			require.Equal(t, p.ef[i], d.EarlyFinish, "early finish of %d\n%v\n%v", i, activities, links)
			if d.Driver >= 0 {
				held++
			}
			if a.Progress == Finished {
				require.Zero(t, d.LateFinish)
				continue
			}
			require.Equal(t, workday(c, p.lf[i]), d.LateFinish, "late finish of %d\n%v\n%v", i, activities, links)
			require.Equal(t, p.lf[i]-p.f[i], d.Total)
			require.Equal(t, min(d.Total, p.limit(int32(i), p.s, p.f)-p.f[i]), d.Free, "free of %d\n%v\n%v", i, activities, links)
			switch {
			case a.Milestone:
				require.Equal(t, d.LateFinish, d.LateStart)
			case a.Progress == Started:
				require.Zero(t, d.LateStart)
			default:
				require.Equal(t, workday(c, p.ls[i]+1), d.LateStart)
			}
		}
		for x, l := range links {
			days, ok := n.Broken(x)
			require.Equal(t, p.holds(l), ok)
			if !ok {
				continue
			}
			from, to := n.stated(l.From), n.stated(l.To)
			by := 0
			for !p.kept(l, from.dayS, from.dayF, to.s-base(activities[l.To].Calendar)+by, to.f-base(activities[l.To].Calendar)+by) {
				by++
			}
			require.Equal(t, by, days)
			if by > 0 {
				broken++
			}
		}
	}
	require.Greater(t, loops, 25)
	require.Greater(t, held, 150)
	require.Greater(t, broken, 150)
}

// base is what the test counts from.
func base(c *calendar.Calendar) int { return c.Instant(first) - count(c, first) }
