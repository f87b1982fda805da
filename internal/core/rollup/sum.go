package rollup

import (
	"fmt"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/standing"
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

// replans tells whether the plan of what has earned value is another.
func (c Change) replans() bool {
	if earns(&c.Was) != earns(&c.Is) {
		return true
	}
	x, why := c.Was.plan()
	y, now := c.Is.plan()
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
		if k.of.counts(&c.Was, k.id) {
			v := give(&c.Was)
			if !v.Known || !near(v.N) {
				return s, figure.Value{}, false
			}
			s.total, s.n = s.total-v.N, s.n-1
		}
		if k.of.counts(&c.Is, k.id) {
			v := give(&c.Is)
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

// highest is the largest value that parts know, and how many have it.
type highest struct {
	value figure.Value
	n     int
}

func (h *highest) take(v figure.Value) {
	switch {
	case !v.Known:
	case !h.value.Known || v.N > h.value.N:
		h.value, h.n = v, 1
	case v.N == h.value.N:
		h.n++
	}
}

// latest gives the largest value that a part knows: the latest day, the worst
// exposure, the oldest statement.
func (g *Group) latest(id figure.ID, of func(*Part, figure.ID) figure.Value) figure.Value {
	h, known := g.highestLeft(id, of)
	if known {
		for i := range g.changed {
			h.take(of(&g.changed[i].Is, id))
		}
	} else {
		h = highest{value: figure.Value{Why: "it is not known of any part"}}
		for i := range g.Parts {
			h.take(of(&g.Parts[i], id))
		}
	}
	if g.highest == nil {
		g.highest = make(map[figure.ID]highest)
	}
	g.highest[id] = h
	return h.value
}

// highestLeft gives the largest value of the parts that did not change, where the
// group before tells: where one of them had it.
func (g *Group) highestLeft(id figure.ID, of func(*Part, figure.ID) figure.Value) (h highest, ok bool) {
	if g.was == nil {
		return h, false
	}
	if h, ok = g.was.highest[id]; !ok {
		return h, false
	}
	for i := range g.changed {
		if v := of(&g.changed[i].Was, id); v.Known && v.N == h.value.N {
			h.n--
		}
	}
	return h, h.n > 0 || !h.value.Known
}

// weigh tells how much stands at each standing of a dimension.
func (g *Group) weigh(d standing.Dimension) *standing.Weights {
	if w := g.weights[d]; w != nil {
		return w
	}
	w := new(standing.Weights)
	if before := g.weighedBefore(d); before != nil {
		*w = *before
		for i := range g.changed {
			c := &g.changed[i]
			w.Take(c.Was.Result.Standing[d], c.Was.Eval.Get(figure.BAC).N)
			w.Add(c.Is.Result.Standing[d], c.Is.Eval.Get(figure.BAC).N)
		}
	} else {
		for i := range g.Parts {
			p := &g.Parts[i]
			w.Add(p.Result.Standing[d], p.Eval.Get(figure.BAC).N)
		}
	}
	if g.weights == nil {
		g.weights = make(map[standing.Dimension]*standing.Weights)
	}
	g.weights[d] = w
	return w
}

func (g *Group) weighedBefore(d standing.Dimension) *standing.Weights {
	if g.was == nil {
		return nil
	}
	return g.was.weights[d]
}

// least gives the smallest value of the parts.
func (g *Group) least(id figure.ID) figure.Value {
	v := g.latest(id, func(p *Part, id figure.ID) figure.Value {
		v := own(p, id)
		v.N = -v.N
		return v
	})
	v.N = -v.N
	return v
}
