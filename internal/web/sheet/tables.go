package sheet

import (
	"fmt"
	"html/template"
	"math"
	"net/url"
	"slices"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/dates"
	"turret/internal/core/earned"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/tell"
)

// CodeRow is the money of a cost code.
type CodeRow struct {
	Code, Name                    string
	Depth                         int
	Parent                        string
	Top                           bool // has no code above it
	Plan, Spent, Order, ToGo, Out Linked
	Over                          Linked
	Bad, Reserve                  bool
	Fold                          string // address with the codes below folded or not; "" where none are
	Folded                        bool
}

// Linked is a figure with the address of its trail.
type Linked struct {
	tell.Cell
	Link string
}

// codes writes money by cost code; the roots add up to the project's figures.
func (p *Page) codes() {
	s, n := p.Sheet, p.Sheet.Now
	all := earned.CodeSum{}
	shut := p.State.Names("shut")
	hidden := -1 // depth below which nothing shows
	for i, c := range s.Codes {
		if hidden < 0 || c.Depth <= hidden {
			hidden = -1
			r := p.codeRow(c)
			if i+1 < len(s.Codes) && s.Codes[i+1].Depth > c.Depth {
				r.Fold, r.Folded = p.Toggle("shut", c.Code)+"#codes", slices.Contains(shut, c.Code)
			}
			if r.Folded {
				hidden = c.Depth
			}
			p.Codes = append(p.Codes, r)
		}
		if c.Depth == 0 {
			all.Spent, all.OnOrder, all.ToGo = all.Spent+c.Spent, all.OnOrder+c.OnOrder, all.ToGo+c.ToGo
			if !c.Reserve {
				all.Plan += c.Plan
			}
		}
	}
	if len(s.Codes) > 0 {
		total := p.codeRow(all)
		if bac := n.Value(figure.BAC); !bac.Known {
			total.Plan.Cell, total.Over.Cell = tell.Format(bac, n.Currency, false), tell.Percent(bac)
		}
		p.CodeTotal = &total
	}
}

// codeRow writes a cost code; without one, all of the project.
func (p *Page) codeRow(c earned.CodeSum) CodeRow {
	n := p.Sheet.Now
	link := func(id figure.ID) string {
		name := figure.Get(id).Name
		if c.Code != "" {
			name += ":" + url.PathEscape(c.Code)
		}
		return p.Figure(p.Code, name)
	}
	write := func(id figure.ID, v int64, known bool, why string) Linked {
		if !known {
			return Linked{Cell: tell.Format(figure.Unknown(figure.Money, why), n.Currency, false)}
		}
		return Linked{tell.Format(figure.Whole(figure.Money, v), n.Currency, false), link(id)}
	}
	r := CodeRow{Code: c.Code, Name: c.Name, Depth: c.Depth, Parent: c.Parent, Top: c.Depth == 0, Reserve: c.Reserve}
	if r.Name == "" {
		r.Name = "On no cost code"
	}
	stated := p.Sheet.Forecast || n.Value(figure.EACStated).Known
	r.Plan, r.Spent = write(figure.BAC, c.Plan, true, ""), write(figure.AC, c.Spent, true, "")
	r.Order = write(figure.OnOrder, c.OnOrder, p.Sheet.Ordered, "no commitment was stated up to this period")
	r.ToGo = write(figure.BeyondOrders, c.ToGo-c.OnOrder, stated, "no forecast was stated up to this period")
	r.Out = write(figure.EACStated, c.Spent+c.ToGo, stated, "no forecast was stated up to this period")
	over := figure.Unknown(figure.Ratio, "nothing is planned on it")
	if c.Reserve {
		r.Plan.Link = "" // it is no part of the plan
		over = figure.Unknown(figure.Ratio, "the reserve is outside the plan")
	} else if c.Plan > 0 && stated {
		over = figure.Exact(figure.Ratio, exact.Of(c.Spent+c.ToGo, c.Plan).Sub(exact.Whole(1)))
		r.Bad = over.R.Cmp(exact.Of(1, 10)) > 0
	}
	r.Over.Cell = tell.Figure(figure.StatedOver, over, n.Currency, false)
	if r.Over.Known {
		r.Over.Link = r.Out.Link
	}
	return r
}

