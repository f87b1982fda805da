package office

import (
	"cmp"
	"fmt"
	"slices"

	"turret/internal/core/figure"
	"turret/internal/core/standing"
	"turret/internal/tell"
)

// Moved is a project whose standings changed.
type Moved struct {
	Now, Before *Reading
	Changes     []Change
}

// Change is a standing that changed, with the rule that fired then and now.
type Change struct {
	Dimension standing.Dimension
	Was, Is   standing.Standing
	Name      string          // of the dimension
	Reason    standing.Reason // the rule's; only where Rule is true
	Rule      bool
	Then, At  figure.Value // the rule's reading
}

// Moved lists the projects in scope that the filter wants and whose standings
// changed since the moment's Since, the worst first.
func (m *Moment) Moved() []Moved {
	if m.since == nil {
		return nil
	}
	var out []Moved
	for _, r := range m.now.Rows {
		if r.Group || !m.InScope(r) || !m.Filter.Wants(r) {
			continue
		}
		if x, ok := m.MovedOf(r.Code); ok {
			out = append(out, x)
		}
	}
	slices.SortStableFunc(out, func(a, b Moved) int { return cmp.Compare(b.weight(), a.weight()) })
	return out
}

// weight ranks what moved: worsened before recovered, to Act before to Watch.
func (x *Moved) weight() int {
	w := 0
	for i, c := range x.Changes {
		step := 0
		if c.Is > c.Was {
			step = 100*int(c.Is) + 10*int(c.Is-c.Was)
		} else if c.Is < c.Was {
			step = int(c.Was - c.Is)
		}
		if i == 0 && c.Dimension == standing.Overall {
			step *= 10
		}
		w = max(w, step)
	}
	return w
}

// MovedOf tells how one project's standings changed; ok is false where none did.
func (m *Moment) MovedOf(code string) (x Moved, ok bool) {
	if m.since == nil {
		return x, false
	}
	return m.movedBetween(m.now.Project(code), m.since.Project(code))
}

// GroupMoved is MovedOf for a group.
func (m *Moment) GroupMoved(code string) (x Moved, ok bool) {
	if m.since == nil {
		return x, false
	}
	return m.movedBetween(m.now.Group(code), m.since.Group(code))
}

func (m *Moment) movedBetween(now, before *Reading) (x Moved, ok bool) {
	x.Now, x.Before = now, before
	if x.Now == nil || x.Before == nil {
		return x, false
	}
	for _, d := range m.snap.Rules.Dimensions() {
		if d == standing.Data {
			continue
		}
		if was, is := x.Before.Standing[d], x.Now.Standing[d]; was != is {
			c := Change{Dimension: d, Name: m.snap.Rules.Title(d), Was: was, Is: is}
			c.fired(x.Now, x.Before)
			x.Changes = append(x.Changes, c)
		}
	}
	return x, len(x.Changes) > 0
}

// hasMoved tells whether a project's standings changed, data aside, or a group's overall.
func (m *Moment) hasMoved(r *Reading) bool {
	if m.since == nil {
		return false
	}
	if r.Group {
		was := m.since.Group(r.Code)
		return was != nil && was.Standing[standing.Overall] != r.Standing[standing.Overall]
	}
	was := m.since.Project(r.Code)
	if was == nil {
		return false
	}
	for _, d := range m.snap.Rules.Dimensions() {
		if d != standing.Data && was.Standing[d] != r.Standing[d] {
			return true
		}
	}
	return false
}

// fired finds the rule that made a dimension what it is, or, where it
// recovered, what it was.
func (c *Change) fired(now, before *Reading) {
	from, other, st := now, before, c.Is
	if c.Is < c.Was {
		from, other, st = before, now, c.Was
	}
	for _, r := range from.Reasons {
		if r.Dimension != c.Dimension || r.Silent != "" || r.Standing != st {
			continue
		}
		c.Reason, c.Rule = r, true
		c.At, c.Then = r.Value, figure.Unknown(r.Value.Unit, "the rule was not in force")
		if r.Own == "" {
			c.Then = other.Value(r.Reading)
		}
		for _, q := range other.Reasons { // as the rule read it, in the project's own currency
			if q.Same(&r) {
				c.Then = q.Value
			}
		}
		if from == before {
			c.At, c.Then = c.Then, c.At
		}
		return
	}
}

// Written writes the reading of the rule that fired, then and now.
func (x *Moved) Written(c *Change) (then, at string) {
	r, q := c.Reason, c.Reason
	r.Value, q.Value = c.Then, c.At
	return tell.Reading(&r, x.Before.Currency, false).Text, tell.Reading(&q, x.Now.Currency, false).Text
}

// News counts the projects that newly need action, and those that no longer do.
func (m *Moment) News() (fresh, recovered int) {
	if m.since == nil {
		return 0, 0
	}
	for _, r := range m.now.Rows {
		if r.Group || !m.InScope(r) || !m.Filter.Wants(r) {
			continue
		}
		b := m.since.Project(r.Code)
		if b == nil {
			continue
		}
		now, was := r.Standing[standing.Overall] == standing.Act, b.Standing[standing.Overall] == standing.Act
		if now && !was {
			fresh++
		}
		if was && !now && Active(r) {
			recovered++
		}
	}
	return fresh, recovered
}

// Lines says what the standings of a project did, and by which readings.
func (x *Moved) Lines() []string {
	var out []string
	for _, c := range x.Changes {
		if c.Dimension == standing.Overall {
			continue
		}
		name := tell.Capital(c.Name)
		if !c.Rule {
			out = append(out, fmt.Sprintf("%s: %s → %s", name, c.Was, c.Is))
			continue
		}
		then, at := x.Written(&c)
		symbol := c.Reason.Own
		if symbol == "" {
			symbol = figure.Get(c.Reason.Reading).Symbol
		}
		out = append(out, fmt.Sprintf("%s: %s %s → %s", name, symbol, then, at))
	}
	if len(out) == 0 { // overall alone: too early, a state, or an override
		switch now, was := x.Now.Why, x.Before.Why; {
		case now != "":
			out = append(out, "Unrated: "+now)
		case was != "":
			out = append(out, "no longer Unrated: "+was)
		}
	}
	return out
}

// StandingMove is a standing before and after.
type StandingMove struct {
	Dimension standing.Dimension `json:"-"`
	Name      string             `json:"dimension"`
	Was       string             `json:"was"`
	Is        string             `json:"is"`
}
