package baseline

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/tell"
)

// BaselineRow is a baseline of a project, with what it changed.
type BaselineRow struct {
	Number           int
	State            portfolio.Approval
	Approved         calendar.Date // zero: it is not said
	Reason, Approver string
	Proposed         calendar.Date
	Proposer, Remark string
	Plan, Change     int64 // of the whole, without management reserve
	Start, Finish    calendar.Date
	Shift            int  // working days by which the finish moved
	Known            bool // its plan can be converted
	InForce          bool // at the moment's period
	Later            bool // approved after it: it counts from then on

	against int // the baseline that it changes; zero of the original
}

// Open tells whether the baseline waits for a decision.
func (b *BaselineRow) Open() bool { return b.State == portfolio.PlanProposed }

// Counts tells whether it is approved.
func (b *BaselineRow) Counts() bool { return b.State == portfolio.PlanApproved }

// BaselineCode is a cost code with its plan in each baseline, as Baselines.List
// has them.
type BaselineCode struct {
	Code, Name string
	Plans      []int64
}

// Baselines are the plans of a project, from the original to the latest.
type Baselines struct {
	Project  *office.Reading
	Currency money.Currency
	List     []BaselineRow
	Codes    []BaselineCode
}

// Baselines lists the baselines of a project and leads from the original to the
// latest, by cost code; nil where there is no such project.
func (o Room) Baselines(ctx context.Context, a right.Actor, m *office.Moment, project string) (*Baselines, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	r := m.Readings().Project(project)
	if r == nil {
		return nil, nil
	}
	inputs, err := o.known(ctx, m)
	if err != nil {
		return nil, err
	}
	out := &Baselines{Project: r, Currency: r.Currency}
	var plans [][]costs.Line
	if out.List, plans, err = baselinesOf(ctx, inputs, m, project); err != nil {
		return nil, err
	}
	at := make(map[string]int)
	for i, lines := range plans {
		eachPlanned(lines, func(l *costs.Line, _ calendar.Period, n int64) {
			k, ok := at[l.Code]
			if !ok {
				k = len(out.Codes)
				at[l.Code] = k
				out.Codes = append(
					out.Codes,
					BaselineCode{
						Code:  l.Code,
						Name:  inputs.Office.Codes[l.CodeID].Name,
						Plans: make([]int64, len(plans)),
					},
				)
			}
			out.Codes[k].Plans[i] += n
		})
	}
	slices.SortFunc(out.Codes, func(a, b BaselineCode) int { return strings.Compare(a.Code, b.Code) })
	return out, nil
}

// known gives the inputs that a moment's period is read from; of an open period
// those of now.
func (o Room) known(ctx context.Context, m *office.Moment) (*book.Snapshot, error) {
	return o.Book().InputsAt(ctx, m.Snapshot(), m.Period.Number)
}

// eachPlanned hands over the cells of a plan that count in BAC.
func eachPlanned(lines []costs.Line, each func(*costs.Line, calendar.Period, int64)) {
	for i := range lines {
		if l := &lines[i]; l.Kind == costs.Plan && !l.Reserve && l.Flow == portfolio.Cost {
			for p := l.First; p < l.After(); p++ {
				each(l, p, l.Amount(p))
			}
		}
	}
}

// baselinesOf lists the baselines of a project with their plans.
func baselinesOf(
	ctx context.Context,
	inputs *book.Snapshot,
	m *office.Moment,
	project string,
) (out []BaselineRow, plans [][]costs.Line, err error) {
	v, err := inputs.View(ctx, project, m.Period.Number, portfolio.Latest)
	if err != nil || v == nil {
		return nil, nil, err
	}
	before := 0 // place of the last that counts
	for i, n := range v.Project.Numbers() {
		row := BaselineRow{Number: n, State: portfolio.PlanApproved}
		if b := v.Baseline(n); b != nil {
			row.State = cmp.Or(b.State, portfolio.PlanApproved)
			row.Approved, row.Reason, row.Approver = b.Approved, b.Reason, b.Approver
			row.Proposed, row.Proposer, row.Remark = b.Proposed, b.Proposer, b.Remark
		}
		row.InForce, row.Later = n == v.Number, row.Counts() && n > v.Number
		plan, span, err := inputs.PlanAt(ctx, project, m.Period.Number, n, m.In())
		if err != nil {
			return nil, nil, err
		}
		row.Start, row.Finish, row.Known = span[0], span[1], plan.Why == ""
		eachPlanned(plan.Lines, func(_ *costs.Line, _ calendar.Period, n int64) { row.Plan += n })
		if row.Change = row.Plan; i > 0 {
			was := &out[before]
			row.against, row.Change = was.Number, row.Plan-was.Plan
			if was.Finish != 0 && row.Finish != 0 {
				row.Shift = v.Cal.Slip(was.Finish, row.Finish)
			}
		}
		if row.Counts() {
			before = i
		}
		out, plans = append(out, row), append(plans, plan.Lines)
	}
	return out, plans, nil
}

