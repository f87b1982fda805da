package trail

import (
	"context"

	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
)

// codeFigures says what the money of a cost code is made of: facts of base
// entries, added or taken away.
var codeFigures = map[figure.ID][]struct {
	id   figure.ID
	sign int64
}{
	figure.BAC: {{figure.BAC, 1}}, figure.AC: {{figure.AC, 1}}, figure.OnOrder: {{figure.OnOrder, 1}},
	figure.BeyondOrders: {
		{figure.EACStated, 1},
		{figure.OnOrder, -1},
	}, figure.EACStated: {{figure.AC, 1}, {figure.EACStated, 1}},
}

// CodeTrail tells how a project's money on a cost code, and on those below it,
// came about: of plan, actual cost, orders, what is to go beyond them, or the
// stated outlook; nil where there is no such project, code or figure.
func (o Room) CodeTrail(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	compared bool,
	project string,
	id figure.ID,
	code string,
) (*Trail, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	rs, period := m.Readings(), m.Period.Number
	if compared {
		rs, period = m.Compared(), m.Vs.Number
	}
	r := rs.Project(project)
	if r == nil || codeFigures[id] == nil {
		return nil, nil
	}
	inputs, err := o.Book().InputsAt(ctx, m.Snapshot(), period)
	if err != nil {
		return nil, err
	}
	t := &Trail{Entry: figure.Get(id), Scope: r, Code: code}
	var facts []figure.Fact
	found, err := inputs.Examine(ctx, project, period, m.Against, !m.InProject, func(e *figure.Eval) {
		t.Currency, t.Against = e.Currency, e.Subject.(*figure.Project).Number
		facts = t.ofCode(e, id, inputs.Office)
	})
	if err != nil || !found {
		return nil, err
	}
	return t, o.Sources(ctx, t, facts, nil, inputs.Office, r, project, m)
}

// ofCode sums the facts of a cost code.
func (t *Trail) ofCode(e *figure.Eval, id figure.ID, of *portfolio.Office) (facts []figure.Fact) {
	var sum int64
	for _, part := range codeFigures[id] {
		for _, f := range e.Subject.Facts(e, part.id, e.Period) {
			if !of.CodeUnder(f.CodeID, t.Code) {
				continue
			}
			if !f.Value.Known {
				t.Value = figure.Unknown(figure.Money, f.Value.Why)
				return facts
			}
			f.Value = figure.Whole(figure.Money, part.sign*f.Value.N)
			sum += f.Value.N
			facts = append(facts, f)
		}
	}
	t.Value = figure.Whole(figure.Money, sum)
	t.Formula = []Piece{{Text: "cells of cost code " + t.Code + " and those below it"}}
	return facts
}
