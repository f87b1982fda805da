package figure

import (
	"fmt"
	"sort"

	"turret/internal/core/calendar"
	"turret/internal/core/dates"
	"turret/internal/core/earned"
	"turret/internal/core/exact"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Node is one step of a trail: an entry at a period with its value and the
// entries that its formula asked for.
type Node struct {
	ID       ID
	Period   calendar.Period
	Currency money.Currency // of amounts
	Value    Value
	Inputs   []*Node
}

// Trail computes an entry once more and records what it asks for.
func (e *Eval) Trail(id ID) *Node {
	root := &Node{}
	e.rec, e.schedule = root, nil
	e.Get(id)
	e.rec = nil
	return root.Inputs[0]
}

// Fact is one thing that a base entry is made of: a cell, an activity, a
// milestone or a risk.
type Fact struct {
	Scope  string // code of the part that adds it, in a group
	What   string // in words
	Detail string // rule, weight, rate or the like
	Period calendar.Period
	From   string // the amount in its own currency, where it was converted
	Value  Value  // what it adds, in the evaluation's currency; may be unknown
	Source portfolio.Source
	Posted *Posted // where postings stand behind it
	CodeID int64   // cost code of a cell; zero: none
}

// Posted tells which postings were summed to a cell.
type Posted struct {
	CodeID        int64
	Class, Centre string
	ActivityID    int64
	Currency      money.Currency
	Period        calendar.Period
}

// Facts lists the rows behind a base entry of a project.
func (s *Project) Facts(e *Eval, id ID, q calendar.Period) []Fact {
	switch id {
	case BAC, BACEarned, PV, PVEarned:
		keep := func(c *portfolio.Cell) bool { return id == BAC || id == BACEarned || c.Period <= q }
		if s.View.Plan != nil {
			return s.cells(
				fmt.Sprintf("plan %d", s.View.Plan.Number),
				s.View.Plan.Lines,
				money.PlanRates,
				false,
				s.CountsInPlan,
				keep,
			)
		}
		if s.ByBudget {
			return s.cells("budget", s.SpreadBudgets(), money.PlanRates, false, costOnly, keep)
		}
	case AC, ACEarned:
		return s.booked(costOnly, q)
	case ACFromPlan:
		return s.cells(Passed, s.Elapsed, money.PeriodRates, false, costOnly, func(c *portfolio.Cell) bool { return c.Period <= q })
	case EACStated, EACStatedEarned:
		if s.Forecast != nil {
			return s.forecast(costOnly)
		}
	case OnOrder:
		if s.Commitment != nil {
			return s.cells(
				"ordered, stated "+s.Office.Periods.Code(calendar.Period(s.Commitment.Number)),
				s.Commitment.Lines,
				money.PeriodRates,
				true,
				costOnly,
				func(*portfolio.Cell) bool { return true },
			)
		}
	case IncomePlan:
		if s.View.Plan != nil {
			return s.cells(
				fmt.Sprintf("plan %d", s.View.Plan.Number),
				s.View.Plan.Lines,
				money.PlanRates,
				false,
				earned.IsIncome,
				func(*portfolio.Cell) bool { return true },
			)
		}
	case Income:
		return s.booked(earned.IsIncome, q)
	case IncomeStated:
		out := s.booked(earned.IsIncome, s.Period)
		if s.Forecast != nil {
			out = append(out, s.forecast(earned.IsIncome)...)
		}
		return out
	case EV, EarnedShare:
		return s.leaves(q)
	case LateShare:
		return s.late()
	case FinishPlanned, FinishStated, FinishSlip:
		return s.finishes()
	case MilestoneSlip:
		return s.milestones()
	case RiskExposure:
		return s.risks()
	case Errors, Warnings:
		return s.open(id)
	case FloatLeast, Critical, NearCritical, LinksBroken, Conflicts, FinishNetwork, FinishStretched:
		return s.webFacts(id)
	case Scope, Accepted, AddedShare, Pace, NetPace, Blocked, BlockedAge, FinishPace:
		return s.itemFacts(id)
	case YearPlan, YearOutlook:
		return s.ofYear(e, id)
	case Funded:
		return FundingFacts(s.Office, s.Project.Funding, e.Currency, s.Period)
	}
	return nil
}

// ofYear lists the cells of the fiscal year: planned, or booked and still to come.
func (s *Project) ofYear(e *Eval, id ID) []Fact {
	first, last := fiscalYear(e)
	in := func(from, to calendar.Period) func(*portfolio.Cell) bool {
		return func(c *portfolio.Cell) bool { return c.Period >= from && c.Period <= to }
	}
	planned := func(from calendar.Period) []Fact {
		switch {
		case s.View.Plan != nil:
			return s.cells(fmt.Sprintf("plan %d", s.View.Plan.Number), s.View.Plan.Lines, money.PlanRates, false, s.CountsInPlan, in(from, last))
		case s.ByBudget:
			return s.cells("budget", s.SpreadBudgets(), money.PlanRates, false, costOnly, in(from, last))
		}
		return nil
	}
	if id == YearPlan {
		return planned(first)
	}
	out := s.cells("booked", s.Actual, money.PeriodRates, false, costOnly, in(first, s.Period))
	out = append(out, s.cells("postings", s.Ledger, money.PeriodRates, false, costOnly, in(first, s.Period))...)
	out = append(out, s.cells(Passed, s.Elapsed, money.PeriodRates, false, costOnly, in(first, s.Period))...)
	out = append(out, s.cells("accrual", s.Accrual, money.PeriodRates, false, costOnly, in(s.Period, s.Period))...)
	switch {
	case s.Forecast != nil:
		out = append(out, s.cells("forecast", s.Forecast.Lines, money.PeriodRates, true, costOnly, in(s.Period+1, last))...)
	case !s.done:
		out = append(out, planned(s.Period+1)...)
	}
	return out
}

func costOnly(l *portfolio.Line) bool { return l.Flow == portfolio.Cost }

// Passed is what a fact is called that was spent only because time passed.
const Passed = "planned, as time passed"

// booked lists what was booked through a period, and the period's accruals.
func (s *Project) booked(keep func(*portfolio.Line) bool, q calendar.Period) []Fact {
	upTo := func(c *portfolio.Cell) bool { return c.Period <= q }
	out := s.cells("booked", s.Actual, money.PeriodRates, false, keep, upTo)
	out = append(out, s.cells("postings", s.Ledger, money.PeriodRates, false, keep, upTo)...)
	out = append(out, s.cells(Passed, s.Elapsed, money.PeriodRates, false, keep, upTo)...)
	return append(
		out,
		s.cells(
			"accrual",
			s.Accrual,
			money.PeriodRates,
			false,
			keep,
			func(c *portfolio.Cell) bool { return c.Period == q },
		)...)
}

// forecast lists what the statement in force says is still to come.
func (s *Project) forecast(keep func(*portfolio.Line) bool) []Fact {
	return s.cells(
		"forecast stated "+s.Office.Periods.Code(calendar.Period(s.Forecast.Number)),
		s.Forecast.Lines,
		money.PeriodRates,
		true,
		keep,
		func(c *portfolio.Cell) bool { return c.Period > s.Period },
	)
}

func (s *Project) cells(
	what string,
	lines []portfolio.Line,
	set money.Set,
	stated bool,
	keep func(*portfolio.Line) bool,
	which func(*portfolio.Cell) bool,
) []Fact {
	var out []Fact
	for i := range lines {
		l := &lines[i]
		if !keep(l) {
			continue
		}
		for j := range l.Cells {
			c := &l.Cells[j]
			if !which(c) {
				continue
			}
			f := Fact{What: what + " · " + s.lineName(l), Period: c.Period, Source: c.Source, CodeID: l.CodeID}
			conv, err := s.Converter(l.Currency, set, c.Period, stated)
			n, err2 := conv.Convert(c.Amount)
			switch {
			case err != nil:
				f.Value = Unknown(Money, err.Error())
			case err2 != nil:
				f.Value = Unknown(Money, err2.Error())
			default:
				f.Value = Whole(Money, n)
			}
			if l.Currency != s.Currency {
				f.From = money.Format(c.Amount, l.Currency) + " " + string(l.Currency)
				f.Detail = s.rateText(l.Currency, set, c.Period, stated)
			}
			if what == "postings" {
				f.Posted = &Posted{l.CodeID, l.Class, l.Centre, l.ActivityID, l.Currency, c.Period}
			}
			out = append(out, f)
		}
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].Period < out[j].Period })
	return out
}

