// Package funding holds the money that is authorised against what is spent and to come: what
// is short, when it runs out, and which source pays.
package funding

import (
	"cmp"
	"math"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// tooLarge is why a sum is not known.
const tooLarge = "its sum is beyond 64 bits"

// Authorised is the cumulative money of a list that may be spent, by period, converted to a
// currency at plan rates: it is authorised as plans are. Why tells why it is not known, or is
// "".
func Authorised(o *portfolio.Office, list []portfolio.Funding, to money.Currency, at calendar.Period) (course earned.Series, why string) {
	by := make(map[calendar.Period]int64)
	first, last := calendar.Period(math.MaxInt32), calendar.Period(0)
	for i := range list {
		f := &list[i]
		n := f.Amount
		if f.Currency != to {
			c, err := o.Rates.Between(f.Currency, to, money.PlanRates, int(f.Period), int(at))
			if err != nil {
				return earned.Series{}, err.Error()
			}
			if n, err = c.Convert(n); err != nil {
				return earned.Series{}, tooLarge
			}
		}
		sum, ok := money.Add(by[f.Period], n)
		if !ok {
			return earned.Series{}, tooLarge
		}
		by[f.Period] = sum
		first, last = min(first, f.Period), max(last, f.Period)
	}
	if len(by) == 0 {
		return earned.Series{}, ""
	}
	course = earned.Series{First: first, Cum: make([]int64, last-first+1)}
	var cum int64
	for i := range course.Cum {
		var ok bool
		if cum, ok = money.Add(cum, by[first+calendar.Period(i)]); !ok {
			return earned.Series{}, tooLarge
		}
		course.Cum[i] = cum
	}
	return course, ""
}

// RunsOut gives the first period from one on through which more is spent than is authorised
// by then, and how much more; zero where it lasts. What has already run out runs out in the
// period that is asked from.
func RunsOut(spent, authorised earned.Series, from calendar.Period) (p calendar.Period, short int64) {
	last := max(from, spent.First+calendar.Period(len(spent.Cum))-1)
	for p = from; p <= last; p++ {
		if n, ok := money.Add(spent.At(p), -authorised.At(p)); ok && n > 0 {
			return p, n
		}
	}
	return 0, 0
}

// Short gives the most that is spent beyond what is authorised by then, from a period on, and
// when; zero where it lasts.
func Short(spent, authorised earned.Series, from calendar.Period) (p calendar.Period, short int64) {
	last := max(from, spent.First+calendar.Period(len(spent.Cum))-1)
	for q := from; q <= last; q++ {
		if n, ok := money.Add(spent.At(q), -authorised.At(q)); ok && n > short {
			p, short = q, n
		}
	}
	return p, short
}

// Source is what one source gives to a scope, and what of it is used.
type Source struct {
	From     string
	Money    int64           // all that is authorised of it, with transfers
	Spent    int64           // of it, through the period that is looked from
	Used     int64           // of it in the end
	RunsOut  calendar.Period // in which the last of it is used; zero: some is left
	Decision []portfolio.Funding
}

// BySource parts the cost of a scope among its sources: each period draws on the money that is
// there by then, of the source first that came first, of two that came together of the first
// by name; what is given back goes to the one that was drawn on last. Unmet is what no source
// pays in the end. Why tells why it is not known, or is "".
func BySource(
	o *portfolio.Office, list []portfolio.Funding, spent earned.Series, to money.Currency, at calendar.Period,
) (out []Source, unmet int64, why string) {
	by := make(map[string][]portfolio.Funding)
	for _, f := range list {
		by[f.From] = append(by[f.From], f)
	}
	courses := make(map[string]earned.Series)
	for from, some := range by {
		course, why := Authorised(o, some, to, at)
		if why != "" {
			return nil, 0, why
		}
		courses[from] = course
		out = append(out, Source{From: from, Money: course.Total(), Decision: some})
	}
	slices.SortFunc(out, func(a, b Source) int {
		return cmp.Or(cmp.Compare(courses[a.From].First, courses[b.From].First), cmp.Compare(a.From, b.From))
	})
	first, last := spent.First, max(at, spent.First+calendar.Period(len(spent.Cum))-1)
	for _, c := range courses {
		first, last = min(first, c.First), max(last, c.First+calendar.Period(len(c.Cum))-1)
	}
	if len(spent.Cum) == 0 {
		first = at
	}
	for p := first; p <= last; p++ {
		need := spent.At(p) - spent.At(p-1) + unmet
		unmet = 0
		for i := len(out) - 1; i >= 0 && need < 0; i-- { // it is given back
			back := min(-need, out[i].Used)
			out[i].Used -= back
			need += back
		}
		for i := range out {
			x := &out[i]
			if take := min(need, courses[x.From].At(p)-x.Used); take > 0 {
				x.Used += take
				need -= take
			}
			switch left := x.Money - x.Used; {
			case left > 0:
				x.RunsOut = 0
			case x.RunsOut == 0 && x.Money > 0:
				x.RunsOut = p
			}
			if p == at {
				x.Spent = x.Used
			}
		}
		unmet = need
	}
	return out, unmet, ""
}
