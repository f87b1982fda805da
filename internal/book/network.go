package book

import (
	"context"
	"slices"
	"sync"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/network"
	"turret/internal/core/portfolio"
)

// knots part the projects of a snapshot into those that are linked with each other, near or
// far: what one of them states moves no date of another knot.
type knots struct {
	of   []int   // the knot of each place in Projects
	list [][]int // places by knot, in their order
}

type (
	knotsKey struct{ of *lineage } // the snapshot
	websKey  struct {
		of      *lineage // figures
		period  calendar.Period
		against portfolio.Against
	}
)

func (websKey) Weight() int { return 4 }

// knots finds what is linked with what.
func (s *Snapshot) knots(ctx context.Context) (*knots, error) {
	return cache.Get(ctx, s.memo.cache, knotsKey{s.memo.id}, func(context.Context) (*knots, error) {
		projects := s.Projects()
		root := make([]int, len(projects))
		at := make(map[string]int, len(projects))
		for i, p := range projects {
			root[i], at[p.Code] = i, i
		}
		find := func(i int) int {
			for root[i] != i {
				root[i] = root[root[i]]
				i = root[i]
			}
			return i
		}
		tie := func(i int, code string) {
			if j, ok := at[code]; ok {
				a, b := find(i), find(j)
				root[max(a, b)] = min(a, b)
			}
		}
		for i, p := range projects {
			for _, l := range p.Across {
				tie(i, l.Other)
			}
			for _, l := range p.Elsewhere {
				tie(i, l.From.Project)
				tie(i, l.To.Project)
			}
		}
		k := &knots{of: make([]int, len(projects))}
		for i := range projects {
			if r := find(i); r == i {
				k.of[i] = len(k.list)
				k.list = append(k.list, []int{i})
			} else { // the first of a knot is its root
				k.of[i] = k.of[r]
				k.list[k.of[i]] = append(k.list[k.of[i]], i)
			}
		}
		return k, nil
	})
}

// woven is the network of a knot, and what it tells of each of its projects.
type woven struct {
	projects []*portfolio.Project
	webs     []*figure.Web
}

// webs gives what the network tells of projects, by their places. Evals are those of all
// projects of their knots.
func (s *Snapshot) webs(ctx context.Context, k *knots, places []int, evals []*evaluated, p calendar.Period, against portfolio.Against) ([]*figure.Web, error) {
	kept, err := tableOf[*woven](ctx, s.memo, websKey{s.memo.figures, p, against})
	if err != nil {
		return nil, err
	}
	projects := s.Projects()
	var some []int // knots
	for _, i := range places {
		some = append(some, k.of[i])
	}
	slices.Sort(some)
	some = slices.Compact(some)
	made := make([]*woven, len(some))
	err = parallel(ctx, len(some), func(_ context.Context, n int) error {
		of := k.list[some[n]]
		first := projects[of[0]]
		if w, ok := kept.get(first); ok && slices.EqualFunc(of, w.projects, func(i int, p *portfolio.Project) bool { return projects[i] == p }) {
			made[n] = w
			return nil
		}
		made[n] = s.weave(projects, of, evals, p, against)
		kept.put(s, []*portfolio.Project{first}, func(int) *woven { return made[n] })
		return nil
	})
	if err != nil {
		return nil, err
	}
	out := make([]*figure.Web, len(projects))
	for n, w := range made {
		for j, i := range k.list[some[n]] {
			out[i] = w.webs[j]
		}
	}
	return out, nil
}