func (s *Project) rateText(from money.Currency, set money.Set, p calendar.Period, stated bool) string {
	if stated {
		p = min(p, s.Period)
	}
	a, err := s.Office.Rates.At(from, set, int(p), int(s.Period))
	if err != nil {
		return ""
	}
	b, err := s.Office.Rates.At(s.Currency, set, int(p), int(s.Period))
	if err != nil {
		return ""
	}
	if b == money.One {
		return fmt.Sprintf("× %s, %s rate", a, set)
	}
	return fmt.Sprintf("× %s ÷ %s, %s rates", a, b, set)
}

func (s *Project) lineName(l *portfolio.Line) string {
	name := l.Code
	if c, ok := s.Office.Codes[l.CodeID]; ok {
		name = c.Code + " " + c.Name
	}
	if l.Activity != "" {
		if name != "" {
			name += ", "
		}
		name += "activity " + l.Activity
	}
	if l.Centre != "" {
		name += ", centre " + l.Centre
	}
	class, stated := s.View.Class(l)
	name += ", " + class
	if !stated {
		name += " (not stated)"
	}
	return name
}

func (s *Project) activityName(i int) string {
	return s.Activities[i].Code + " " + s.Activities[i].Name
}

func (s *Project) leaves(q calendar.Period) []Fact {
	day := s.Office.Periods.Last(q)
	var out []Fact
	for _, l := range s.Leaves {
		status := s.Status(l.Activity, q)
		num, den := s.Earned(l.Activity, status, day)
		f := Fact{
			What:   s.activityName(l.Activity),
			Period: status.SaidIn,
			Source: status.Source,
		}
		f.Value = Exact(Ratio, exact.Of(num, den))
		weight := fmt.Sprintf("%d working days", l.Weight)
		if s.ByBudget {
			weight = "budget " + money.Format(l.Weight, s.Project.Currency)
		}
		f.Detail = fmt.Sprintf("by %s; weight %s", s.Activities[l.Activity].Rule, weight)
		out = append(out, f)
	}
	return out
}

