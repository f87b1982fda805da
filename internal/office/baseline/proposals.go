package baseline

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/change"
	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
	"turret/internal/tell"
)

// Kept, Stated and ToType say what the money or the dates of a proposed baseline are
// made of: those of the baseline in force, what is spent and stated, or, of money, that of
// the baseline in force, to be typed over until it is decided.
const (
	Kept   = "kept"
	Stated = "stated"
	ToType = "typed"
)

// Proposal is what someone proposes as the new baseline of a project.
type Proposal struct {
	Project string
	Money   string // Kept, Stated or ToType
	Dates   string // Kept or Stated
	Reason  string
}

// Propose proposes a baseline from what a moment's period knows of a project,
// under the next number, which it gives. It counts nowhere until it is approved.
func (o Room) Propose(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	seen int64,
	p Proposal,
) (number int, err error) {
	if err := right.Check(a, right.Propose); err != nil {
		return 0, err
	}
	f := &entry.Form{Origin: office.Proposed, Seen: seen}
	f.Rows = func(ctx context.Context, s *book.Snapshot) (rows []entry.Rows, err error) {
		number, rows, err = o.proposal(ctx, a, m.On(s), p)
		f.Note = fmt.Sprintf("baseline %d of %s: %s", number, p.Project, strings.TrimSpace(p.Reason))
		return rows, err
	}
	_, err = entry.In(o.Office).Enter(ctx, a, f)
	return number, err
}

// proposal makes the rows of a proposed baseline, and gives its number.
func (o Room) proposal(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
	p Proposal,
) (number int, rows []entry.Rows, err error) {
	v, err := m.Snapshot().View(ctx, p.Project, m.Period.Number, portfolio.Latest)
	switch {
	case err != nil:
		return 0, nil, err
	case v == nil:
		return 0, nil, office.Refusef("There is no project %q; open its sheet from the board.", p.Project)
	case m.Snapshot().Closed[m.Period.Number]:
		return 0, nil, office.Refusef(
			"%s is closed, so nothing is proposed from it: choose the open period on the rail.",
			m.Period.Name,
		)
	case strings.TrimSpace(p.Reason) == "":
		return 0, nil, &office.Misfit{
			Column: "reason",
			Why:    "say why the plan should change; the approver and every later reader will see it",
		}
	case p.Money != Stated && p.Money != ToType && p.Dates != Stated:
		return 0, nil, office.Refusef(
			"Nothing would change: take the money or the dates from what is stated, or type the money. A plan of another make is gathered, with the state proposed.",
		)
	case p.Money == Stated && portfolio.VersionAt(v.Forecast, int(m.Period.Number)) == nil:
		return 0, nil, &office.Misfit{
			Column: "money",
			Why: fmt.Sprintf(
				"%s states no forecast yet, so there is nothing to take; keep the plan's money, or gather the forecast first",
				p.Project,
			),
		}
	}
	for i := range v.Baselines {
		if b := &v.Baselines[i]; b.State == portfolio.PlanProposed {
			return 0, nil, office.Refusef(
				"Baseline %d is proposed already, by %s: it is approved or rejected first, or changed by gathering it anew.",
				b.Number,
				someone(b.Proposer),
			)
		}
	}
	number = 1
	for _, n := range v.Project.Numbers() {
		number = max(number, n)
	}
	number++
	rows = []entry.Rows{entry.Of("baselines", entry.Row{
		"project": p.Project, "baseline": fmt.Sprint(number), "state": string(portfolio.PlanProposed), "proposed": calendar.DateIn(o.Clock()).String(), "proposer": a.Name, "reason": p.Reason,
	})}
	if p.Dates == Stated {
		dates := statedDates(v, number)
		if len(dates) == 0 {
			return 0, nil, &office.Misfit{
				Column: "dates",
				Why:    fmt.Sprintf("%s states no dates; keep those of the baseline in force", p.Project),
			}
		}
		rows = append(rows, entry.Of("activities", dates...))
	}
	if p.Money == Stated {
		cells, err := o.statedMoney(ctx, m, p.Project, number)
		if err != nil {
			return 0, nil, err
		}
		rows = append(rows, entry.Of("costs", cells...))
	}
	if cells := plannedMoney(m, v, number); p.Money == ToType && len(cells) > 0 {
		rows = append(rows, entry.Of("costs", cells...))
	}
	return number, rows, nil
}

// plannedMoney gives the rows of a plan as the one in force has them.
func plannedMoney(m *office.Moment, v *portfolio.View, number int) (out []entry.Row) {
	if v.Plan == nil {
		return nil
	}
	o := m.Snapshot().Office
	for i := range v.Plan.Lines {
		l := &v.Plan.Lines[i]
		for _, c := range l.Cells {
			out = append(out, entry.Row{
				"project": v.Code, "cost_code": o.Codes[l.CodeID].Code, "kind": "plan", "flow": string(l.Flow), "class": l.Class, "period": o.Periods.Code(c.Period),
				"version": fmt.Sprint(number), "cost_centre": l.Centre, "activity": l.Activity, "amount": money.Format(c.Amount, l.Currency), "currency": string(l.Currency),
			})
		}
	}
	return out
}

