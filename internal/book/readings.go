package book

import (
	"context"
	"slices"
	"sync"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/rollup"
	"turret/internal/core/standing"
)

// Reading is every figure of one project or group at a period, with its
// standing.
type Reading struct {
	Group    bool
	Code     string // "*" is the whole portfolio
	Name     string
	Parent   string // the programme above
	Lead     string
	Sponsor  string
	Stage    string
	State    portfolio.State
	Currency money.Currency
	Values   []figure.Value // by figure.ID
	Terms    []figure.Term
	Standing standing.Table // by dimension, with overrides
	Computed standing.Table
	Why      string // why overall is Unrated
	Reasons  []standing.Reason
	Override []portfolio.Override // in force
	Stated   standing.Standing
	HasSaid  bool // a standing was stated
	LeftOut  []rollup.LeftOut
	Counts   [4]int // parts by overall standing
	Next     Next
	Findings []finding.Finding // of a project, the worst first
	Version  string            // of the rule set
}

// Next is the raised milestone of what runs that comes next.
type Next struct {
	Name string
	Date calendar.Date // as stated; past where nobody has said a new one
	Slip int
}

// Said names the milestone as of the last day of a period: one whose day has come and that
// is not met was missed.
func (n Next) Said(day calendar.Date) string {
	if n.Name != "" && n.Date <= day {
		return n.Name + ", missed"
	}
	return n.Name
}

// Value gives one figure.
func (r *Reading) Value(id figure.ID) figure.Value { return r.Values[id] }

// Disagrees tells that the lead states better than the figures say.
func (r *Reading) Disagrees() bool {
	x := standing.Result{Computed: r.Computed, HasStated: r.HasSaid, Stated: r.Stated}
	return x.Disagrees()
}

// Readings are the readings of every project, programme and the portfolio.
type Readings struct {
	Period    calendar.Period
	Against   portfolio.Against
	Reporting bool // all in the reporting currency; else projects in their own
	Rows      []*Reading
	Rules     *standing.Set // that they were rated by; nil for those of a cut
	once      sync.Once
	projects  map[string]*Reading // once one of them is asked for
	groups    map[string]*Reading
}

// index finds readings by code. Rows do not change any more.
func (r *Readings) index() { r.once.Do(r.sortOut) }

func (r *Readings) sortOut() {
	r.projects, r.groups = make(map[string]*Reading, len(r.Rows)), make(map[string]*Reading)
	for _, x := range r.Rows {
		if x.Group {
			r.groups[x.Code] = x
		} else {
			r.projects[x.Code] = x
		}
	}
}

// Project gives the reading of a project, or nil.
func (r *Readings) Project(code string) *Reading {
	r.index()
	return r.projects[code]
}

// Group gives the reading of a programme, or of "*"; nil where there is none.
func (r *Readings) Group(code string) *Reading {
	r.index()
	return r.groups[code]
}

// Live computes the readings of a period from the inputs as they stand now.
func (s *Snapshot) Live(
	ctx context.Context,
	p calendar.Period,
	against portfolio.Against,
	reporting bool,
) (*Readings, error) {
	key := readingsKey{s.memo.id, p, against, reporting}
	return cache.Get(ctx, s.memo.cache, key, func(ctx context.Context) (*Readings, error) {
		parts, err := s.everyPart(ctx, p, against)
		if err != nil {
			return nil, err
		}
		return s.readings(ctx, key, parts)
	})
}

// everyPart evaluates all projects, in the order of Projects.
func (s *Snapshot) everyPart(ctx context.Context, p calendar.Period, against portfolio.Against) ([]*computed, error) {
	key := partsKey{s.memo.id, p, against}
	return cache.Get(ctx, s.memo.cache, key, func(ctx context.Context) ([]*computed, error) {
		return s.evaluate(ctx, s.everyPlace(), p, against)
	})
}

// readings gives those of projects that are evaluated, and of all groups.
func (s *Snapshot) readings(ctx context.Context, key readingsKey, parts []*computed) (*Readings, error) {
	out := &Readings{Period: key.period, Against: key.against, Reporting: key.reporting}
	which := 0
	if key.reporting {
		which = 1
	}
	for _, c := range parts {
		out.Rows = append(out.Rows, c.readings[which])
	}
	var err error
	if out.Rules, err = s.set(ctx, key.period); err != nil {
		return nil, err
	}
	kept, err := cache.Get(
		ctx,
		s.memo.cache,
		groupsKey{s.memo.judging, key.period, key.against},
		func(context.Context) (*groups, error) {
			return &groups{by: make(map[string]grouped)}, nil
		},
	)
	if err != nil {
		return nil, err
	}
	all := append(slices.Clone(s.Office.Groups), portfolio.Programme{Code: "*", Name: "portfolio"})
	rows := make([]*Reading, len(all))
	err = parallel(ctx, len(all), func(ctx context.Context, k int) error {
		i := len(all) - 1 - k // what takes longest first
		var err error
		rows[i], err = s.group(ctx, kept, &all[i], key, parts)
		return err
	})
	if err != nil {
		return nil, err
	}
	out.Rows = append(out.Rows, rows...)
	return out, nil
}

