package office

import (
	"fmt"
	"strings"

	"turret/internal/book"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/tell"
)

// Tell is what is told of the projects of a list.
func (m *Moment) Tell(l *List) *tell.Group {
	r := l.Total.Now
	fresh, recovered := m.News()
	return &tell.Group{
		Value: r.Value, Currency: r.Currency, Counts: r.Counts, All: l.All, Shown: l.Total.Shown, Filtered: !m.Filter.Empty(),
		Period: m.Period.Name, Since: m.Since.Name, Fresh: fresh, Recovered: recovered,
	}
}

// DatedMilestones are the raised milestones with the dates stated of them.
func (s *Sheet) DatedMilestones() []tell.DatedMilestone {
	var out []tell.DatedMilestone
	for _, m := range s.Milestones {
		if m.Raised {
			out = append(out, tell.DatedMilestone{Name: m.Name, Slip: m.Slip, State: m.State, Stated: m.Stated})
		}
	}
	return out
}

// Telling is what is told of one project.
func Telling(r *book.Reading) *tell.Project {
	own := make(map[standing.Dimension]string)
	for _, x := range r.Reasons {
		if x.Dimension.Own() {
			own[x.Dimension] = strings.ToLower(x.Rates)
		}
	}
	return &tell.Project{Own: own, Value: r.Value, Currency: r.Currency, State: r.State, Standing: r.Standing, Why: r.Why, Set: r.Standing[standing.Overall] != r.Computed[standing.Overall], HasSaid: r.HasSaid, Stated: r.Stated}
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

// NotCounted says which projects of a list stand outside its sums, and why; ""
// where all are counted.
func (m *Moment) NotCounted(l *List) string {
	why := make(map[string]string)
	for _, x := range l.Total.Now.LeftOut {
		why[x.Code] = x.Why
	}
	var out []string
	for _, code := range l.Codes {
		r, _ := m.Find(code)
		if r.State == portfolio.Proposed || r.State == portfolio.Cancelled {
			out = append(out, code+" is "+string(r.State))
		} else if w := why[code]; w != "" {
			out = append(out, code+": "+w)
		}
	}
	const most = 6
	if n := len(out) - most; n > 0 {
		out = append(out[:most], fmt.Sprintf("and %d more", n))
	}
	return strings.Join(out, "; ")
}

// Facts says what a project is: its code, programme, stage and people.
func (m *Moment) Facts(n *Reading) string {
	programme := n.Parent
	if g, _ := m.Find(n.Parent); g != nil && g.Group {
		programme = g.Name
	}
	stage := n.Stage
	if stage != "" {
		stage += " stage"
	}
	state := ""
	if n.State != portfolio.Active {
		state = string(n.State)
	}
	var out []string
	for _, x := range [][2]string{{"", n.Code}, {"", programme}, {"", stage}, {"lead ", n.Lead}, {"sponsor ", n.Sponsor}, {"", state}} {
		if x[1] != "" {
			out = append(out, x[0]+x[1])
		}
	}
	return strings.Join(out, " · ")
}
