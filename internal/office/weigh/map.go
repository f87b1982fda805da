package weigh

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"math/big"
	"slices"
	"strings"

	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/tell"
)

// MapAsk is what an address asks of the map, as text. Empty parts take their
// default.
type MapAsk struct {
	X, Y, Size, Shade string // names of figures
	Box               string // low and high of X, then of Y, with commas
	Of                string // a project that is picked
}

// Map sets a scope's projects out by two figures, one more as size and one as
// shade, in the reporting currency.
type Map struct {
	X, Y, Size, Shade figure.ID
	Marks             []MapMark
	Off               []*office.Reading // those whose place is not known
	Bounds            [2][]MapBound
	Box               *[4]float64 // in the axes' units
	Picked            string
	Shades            [4]float64 // where one shade ends and the next begins
	Asked             []string
}

// MapMark is a project on the map; size and shade may not be known.
type MapMark struct {
	*office.Reading
	X, Y, Size, Shade float64 // in the units of tell.Axis; NaN: not known
	Class             int     // its shade, 0 to 4; −1 where it is not known
	Inside            bool    // in the box, or picked; of a map without either all are
}

// MapBound is a limit that a rule sets on a figure.
type MapBound struct {
	At       float64
	Standing standing.Standing
	Below    bool // what lies below it is bad
}

// The figures of a map that nothing is asked of: what the outlook says of cost
// against what is stated of dates, large projects large, bad performance dark.
var mapDefaults = [...]figure.ID{figure.ComputedOver, figure.FinishSlip, figure.BAC, figure.CPI}

// Map sets out the projects of a moment's scope and filter. What an address asks
// for and does not exist is replaced by the default, with a note.
func (o Room) Map(ctx context.Context, a right.Actor, m *office.Moment, ask MapAsk) (*Map, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	out := &Map{}
	for i, x := range [...]struct {
		to   *figure.ID
		name string
	}{{&out.X, ask.X}, {&out.Y, ask.Y}, {&out.Size, ask.Size}, {&out.Shade, ask.Shade}} {
		id, ok := figure.Lookup(x.name)
		if *x.to = id; !ok {
			*x.to = mapDefaults[i]
			if x.name != "" {
				out.Asked = append(
					out.Asked,
					fmt.Sprintf(
						"There is no figure %q; this shows %s.",
						x.name,
						tell.Lower(figure.Get(mapDefaults[i]).Title),
					),
				)
			}
		}
	}
	if m.Empty {
		return out, nil
	}
	now, err := o.Book().Readings(ctx, m.Snapshot(), m.Period.Number, m.Against, true)
	if err != nil {
		return nil, err
	}
	axes := [...]tell.Axis{
		{ID: out.X, Currency: m.Reporting},
		{ID: out.Y, Currency: m.Reporting},
		{ID: out.Size, Currency: m.Reporting},
		{ID: out.Shade, Currency: m.Reporting},
	}
	for _, r := range now.Rows {
		if r.Group || r.State == portfolio.Cancelled || r.State == portfolio.Proposed || !m.InScope(r) ||
			!m.Filter.Wants(r) {
			continue
		}
		k := MapMark{
			Reading: r,
			X:       axes[0].Value(r.Value(out.X)),
			Y:       axes[1].Value(r.Value(out.Y)),
			Size:    axes[2].Value(r.Value(out.Size)),
			Shade:   axes[3].Value(r.Value(out.Shade)),
		}
		if math.IsNaN(k.X) || math.IsNaN(k.Y) {
			out.Off = append(out.Off, r)
			continue
		}
		out.Marks = append(out.Marks, k)
	}
	set := m.Snapshot().Rules.At(m.Period.Number)
	for i := range out.Bounds {
		out.Bounds[i] = bounds(set, axes[i])
	}
	out.shade(set)
	out.pick(ask, axes[0], axes[1])
	return out, nil
}

// bounds gives the limits that the office's own rules set on a figure.
func bounds(set *standing.Set, a tell.Axis) (out []MapBound) {
	for _, r := range set.Rules("", nil) {
		if r.Expr != nil || r.Reading != a.ID {
			continue
		}
		for st, limit := range map[standing.Standing]*big.Rat{standing.Watch: r.Watch, standing.Act: r.Act} {
			if limit != nil {
				out = append(
					out,
					MapBound{a.Value(figure.Exact(figure.Get(a.ID).Unit, exact.FromRat(limit))), st, r.Direction == standing.Below},
				)
			}
		}
		slices.SortFunc(out, func(a, b MapBound) int { return cmp.Compare(a.Standing, b.Standing) })
		break
	}
	return out
}

