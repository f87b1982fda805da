package office

import (
	"context"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/right"
)

// BaselineRow is a baseline of a project, with what it changed.
type BaselineRow struct {
	Number           int
	Approved         calendar.Date // zero: it is not said
	Reason, Approver string
	Plan, Change     int64 // of the whole, without management reserve
	Start, Finish    calendar.Date
	Known            bool // its plan can be converted
	InForce          bool // at the moment's period
	Later            bool // approved after it: it counts from then on
}

// BaselineCode is a cost code with its plan in each baseline, as Baselines.List
// has them.
type BaselineCode struct {
	Code, Name string
	Plans      []int64
}

// Baselines are the plans of a project that were approved, from the original to
// the latest.
type Baselines struct {
	Project  *Reading
	Currency money.Currency
	List     []BaselineRow
	Codes    []BaselineCode
}

// Baselines lists the baselines of a project and leads from the original to the
// latest, by cost code; nil where there is no such project.
func (o *Office) Baselines(ctx context.Context, a right.Actor, m *Moment, project string) (*Baselines, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	r := m.now.Project(project)
	if r == nil {
		return nil, nil
	}
	inputs, err := o.book.InputsAt(ctx, m.snap, m.Period.period)
	if err != nil {
		return nil, err
	}
	p := inputs.Project(project)
	out := &Baselines{Project: r, Currency: r.Currency}
	if _, err := inputs.Filled(ctx); err != nil {
		return nil, err
	}
	records := make(map[int]portfolio.Baseline)
	for _, b := range p.Baselines {
		records[b.Number] = b
	}
	numbers := []int{1}
	for n := range records {
		numbers = append(numbers, n)
	}
	for _, v := range p.Plan {
		numbers = append(numbers, v.Number)
	}
	slices.Sort(numbers)
	numbers = slices.Compact(numbers)
	day := inputs.Office.Periods.Last(m.Period.period)
	at := make(map[string]int)
	var before int64
	for i, n := range numbers {
		b := records[n]
		row := BaselineRow{Number: n, Approved: b.Approved, Reason: b.Reason, Approver: b.Approver, Later: b.Approved > day && n > 1}
		plan, span, err := inputs.PlanAt(ctx, project, m.Period.period, n, !m.InProject)
		if err != nil {
			return nil, err
		}
		row.Start, row.Finish, row.Known = span[0], span[1], plan.Why == ""
		for j := range plan.Lines {
			l := &plan.Lines[j]
			if l.Kind != costs.Plan || l.Reserve || l.Flow != portfolio.Cost {
				continue
			}
			k, ok := at[l.Code]
			if !ok {
				k = len(out.Codes)
				at[l.Code] = k
				out.Codes = append(out.Codes, BaselineCode{Code: l.Code, Name: inputs.Office.Codes[l.CodeID].Name, Plans: make([]int64, len(numbers))})
			}
			for _, v := range l.Cells {
				out.Codes[k].Plans[i] += v
				row.Plan += v
			}
		}
		row.Change = row.Plan - before
		before = row.Plan
		out.List = append(out.List, row)
	}
	for i := len(out.List) - 1; i >= 0; i-- {
		if !out.List[i].Later {
			out.List[i].InForce = true
			break
		}
	}
	slices.SortFunc(out.Codes, func(a, b BaselineCode) int { return strings.Compare(a.Code, b.Code) })
	return out, nil
}
