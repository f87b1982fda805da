package office

import (
	"cmp"
	"context"
	"maps"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/forecast"
	"turret/internal/core/standing"
	"turret/internal/right"
)

// Row is a project of a list, or a group with what was asked of it.
type Row struct {
	Group  bool
	Key    string // what a group is folded by
	Depth  int
	Folded bool
	Shown  int // projects below a group that the filter wants
	Scope  string
	Filter Filter // of a group's trail, with its scope
	Now    *Reading
	Before *Reading // of the compared period, or nil
}

// List is a scope's projects under a filter.
type List struct {
	Rows   []Row
	Total  Row
	All    int      // projects in scope
	Counts [4]int   // by overall standing, of all in scope
	Apart  int      // projects in scope that disagree
	Codes  []string // of the projects that the filter wants, in order
	Leads  []string // in scope
	Stages []string
	States []string
}

// List arranges the projects of a moment.
func (o *Office) List(ctx context.Context, a right.Actor, m *Moment, order Order) (*List, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	l := &lister{ctx: ctx, o: o, m: m, order: order, out: &List{}}
	if strings.TrimPrefix(order.Sort, "-") == ErrorColumn {
		var err error
		if l.errors, err = o.ForecastErrors(ctx, a, m, ErrorAhead); err != nil {
			return nil, err
		}
	}
	l.keys = m.now
	if m.InProject { // amounts in several currencies have no order
		var err error
		if l.keys, err = o.book.Readings(ctx, m.snap, m.Period.period, m.Against, true); err != nil {
			return nil, err
		}
	}
	var list []*Reading
	for _, r := range m.now.Rows {
		if r.Group || !m.inScope(r) {
			continue
		}
		l.count(r)
		if m.Filter.wants(r) {
			list = append(list, r)
		}
	}
	l.sort(list)
	var err error
	if l.out.Total, err = l.group("*", m.Scope.Code, "", m.Filter, list, 0); err != nil {
		return nil, err
	}
	switch order.Group {
	case "none":
		l.codes(list)
		l.add(list, 0)
	case "lead":
		err = l.by(list, func(r *Reading) string { return r.Lead }, func(f *Filter, v string) { f.Lead = v })
	case "stage":
		err = l.by(list, func(r *Reading) string { return r.Stage }, func(f *Filter, v string) { f.Stage = v })
	default:
		err = l.tree(list, m.Scope.Code, 0)
	}
	slices.Sort(l.out.Leads)
	slices.Sort(l.out.Stages)
	slices.Sort(l.out.States)
	return l.out, err
}

type lister struct {
	ctx   context.Context
	o     *Office
	m     *Moment
	order Order
	keys  *book.Readings // what rows are sorted by
	out   *List

	errors map[string]forecast.Summary // of forecasts, where rows are sorted by them
}

func (l *lister) count(r *Reading) {
	l.out.All++
	l.out.Counts[r.Standing[standing.Overall]]++
	if r.Disagrees() {
		l.out.Apart++
	}
	for _, x := range [...]struct {
		list *[]string
		v    string
	}{{&l.out.Leads, r.Lead}, {&l.out.Stages, r.Stage}, {&l.out.States, string(r.State)}} {
		if x.v != "" && !slices.Contains(*x.list, x.v) {
			*x.list = append(*x.list, x.v)
		}
	}
}

// add lists projects.
func (l *lister) add(list []*Reading, depth int) {
	for _, r := range list {
		row := Row{Depth: depth, Scope: r.Code, Now: r}
		if l.m.before != nil {
			row.Before = l.m.before.Project(r.Code)
		}
		l.out.Rows = append(l.out.Rows, row)
	}
}

// group makes the row of a group: a programme's own reading where all of it is
// wanted, else that of the set.
func (l *lister) group(scope, code, name string, f Filter, list []*Reading, depth int) (Row, error) {
	if scope == "*" && code != "" {
		scope = code
	}
	row := Row{Group: true, Key: scope, Depth: depth, Scope: scope, Filter: f, Shown: len(list)}
	if f.Empty() {
		row.Now = l.m.now.Group(scope)
		if l.m.before != nil {
			row.Before = l.m.before.Group(scope)
		}
		return row, nil
	}
	codes := make([]string, len(list))
	for i, r := range list {
		codes[i] = r.Code
	}
	now, err := l.o.book.Set(l.ctx, l.m.snap, codes, l.m.Period.period, l.m.Against)
	if err != nil {
		return row, err
	}
	if l.m.before != nil {
		if row.Before, err = l.o.book.Set(l.ctx, l.m.snap, codes, l.m.Vs.period, l.m.Against); err != nil {
			return row, err
		}
	}
	named := *now
	named.Code, named.Name = scope, name
	row.Now = &named
	return row, nil
}

// tree lists the projects of a programme and then each programme below it with
// its own, those of no programme last.
func (l *lister) tree(list []*Reading, parent string, depth int) error {
	var own []*Reading
	for _, r := range list {
		if p := r.Parent; p == parent || parent == "" && l.m.now.Group(p) == nil {
			own = append(own, r)
		}
	}
	if parent != "" {
		l.codes(own)
		l.add(own, depth)
	}
	var below []Row
	parts := make(map[string][]*Reading)
	for _, g := range l.m.now.Rows {
		if !g.Group || g.Code == "*" || g.Parent != parent && (parent != "" || l.m.now.Group(g.Parent) != nil && g.Parent != "*") {
			continue
		}
		var some []*Reading
		for _, r := range list {
			if within(l.m.now, r, g.Code) {
				some = append(some, r)
			}
		}
		if len(some) == 0 && !l.m.Filter.Empty() {
			continue
		}
		row, err := l.group(g.Code, "", g.Name, l.m.Filter, some, depth)
		if err != nil {
			return err
		}
		below, parts[g.Code] = append(below, row), some
	}
	l.sortGroups(below)
	for _, row := range below {
		if row.Folded = slices.Contains(l.order.Fold, row.Key); row.Folded {
			l.codes(parts[row.Key])
			l.out.Rows = append(l.out.Rows, row)
			continue
		}
		l.out.Rows = append(l.out.Rows, row)
		if err := l.tree(parts[row.Key], row.Key, depth+1); err != nil {
			return err
		}
	}
	if parent == "" {
		l.codes(own)
		l.add(own, depth)
	}
	return nil
}

// codes notes the order of projects, folded away or not.
func (l *lister) codes(list []*Reading) {
	for _, r := range list {
		l.out.Codes = append(l.out.Codes, r.Code)
	}
}

// by lists projects under the values of an attribute.
func (l *lister) by(list []*Reading, of func(*Reading) string, narrow func(*Filter, string)) error {
	parts := make(map[string][]*Reading)
	for _, r := range list {
		parts[of(r)] = append(parts[of(r)], r)
	}
	var rows []Row
	for _, v := range slices.Sorted(maps.Keys(parts)) {
		f := l.m.Filter
		narrow(&f, cmp.Or(v, "-"))
		row, err := l.group("*", l.m.Scope.Code, cmp.Or(v, "None"), f, parts[v], 0)
		if err != nil {
			return err
		}
		row.Key = cmp.Or(v, "-")
		rows = append(rows, row)
	}
	l.sortGroups(rows)
	for _, row := range rows {
		row.Folded = slices.Contains(l.order.Fold, row.Key)
		l.out.Rows = append(l.out.Rows, row)
		some := parts[strings.TrimPrefix(row.Key, "-")]
		l.codes(some)
		if !row.Folded {
			l.add(some, 1)
		}
	}
	return nil
}
