package board

import (
	"context"

	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
)

// TrendLength is how many periods a trend tells at most.
const TrendLength = 24

// Trend is a figure of a project or group over the periods up to a moment's, the earliest first.
type Trend struct {
	Code, Name string
	Group      bool
	Currency   money.Currency
	Points     []TrendPoint
}

// TrendPoint is the figure at a period: as its cut has it where it is closed, and as it stands now
// at the moment's own. It is unknown between.
type TrendPoint struct {
	Period office.PeriodInfo
	Value  figure.Value
}

// Trend reads how a figure of a scope moved: a project, a programme, or * for the whole. Nil where
// there is no such scope. Groups are in the reporting currency, projects as the moment has them.
func (o Room) Trend(ctx context.Context, a right.Actor, m *office.Moment, id figure.ID, scope string) (*Trend, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	if m.Empty {
		return nil, nil
	}
	now := m.Readings().Group(scope)
	if now == nil {
		now = m.Readings().Project(scope)
	}
	if now == nil {
		return nil, nil
	}
	s := m.Snapshot()
	out := &Trend{Code: now.Code, Name: now.Name, Group: now.Group, Currency: now.Currency}
	for p := max(s.First(), m.Period.Number-(TrendLength-1)); p <= m.Period.Number; p++ {
		x := TrendPoint{Period: m.Info(p), Value: figure.Unknown(figure.Get(id).Unit, "the period is not closed")}
		switch _, closed := s.Cuts[p]; {
		case p == m.Period.Number:
			x.Value = now.Value(id)
		case closed && now.Group:
			marks, err := o.Book().Marks(ctx, s, p)
			if err != nil {
				return nil, err
			}
			x.Value = figure.Unknown(figure.Get(id).Unit, "it was not there")
			if list := marks.Figures[scope]; int(id) < len(list) {
				x.Value = list[id]
			}
		case closed:
			r, err := o.Book().Reading(ctx, s, scope, p, portfolio.Latest, !m.InProject)
			if err != nil {
				return nil, err
			}
			x.Value = figure.Unknown(figure.Get(id).Unit, "it was not there")
			if r != nil && r.Currency == now.Currency {
				x.Value = r.Value(id)
			}
		}
		out.Points = append(out.Points, x)
	}
	return out, nil
}

// Names are those of the periods, and Values what is known of the figure.
func (t *Trend) Names() (out []string) {
	for i := range t.Points {
		out = append(out, t.Points[i].Period.Name)
	}
	return out
}

// Values are those of the points.
func (t *Trend) Values() (out []figure.Value) {
	for i := range t.Points {
		out = append(out, t.Points[i].Value)
	}
	return out
}
