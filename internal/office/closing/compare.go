package closing

import (
	"context"
	"slices"

	"turret/internal/book"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/store"
)

// CutChange is a project or group whose figures two cuts have differently.
type CutChange struct {
	Code, Name string
	Group      bool
	Was, Is    *office.Reading // nil where one does not have it
	Figures    []figure.ID
	Stands     []office.StandingMove
	Settled    int // findings of the first that the second does not have
	Brought    int
}

// CutDifference is what two cuts, or a cut and now, have differently.
type CutDifference struct {
	A, B      CutInfo
	Changes   []CutChange
	Inputs    []book.Differs
	More      int // inputs that are not listed
	SameHash  bool
	OtherTime bool // they are of two periods, so that figures move with time
}

// mostInputs bounds the inputs that a comparison lists.
const mostInputs = 500

// compared are the figures that cuts are compared in: those of the
// command readings, and the counts of findings.
var compared = append(append([]figure.ID{}, figure.Readings...), figure.Errors, figure.Warnings)

// CompareCuts compares two cuts by id, zero being now at a moment's period: the
// figures of a scope, and, input by input, what they were made of.
func (o Room) CompareCuts(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	first, second int64,
) (*CutDifference, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	x, err := o.cutSide(ctx, m, first)
	if err != nil {
		return nil, err
	}
	y, err := o.cutSide(ctx, m, second)
	if err != nil {
		return nil, err
	}
	d := &CutDifference{
		A:         x.info,
		B:         y.info,
		SameHash:  x.info.Hash == y.info.Hash,
		OtherTime: x.readings.Period != y.readings.Period,
	}
	wanted := func(r *office.Reading) bool {
		return r != nil && m.InScope(r) || r != nil && r.Group && r.Code == m.Scope.Code
	}
	seen := make(map[string]bool)
	for _, r := range append(append([]*office.Reading{}, y.readings.Rows...), x.readings.Rows...) {
		key := r.Kind() + r.Code
		if seen[key] || m.Scope.Code != "" && !wanted(r) {
			continue
		}
		seen[key] = true
		c := CutChange{Code: r.Code, Name: r.Name, Group: r.Group}
		if r.Group {
			c.Was, c.Is = x.readings.Group(r.Code), y.readings.Group(r.Code)
		} else {
			c.Was, c.Is = x.readings.Project(r.Code), y.readings.Project(r.Code)
		}
		if c.differs(y.names) {
			d.Changes = append(d.Changes, c)
		}
	}
	slices.SortStableFunc(d.Changes, func(a, b CutChange) int { return place(&a) - place(&b) })
	in := func(code string) bool {
		if m.Scope.Code == "" {
			return true
		}
		return wanted(y.readings.Project(code)) || wanted(x.readings.Project(code))
	}
	if d.Inputs, err = book.Differ(ctx, x.inputs, y.inputs, in, m.Scope.Code == ""); err != nil {
		return nil, err
	}
	d.SameHash = d.SameHash ||
		m.Scope.Code == "" && len(d.Inputs) == 0 // hashes of before went over how things were packed
	if len(d.Inputs) > mostInputs {
		d.More, d.Inputs = len(d.Inputs)-mostInputs, d.Inputs[:mostInputs]
	}
	return d, nil
}

// place orders changes: the whole, its groups, then projects.
func place(c *CutChange) int {
	switch {
	case c.Group && c.Code == "*":
		return 0
	case c.Group:
		return 1
	}
	return 2
}

// cutSide is one side of a comparison.
type cutSide struct {
	info     CutInfo
	readings *book.Readings
	inputs   *book.Snapshot
	names    *book.Rules
}

func (o Room) cutSide(ctx context.Context, m *office.Moment, id int64) (cutSide, error) {
	if id == 0 {
		_, hash, err := m.Snapshot().Inputs(ctx)
		if err != nil {
			return cutSide{}, err
		}
		rs, err := m.Snapshot().Live(ctx, m.Period.Number, portfolio.Latest, true)
		info := cutInfo(m, &store.Cut{Period: int64(m.Period.Number), Name: "now", At: o.Now(), Hash: hash})
		info.InForce = false
		return cutSide{info, rs, m.Snapshot(), m.Snapshot().Rules}, err
	}
	for i := range m.Snapshot().History {
		c := &m.Snapshot().History[i]
		if c.ID != id {
			continue
		}
		in, err := o.Book().InputsOf(ctx, m.Snapshot(), id)
		if err != nil {
			return cutSide{}, err
		}
		rs, err := o.Book().ReadingsOf(ctx, m.Snapshot(), id, true)
		return cutSide{cutInfo(m, c), rs, in, in.Rules}, err
	}
	return cutSide{}, office.Refusef("There is no cut %d.", id)
}

// differs fills in what two readings have differently.
func (c *CutChange) differs(names *book.Rules) bool {
	if c.Was == nil || c.Is == nil {
		return true
	}
	for _, id := range compared {
		if !c.Was.Value(id).Equal(c.Is.Value(id)) {
			c.Figures = append(c.Figures, id)
		}
	}
	for _, d := range names.Dimensions() {
		if x, y := c.Was.Standing[d], c.Is.Standing[d]; x != y {
			c.Stands = append(
				c.Stands,
				office.StandingMove{Dimension: d, Name: names.Title(d), Was: x.Code(), Is: y.Code()},
			)
		}
	}
	if !c.Group {
		settled, brought := book.Settled(c.Was, c.Is)
		c.Settled, c.Brought = len(settled), len(brought)
	}
	return len(c.Figures)+len(c.Stands)+c.Settled+c.Brought > 0
}

// Overall gives the overall standings of both sides.
func (c *CutChange) Overall() (was, is standing.Standing) {
	if c.Was != nil {
		was = c.Was.Standing[standing.Overall]
	}
	if c.Is != nil {
		is = c.Is.Standing[standing.Overall]
	}
	return was, is
}