// BaselineEntry is a baseline of some project, as the list of all has it.
type BaselineEntry struct {
	Project, Name string
	Currency      money.Currency
	BaselineRow
}

// Decision says what is to be decided about the baseline.
func (b *BaselineEntry) Decision() string {
	d := tell.Decision{Number: b.Number, Currency: b.Currency, Known: b.Known, Change: b.BaselineRow.Change, Plan: b.Plan - b.BaselineRow.Change, Shift: b.Shift, Proposer: b.Proposer}
	if b.Proposed != 0 {
		d.On = tell.Date(b.Proposed)
	}
	return d.String()
}

// AllBaselines lists the baselines of the projects in scope, without originals:
// those that wait for a decision first, then the last approved.
func (o Room) AllBaselines(ctx context.Context, a right.Actor, m *office.Moment) ([]BaselineEntry, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	inputs, err := o.known(ctx, m)
	if err != nil {
		return nil, err
	}
	return entries(ctx, inputs, m, false)
}

// Waiting lists the baselines of the projects in scope that wait for a decision, the last
// proposed first.
func (o Room) Waiting(ctx context.Context, a right.Actor, m *office.Moment) ([]BaselineEntry, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	if m.Empty || m.BaselinesWaiting() == 0 {
		return nil, nil
	}
	inputs, err := o.known(ctx, m)
	if err != nil {
		return nil, err
	}
	return entries(ctx, inputs, m, true)
}

// entries lists the baselines of the projects in scope, without originals: all, or those
// alone that wait.
func entries(ctx context.Context, inputs *book.Snapshot, m *office.Moment, waiting bool) ([]BaselineEntry, error) {
	var out []BaselineEntry
	for _, p := range inputs.Projects() {
		r := m.Readings().Project(p.Code)
		if r == nil || !m.InScope(r) || len(p.Baselines) < 2 && len(p.Plan) < 2 ||
			waiting && m.ProposedBaselines(p.Code) == 0 {
			continue
		}
		list, _, err := baselinesOf(ctx, inputs, m, p.Code)
		if err != nil {
			return nil, err
		}
		for _, b := range list {
			if b.Number > 1 && (!waiting || b.Open()) {
				out = append(out, BaselineEntry{p.Code, p.Name, r.Currency, b})
			}
		}
	}
	slices.SortStableFunc(out, func(x, y BaselineEntry) int {
		rank := map[bool]int{true: 0, false: 1}
		return cmp.Or(
			rank[x.Open()]-rank[y.Open()],
			cmp.Compare(cmp.Or(y.Approved, y.Proposed), cmp.Or(x.Approved, x.Proposed)),
			strings.Compare(x.Project, y.Project),
		)
	})
	return out, nil
}

// Changed is an amount before and after.
type Changed struct {
	Code, Name string
	Was, Is    int64
}

// By is the change.
func (c Changed) By() int64 { return c.Is - c.Was }

// MovedDate is an activity whose baseline dates a baseline changes. A zero date
// is not stated.
type MovedDate struct {
	Code, Name string
	Was, Is    [2]calendar.Date // start and finish
	Slip       int              // of the finish, in working days
}

