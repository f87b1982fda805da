package judge

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/book"
	"turret/internal/core/figure"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
	"turret/internal/tell"
)

// Apart is a project whose lead states a better standing than is computed.
type Apart struct {
	*office.Reading
	Gap      figure.Value // computed outlook − stated outlook
	Override bool         // its overall standing is set
}

// OverrideRow is a standing that an analyst has set.
type OverrideRow struct {
	Code, Name, Dimension, DimensionCode string
	From, Until, UntilCode               string
	Standing, Computed                   standing.Standing
	Reason                               string
	Left                                 int  // periods after this one in which it holds
	Soon                                 bool // it ends within this period or the next
	Over                                 bool // it held before this period
	Later                                bool // it begins after
}

// soonPeriods is how many periods before its end an override is told of.
const soonPeriods = 1

// AllApart lists the projects in scope whose leads state better than the figures
// say, by how much money.
func AllApart(m *office.Moment) []Apart {
	if m.Readings() == nil {
		return nil
	}
	var out []Apart
	for _, r := range m.Readings().Rows {
		if r.Group || !m.InScope(r) || !r.Disagrees() {
			continue
		}
		x := Apart{Reading: r, Gap: figure.Unknown(figure.Money, "stated or computed outlook is not known")}
		if stated, computed := r.Value(figure.EACStated), r.Value(figure.EACComputed); stated.Known && computed.Known {
			x.Gap = figure.Whole(figure.Money, computed.N-stated.N)
		}
		for _, o := range r.Override {
			x.Override = x.Override || o.Dimension == standing.Overall.String()
		}
		out = append(out, x)
	}
	slices.SortStableFunc(out, func(a, b Apart) int {
		return cmp.Or(
			int(b.Computed[standing.Overall])-int(a.Computed[standing.Overall]),
			cmp.Compare(b.Gap.N, a.Gap.N),
			cmp.Compare(a.Code, b.Code),
		)
	})
	return out
}

// Overrides lists the standings that are set on projects in scope: those that
// hold first, the soonest to end leading.
func (o Room) Overrides(ctx context.Context, a right.Actor, m *office.Moment) ([]OverrideRow, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	if m.Readings() == nil {
		return nil, nil
	}
	in, err := o.Book().InputsAt(ctx, m.Snapshot(), m.Period.Number)
	if err != nil {
		return nil, err
	}
	var out []OverrideRow
	at := m.Asked.Number
	for _, p := range in.Projects() {
		r := m.Readings().Project(p.Code)
		if r == nil || !m.InScope(r) {
			continue
		}
		for _, x := range p.Overrides {
			d, known := in.Rules.Dimension(x.Dimension)
			st, ok := standing.Parse(x.Standing)
			if !known || !ok {
				continue
			}
			row := OverrideRow{
				Code: p.Code, Name: p.Name, Dimension: tell.Capital(in.Rules.Title(d)), DimensionCode: x.Dimension, From: m.PeriodName(x.From), Until: m.PeriodName(x.Until), UntilCode: in.Office.Periods.Code(x.Until),
				Standing: st, Computed: r.Computed[d], Reason: x.Reason, Left: int(x.Until - at), Over: x.Until < at, Later: x.From > at,
			}
			row.Soon = !row.Over && row.Left <= soonPeriods
			out = append(out, row)
		}
	}
	slices.SortStableFunc(out, func(a, b OverrideRow) int {
		rank := func(x OverrideRow) int {
			switch {
			case x.Over:
				return 2
			case x.Later:
				return 1
			}
			return 0
		}
		return cmp.Or(rank(a)-rank(b), a.Left-b.Left, cmp.Compare(a.Code, b.Code))
	})
	return out, nil
}

// Override sets a standing of a project from a moment's period on, with a
// reason and a last period; the computed one stays visible. Setting it again in
// the same period replaces it. Seen is the revision that the page showed.
func (o Room) Override(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	seen int64,
	project, dimension, st, until, reason string,
) error {
	if err := right.Check(a, right.Answer); err != nil {
		return err
	}
	if until == "" {
		return &office.Misfit{Column: "until", Why: "an override has an end: the last period for which it holds"}
	}
	_, err := entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Overrode, Note: project + " " + dimension + " set to " + st, Seen: seen, Rows: func(_ context.Context, s *book.Snapshot) ([]entry.Rows, error) {
			if s.Closed[m.Asked.Number] {
				return nil, office.Refusef("%s is closed, so its standings stay as they are.", m.Asked.Name)
			}
			row := entry.Row{
				"project":   project,
				"dimension": dimension,
				"from":      m.Asked.Code,
				"until":     until,
				"standing":  st,
				"reason":    reason,
			}
			if p := s.Project(project); p != nil { // one that holds already is changed in its end and reason
				for _, x := range p.Overrides {
					if x.Dimension == dimension && x.Standing == st && x.From < m.Asked.Number &&
						x.Until >= m.Asked.Number {
						row["from"] = s.Office.Periods.Code(x.From)
					}
				}
			}
			return []entry.Rows{entry.Of("overrides", row)}, nil
		}})
	return err
}

// EndOverride ends a standing that was set, with the period before a moment's;
// one that began in it holds for it still.
func (o Room) EndOverride(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	seen int64,
	project, dimension string,
) error {
	if err := right.Check(a, right.Answer); err != nil {
		return err
	}
	_, err := entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Overrode, Note: project + " " + dimension + " no longer set", Seen: seen, Rows: func(_ context.Context, s *book.Snapshot) ([]entry.Rows, error) {
			p, at := s.Project(project), m.Asked.Number
			if p == nil || s.Closed[at] {
				return nil, office.Refusef("There is no such override in an open period.")
			}
			for _, x := range p.Overrides {
				if x.Dimension != dimension || x.From > at || x.Until < at {
					continue
				}
				until := max(at-1, x.From)
				if until == at {
					return nil, office.Refusef(
						"It was set in %s; set it again with the right standing, or let it end with the period.",
						m.Asked.Name,
					)
				}
				ps := s.Office.Periods
				return []entry.Rows{
					entry.Of(
						"overrides",
						entry.Row{
							"project":   project,
							"dimension": dimension,
							"from":      ps.Code(x.From),
							"until":     ps.Code(until),
							"standing":  x.Standing,
							"reason":    x.Reason,
						},
					),
				}, nil
			}
			return nil, office.Refusef("There is no such override any more.")
		}})
	return err
}
