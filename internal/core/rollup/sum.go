package rollup

import (
	"fmt"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
)

// which tells which parts a sum counts.
type which uint8

const (
	all           which = iota
	earning             // those whose earned value is known
	knowing             // those that know the figure itself
	earningIncome       // those that have income
	stating             // those whose lead states an outlook
)

func (w which) counts(p *Part, id figure.ID) bool {
	switch w {
	case earning:
		return earns(p)
	case knowing:
		return p.Eval.Get(id).Known
	case earningIncome:
		return p.Eval.Get(figure.Income).Known
	case stating:
		return p.Eval.Get(figure.EACStated).Known
	}
	return true
}

type sumKey struct {
	id figure.ID
	q  calendar.Period
	of which
}

// sum is what parts add up to, and how many they are.
type sum struct {
	total int64
	n     int
}

// change is a part as it was and as it is.
type change struct{ was, is Part }

// fewChanges are so few that going through them is no work.
const fewChanges = 16

// replans tells whether the plan of what has earned value is another.
func (c change) replans() bool {
	if earns(&c.was) != earns(&c.is) {
		return true
	}
	x, why := c.was.plan()
	y, now := c.is.plan()
	return why != now || x.First != y.First || !slices.Equal(x.Cum, y.Cum)
}

// sum adds up a figure of parts at a period. One that counts and does not know it
// makes that the sum is not known.
func (g *Group) sum(id figure.ID, q calendar.Period, of which) figure.Value {
	s, v := g.add(sumKey{id, q, of}, func(p *Part) figure.Value { return p.at(id, q) })
	switch {
	case !v.Known:
		return v
	case s.n == 0:
		return figure.Value{Why: fmt.Sprintf("none of its parts has %s", figure.Get(id).Symbol)}
	}
	return v
}

// stated sums stated outlooks; a part that has none counts with its computed
// one.
func (g *Group) stated(of which) figure.Value {
	s, v := g.add(sumKey{figure.EACStated, 0, of}, func(p *Part) figure.Value {
		if v := p.Eval.Get(figure.EACStated); v.Known {
			return v
		}
		return p.Eval.Get(figure.EACComputed)
	})
	switch {
	case !v.Known:
		return v
	case s.n == 0:
		return figure.Value{Why: "it has no parts"}
	}
	return v
}

// add adds up what each part that counts gives, beginning with the sum of the group
// before where few of its parts changed.
func (g *Group) add(k sumKey, give func(*Part) figure.Value) (s sum, out figure.Value) {
	if g.was != nil {
		if before, ok := g.was.sums[k]; ok && near(before.total) {
			if s, out, ok = g.adjust(before, k, give); ok {
				return s, out
			}
		}
	}
	for i := range g.Parts {
		p := &g.Parts[i]
		if !k.of.counts(p, k.id) {
			continue
		}
		v := give(p)
		if !v.Known {
			return s, figure.Value{Why: p.Project.Code + ": " + v.Why}
		}
		var ok bool
		if s.total, ok = money.Add(s.total, v.N); !ok {
			return s, figure.Value{Why: "the sum is beyond 64 bits"}
		}
		s.n++
	}
	g.keep(k, s)
	return s, figure.Value{Known: true, N: s.total}
}

// near tells that a sum is so far from the end of 64 bits that the order of adding
// does not matter.
func near(n int64) bool { return n > -1<<60 && n < 1<<60 }

// adjust takes from a sum what changed parts gave, and adds what they give now; ok
// is false where it is to be added up anew.
func (g *Group) adjust(s sum, k sumKey, give func(*Part) figure.Value) (sum, figure.Value, bool) {
	for i := range g.changed {
		c := &g.changed[i]
		if k.of.counts(&c.was, k.id) {
			v := give(&c.was)
			if !v.Known || !near(v.N) {
				return s, figure.Value{}, false
			}
			s.total, s.n = s.total-v.N, s.n-1
		}
		if k.of.counts(&c.is, k.id) {
			v := give(&c.is)
			if !v.Known || !near(v.N) {
				return s, figure.Value{}, false
			}
			s.total, s.n = s.total+v.N, s.n+1
		}
		if !near(s.total) {
			return s, figure.Value{}, false
		}
	}
	g.keep(k, s)
	return s, figure.Value{Known: true, N: s.total}, true
}

func (g *Group) keep(k sumKey, s sum) {
	if g.sums == nil {
		g.sums = make(map[sumKey]sum)
	}
	g.sums[k] = s
}

// own is the figure itself.
func own(p *Part, id figure.ID) figure.Value { return p.Eval.Get(id) }

// latest gives the largest value that a part knows: the latest day, the worst
// exposure, the oldest statement.
func (g *Group) latest(id figure.ID, of func(*Part, figure.ID) figure.Value) figure.Value {
	out := figure.Value{Why: "it is not known of any part"}
	for i := range g.Parts {
		if v := of(&g.Parts[i], id); v.Known && (!out.Known || v.N > out.N) {
			out = v
		}
	}
	return out
}