// BaselineChange is what one baseline changes, in money and in dates, and what
// it makes of the moment's figures.
type BaselineChange struct {
	Project       *office.Reading
	Currency      money.Currency
	Row, Was      BaselineRow
	Codes, Years  []Changed
	Dates         []MovedDate
	Before, After *office.Reading // against the baseline that it changes, and against it
	Mine          bool            // the actor proposed it
	May           bool            // the actor decides on baselines of its project
}

// BaselineChange tells what a baseline changes compared with the one that it
// takes the place of; nil where there is no such project or baseline, or it is
// the original.
func (o Room) BaselineChange(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	project string,
	number int,
) (*BaselineChange, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	r := m.Readings().Project(project)
	if r == nil {
		return nil, nil
	}
	inputs, err := o.known(ctx, m)
	if err != nil {
		return nil, err
	}
	list, plans, err := baselinesOf(ctx, inputs, m, project)
	if err != nil {
		return nil, err
	}
	i := slices.IndexFunc(list, func(b BaselineRow) bool { return b.Number == number })
	if i < 1 {
		return nil, nil
	}
	j := slices.IndexFunc(list, func(b BaselineRow) bool { return b.Number == list[i].against })
	c := &BaselineChange{
		Project:  r,
		Currency: r.Currency,
		Row:      list[i],
		Was:      list[j],
		Mine:     strings.EqualFold(list[i].Proposer, a.Name),
		May:      inputs.Project(project) != nil && right.CheckApprove(a, inputs.Project(project).ID) == nil,
	}
	periods := inputs.Office.Periods
	c.Codes = changes(plans[j], plans[i], func(l *costs.Line, _ calendar.Period) (string, string) {
		return l.Code, inputs.Office.Codes[l.CodeID].Name
	})
	c.Years = changes(plans[j], plans[i], func(_ *costs.Line, p calendar.Period) (string, string) {
		return fmt.Sprintf("FY%02d", periods.FiscalYear(p)%100), ""
	})
	was, err := inputs.View(ctx, project, m.Period.Number, portfolio.Against(c.Was.Number))
	if err != nil {
		return nil, err
	}
	is, err := inputs.View(ctx, project, m.Period.Number, portfolio.Against(number))
	if err != nil {
		return nil, err
	}
	c.Dates = movedDates(was, is)
	if c.Before, err = inputs.Against(ctx, project, m.Period.Number, portfolio.Against(c.Was.Number), !m.InProject); err != nil {
		return nil, err
	}
	c.After, err = inputs.Against(ctx, project, m.Period.Number, portfolio.Against(number), !m.InProject)
	return c, err
}

// changes sums two plans by a name, in its order.
func changes(was, is []costs.Line, name func(*costs.Line, calendar.Period) (code, name string)) []Changed {
	at := make(map[string]*Changed)
	sum := func(lines []costs.Line, to func(*Changed) *int64) {
		eachPlanned(lines, func(l *costs.Line, p calendar.Period, n int64) {
			code, title := name(l, p)
			if at[code] == nil {
				at[code] = &Changed{Code: code, Name: title}
			}
			*to(at[code]) += n
		})
	}
	sum(was, func(c *Changed) *int64 { return &c.Was })
	sum(is, func(c *Changed) *int64 { return &c.Is })
	var out []Changed
	for _, code := range slices.Sorted(maps.Keys(at)) {
		out = append(out, *at[code])
	}
	return out
}

// movedDates lists the activities whose dates differ, the one that slips most
// first.
func movedDates(was, is *portfolio.View) (out []MovedDate) {
	for i := range is.Activities {
		x := MovedDate{Code: is.Activities[i].Code, Name: is.Activities[i].Name}
		if r := was.Row(i); r != nil {
			x.Was = [2]calendar.Date{r.Start, r.Finish}
		}
		if r := is.Row(i); r != nil {
			x.Is = [2]calendar.Date{r.Start, r.Finish}
		}
		if x.Was == x.Is {
			continue
		}
		if x.Was[1] != 0 && x.Is[1] != 0 {
			x.Slip = is.Cal.Slip(x.Was[1], x.Is[1])
		}
		out = append(out, x)
	}
	slices.SortStableFunc(out, func(a, b MovedDate) int { return max(b.Slip, -b.Slip) - max(a.Slip, -a.Slip) })
	return out
}
