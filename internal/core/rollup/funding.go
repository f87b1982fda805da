package rollup

import (
	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/figure"
	"turret/internal/core/funding"
	"turret/internal/core/money"
)

// funded adds the group's own money to that of its parts; those without any add nothing.
func (g *Group) funded(q calendar.Period) figure.Value {
	parts := g.sum(figure.Funded, q, knowing)
	if len(g.Own) == 0 {
		if !parts.Known {
			return figure.Value{Why: figure.NotFunded}
		}
		return parts
	}
	own, why := funding.Authorised(g.office, g.Own, g.office.Reporting, q)
	if why != "" {
		return figure.Value{Why: why}
	}
	n, ok := money.Add(own.Total(), parts.N)
	if !ok {
		return figure.Value{Why: "the sum is beyond 64 bits"}
	}
	return figure.Value{Known: true, N: n}
}

// Authorised gives the money of the group and its parts, by period.
func (g *Group) Authorised(e *figure.Eval) (earned.Series, string) {
	if v := e.Get(figure.Funded); !v.Known {
		return earned.Series{}, v.Why
	}
	out, why := funding.Authorised(g.office, g.Own, g.office.Reporting, e.Period)
	if why != "" {
		return earned.Series{}, why
	}
	return g.courses(out, func(p *Part) (earned.Series, string) {
		if !p.Eval.Get(figure.Funded).Known {
			return earned.Series{}, ""
		}
		return p.Eval.Subject.(figure.Spender).Authorised(p.Eval)
	})
}

// Course gives the cost of all parts, booked and to come.
func (g *Group) Course(*figure.Eval) (earned.Series, string) {
	return g.courses(earned.Series{}, func(p *Part) (earned.Series, string) {
		return p.Eval.Subject.(figure.Spender).Course(p.Eval)
	})
}

// courses adds the courses of parts to one; why one of them is not known, or "".
func (g *Group) courses(out earned.Series, of func(*Part) (earned.Series, string)) (earned.Series, string) {
	for i := range g.Parts {
		p := &g.Parts[i]
		if p.Asked != nil {
			p.Asked.Lock()
		}
		s, why := of(p)
		if p.Asked != nil {
			p.Asked.Unlock()
		}
		if why != "" {
			return earned.Series{}, p.Project.Code + ": " + why
		}
		var ok bool
		if out, ok = out.Plus(s); !ok {
			return earned.Series{}, "the sum is beyond 64 bits"
		}
	}
	return out, ""
}