// weave makes the network of a knot.
func (s *Snapshot) weave(projects []*portfolio.Project, of []int, evals []*evaluated, p calendar.Period, against portfolio.Against) *woven {
	w := &woven{webs: make([]*figure.Web, len(of))}
	views := make([]*portfolio.View, len(of))
	stretch := make([]exact.Ratio, len(of))
	some := false
	for j, i := range of {
		w.projects = append(w.projects, projects[i])
		own := evals[i].own
		if views[j] = own.Subject.(*figure.Project).View; against != portfolio.Latest {
			views[j] = portfolio.At(s.Office, projects[i], p, portfolio.Latest)
		}
		stretch[j] = own.Stretch()
		some = some || stretch[j].Is()
	}
	net := sync.OnceValue(func() *network.Portfolio { return network.Of(views) })
	web := func(j int, told network.Told, plain bool) {
		w.webs[j] = &figure.Web{Told: told, Plain: plain, Net: net, View: j, Near: s.Office.NearCritical, By: stretch}
	}
	if len(of) == 1 {
		if told, plain := network.Alone(views[0], stretch[0], s.Office.NearCritical); plain {
			web(0, told, true)
			return w
		}
	}
	var stretched []calendar.Date
	if some {
		stretched = net().StretchedFinishes(stretch)
	}
	for j, told := range net().Tell(s.Office.NearCritical, stretched) {
		web(j, told, false)
	}
	return w
}

// Progress gives what projects have done at a period, by code: their views, and what is
// earned of their activities.
func (s *Snapshot) Progress(ctx context.Context, codes []string, p calendar.Period, against portfolio.Against) (map[string]*earned.Progress, error) {
	if err := s.fill(ctx); err != nil {
		return nil, err
	}
	places := s.placesOf(codes)
	evals, err := s.evals(ctx, places, p, against)
	if err != nil {
		return nil, err
	}
	out := make(map[string]*earned.Progress, len(places))
	for _, i := range places {
		out[s.Projects()[i].Code] = evals[i].own.Subject.(*figure.Project).Progress
	}
	return out, nil
}

// WebsOf gives what the network of all projects, whatever the reader sees, tells of some at
// a period, by code.
func (s *Snapshot) WebsOf(ctx context.Context, codes []string, p calendar.Period) (map[string]*figure.Web, error) {
	all := s.everything()
	if err := all.fill(ctx); err != nil {
		return nil, err
	}
	places := all.placesOf(codes)
	list, err := all.Webs(ctx, places, p, portfolio.Latest)
	if err != nil {
		return nil, err
	}
	out := make(map[string]*figure.Web, len(places))
	for _, i := range places {
		out[all.Projects()[i].Code] = list[i]
	}
	return out, nil
}

// Web gives what the network tells of a project at a period, of all projects whatever the
// reader sees; nil where there is no such project.
func (s *Snapshot) Web(ctx context.Context, code string, p calendar.Period) (*figure.Web, error) {
	list, err := s.WebsOf(ctx, []string{code}, p)
	return list[code], err
}

// Webs gives what the network tells of projects, by their places in Projects.
func (s *Snapshot) Webs(ctx context.Context, places []int, p calendar.Period, against portfolio.Against) ([]*figure.Web, error) {
	k, err := s.knots(ctx)
	if err != nil {
		return nil, err
	}
	evals, err := s.evals(ctx, k.whole(places), p, against)
	if err != nil {
		return nil, err
	}
	return s.webs(ctx, k, places, evals, p, against)
}

// whole gives the places of all that is linked with some.
func (k *knots) whole(places []int) []int {
	seen := make([]bool, len(k.list))
	var out []int
	for _, i := range places {
		if n := k.of[i]; !seen[n] {
			seen[n] = true
			out = append(out, k.list[n]...)
		}
	}
	return out
}

// evals gives the figures of projects, each at its place, before they are judged.
func (s *Snapshot) evals(ctx context.Context, places []int, p calendar.Period, against portfolio.Against) ([]*evaluated, error) {
	kept, err := tableOf[*evaluated](ctx, s.memo, evalsKey{s.memo.figures, p, against})
	if err != nil {
		return nil, err
	}
	projects := s.Projects()
	out := make([]*evaluated, len(projects))
	todo := kept.each(projects, places, out)
	made := make([]*portfolio.Project, len(todo))
	err = parallel(ctx, len(todo), func(ctx context.Context, k int) error {
		i := todo[k]
		made[k] = projects[i]
		full, err := s.whole(ctx, projects[i], p)
		if err != nil {
			return err
		}
		out[i] = s.figures(full, p, against)
		return nil
	})
	if err != nil {
		return nil, err
	}
	kept.put(s, made, func(k int) *evaluated { return out[todo[k]] })
	return out, nil
}
