package money

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/tell"
)

// VersionBridge leads from what stands beside a money table to what it says now.
type VersionBridge struct {
	*Bridge
	Table   *Table
	Row     *costs.Row
	Measure costs.Measure
}

// Bridge splits the change of a money table's amount, over the whole of its
// span, into causes: from the second version to the first. Without a second
// version it is refused.
func (o Room) Bridge(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	ask Ask,
	key string,
	measure costs.Measure,
	cause, by string,
) (*VersionBridge, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	t, err := o.Table(ctx, a, m, ask)
	if err != nil {
		return nil, err
	}
	row := t.Find(key)
	if err := t.mayBridge(row, measure); err != nil {
		return nil, err
	}
	side := func(v moneyVersion) (costs.Side, error) {
		list, err := v.inputs.Costs(ctx, v.codes, v.period, v.against, t.in, t.rates, t.Outlook)
		return costs.Side{
			At:       v.period,
			Office:   v.inputs.Office,
			Projects: list,
			Holds:    func() func(*portfolio.Project, *costs.Key) bool { return t.Holder(v.inputs.Office, row.Path()) },
		}, err
	}
	from, err := side(t.versions[1])
	if err != nil {
		return nil, err
	}
	to, err := side(t.versions[0])
	if err != nil {
		return nil, err
	}
	begin, end := t.bridgeSpan(append(slices.Clone(from.Projects), to.Projects...))
	b := costs.NewBridge(measure, begin, end, t.versions[0].inputs.Office.Periods, from, to)
	if b.TooLarge {
		return nil, office.Refusef("A sum of this bridge is beyond 64 bits of minor units; choose fewer rows.")
	}
	out := &VersionBridge{
		Bridge: &Bridge{
			What:     map[costs.Measure]string{costs.Running: "will have spent", costs.Planned: "is planned at"}[measure],
			Currency: t.Currency,
			Worse:    measure == costs.Running,
			From:     b.From,
			To:       b.To,
			By:       by,
		},
		Table:   t,
		Row:     row,
		Measure: measure,
	}
	name := ""
	if row.Parent != nil {
		name = row.Name
	}
	out.Who, out.Span, out.Ends = t.bridgeWords(m, name, ask.Beside != "")
	if !slices.Contains(BridgeBys, by) {
		out.By = "project"
	}
	only := costs.Causes
	for c := range costs.Causes {
		if c.Code() == cause {
			only, out.Cause = c, cause
		}
		out.Steps = append(out.Steps, BridgeStep{c.Code(), c.Title(), b.Steps[c]})
	}
	out.list(b, only)
	return out, nil
}

// mayBridge refuses what no bridge leads between.
func (t *Table) mayBridge(row *costs.Row, measure costs.Measure) error {
	switch {
	case len(t.versions) < 2:
		return office.Refusef(
			"A bridge leads from one version to another: choose under Beside what this is compared with.",
		)
	case t.Flow == costs.Margin:
		return office.Refusef(
			"A bridge is of cost, income or benefit, not of the margin between them: choose one under Rows.",
		)
	case row == nil:
		return office.Refusef("There is no such row in this table; go back to it.")
	case measure != costs.Running && measure != costs.Planned:
		return office.Refusef("A bridge is of the plan, or of what is spent and forecast, not of %q.", measure)
	}
	return nil
}

// bridgeSpan gives the periods that a bridge takes in: of amounts to date, what
// either version plans or states beyond too.
func (t *Table) bridgeSpan(projects []*costs.Project) (begin, end calendar.Period) {
	whole := t.Columns[len(t.Columns)-1]
	begin, end = whole.From, whole.To
	if t.Per == costs.ToDate {
		for _, p := range projects {
			end = max(end, p.Span[1])
			begin = min(begin, cmp.Or(p.Span[0], begin))
		}
	}
	return begin, end
}

// list sums the parts of a cause by what is asked for, the largest first.
func (b *VersionBridge) list(of *costs.Bridge, only costs.Cause) {
	at := make(map[string]int)
	var parts []BridgePart
	for _, p := range of.Parts {
		if only != costs.Causes && p.Cause != only {
			continue
		}
		x := BridgePart{Amount: p.Amount}
		switch b.By {
		case "project":
			x.Project, x.Name = p.Project.Code, p.Project.Name
		case "code":
			x.Code = p.Key.Code
			x.Name = b.Table.codeName(p.Key.Code)
		case "line":
			x.Project, x.Code = p.Project.Code, p.Key.Code
			var words []string
			for _, s := range []string{b.Table.codeName(p.Key.Code), p.Key.Class, p.Key.Centre, p.Key.Activity} {
				if s != "" {
					words = append(words, s)
				}
			}
			x.Name = strings.Join(words, " · ")
		}
		k := x.Project + "\x00" + x.Code + "\x00" + x.Name
		if i, ok := at[k]; ok {
			parts[i].Amount += x.Amount
			continue
		}
		at[k] = len(parts)
		parts = append(parts, x)
	}
	b.keep(parts)
}

// codeName is the name of a cost code, as the table's office has it.
func (t *Table) codeName(code string) string {
	i, ok := slices.BinarySearchFunc(
		t.Codes,
		code,
		func(c [2]string, code string) int { return strings.Compare(c[0], code) },
	)
	if !ok {
		return ""
	}
	return t.Codes[i][1]
}

// At is the period that a version is of: 0 is the table's own.
func (t *Table) At(version int) calendar.Period { return t.versions[version].period }

// VersionName is what a version is called in words.
func (t *Table) VersionName(version int) string { return t.versions[version].name }

// bridgeWords are the words of a bridge of the table, or of a row by name; asked
// tells that its second version was named, and is not just a period before.
func (t *Table) bridgeWords(m *office.Moment, name string, asked bool) (who, span string, ends [2]string) {
	who = "The portfolio"
	switch {
	case name != "":
		who = name
	case t.Project != nil:
		who = t.Project.Name
	case m.Scope.Code != "":
		who = m.Scope.Name
	}
	span = " in " + t.Span
	if t.Per == "completion" {
		span = " in all"
	}
	ends = [2]string{tell.Capital(t.VersionName(0)), tell.Capital(t.VersionName(1))}
	if !asked {
		ends[1] = t.VersionName(1) + " said"
	}
	return who, span, ends
}
