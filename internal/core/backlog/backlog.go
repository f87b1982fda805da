// Package backlog computes what a project's items tell: their scope, what of it is
// accepted, the pace, and when it will be done if it goes on like this.
//
// Sizes are whole numbers of millionths (portfolio.Quantity), paces exact sizes per period.
package backlog

import (
	"cmp"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/portfolio"
)

// The periods that a pace is taken over and the working days after the baseline start in
// which an item belongs to the plan, unless the project sets others.
const (
	UsualPeriods = 3
	UsualGrace   = 10
)

// Backlog is the items of a project as they are known on the last day of a period.
type Backlog struct {
	*portfolio.View
	items []*portfolio.Item // that came up by then
	grace calendar.Date     // items that came up later were added; zero where no baseline start is known
	over  int               // periods that the pace is taken over
}

// Of reads the backlog of a project; nil where no item has come up by the period's end.
func Of(v *portfolio.View) *Backlog {
	b := &Backlog{View: v, over: cmp.Or(v.PacePeriods, UsualPeriods)}
	for i := range v.Items {
		if v.Items[i].Created <= v.Day {
			b.items = append(b.items, &v.Items[i])
		}
	}
	if b.items == nil {
		return nil
	}
	if start, _ := v.BaselineSpan(); start != 0 && v.Cal.Worked() {
		days := v.GraceDays
		if days < 0 {
			days = UsualGrace
		}
		b.grace = v.Cal.Day(v.Cal.Instant(start) + days)
	}
	var first calendar.Period
	for _, it := range b.items {
		if it.InScope(v.Day) && it.Done(v.Day) {
			if p := v.Office.Periods.Near(it.Accepted); first == 0 || p < first {
				first = p
			}
		}
	}
	if first != 0 {
		b.over = max(1, min(b.over, int(v.Period-first)+1))
	}
	return b
}

// Items lists the items that came up by the period's end.
func (b *Backlog) Items() []*portfolio.Item { return b.items }

// Periods is how many periods the pace is taken over: those of the project, or as many as
// there are from its first accepted item on.
func (b *Backlog) Periods() int { return b.over }

// sum adds up sizes.
func (b *Backlog) sum(counts func(*portfolio.Item) bool) exact.Ratio {
	var sum exact.Sum
	for _, it := range b.items {
		if counts(it) {
			sum.Add(it.Size, 1, portfolio.Quantity)
		}
	}
	return sum.Over(1)
}

// Scope is the size of what has come up by a day and is not dropped by then.
func (b *Backlog) Scope(day calendar.Date) exact.Ratio {
	return b.sum(func(it *portfolio.Item) bool { return it.InScope(day) })
}

// Accepted is the size of what of the scope is accepted by a day.
func (b *Backlog) Accepted(day calendar.Date) exact.Ratio {
	return b.sum(func(it *portfolio.Item) bool { return it.InScope(day) && it.Done(day) })
}

// Added is the size of what of the scope of a day came up later than the project's grace
// after its baseline start; ok is false where that is not known.
func (b *Backlog) Added(day calendar.Date) (size exact.Ratio, ok bool) {
	return b.sum(func(it *portfolio.Item) bool { return it.InScope(day) && b.WasAdded(it) }), b.grace != 0
}

// WasAdded tells whether an item came up later than the project's grace.
func (b *Backlog) WasAdded(it *portfolio.Item) bool { return b.grace != 0 && it.Created > b.grace }

// InPace tells whether an item of the scope was accepted in the periods of the pace, and
// AddedInPace whether it was added in them.
func (b *Backlog) InPace(it *portfolio.Item) bool {
	return it.InScope(b.Day) && it.Done(b.Day) && it.Accepted > b.since()
}

func (b *Backlog) AddedInPace(it *portfolio.Item) bool {
	return it.InScope(b.Day) && b.WasAdded(it) && it.Created > b.since()
}

// since is the day before the periods that the pace is taken over.
func (b *Backlog) since() calendar.Date {
	return b.Office.Periods.First(b.Period-calendar.Period(b.over-1)) - 1
}

// Pace is what was accepted in the last periods, a period.
func (b *Backlog) Pace() exact.Ratio {
	return b.sum(b.InPace).Quo(exact.Whole(int64(b.over)))
}

// NetPace is the pace less what was added in the same periods, a period; ok is false where
// it is not known what was added.
func (b *Backlog) NetPace() (pace exact.Ratio, ok bool) {
	return b.Pace().Sub(b.sum(b.AddedInPace).Quo(exact.Whole(int64(b.over)))), b.grace != 0
}