// Against reads one project at a period against a baseline, which need not be
// approved; nil where there is no such project.
func (s *Snapshot) Against(
	ctx context.Context,
	code string,
	p calendar.Period,
	against portfolio.Against,
	reporting bool,
) (*Reading, error) {
	i := slices.IndexFunc(s.Projects(), func(x *portfolio.Project) bool { return x.Code == code })
	if i < 0 {
		return nil, nil
	}
	list, err := s.evaluate(ctx, []int{i}, p, against)
	if err != nil {
		return nil, err
	}
	if reporting {
		return list[i].readings[1], nil
	}
	return list[i].readings[0], nil
}

// View gives a project as it is known at a period against a baseline; nil where
// there is no such project.
func (s *Snapshot) View(
	ctx context.Context,
	code string,
	p calendar.Period,
	against portfolio.Against,
) (*portfolio.View, error) {
	if err := s.fill(ctx); err != nil {
		return nil, err
	}
	pr := s.Project(code)
	if pr == nil {
		return nil, nil
	}
	full, err := s.whole(ctx, pr, p)
	if err != nil {
		return nil, err
	}
	return portfolio.At(s.Office, full, p, against), nil
}

func projectReading(p *portfolio.Project, day calendar.Date, e *figure.Eval, c *computed) *Reading {
	r := &Reading{
		Code: p.Code, Name: p.Name, Parent: p.Programme, Lead: p.Lead, Sponsor: p.Sponsor, Stage: p.Stage, State: p.StateAt(day), Currency: e.Currency,
		Values: e.Values(), Terms: e.Terms(), Standing: c.result.Standing, Computed: c.result.Computed, Why: c.result.Why, Reasons: c.result.Reasons,
		Override: c.result.Overrides, Stated: c.result.Stated, HasSaid: c.result.HasStated, Next: c.next, Findings: c.findings, Version: c.result.Version,
	}
	return r
}

// members lists the places of a group's parts: a programme with all below it,
// or "*".
func (s *Snapshot) members(ctx context.Context, code string) ([]int, error) {
	return cache.Get(ctx, s.memo.cache, placesKey{s.memo.figures, code}, func(context.Context) ([]int, error) {
		var out []int
		for i, pr := range s.Projects() {
			if code == "*" || s.Office.Under(pr.Programme, code) {
				out = append(out, i)
			}
		}
		return out, nil
	})
}

func (s *Snapshot) rollup(set *standing.Set, p calendar.Period, parts []*computed) *rollup.Group {
	list := make([]rollup.Part, len(parts))
	for i, c := range parts {
		list[i] = c.part()
	}
	return rollup.New(s.Office, set.Groups, s.Office.Periods.Last(p), list)
}

// part is what groups count of a project.
func (c *computed) part() rollup.Part {
	return rollup.Part{Project: c.project, Eval: c.reporting, Result: c.result, Asked: c.asked}
}

// follow gives a group after few of its parts changed; nil where they are other
// ones, or many.
func (was *grouped) follow(now []*computed) *rollup.Group {
	if was.group == nil || len(was.parts) != len(now) {
		return nil
	}
	var changes []rollup.Change
	for i, c := range was.parts {
		if c == now[i] {
			continue
		}
		if len(changes) == rollup.FewChanges || c.project.ID != now[i].project.ID {
			return nil
		}
		changes = append(changes, rollup.Change{Was: c.part(), Is: now[i].part()})
	}
	return was.group.Follow(changes)
}

// group reads a group, again only where one of its parts has changed.
func (s *Snapshot) group(
	ctx context.Context,
	kept *groups,
	of *portfolio.Programme,
	key readingsKey,
	parts []*computed,
) (*Reading, error) {
	places, err := s.members(ctx, of.Code)
	if err != nil {
		return nil, err
	}
	set, err := s.set(ctx, key.period)
	if err != nil {
		return nil, err
	}
	made := picked(parts, places)
	was, ok := kept.get(of.Code)
	if ok && slices.Equal(was.parts, made) {
		return was.reading, nil
	}
	g := was.follow(made)
	if g == nil {
		g = s.rollup(set, key.period, made)
		g.Own = s.ownFunding(of.Code)
	}
	r := s.groupReading(set, g, key.period, made)
	g.Settle()
	r.Code, r.Name, r.Parent = of.Code, of.Name, of.Parent
	kept.put(of.Code, grouped{made, g, r})
	return r, nil
}

// picked gives those at some places.
func picked(all []*computed, places []int) []*computed {
	out := make([]*computed, len(places))
	for k, i := range places {
		out[k] = all[i]
	}
	return out
}

// groupReading reads a group whose parts are evaluated.
func (s *Snapshot) groupReading(set *standing.Set, g *rollup.Group, p calendar.Period, parts []*computed) *Reading {
	e := g.Eval(p)
	e.All()
	r := &Reading{
		Group:    true,
		Currency: s.Office.Reporting,
		Values:   e.Values(),
		Terms:    e.Terms(),
		LeftOut:  g.LeftOut,
		Counts:   g.Count(standing.Overall),
	}
	r.Version = set.Version
	for _, d := range set.Dimensions() {
		r.Standing[d] = g.Standing(d)
	}
	r.Computed = r.Standing
	i := 0
	for k := range g.Parts { // in the order of parts
		for parts[i].reporting != g.Parts[k].Eval {
			i++
		}
		if next := parts[i].next; next.Date != 0 && (r.Next.Date == 0 || next.Date < r.Next.Date) {
			r.Next = next
		}
	}
	return r
}
