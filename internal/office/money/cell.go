package money

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/trail"
	"turret/internal/right"
	"turret/internal/tell"
)

// Cell is one cell of the money table with what is behind it.
type Cell struct {
	Table   *Table
	Row     *costs.Row
	Column  costs.Column
	Measure costs.Measure
	Version string // whose amount it is, in words
	Amount  int64
	Parts   []Part          // of several projects, the largest first
	Project *office.Reading // whose cells they are, where it is one
	Trail   *trail.Trail    // the cells, with files and postings; nil where there are parts
	Left    int64           // Amount less what is listed: always 0
}

// Part is what a project adds to a cell, and the path of its own row.
type Part struct {
	Code, Name string
	Key        string
	Amount     int64
}

// Cell tells what is behind a cell: the projects that add to it, or, of
// one project, the cells with their rates, files and postings. A row, column or
// measure that is not there is refused; version 1 is what stands beside.
func (o Room) Cell(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	ask Ask,
	key string,
	column int,
	measure costs.Measure,
	version int,
) (*Cell, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	ask.focus = &moneyFocus{key, measure}
	t, err := o.Table(ctx, a, m, ask)
	if err != nil {
		return nil, err
	}
	row := t.Find(key)
	if row == nil || column < 0 || column >= len(t.Columns) || version < 0 || version >= len(t.versions) {
		return nil, office.Refusef("There is no such row or column in this table; go back to it.")
	}
	c := &Cell{Table: t, Row: row, Column: t.Columns[column], Measure: measure, Version: t.versions[version].name}
	var known bool
	if c.Amount, known = t.Value(row, version, measure, column); !known {
		return nil, office.Refusef("%q is no amount that is made of cells.", measure)
	}
	v := t.versions[version]
	holds := t.Holder(v.inputs.Office, row.Path())
	list, err := v.inputs.Costs(ctx, v.codes, v.period, v.against, t.in, t.rates, t.Outlook)
	if err != nil {
		return nil, err
	}
	parts := c.parts(list, holds)
	for i := range parts {
		c.Left -= parts[i].Amount
	}
	c.Left += c.Amount
	c.Trail = &trail.Trail{Currency: t.Currency}
	switch {
	case len(parts) > 1:
		slices.SortStableFunc(parts, func(a, b Part) int { return cmp.Compare(magnitude(b.Amount), magnitude(a.Amount)) })
		c.Parts, c.Trail = parts, nil
		return c, nil
	case len(parts) == 0:
		return c, nil
	}
	code := parts[0].Code
	facts, err := c.facts(ctx, v, code, holds)
	if err != nil {
		return nil, err
	}
	if measure == costs.Expected {
		facts = append(facts, expected(list, code, c.Column, holds)...)
	}
	if c.Project = office.FindIn(m.Readings(), code); c.Project == nil || version == 1 {
		c.Project = &office.Reading{Code: code, Name: parts[0].Name}
	}
	return c, trail.In(o.Office).Sources(ctx, c.Trail, facts, nil, v.inputs.Office, c.Project, code, m)
}

// holds tells whether a row of the table holds what a project has under a key.
type holds = func(*portfolio.Project, *costs.Key) bool

// parts gives what projects add to the cell, those that have any amount in it.
func (c *Cell) parts(list []*costs.Project, holds holds) (out []Part) {
	key := withinProject(c.Table, c.Row)
	for _, p := range list {
		part, any := Part{Code: p.Code, Name: p.Name, Key: key}, false
		for i := range p.Lines {
			l := &p.Lines[i]
			sign, adds := c.Measure.Makes(l.Kind)
			sign *= c.Table.Sign(l.Flow)
			from, to := max(c.Column.From, l.First), min(c.Column.To+1, l.After())
			if !adds || l.Reserve || from >= to || !holds(p.Project, &l.Key) {
				continue
			}
			part.Amount += sign * l.Sum(from, to-1)
			for q := from; q < to && !any; q++ {
				any = l.Amount(q) != 0
			}
		}
		if any {
			out = append(out, part)
		}
	}
	return out
}