// Left is the scope that is not accepted.
func (b *Backlog) Left() exact.Ratio { return b.Scope(b.Day).Sub(b.Accepted(b.Day)) }

// Reasons why there is no finish at a pace.
const (
	Never  = "never at this pace"
	Beyond = "it lies beyond the office's calendar"
)

// Finish is the day on which all is accepted at a pace; where nothing is left, the last day
// of the period in which the last item was accepted. Without a day why says the reason.
func (b *Backlog) Finish(pace exact.Ratio) (day calendar.Date, why string) {
	left := b.Left()
	if left.Sign() == 0 {
		var last calendar.Date
		for _, it := range b.items {
			if it.InScope(b.Day) && it.Done(b.Day) {
				last = max(last, it.Accepted)
			}
		}
		if last == 0 {
			return 0, "nothing is in its scope"
		}
		return b.Office.Periods.Last(b.Office.Periods.Near(last)), ""
	}
	if pace.Sign() <= 0 {
		return 0, Never
	}
	if day = b.Office.Periods.After(b.Period, left.Quo(pace).Rat()); day == 0 {
		why = Beyond
	}
	return day, why
}

// NotReady is the share of the scope that is not accepted by the planned finish at a pace.
// Without a scope or a planned finish why says the reason.
func (b *Backlog) NotReady(pace exact.Ratio) (share exact.Ratio, why string) {
	scope := b.Scope(b.Day)
	_, planned := b.BaselineSpan()
	switch {
	case scope.Sign() == 0:
		return share, "nothing is in its scope"
	case planned == 0:
		return share, "no finish is planned"
	}
	late := b.Left().Sub(pace.Mul(b.until(planned)))
	if late.Sign() <= 0 {
		return exact.Whole(0), ""
	}
	return late.Quo(scope), ""
}

// until is the number of periods from the period's end to a day, the last by the share of
// its days; 0 where it has come.
func (b *Backlog) until(day calendar.Date) exact.Ratio {
	if day <= b.Day {
		return exact.Whole(0)
	}
	p := b.Office.Periods.Near(day)
	first, last := b.Office.Periods.First(p), b.Office.Periods.Last(p)
	part := exact.Of(int64(min(day, last)-first)+1, int64(last-first)+1)
	return exact.Whole(int64(p-b.Period) - 1).Add(part)
}

// Blocked lists what of the scope has something in its way and is not accepted, that which
// waits longest first.
func (b *Backlog) Blocked() (out []*portfolio.Item) {
	for _, it := range b.items {
		if it.InScope(b.Day) && it.Blocked != 0 && it.Blocked <= b.Day && !it.Done(b.Day) {
			out = append(out, it)
		}
	}
	slices.SortStableFunc(out, func(a, b *portfolio.Item) int { return cmp.Compare(a.Blocked, b.Blocked) })
	return out
}

// Point is the backlog at the end of a period.
type Point struct {
	Period          calendar.Period
	Scope, Accepted exact.Ratio
}

// Course gives the scope and what is accepted of it at the end of each period, from that in
// which the first item came up.
func (b *Backlog) Course() []Point {
	first := b.Period
	for _, it := range b.items {
		if it.Created != 0 {
			first = min(first, b.Office.Periods.Near(it.Created))
		}
	}
	var out []Point
	for p := first; p <= b.Period; p++ {
		day := b.Office.Periods.Last(p)
		out = append(out, Point{p, b.Scope(day), b.Accepted(day)})
	}
	return out
}

// Share is the size in a state, of the scope.
type Share struct {
	State string
	Count int
	Size  exact.Ratio
}

// States parts the scope by the state of its items, in the order of their life.
func (b *Backlog) States() []Share {
	var out []Share
	for _, state := range [...]string{"new", "doing", "done", "accepted"} {
		s := Share{State: state}
		s.Size = b.sum(func(it *portfolio.Item) bool {
			if !it.InScope(b.Day) || b.state(it) != state {
				return false
			}
			s.Count++
			return true
		})
		out = append(out, s)
	}
	return out
}

// state is what is said of an item, but that its day tells whether it is accepted.
func (b *Backlog) state(it *portfolio.Item) string {
	switch {
	case it.Done(b.Day):
		return "accepted"
	case it.State == "accepted", it.State == "dropped":
		return "done"
	}
	return it.State
}
