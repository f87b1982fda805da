package board

import (
	"cmp"
	"context"
	"maps"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/forecast"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/weigh"
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
	Filter office.Filter // of a group's trail, with its scope
	Now    *office.Reading
	Before *office.Reading // of the compared period, or nil
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
func (o Room) List(ctx context.Context, a right.Actor, m *office.Moment, order Order) (*List, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	l := &lister{o: o, m: m, order: order, out: &List{}}
	if strings.TrimPrefix(order.Sort, "-") == weigh.ErrorColumn {
		var err error
		if l.errors, err = weigh.In(o.Office).ForecastErrors(ctx, a, m, weigh.ErrorAhead); err != nil {
			return nil, err
		}
	}
	l.keys = m.Readings()
	if m.InProject { // amounts in several currencies have no order
		var err error
		if l.keys, err = o.Book().Readings(ctx, m.Snapshot(), m.Period.Number, m.Against, true); err != nil {
			return nil, err
		}
	}
	var list []*office.Reading
	for _, r := range m.Readings().Rows {
		if r.Group || !m.InScope(r) {
			continue
		}
		l.count(r)
		if m.Filter.Wants(r) {
			list = append(list, r)
		}
	}
	l.sort(list)
	var err error
	if l.out.Total, err = l.group(ctx, "*", m.Scope.Code, "", m.Filter, list, 0); err != nil {
		return nil, err
	}
	switch order.Group {
	case "none":
		l.codes(list)
		l.add(list, 0)
	case "lead":
		err = l.by(
			ctx,
			list,
			func(r *office.Reading) string { return r.Lead },
			func(f *office.Filter, v string) { f.Lead = v },
		)
	case "stage":
		err = l.by(
			ctx,
			list,
			func(r *office.Reading) string { return r.Stage },
			func(f *office.Filter, v string) { f.Stage = v },
		)
	default:
		err = l.tree(ctx, list, m.Scope.Code, 0)
	}
	slices.Sort(l.out.Leads)
	slices.Sort(l.out.Stages)
	slices.Sort(l.out.States)
	return l.out, err
}

type lister struct {
	o     Room
	m     *office.Moment
	order Order
	keys  *book.Readings // what rows are sorted by
	out   *List

	errors map[string]forecast.Summary // of forecasts, where rows are sorted by them
}

func (l *lister) count(r *office.Reading) {
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
func (l *lister) add(list []*office.Reading, depth int) {
	for _, r := range list {
		row := Row{Depth: depth, Scope: r.Code, Now: r}
		if l.m.Compared() != nil {
			row.Before = l.m.Compared().Project(r.Code)
		}
		l.out.Rows = append(l.out.Rows, row)
	}
}

// group makes the row of a group: a programme's own reading where all of it is
// wanted, else that of the set.
func (l *lister) group(ctx context.Context, scope, code, name string, f office.Filter, list []*office.Reading, depth int) (Row, error) {
	if scope == "*" && code != "" {
		scope = code
	}
	row := Row{Group: true, Key: scope, Depth: depth, Scope: scope, Filter: f, Shown: len(list)}
	if f.Empty() {
		row.Now = l.m.Readings().Group(scope)
		if l.m.Compared() != nil {
			row.Before = l.m.Compared().Group(scope)
		}
		return row, nil
	}
	codes := make([]string, len(list))
	for i, r := range list {
		codes[i] = r.Code
	}
	now, err := l.o.Book().Set(ctx, l.m.Snapshot(), codes, l.m.Period.Number, l.m.Against)
	if err != nil {
		return row, err
	}
	if l.m.Compared() != nil {
		if row.Before, err = l.o.Book().Set(ctx, l.m.Snapshot(), codes, l.m.Vs.Number, l.m.Against); err != nil {
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
func (l *lister) tree(ctx context.Context, list []*office.Reading, parent string, depth int) error {
	var own []*office.Reading
	for _, r := range list {
		if p := r.Parent; p == parent || parent == "" && l.m.Readings().Group(p) == nil {
			own = append(own, r)
		}
	}
	if parent != "" {
		l.codes(own)
		l.add(own, depth)
	}
	var below []Row
	parts := make(map[string][]*office.Reading)
	for _, g := range l.m.Readings().Rows {
		if !g.Group || g.Code == "*" ||
			g.Parent != parent && (parent != "" || l.m.Readings().Group(g.Parent) != nil && g.Parent != "*") {
			continue
		}
		var some []*office.Reading
		for _, r := range list {
			if office.Within(l.m.Readings(), r, g.Code) {
				some = append(some, r)
			}
		}
		if len(some) == 0 && !l.m.Filter.Empty() {
			continue
		}
		row, err := l.group(ctx, g.Code, "", g.Name, l.m.Filter, some, depth)
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
		if err := l.tree(ctx, parts[row.Key], row.Key, depth+1); err != nil {
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
func (l *lister) codes(list []*office.Reading) {
	for _, r := range list {
		l.out.Codes = append(l.out.Codes, r.Code)
	}
}

// by lists projects under the values of an attribute.
func (l *lister) by(
	ctx context.Context,
	list []*office.Reading,
	of func(*office.Reading) string,
	narrow func(*office.Filter, string),
) error {
	parts := make(map[string][]*office.Reading)
	for _, r := range list {
		parts[of(r)] = append(parts[of(r)], r)
	}
	var rows []Row
	for _, v := range slices.Sorted(maps.Keys(parts)) {
		f := l.m.Filter
		narrow(&f, cmp.Or(v, "-"))
		row, err := l.group(ctx, "*", l.m.Scope.Code, cmp.Or(v, "None"), f, parts[v], 0)
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