func (s *Project) late() []Fact {
	_, late := s.LateWeight()
	var out []Fact
	for _, i := range late {
		r := s.Row(i)
		out = append(
			out,
			Fact{
				What:   s.activityName(i),
				Detail: "baseline finish " + r.Finish.String() + ", not finished",
				Value:  Whole(Day, int64(r.Finish)),
				Source: r.Source,
			},
		)
	}
	return out
}

func (s *Project) finishes() []Fact {
	planned, stated := dates.Planned(s.View), dates.Stated(s.View)
	var out []Fact
	for i := range s.Activities {
		st := s.Status(i, s.Period)
		if s.Activities[i].Kind == portfolio.Summary {
			continue
		}
		if r := s.Row(i); r != nil && r.Finish == planned && planned != 0 {
			out = append(
				out,
				Fact{
					What:   s.activityName(i),
					Detail: "baseline finish",
					Value:  Whole(Day, int64(planned)),
					Source: r.Source,
				},
			)
		}
		if d := max(st.Done, 0); d == stated && d != 0 {
			out = append(
				out,
				Fact{
					What:   s.activityName(i),
					Detail: "actual finish",
					Period: st.SaidIn,
					Value:  Whole(Day, int64(d)),
					Source: st.Source,
				},
			)
		} else if st.Done == 0 && st.Finish == stated && stated != 0 {
			out = append(out, Fact{What: s.activityName(i), Detail: "current finish", Period: st.SaidIn, Value: Whole(Day, int64(stated)), Source: st.Source})
		}
	}
	return out
}

func (s *Project) milestones() []Fact {
	var out []Fact
	for _, m := range dates.Milestones(s.View) {
		if s.Activities[m.Activity].Raised() {
			out = append(
				out,
				Fact{
					What:   s.activityName(m.Activity),
					Detail: fmt.Sprintf("%s; baseline %s, current %s", m.State, m.Baseline, m.Current),
					Value:  Whole(Workdays, int64(m.Slip)),
					Source: m.Source,
				},
			)
		}
	}
	return out
}

// open lists the findings behind a count of them.
func (s *Project) open(id ID) []Fact {
	if s.found == nil {
		return nil
	}
	if id == Errors {
		return s.found.Facts[:s.found.Errors]
	}
	return s.found.Facts[s.found.Errors:]
}

func (s *Project) risks() []Fact {
	var out []Fact
	for _, r := range RisksInForce(s.View) {
		f := Fact{
			What:   r.Code + " " + r.Title,
			Detail: fmt.Sprintf("%s %s; %d × %d", r.State, r.Kind, r.Likelihood, r.Impact),
			Value:  Whole(Count, r.Likelihood*r.Impact),
			Source: r.Source,
		}
		out = append(out, f)
	}
	return out
}