func someone(name string) string {
	if name == "" {
		return "someone"
	}
	return name
}

// statedDates gives the rows of a baseline whose dates are the current ones, or
// the actual ones where there are any; budgets stay.
func statedDates(v *portfolio.View, number int) (out []entry.Row) {
	for i := range v.Activities {
		s := v.Status(i, v.Period)
		row := entry.Row{"project": v.Code, "activity": v.Activities[i].Code, "baseline": fmt.Sprint(number)}
		r := v.Row(i)
		if r == nil {
			r = &portfolio.BaselineRow{}
		}
		if r.HasBudget {
			row["budget"] = money.Format(r.Budget, v.Currency)
		}
		start, finish := cmp.Or(s.Began, s.Start, r.Start), cmp.Or(s.Done, s.Finish, r.Finish)
		if start != 0 {
			row["baseline_start"] = start.String()
		}
		if finish != 0 { // one that the actual start has passed is that day
			row["baseline_finish"] = max(start, finish).String()
		}
		if len(row) > 3 {
			out = append(out, row)
		}
	}
	return out
}

// planCell is a cell of a proposed plan.
type planCell struct {
	costs.Key
	period calendar.Period
}

// statedMoney gives the rows of a plan that is what is spent through a period
// and stated after it, each line in the currency it was stated in; one that has
// several in a period, in the project's. Management reserve, and flows of which
// nothing is booked or stated, stay as planned.
func (o Room) statedMoney(ctx context.Context, m *office.Moment, project string, number int) ([]entry.Row, error) {
	type sum struct {
		own, total int64
		currency   money.Currency
		mixed      bool
	}
	sums := make(map[planCell]*sum)
	var order []planCell
	add := func(x *costs.Cell) {
		k := planCell{x.Key, x.Period}
		s := sums[k]
		if s == nil {
			s = &sum{currency: x.Line.Currency}
			sums[k] = s
			order = append(order, k)
		}
		own := x.Stated.Amount
		if x.Back {
			own = -own
		}
		s.mixed = s.mixed || s.currency != x.Line.Currency
		s.own, s.total = s.own+own, s.total+x.Amount
	}
	var planned []costs.Cell
	stated := make(map[portfolio.Flow]bool)
	var own money.Currency
	why, err := m.Snapshot().
		EachCost(ctx, project, m.Period.Number, portfolio.Latest, "", costs.Usual, func(p *portfolio.Project, x *costs.Cell) {
			own = p.Currency
			switch x.Kind {
			case costs.Plan:
				planned = append(planned, *x)
			case costs.Actual, costs.Accrual, costs.Forecast:
				stated[x.Key.Flow] = true
				add(x)
			}
		})
	if err != nil {
		return nil, err
	}
	if why != "" {
		return nil, &office.Misfit{Column: "money", Why: "its amounts are not known: " + why}
	}
	for i := range planned {
		if x := &planned[i]; !stated[x.Key.Flow] ||
			m.Snapshot().Office.ManagementReserve(x.Key.CodeID) && sums[planCell{x.Key, x.Period}] == nil {
			add(x)
		}
	}
	slices.SortFunc(order, func(a, b planCell) int { return strings.Compare(a.sortKey(), b.sortKey()) })
	var out []entry.Row
	for _, k := range order {
		s := sums[k]
		if s.mixed {
			s.own, s.currency = s.total, own
		}
		if s.own == 0 {
			continue
		}
		out = append(out, entry.Row{
			"project": project, "cost_code": k.Code, "kind": "plan", "flow": string(k.Flow), "class": k.Class, "period": m.Snapshot().Office.Periods.Code(k.period),
			"version": fmt.Sprint(
				number,
			), "cost_centre": k.Centre, "activity": k.Activity, "amount": money.Format(s.own, s.currency), "currency": string(s.currency),
		})
	}
	return out, nil
}

func (k planCell) sortKey() string {
	return fmt.Sprintf("%s\x00%s\x00%s\x00%s\x00%s\x00%06d", k.Code, k.Flow, k.Class, k.Centre, k.Activity, k.period)
}

// Decision is what an approver says of a proposed baseline.
type Decision struct {
	Project string
	Number  int
	Approve bool   // else it is rejected
	Day     string // from which it is in force
	Remark  string
}

// Decide approves or rejects a proposed baseline: someone else than who proposed
// it, from a day that no closed period holds and that is not before the approval
// of an earlier baseline.
func (o Room) Decide(ctx context.Context, a right.Actor, seen int64, d Decision) error {
	if err := right.Check(a, right.Approve); err != nil {
		return err
	}
	f := &entry.Form{Origin: office.Decided, Seen: seen}
	f.Rows = func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
		row, err := o.decision(ctx, a, s, d)
		f.Note = fmt.Sprintf("baseline %d of %s %s", d.Number, d.Project, row["state"])
		return []entry.Rows{entry.Of("baselines", row)}, err
	}
	_, err := entry.In(o.Office).Enter(ctx, a, f)
	return err
}