// facts lists the cells of one project that make the cell. Those of one amount that
// is shared out stand together.
func (c *Cell) facts(ctx context.Context, v moneyVersion, code string, holds holds) (out []figure.Fact, err error) {
	t := c.Table
	var cells []costs.Cell
	var owner *portfolio.Project
	_, err = v.inputs.EachCost(ctx, code, v.period, v.against, t.in, t.rates, func(p *portfolio.Project, x *costs.Cell) {
		sign, ok := c.Measure.Makes(x.Kind)
		if !ok || x.Period < c.Column.From || x.Period > c.Column.To || !holds(p, &x.Key) ||
			x.Kind == costs.Plan && v.inputs.Office.ManagementReserve(x.Key.CodeID) {
			return
		}
		owner = p
		part := *x
		part.Amount *= sign * t.Sign(x.Key.Flow)
		for k := len(cells) - 1; k >= 0 && cells[k].Stated == x.Stated; k-- {
			if cells[k].Back == x.Back {
				cells[k].Amount, cells[k].Share = cells[k].Amount+part.Amount, cells[k].Share+part.Share
				return
			}
		}
		cells = append(cells, part)
	})
	for i := range cells {
		out = append(out, fact(owner, &cells[i], t.Currency))
	}
	return out, err
}

// expected tells what a project's computed outlook adds in a column.
func expected(
	list []*costs.Project,
	code string,
	column costs.Column,
	holds holds,
) (out []figure.Fact) {
	for _, p := range list {
		for i := range p.Lines {
			l := &p.Lines[i]
			if p.Code != code || l.Kind != costs.Outlook || !holds(p.Project, &l.Key) {
				continue
			}
			if n := l.Sum(column.From, column.To); n != 0 {
				out = append(
					out,
					figure.Fact{
						Scope:  code,
						What:   "computed outlook, still to come, evenly to the computed finish",
						Period: max(column.From, l.First),
						Value:  figure.Whole(figure.Money, n),
					},
				)
			}
		}
	}
	return out
}

// withinProject gives the key of a row as the table of one project has it: the
// path without programmes and projects.
func withinProject(t *Table, row *costs.Row) string {
	var keep []string
	for r := row; r.Parent != nil; r = r.Parent {
		if !r.Dimension.OfProjects() {
			keep = append(keep, escapeKey(r.Key))
		}
	}
	slices.Reverse(keep)
	return strings.Join(keep, "~")
}

// fact tells a cell as trails list it.
func fact(p *portfolio.Project, x *costs.Cell, c money.Currency) figure.Fact {
	f := figure.Fact{
		Scope:  p.Code,
		What:   kindWords[x.Kind],
		Period: x.Period,
		Value:  figure.Whole(figure.Money, x.Amount),
		Source: x.Stated.Source,
		CodeID: x.Key.CodeID,
	}
	whole := x.Share == 0 || x.Share == 100*portfolio.Quantity
	centre := x.Key.Centre
	if x.Share != 0 && whole {
		centre = ""
	}
	for _, s := range []string{x.Key.Code, x.Key.Class, centre, x.Key.Activity} {
		if s != "" {
			f.What += " · " + s
		}
	}
	if x.Back {
		f.What += ", taken back"
	}
	if !whole {
		f.What += ", a share of " + money.FormatShort(x.Share, portfolio.QuantityScale) + "%"
	}
	if x.Line.Currency != c {
		f.From = tell.Amount(money.Format(x.Stated.Amount, x.Line.Currency), x.Line.Currency.Exponent()) + " " + string(
			x.Line.Currency,
		)
	}
	if x.Passed {
		f.What = strings.Replace(f.What, kindWords[costs.Actual], figure.Passed, 1)
	}
	if x.Posted {
		f.Posted = &figure.Posted{
			CodeID:     x.Key.CodeID,
			Class:      x.Line.Class,
			Centre:     x.Line.Centre,
			ActivityID: x.Line.ActivityID,
			Currency:   x.Line.Currency,
			Period:     x.Stated.Period,
		}
	}
	return f
}

var kindWords = map[costs.Kind]string{
	costs.Plan:       "plan",
	costs.Actual:     "actual",
	costs.Accrual:    "accrual",
	costs.Forecast:   "forecast",
	costs.Commitment: "on order",
}

// Sentence says what a cell is: Actual of Works in Apr 2026.
func (c *Cell) Sentence() string {
	name := c.Row.Name
	if c.Row.Parent == nil {
		name = "all rows"
	}
	return fmt.Sprintf("%s of %s, %s", tell.Capital(c.Measure.Title()), name, c.Column.Name)
}
