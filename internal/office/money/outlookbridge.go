package money

import (
	"context"
	"maps"
	"slices"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/core/outlook"
	"turret/internal/office"
	"turret/internal/right"
)

// OutlookBridge leads from the computed outlook of one period to that of another.
type OutlookBridge struct {
	*Bridge
	Was, Is *office.Reading // of one project: what it is made of; nil of several
}

// OutlookBridge splits the change of the computed outlook since the compared
// period into causes: of a project, or of the projects in scope that groups
// count. The parts of several are projects; those of one are the cost codes that
// the actuals of between were spent on. Without a compared period it is refused.
func (o Room) OutlookBridge(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	project, cause string,
) (*OutlookBridge, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	if m.Vs.Code == "" {
		return nil, office.Refusef("A bridge leads from one version to another: choose the period to compare with.")
	}
	b, reporting, wanted, err := bridgeOf(m, project)
	if err != nil {
		return nil, err
	}
	var sides [2]map[string]*outlook.Side
	for i, p := range [2]calendar.Period{m.Vs.Number, m.Period.Number} {
		rs, err := o.Book().Readings(ctx, m.Snapshot(), p, m.Against, reporting)
		if err != nil {
			return nil, err
		}
		in, err := o.Book().InputsAt(ctx, m.Snapshot(), p)
		if err != nil {
			return nil, err
		}
		list := []string{project}
		if project == "" {
			list = summed(rs, wanted)
		} else if i == 0 {
			b.Was = rs.Project(project)
		} else {
			b.Is = rs.Project(project)
		}
		sides[i] = make(map[string]*outlook.Side)
		for _, code := range list {
			if s := sideOf(rs.Project(code), in); s != nil {
				sides[i][code] = s
			}
		}
	}
	parts, only, err := b.take(m, sides, cause)
	if err != nil {
		return nil, err
	}
	if project != "" {
		b.By, parts = "code", nil
		if only == outlook.Actuals {
			if parts, err = o.spentBetween(ctx, a, m, project); err != nil {
				return nil, err
			}
		}
	}
	b.keep(parts)
	return b, nil
}

// bridgeOf begins a bridge of a project, or of the projects in scope; wanted tells
// which groups to take them from.
func bridgeOf(
	m *office.Moment,
	project string,
) (b *OutlookBridge, reporting bool, wanted func(*office.Reading) bool, err error) {
	b = &OutlookBridge{Bridge: &Bridge{
		Who:      "The portfolio",
		What:     "is expected to cost",
		Span:     " at completion",
		Ends:     [2]string{m.Period.Name, m.Vs.Name + " computed"},
		Currency: m.Reporting,
		Worse:    true,
		By:       "project",
	}}
	if project == "" {
		if m.Scope.Code != "" {
			b.Who = m.Scope.Name
		}
		return b, true, m.InScope, nil
	}
	r := m.Readings().Project(project)
	if r == nil {
		return nil, false, nil, office.Refusef("There is no project %q in %s.", project, m.Period.Name)
	}
	b.Who = r.Name
	if m.InProject {
		b.Currency = r.Currency
	}
	return b, !m.InProject, func(r *office.Reading) bool { return r.Code == project }, nil
}

// take adds up the causes of all projects of either side, and gives what each
// project adds to the cause that is asked for, or to all; only is that cause, or
// Causes.
func (b *OutlookBridge) take(
	m *office.Moment,
	sides [2]map[string]*outlook.Side,
	cause string,
) (parts []BridgePart, only outlook.Cause, err error) {
	only = outlook.Causes
	for c := range outlook.Causes {
		if c.Code() == cause {
			only, b.Cause = c, cause
		}
	}
	var steps [outlook.Causes]int64
	codes := slices.AppendSeq(slices.Collect(maps.Keys(sides[0])), maps.Keys(sides[1]))
	slices.Sort(codes)
	for _, code := range slices.Compact(codes) {
		was, is := sides[0][code], sides[1][code]
		list, err := outlook.Between(was, is)
		if err != nil {
			return nil, only, office.Refusef("A step of %s is beyond 64 bits of minor units.", code)
		}
		if was != nil {
			b.From += was.EAC
		}
		if is != nil {
			b.To += is.EAC
		}
		part := BridgePart{Project: code, Name: nameOf(m, code)}
		for c, n := range list {
			steps[c] += n
			if only == outlook.Causes || only == outlook.Cause(c) {
				part.Amount += n
			}
		}
		parts = append(parts, part)
	}
	for c := range outlook.Causes {
		b.Steps = append(b.Steps, BridgeStep{c.Code(), c.Title(), steps[c]})
	}
	return parts, only, nil
}

// spentBetween lists what became of a project's actual cost between the compared
// period and the moment's, by cost code.
func (o Room) spentBetween(ctx context.Context, a right.Actor, m *office.Moment, project string) ([]BridgePart, error) {
	t, err := o.Table(
		ctx,
		a,
		m,
		Ask{
			Project:  project,
			Rows:     "code",
			Level:    "1",
			Per:      "completion",
			Show:     "spent",
			Unfolded: "9",
			Beside:   "period",
		},
	)
	if err != nil {
		return nil, err
	}
	all := len(t.Columns) - 1
	var out []BridgePart
	for _, r := range t.Root.Below {
		is, _ := t.Value(r, 0, costs.Spent, all)
		was, _ := t.Value(r, 1, costs.Spent, all)
		out = append(out, BridgePart{Project: project, Code: r.Key, Name: r.Name, Amount: is - was})
	}
	return out, nil
}

// nameOf is the name of a project, as the moment or the compared period has it.
func nameOf(m *office.Moment, code string) string {
	now, before := m.Find(code)
	switch {
	case now != nil:
		return now.Name
	case before != nil:
		return before.Name
	}
	return code
}

// sideOf takes from a project's reading what its outlook is made of; nil where
// it has none.
func sideOf(r *office.Reading, in *book.Snapshot) *outlook.Side {
	if r == nil || !r.Value(figure.EACComputed).Known || !r.Value(figure.AC).Known {
		return nil
	}
	s := &outlook.Side{AC: r.Value(figure.AC).N, EAC: r.Value(figure.EACComputed).N, Others: make(map[string]int64)}
	for name, id := range figure.Methods {
		if v := r.Value(id); v.Known {
			s.Others[name] = v.N
		}
	}
	ev, share, bac := r.Value(figure.EV), r.Value(figure.EarnedShare), r.Value(figure.BAC)
	if !ev.Known || !share.Known || !bac.Known {
		return s
	}
	s.BAC, s.EV, s.Share = bac.N, ev.N, share.R.Rat()
	method := ""
	if p := in.Project(r.Code); p != nil {
		method = p.Method
	}
	for _, name := range []string{figure.ChosenMethod(method, share), "plan"} {
		if n, ok := s.Others[name]; ok && name != "stated" && n == s.EAC {
			s.Method = name
			break
		}
	}
	return s
}