// decision makes the row of a decided baseline.
func (o Room) decision(ctx context.Context, a right.Actor, s *book.Snapshot, d Decision) (entry.Row, error) {
	p := s.Project(d.Project)
	if p == nil || !a.Reads(p.ID) {
		return nil, office.Refusef("There is no project %q.", d.Project)
	}
	if err := right.CheckApprove(a, p.ID); err != nil {
		return nil, err
	}
	b := p.Baseline(d.Number)
	if b != nil && b.State != portfolio.PlanProposed && b.Approver != "" {
		return nil, office.Refusef(
			"Baseline %d of %s is %s already, by %s; there is nothing left to decide.",
			d.Number,
			d.Project,
			b.State,
			b.Approver,
		)
	}
	if b == nil || b.State != portfolio.PlanProposed {
		return nil, office.Refusef(
			"Baseline %d of %s is not proposed, so there is nothing to decide.",
			d.Number,
			d.Project,
		)
	}
	if own, err := o.wroteBaseline(ctx, s, a, p, d.Number); err != nil {
		return nil, err
	} else if own {
		return nil, office.Refusef("You proposed it, or changed what is proposed, so someone else approves or rejects it.")
	}
	row := entry.Row{
		"project":  d.Project,
		"baseline": fmt.Sprint(d.Number),
		"state":    string(portfolio.PlanRejected),
		"approver": a.Name,
		"remark":   d.Remark,
	}
	if !d.Approve {
		if strings.TrimSpace(d.Remark) == "" {
			return nil, &office.Misfit{Column: "remark", Why: "say why it is rejected"}
		}
		return row, nil
	}
	day, err := calendar.ParseDate(strings.TrimSpace(d.Day))
	if err != nil {
		return nil, &office.Misfit{
			Column: "day",
			Why:    "write the day from which it is in force, such as " + calendar.DateIn(o.Clock()).String(),
		}
	}
	if at := s.Office.Periods.Of(day); s.Closed[at] {
		return nil, &office.Misfit{
			Column: "day",
			Why: fmt.Sprintf(
				"%s lies in %s, which is closed and keeps its plan; take a day of an open period",
				day,
				s.Office.Periods.Name(at),
			),
		}
	}
	for i := range p.Baselines {
		x := &p.Baselines[i]
		switch {
		case !x.Counts():
		case x.Number > d.Number:
			return nil, office.Refusef(
				"Baseline %d was approved meanwhile, so %d would never be in force: reject it, and propose what it changes anew.",
				x.Number,
				d.Number,
			)
		case x.Approved > day:
			return nil, &office.Misfit{
				Column: "day",
				Why: fmt.Sprintf(
					"baseline %d is in force from %s; a later number is in force from that day on, or after it",
					x.Number,
					x.Approved,
				),
			}
		}
	}
	row["state"], row["approved"] = string(portfolio.PlanApproved), day.String()
	return row, nil
}

// wroteBaseline tells whether an actor has written any of a baseline that waits:
// its record, its plan or its dates. Whoever has does not decide it; nor does the
// one it names as proposer, unless another account of that name wrote it.
func (o Room) wroteBaseline(
	ctx context.Context,
	s *book.Snapshot,
	a right.Actor,
	p *portfolio.Project,
	number int,
) (bool, error) {
	writers, err := o.Store().BaselineWriters(ctx, p.ID, number)
	if err != nil {
		return false, err
	}
	named := change.By{Name: a.Name}.Same(change.By{Name: p.Baseline(number).Proposer})
	for _, w := range writers {
		x := change.By{Account: w.Account, Name: w.Actor}
		if office.By(a).Same(x) {
			return true, nil
		}
		if w.Account != 0 && x.Same(change.By{Name: a.Name}) {
			named = false
		}
	}
	return named, nil
}

// FirstDay is the day from which a proposed baseline could be in force: today, or
// the first day of the first open period where today's is closed.
func (o Room) FirstDay(m *office.Moment) calendar.Date {
	day, ps := calendar.DateIn(o.Clock()), m.Snapshot().Office.Periods
	for p := ps.Of(day); m.Snapshot().Closed[p]; p++ {
		day = ps.Last(p) + 1
	}
	return day
}

// Counting says from which period on a baseline counts that is approved from a day, where
// the baseline of a number is in force; "" where the day is none of a period.
func Counting(m *office.Moment, kept int, day string) string {
	ps := m.Snapshot().Office.Periods
	d, err := calendar.ParseDate(strings.TrimSpace(day))
	if err != nil {
		return ""
	}
	from := ps.Of(d)
	if from == 0 {
		return ""
	}
	return tell.Counting{
		From:   ps.Name(from),
		Period: m.Period.Name,
		Last:   tell.Date(ps.Last(m.Period.Number)),
		Kept:   kept,
		Now:    from <= m.Period.Number,
		Closed: m.Period.Closed,
	}.String()
}
