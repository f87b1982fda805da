// Package rollup adds projects up to groups: programmes at any depth, the
// portfolio, or any filter. Sums are sums of the parts' figures in the
// reporting currency; indices and estimates are computed from the sums.
package rollup

import (
	"slices"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// Part is a project of a group: its figures in the reporting currency and its
// standing.
type Part struct {
	Project *portfolio.Project
	Eval    *figure.Eval // of which all entries are computed at its own period
	Result  *standing.Result
	Asked   sync.Locker // held while it is asked of earlier periods; nil: nobody else does
}

// at gives a figure of a part. What is computed already is read by many at once.
func (p *Part) at(id figure.ID, q calendar.Period) figure.Value {
	if q != p.Eval.Period && p.Asked != nil {
		p.Asked.Lock()
		defer p.Asked.Unlock()
	}
	return p.Eval.At(id, q)
}

// plan gives the plan of what a part earns value on.
func (p *Part) plan() (earned.Series, string) {
	if p.Asked != nil {
		p.Asked.Lock()
		defer p.Asked.Unlock()
	}
	return p.Eval.Subject.Plan()
}

// Group is a group as a subject of figures.
type Group struct {
	Parts   []Part              // what counts
	Own     []portfolio.Funding // that is authorised for the group itself, beside its parts'
	LeftOut []LeftOut           // what cannot
	office  *portfolio.Office
	policy  standing.Policy
	day     calendar.Date
	plan    *earned.Series
	sums    map[sumKey]sum
	highest map[figure.ID]highest
	weights map[standing.Dimension]*standing.Weights
	was     *Group // the same group before few of its parts changed, while it is evaluated
	changed []Change
}

// LeftOut is a part that the group could not count, and why.
type LeftOut struct {
	Code string
	Why  string
}

// New gathers a group from its projects: cancelled and proposed ones are left
// out in silence, those without a plan or a rate with their reason. The policy
// says how their standings combine.
func New(o *portfolio.Office, policy standing.Policy, day calendar.Date, parts []Part) *Group {
	g := &Group{office: o, policy: policy, day: day}
	for _, p := range parts {
		if why, counts := p.counts(day); counts {
			g.Parts = append(g.Parts, p)
		} else if why != "" {
			g.LeftOut = append(g.LeftOut, LeftOut{p.Project.Code, why})
		}
	}
	return g
}

// counts tells whether a group counts a part; why it is left out, or "" for in
// silence.
func (p *Part) counts(day calendar.Date) (why string, ok bool) {
	if st := p.Project.StateAt(day); st == portfolio.Cancelled || st == portfolio.Proposed {
		return "", false
	}
	if v := p.Eval.Get(figure.BAC); !v.Known {
		return v.Why, false
	}
	if v := p.Eval.Get(figure.AC); !v.Known {
		return v.Why, false
	}
	return "", true
}

// Eval begins the evaluation of a group's figures.
func (g *Group) Eval(p calendar.Period) *figure.Eval {
	return figure.New(g, p, g.office.Reporting, g.office.Periods)
}

// Change is a part as it was and as it is.
type Change struct{ Was, Is Part }

// FewChanges are so few that a group that follows another is quicker than a new one.
const FewChanges = 16

// Follow gives the group after few of its parts changed, which begins with what this
// one added up; nil where one of them does not count, before or after.
func (g *Group) Follow(changes []Change) *Group {
	out := &Group{
		Parts: slices.Clone(g.Parts), LeftOut: g.LeftOut, Own: g.Own,
		office: g.office, policy: g.policy, day: g.day, was: g, changed: changes,
	}
	for i := range changes {
		c := &changes[i]
		at := slices.IndexFunc(g.Parts, func(p Part) bool { return p.Eval == c.Was.Eval })
		if _, counts := c.Is.counts(g.day); !counts || at < 0 {
			return nil
		}
		out.Parts[at] = c.Is
	}
	return out
}

// Settle ends what Follow began, so that no group keeps those before it.
func (g *Group) Settle() { g.was, g.changed = nil, nil }

// IsGroup is true.
func (g *Group) IsGroup() bool { return true }

// Done tells that all of the plan is earned.
func (g *Group) Done(e *figure.Eval) bool {
	bac, ev := e.Get(figure.BACEarned), e.Get(figure.EV)
	return bac.Known && ev.Known && bac.N == ev.N
}

// earns tells whether a part's earned value is known.
func earns(p *Part) bool { return p.Eval.Get(figure.EV).Known }

// Base gives the entries that are made of the parts.
func (g *Group) Base(e *figure.Eval, id figure.ID, q calendar.Period) figure.Value {
	switch id {
	case figure.BAC, figure.PV, figure.AC, figure.EACComputed, figure.AtStake, figure.Errors, figure.Warnings:
		return g.sum(id, q, all)
	case figure.EV, figure.BACEarned, figure.PVEarned, figure.ACEarned:
		return g.sum(id, q, earning)
	case figure.NPV, figure.YearPlan, figure.YearOutlook, figure.IncomePlan, figure.Income, figure.OnOrder, figure.ACFromPlan:
		return g.sum(id, q, knowing)
	case figure.IncomeStated:
		return g.sum(id, q, earningIncome)
	case figure.EACStated:
		return g.stated(all)
	case figure.Funded:
		return g.funded(q)
	case figure.EACStatedEarned:
		return g.stated(earning)
	case figure.EarnedShare:
		ev, bac := e.At(figure.EV, q), e.Get(figure.BACEarned)
		if !ev.Known {
			return ev
		}
		return share(ev.N, bac.N)
	case figure.StatedShare:
		stated := g.sum(figure.BAC, q, stating)
		bac := e.Get(figure.BAC)
		if !bac.Known {
			return bac
		}
		return share(stated.N, bac.N)
	case figure.FinishPlanned, figure.FinishStated:
		return g.latest(id, own)
	case figure.FinishComputed, figure.FinishNetwork, figure.FinishStretched:
		return g.latest(id, func(p *Part, id figure.ID) figure.Value {
			if p.Eval.Subject.Done(p.Eval) {
				return p.Eval.Get(figure.FinishStated)
			}
			return p.Eval.Get(id)
		})
	case figure.FinishSlip:
		planned, stated := e.Get(figure.FinishPlanned), e.Get(figure.FinishStated)
		if !planned.Known || !stated.Known {
			return figure.Value{Why: "planned or stated finish is not known"}
		}
		return figure.Value{
			Known: true,
			N:     int64(g.office.CalendarOf("").Slip(calendar.Date(planned.N), calendar.Date(stated.N))),
		}
	case figure.FloatLeast:
		return g.least(id)
	case figure.Critical, figure.NearCritical, figure.LinksBroken, figure.Conflicts:
		return g.sum(id, q, knowing)
	case figure.RiskExposure, figure.StatementAge, figure.ForecastAge, figure.MilestoneSlip:
		return g.latest(id, own)
	}
	return figure.Value{Why: "it belongs to projects"}
}

func share(a, b int64) figure.Value {
	if b == 0 {
		return figure.Value{Why: "the plan is zero"}
	}
	return figure.Value{Known: true, R: exact.Of(a, b)}
}

// Plan sums the cumulative plans of the parts with earned value.
func (g *Group) Plan() (earned.Series, string) {
	switch {
	case g.plan != nil:
	case g.was != nil && g.was.plan != nil && !slices.ContainsFunc(g.changed, Change.replans):
		g.plan = g.was.plan
	default:
		g.plan = g.sumPlans()
	}
	if len(g.plan.Cum) == 0 {
		return *g.plan, "none of its parts has earned value"
	}
	return *g.plan, ""
}

func (g *Group) sumPlans() *earned.Series {
	var out earned.Series
	var last calendar.Period
	var all []earned.Series
	for i := range g.Parts {
		p := &g.Parts[i]
		if !earns(p) {
			continue
		}
		s, why := p.plan()
		if why != "" || len(s.Cum) == 0 {
			continue
		}
		end := s.First + calendar.Period(len(s.Cum)) - 1
		if len(all) == 0 {
			out.First, last = s.First, end
		}
		out.First, last = min(out.First, s.First), max(last, end)
		all = append(all, s)
	}
	if len(all) == 0 {
		return &out
	}
	out.Cum = make([]int64, last-out.First+1)
	for _, s := range all {
		for i := range out.Cum {
			out.Cum[i] += s.At(out.First + calendar.Period(i))
		}
	}
	return &out
}

// Facts lists what each part adds.
func (g *Group) Facts(e *figure.Eval, id figure.ID, q calendar.Period) []figure.Fact {
	var out []figure.Fact
	for i := range g.Parts {
		p := &g.Parts[i]
		v := p.at(id, q)
		f := figure.Fact{Scope: p.Project.Code, What: p.Project.Code + " " + p.Project.Name, Value: v}
		if id == figure.EACStated && !v.Known {
			f.Value, f.Detail = p.Eval.Get(figure.EACComputed), "states none: its computed outlook counts"
		}
		out = append(out, f)
	}
	if id == figure.Funded {
		out = append(out, figure.FundingFacts(g.office, g.Own, e.Currency, e.Period)...)
	}
	for _, l := range g.LeftOut {
		out = append(
			out,
			figure.Fact{What: l.Code, Detail: "left out", Value: figure.Unknown(figure.Get(id).Unit, l.Why)},
		)
	}
	return out
}

// Standing combines the standings of the parts, per dimension and overall, by
// the policy in force; what each weighs is its plan.
func (g *Group) Standing(d standing.Dimension) standing.Standing {
	return g.policy.Combine(g.weigh(d))
}

// Count gives how many parts stand at each standing of a dimension.
func (g *Group) Count(d standing.Dimension) [4]int { return g.weigh(d).Count() }
