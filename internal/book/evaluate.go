package book

import (
	"context"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/dates"
	"turret/internal/core/earned"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/network"
	"turret/internal/core/portfolio"
)

// evaluate evaluates projects, each at its place in Projects; the other places
// stay nil.
func (s *Snapshot) evaluate(
	ctx context.Context,
	places []int,
	p calendar.Period,
	against portfolio.Against,
) ([]*computed, error) {
	if s.full != nil {
		return s.evaluateSeen(ctx, places, p, against)
	}
	return s.evaluateHere(ctx, places, p, against)
}

// evaluateHere is evaluate with what is stated in this very snapshot.
func (s *Snapshot) evaluateHere(
	ctx context.Context,
	places []int,
	p calendar.Period,
	against portfolio.Against,
) ([]*computed, error) {
	if err := s.fill(ctx); err != nil {
		return nil, err
	}
	j, err := s.judge(ctx, p)
	if err != nil {
		return nil, err
	}
	projects := s.Projects()
	var webs []*figure.Web
	k, err := s.knots(ctx)
	if err != nil {
		return nil, err
	}
	need := places
	if s.full == nil {
		need = k.whole(places)
	}
	evals, err := s.evals(ctx, need, p, against)
	if err != nil {
		return nil, err
	}
	if s.full == nil { // of what is read in part, dates of others would be missing
		if webs, err = s.webs(ctx, k, places, evals, p, against); err != nil {
			return nil, err
		}
	} else {
		webs = make([]*figure.Web, len(projects))
	}
	known, err := tableOf[*computed](ctx, s.memo, computedKey{s.memo.judging, p, against})
	if err != nil {
		return nil, err
	}
	out := make([]*computed, len(projects))
	todo := known.each(projects, places, out)
	for _, i := range places {
		if out[i] != nil && out[i].told != toldBy(webs[i]) { // what it is linked with moved its dates
			out[i] = nil
			todo = append(todo, i)
		}
	}
	made := make([]*portfolio.Project, len(todo))
	err = parallel(ctx, len(todo), func(ctx context.Context, k int) (err error) {
		i := todo[k]
		made[k] = projects[i]
		out[i], err = s.compute(ctx, j, evals[i], webs[i], projects[i], p)
		return err
	})
	if err != nil {
		return nil, err
	}
	known.put(s, made, func(k int) *computed { return out[todo[k]] })
	return out, nil
}

// toldBy is what a network tells of a project; nothing where there is none.
func toldBy(w *figure.Web) network.Told {
	if w == nil {
		return network.Told{}
	}
	return w.Told
}

// compute checks the data of a project whose figures are known, with what the network of
// all projects tells of it, and rates it.
func (s *Snapshot) compute(
	ctx context.Context,
	j *judge,
	ev *evaluated,
	web *figure.Web,
	pr *portfolio.Project,
	p calendar.Period,
) (*computed, error) {
	outside, err := j.outside(ctx, s, pr, p)
	if err != nil {
		return nil, err
	}
	outside.Web = web
	ev.asked.Lock() // others judge the same, or add it up
	defer ev.asked.Unlock()
	c := &computed{project: pr, told: toldBy(web)}
	if s.full == nil { // of what is read in part, checks would find that the rest is missing
		c.findings = j.check(pr.Code, ev.own, outside)
	}
	found := finding.Found(c.findings)
	c.evaluated = evaluated{asked: ev.asked, own: ev.own.Judge(found, web), reporting: ev.reporting, next: ev.next}
	if c.reporting = c.own; ev.reporting != ev.own {
		c.reporting = ev.reporting.Judge(found, web)
	}
	c.result = j.set.Rate(c.own)
	day := s.Office.Periods.Last(p)
	c.readings[0] = projectReading(pr, day, c.own, c)
	c.readings[1] = c.readings[0]
	if c.reporting != c.own {
		c.readings[1] = projectReading(pr, day, c.reporting, c)
	}
	return c, nil
}

// figures evaluates a project whose lines are loaded.
func (s *Snapshot) figures(full *portfolio.Project, p calendar.Period, against portfolio.Against) *evaluated {
	progress := earned.NewProgress(portfolio.At(s.Office, full, p, against))
	ev := &evaluated{asked: new(sync.Mutex), own: figure.OfProject(progress)}
	ev.own.All()
	ev.reporting = ev.own
	if full.Currency != s.Office.Reporting {
		ev.reporting = ev.own.In(s.Office.Reporting)
		ev.reporting.All()
	}
	if m, ok := dates.NextRaised(progress.View); ok && full.StateAt(progress.View.Day) == portfolio.Active {
		ev.next = Next{full.Activities[m.Activity].Name, m.Current, m.Slip}
	}
	return ev
}