// ActivityRow is an activity with its dates.
type ActivityRow struct {
	Code, Name, Owner                string
	Depth                            int
	Summary                          bool
	Milestone                        bool
	Planned, Current, Actual, Slip   string
	Percent                          string
	Late                             bool
	Bar                              template.HTML
	PlannedTitle, CurrentTitle, What string
}

// mostActivities is how many rows the sheet lists; the timeline has all.
const mostActivities = 1000

// activities writes the activities with a bar over the time of all of them.
func (p *Page) activities() {
	s := p.Sheet
	span := float64(s.End - s.Begin)
	at := func(d calendar.Date) float64 {
		if span <= 0 {
			return 0
		}
		return float64(d-s.Begin) / span
	}
	pair := func(x [2]calendar.Date, milestone bool) [2]float64 {
		if x[0] == 0 && milestone {
			x[0] = x[1]
		}
		if x[0] == 0 || x[1] == 0 {
			return [2]float64{1, 0}
		}
		return [2]float64{at(x[0]), at(x[1])}
	}
	for i, a := range s.Activities {
		if i == mostActivities {
			p.Left = len(s.Activities) - i
			break
		}
		r := ActivityRow{
			Code:      a.Code,
			Name:      a.Name,
			Owner:     a.Owner,
			Depth:     a.Depth,
			Summary:   a.Kind == portfolio.Summary,
			Milestone: a.Kind == portfolio.Milestone,
			Late:      a.Late,
		}
		r.Planned, r.Current = tell.Date(a.Planned[1]), tell.Date(a.Current[1])
		r.PlannedTitle, r.CurrentTitle = between(a.Planned), between(a.Current)
		r.Actual, r.Percent, r.Slip = tell.Dash, tell.Dash, tell.Dash
		switch {
		case a.Done != 0:
			r.Actual = "done " + tell.Date(a.Done)
		case a.Began != 0:
			r.Actual = "since " + tell.Date(a.Began)
		}
		if !math.IsNaN(a.Percent) {
			r.Percent = fmt.Sprintf("%.0f%%", a.Percent)
		}
		if a.HasSlip {
			r.Slip = tell.Signed(a.Slip) + " d"
		}
		class := ""
		if r.Summary {
			class = "summary"
		}
		done := a.Percent / 100
		if math.IsNaN(done) {
			done = 0
		}
		if a.Kind == portfolio.Milestone && a.Done != 0 {
			done = 1
		}
		r.Bar = chart.Span(pair(a.Planned, r.Milestone), pair(a.Current, r.Milestone), done, at(s.Last), class).SVG()
		p.Activities = append(p.Activities, r)
	}
}

func between(x [2]calendar.Date) string {
	if x[0] == 0 || x[1] == 0 || x[0] == x[1] {
		return tell.Date(max(x[0], x[1]))
	}
	return tell.Date(x[0]) + " to " + tell.Date(x[1])
}

// Milestone is a milestone as it stands.
type Milestone struct {
	Code, Name, Level, Baseline, Current, Slip string
	State                                      string
	Raised, Bad                                bool
}

func (p *Page) milestones() {
	for _, m := range p.Sheet.Milestones {
		state := string(m.State)
		if m.State == dates.Unknown {
			state = "no baseline or no date"
		}
		p.Milestones = append(
			p.Milestones,
			Milestone{
				m.Code,
				m.Name,
				m.Level,
				tell.Date(m.Baseline),
				tell.Date(m.Current),
				tell.Signed(m.Slip) + " d",
				state,
				m.Raised,
				m.State == dates.Missed,
			},
		)
	}
}

// Risk is a risk or issue in force.
type Risk struct{ Code, Title, Kind, State, Score, Owner, Response string }

// risks lists risks, and lays the open ones out by likelihood and impact.
func (p *Page) risks() {
	var placed []tell.Placed
	for _, r := range p.Sheet.Risks {
		score := tell.Dash
		if r.Likelihood > 0 && r.Impact > 0 {
			score = fmt.Sprintf("%d × %d = %d", r.Likelihood, r.Impact, r.Likelihood*r.Impact)
			if r.State != "closed" {
				placed = append(placed, tell.Placed{Code: r.Code, Likelihood: r.Likelihood, Impact: r.Impact})
			}
		}
		p.Risks = append(p.Risks, Risk{r.Code, r.Title, r.Kind, r.State, score, r.Owner, r.Response})
	}
	p.Matrix = tell.Matrix(placed)
}