// shade cuts the shades: dark is bad where a rule says which way that is, and
// more where none does.
func (m *Map) shade(set *standing.Set) {
	var known []float64
	for _, k := range m.Marks {
		if !math.IsNaN(k.Shade) {
			known = append(known, k.Shade)
		}
	}
	slices.Sort(known)
	for i := range m.Shades {
		if n := len(known); n > 0 {
			m.Shades[i] = known[min(n*(i+1)/5, n-1)]
		}
	}
	dark := 1
	for _, r := range set.Rules("", nil) {
		if r.Expr == nil && r.Reading == m.Shade && r.Direction == standing.Below {
			dark = -1
		}
	}
	for i := range m.Marks {
		k := &m.Marks[i]
		if k.Class = -1; math.IsNaN(k.Shade) {
			continue
		}
		k.Class = 0
		for _, end := range m.Shades {
			if k.Shade >= end && end > known[0] {
				k.Class++
			}
		}
		if dark < 0 {
			k.Class = 4 - k.Class
		}
	}
}

// pick reads what is chosen on the map.
func (m *Map) pick(ask MapAsk, x, y tell.Axis) {
	if ask.Box != "" {
		parts := strings.Split(ask.Box, ",")
		var b [4]float64
		ok := len(parts) == 4
		for i := 0; ok && i < 4; i++ {
			b[i], ok = [...]tell.Axis{x, x, y, y}[i].Parse(parts[i])
		}
		if ok = ok && b[0] <= b[1] && b[2] <= b[3]; ok {
			m.Box = &b
		} else {
			m.Asked = append(m.Asked, fmt.Sprintf("The box %q is none; it is four values with commas: from and to along the foot, then from and to upwards.", ask.Box))
		}
	}
	found := false
	for i := range m.Marks {
		k := &m.Marks[i]
		found = found || k.Code == ask.Of
		k.Inside = ask.Of == "" && m.Box == nil || k.Code == ask.Of ||
			m.Box != nil && k.X >= m.Box[0] && k.X <= m.Box[1] && k.Y >= m.Box[2] && k.Y <= m.Box[3]
	}
	if ask.Of != "" && !found {
		m.Asked = append(m.Asked, fmt.Sprintf("Project %q is not on this map.", ask.Of))
		for i := range m.Marks {
			m.Marks[i].Inside = m.Marks[i].Inside || m.Box == nil
		}
		return
	}
	m.Picked = ask.Of
}

// Beyond tells whether a place of an axis, 0 for X and 1 for Y, is beyond the
// limit that asks for a look first; no is where the axis has none.
func (m *Map) Beyond(axis int, at float64) bool {
	for _, b := range m.Bounds[axis] {
		if b.Below && at < b.At || !b.Below && at > b.At {
			return true
		}
	}
	return false
}

// MapRegion is a part of the map that the limits cut out.
type MapRegion struct {
	Name  string
	Count int
	Box   [4]float64
}

// Regions are the parts of the map beyond the limits of both axes, of one, and of
// none, where both have limits.
func (m *Map) Regions() (out []MapRegion) {
	if len(m.Bounds[0]) == 0 || len(m.Bounds[1]) == 0 || len(m.Marks) == 0 {
		return nil
	}
	low, high := [2]float64{math.Inf(1), math.Inf(1)}, [2]float64{math.Inf(-1), math.Inf(-1)}
	for _, k := range m.Marks {
		for i, v := range [...]float64{k.X, k.Y} {
			low[i], high[i] = min(low[i], v), max(high[i], v)
		}
	}
	side := func(axis int, beyond bool) (from, to float64) {
		room := (high[axis]-low[axis])*0.01 + 1e-6
		from, to = low[axis]-room, high[axis]+room
		b := m.Bounds[axis][0]
		if b.Below == beyond {
			return from, min(max(b.At, from), to)
		}
		return max(min(b.At, to), from), to
	}
	x, y := figure.Get(m.X).Symbol, figure.Get(m.Y).Symbol
	for _, r := range [...]struct {
		name string
		x, y bool
	}{{"Beyond both limits", true, true}, {"Only of " + x, true, false}, {"Only of " + y, false, true}, {"Within both", false, false}} {
		g := MapRegion{Name: r.name}
		g.Box[0], g.Box[1] = side(0, r.x)
		g.Box[2], g.Box[3] = side(1, r.y)
		for _, k := range m.Marks {
			if m.Beyond(0, k.X) == r.x && m.Beyond(1, k.Y) == r.y {
				g.Count++
			}
		}
		out = append(out, g)
	}
	return out
}

// Rows are the marks that are chosen, the farthest along X first, and of those
// as far along Y.
func (m *Map) Rows() (out []*MapMark) {
	for i := range m.Marks {
		if m.Marks[i].Inside {
			out = append(out, &m.Marks[i])
		}
	}
	slices.SortStableFunc(out, func(a, b *MapMark) int {
		return cmp.Or(cmp.Compare(b.X, a.X), cmp.Compare(b.Y, a.Y), strings.Compare(a.Code, b.Code))
	})
	return out
}
