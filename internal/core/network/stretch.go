package network

import (
	"math"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/portfolio"
)

// Stretched gives the same network with what is left to do of each unfinished task taking
// by times as long, by view, with early dates alone; days are rounded up. No fraction
// stretches nothing. Nothing is pulled ahead of what is stated.
func (p *Portfolio) Stretched(by []exact.Ratio) *Portfolio {
	out := &Portfolio{Views: p.Views, Places: p.Places, Stated: p.Stated, Left: p.Left}
	out.Network = p.stretched(by, new(scratch))
	return out
}

// StretchedFinishes gives the latest early finish of each view of the stretched network;
// zero where nothing of it stands inside.
func (p *Portfolio) StretchedFinishes(by []exact.Ratio) []calendar.Date {
	room := rooms.Get().(*scratch)
	defer rooms.Put(room)
	ends := p.stretched(by, room).ends
	out := make([]calendar.Date, len(p.Views))
	copy(out, ends)
	return out
}

// scratch is room for a network that is looked at once.
type scratch struct {
	activities []Activity
	dates      []Dates
	at         []times
}

var rooms = sync.Pool{New: func() any { return new(scratch) }}

// of gives a list of so many zeros, in the place of an old one where that holds them.
func of[T any](old []T, n int) []T {
	if cap(old) < n {
		return make([]T, n)
	}
	old = old[:n]
	clear(old)
	return old
}

func (p *Portfolio) stretched(by []exact.Ratio, room *scratch) *Network {
	room.activities = append(room.activities[:0], p.Activities...)
	room.dates, room.at = of(room.dates, len(p.Activities)), of(room.at, len(p.Activities))
	factors := make([]factor, len(by))
	for i, r := range by {
		factors[i] = factorOf(r)
	}
	for i := range room.activities {
		if f := &factors[p.Places[i].View]; f.set {
			room.activities[i].stretch(f, p.Day)
		}
	}
	n := &Network{
		Day: p.Day, Activities: room.activities, Links: p.Links, Dates: room.dates, Hold: p.Hold, Loops: p.Loops,
		into: p.into, outof: p.outof, order: p.order, at: room.at,
	}
	for _, loop := range p.Loops {
		for _, i := range loop {
			n.Dates[i].Outside = true
		}
	}
	n.forward()
	return n
}

// stretch makes what is left of an unfinished task take longer, or less long.
func (a *Activity) stretch(f *factor, day calendar.Date) {
	if a.Progress == Finished || a.Milestone {
		return
	}
	begun := a.Calendar.Instant(a.Start - 1)
	left := a.days()
	if a.Progress == Started {
		begun = max(begun, a.Calendar.Instant(day))
		left = a.Calendar.Instant(a.Finish) - begun
	}
	if left > 0 {
		a.Finish = a.Calendar.Day(begun + f.times(left))
	}
}

// factor is a fraction, in small numbers where they hold it.
type factor struct {
	set      bool
	num, den int64
	exact    exact.Ratio
}

func factorOf(r exact.Ratio) factor {
	f := factor{set: r.Is(), exact: r}
	if !f.set {
		return f
	}
	if x := r.Rat(); x.Num().IsInt64() && x.Denom().IsInt64() && x.Num().Int64() < math.MaxInt32 && x.Denom().Int64() < math.MaxInt32 {
		f.num, f.den = x.Num().Int64(), x.Denom().Int64()
	}
	return f
}

// times gives so many days times the factor, rounded up.
func (f *factor) times(days int) int {
	if f.den > 0 {
		return int((int64(days)*f.num + f.den - 1) / f.den)
	}
	x := f.exact.Mul(exact.Whole(int64(days)))
	n, _ := x.Round()
	if exact.Whole(n).Cmp(x) < 0 {
		n++
	}
	return int(n)
}

// Alone gives what the network tells of a project that no link ties, without making a
// network: what no link holds is as early as it is stated. It is not ok where more than that
// is to be told: the project has links or constraints, an activity stands outside, or the
// project does not run.
func Alone(v *portfolio.View, by exact.Ratio, near int) (t Told, ok bool) {
	if st := v.StateAt(v.Day); st != portfolio.Active && st != portfolio.OnHold || !v.Cal.Worked() ||
		len(v.Links)+len(v.Across)+len(v.Elsewhere) > 0 {
		return t, false
	}
	room := rooms.Get().(*scratch)
	defer rooms.Put(room)
	room.activities = room.activities[:0]
	for k := range v.Activities {
		a := &v.Activities[k]
		if !a.Leaf && a.Kind != portfolio.Milestone {
			continue
		}
		x, dated := activityOf(v, k)
		if !dated || a.Bound != nil {
			return t, false
		}
		room.activities = append(room.activities, x)
	}
	n := Network{Day: v.Day, Activities: room.activities}
	n.Dates, n.at = of(room.dates, len(n.Activities)), of(room.at, len(n.Activities))
	room.dates, room.at = n.Dates, n.at
	for i := range n.Activities {
		n.early(int32(i))
		t.Finish = max(t.Finish, n.at[i].dayF)
	}
	end := v.Cal.Instant(t.Finish)
	for i := range n.Activities {
		if n.Activities[i].Progress != Finished {
			t.count(end-n.at[i].f, near)
		}
	}
	if f := factorOf(by); f.set {
		for i := range n.Activities {
			n.Activities[i].stretch(&f, v.Day)
			n.early(int32(i))
			t.Stretched = max(t.Stretched, n.at[i].dayF)
		}
	}
	return t, true
}
