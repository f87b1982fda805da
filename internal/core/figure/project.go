package figure

import (
	"fmt"

	"turret/internal/core/backlog"
	"turret/internal/core/calendar"
	"turret/internal/core/dates"
	"turret/internal/core/earned"
	"turret/internal/core/exact"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Project is a project as a subject of figures.
type Project struct {
	*earned.Money
	found *Found           // nil: the data were not checked
	web   *Web             // nil: the network was not computed
	takes *earned.Income   // once it is asked for
	items *backlog.Backlog // once it is asked for, where there is one
	done  bool
}

// Found is what checks of the data found open.
type Found struct {
	Errors, Warnings int64
	Facts            []Fact // the findings, in the order of their severity
}

// OfProject begins the evaluation of a project's figures in its own currency.
func OfProject(p *earned.Progress) *Eval { return ofProject(p, p.Project.Currency) }

// In begins the evaluation of the same project with its amounts in another currency:
// made of its converted cells and of its own indices, shares and dates. It asks the one
// it is made of, which must not be asked by others meanwhile.
func (e *Eval) In(c money.Currency) *Eval {
	own := e.Of(CPI)
	if own.Currency == c {
		return own
	}
	out := own.Divided(c)
	out.own = own
	return out
}

// Divided begins the evaluation of the same project with converted amounts divided by each
// other, which is no figure of it: a trail tells from it how much of a ratio is currency.
func (e *Eval) Divided(c money.Currency) *Eval { return ofProject(e.Subject.(*Project).Progress, c) }

func ofProject(p *earned.Progress, c money.Currency) *Eval {
	s := &Project{Money: earned.NewMoney(p, c)}
	f, _ := s.Share(s.Period)
	s.done = s.StateAt(s.Day) == portfolio.Finished || f.Is() && f.Cmp(exact.Whole(1)) == 0
	return New(s, p.Period, c, p.Office.Periods)
}

// IsGroup is false.
func (s *Project) IsGroup() bool { return false }

// Done tells that the project is finished, or that all of it is earned.
func (s *Project) Done(*Eval) bool { return s.done }

// moneyWhy is why no money of the project is known in the currency, or "".
func (s *Project) moneyWhy() string {
	if c := s.Unconvertible(); c != "" {
		return fmt.Sprintf("there is no rate for %s", c)
	}
	return ""
}

// Plan gives the cumulative plan where earned value is known.
func (s *Project) Plan() (earned.Series, string) {
	if why := s.planWhy(); why != "" {
		return earned.Series{}, why
	}
	_, why := s.Share(s.Period)
	return s.Money.Plan, why
}

func (s *Project) planWhy() string {
	if why := s.moneyWhy(); why != "" {
		return why
	}
	return s.PlanWhy
}

func (s *Project) actualWhy() string {
	if why := s.moneyWhy(); why != "" {
		return why
	}
	return s.ActualWhy
}

// Base gives the entries that rest on the project's own rows.
func (s *Project) Base(e *Eval, id ID, q calendar.Period) Value {
	switch id {
	case BAC:
		return amount(s.Money.Plan.Total(), s.planWhy())
	case PV:
		return amount(s.Money.Plan.At(q), s.planWhy())
	case AC:
		return amount(s.AC(q), s.actualWhy())
	case EV:
		f, why := s.Share(q)
		if w := s.planWhy(); w != "" {
			why = w
		}
		if why != "" {
			return Value{Why: why}
		}
		return wholeOr(f.Mul(exact.Whole(s.Money.Plan.Total())).Round())
	case BACEarned, PVEarned, ACEarned:
		if _, why := s.Share(s.Period); why != "" {
			return Value{Why: why}
		}
		return e.At(map[ID]ID{BACEarned: BAC, PVEarned: PV, ACEarned: AC}[id], q)
	case EACStatedEarned:
		if _, why := s.Share(s.Period); why != "" {
			return Value{Why: why}
		}
		return e.Get(EACStated)
	case EACStated:
		return s.stated(e)
	case OnOrder:
		return amount(s.Money.OnOrder, first(s.moneyWhy(), s.OnOrderWhy))
	case ACFromPlan:
		switch {
		case !s.FromTime:
			return Value{Why: "its actual cost is what is booked"}
		case s.ActualWhy != "":
			return Value{Why: s.ActualWhy}
		}
		n, why := s.Passed(q)
		return amount(n, why)
	case IncomePlan, Income, IncomeStated:
		return s.income(id)
	case NPV, Payback:
		return s.worth(e, id)
	case YearPlan:
		first, last := fiscalYear(e)
		return amount(s.Money.Plan.At(last)-s.Money.Plan.At(first-1), s.planWhy())
	case YearOutlook:
		course, why := s.Course(e)
		first, last := fiscalYear(e)
		return amount(course.At(last)-course.At(first-1), why)
	case Funded:
		course, why := s.Authorised(e)
		return amount(course.Total(), why)
	case EarnedShare:
		f, why := s.Share(q)
		return Value{Known: f.Is(), R: f, Why: why}
	case ElapsedShare:
		if num, den := s.Progress.ElapsedShare(); den > 0 {
			return Value{Known: true, R: exact.Of(num, den)}
		}
		return Value{Why: "it has no baseline dates"}
	case LateShare:
		if s.Total == 0 {
			return Value{Why: "no activity has a budget or dates to weigh it by"}
		}
		n, _ := s.LateWeight()
		return Value{Known: true, R: exact.Of(n, s.Total)}
	case StatedShare:
		return Value{Why: "it belongs to groups"}
	default:
		return s.dated(id)
	}
}

// dated gives the entries without money.
func (s *Project) dated(id ID) Value {
	v := s.View
	switch id {
	case FinishPlanned:
		return day(dates.Planned(v), "it has no baseline dates")
	case FinishStated:
		return day(dates.Stated(v), "no current dates were said")
	case FinishSlip:
		planned, stated := dates.Planned(v), dates.Stated(v)
		if planned == 0 || stated == 0 {
			return Value{Why: "planned or stated finish is not known"}
		}
		return Value{Known: true, N: int64(v.Cal.Slip(planned, stated))}
	case MilestoneSlip:
		m, ok := dates.MissedSlip(v)
		if !ok {
			return Value{Why: "no milestone of programme or portfolio level has a baseline date"}
		}
		return Value{Known: true, N: int64(m.Slip)}
	case RiskExposure:
		n, why := exposure(v)
		return Value{Known: why == "", N: n, Why: why}
	case StatementAge:
		n, why := statementAge(v)
		return Value{Known: why == "", N: n, Why: why}
	case ForecastAge:
		if s.Forecast == nil {
			return Value{Why: "no forecast was stated up to this period"}
		}
		return Value{Known: true, N: int64(s.Period) - int64(s.Forecast.Number)}
	case Errors, Warnings:
		if s.found == nil {
			return Value{Why: "the data were not checked"}
		}
		n := s.found.Errors
		if id == Warnings {
			n = s.found.Warnings
		}
		return Value{Known: true, N: n}
	case FloatLeast, Critical, NearCritical, LinksBroken, Conflicts, FinishNetwork, FinishStretched:
		return s.networked(id)
	case Scope, Accepted, AddedShare, Pace, NetPace, FinishPace, FinishNetPace, NotReady, Blocked, BlockedAge:
		return s.backlog(id)
	}
	return Value{Why: "it does not exist for a project"}
}

// stated gives AC + what is still to come, as stated.
func (s *Project) stated(e *Eval) Value {
	ac := e.Get(AC)
	if !ac.Known {
		return ac
	}
	if s.Forecast == nil && s.Done(e) {
		return ac
	}
	if s.ToGoWhy != "" {
		return Value{Why: s.ToGoWhy}
	}
	return wholeOr(money.Add(ac.N, s.ToGo))
}

// income gives the income that is planned, booked and stated.
func (s *Project) income(id ID) Value {
	if s.takes == nil {
		in := s.Money.Income()
		s.takes = &in
	}
	in := s.takes
	switch why := s.moneyWhy(); {
	case why != "":
		return Value{Why: why}
	case in.Why != "":
		return Value{Why: in.Why}
	case id == IncomePlan:
		return amount(in.Plan, in.PlanWhy)
	case id == Income:
		return amount(in.Booked, "")
	case s.Forecast == nil && !s.done:
		return Value{Why: s.ToGoWhy}
	}
	return wholeOr(money.Add(in.Booked, in.ToGo))
}

// exposure gives the highest likelihood × impact of an open risk or issue.
func exposure(v *portfolio.View) (int64, string) {
	risks := RisksInForce(v)
	if len(risks) == 0 {
		return 0, "no risk was ever stated"
	}
	var worst int64
	open, scored := 0, 0
	for _, r := range risks {
		if r.State == "closed" {
			continue
		}
		open++
		if r.Likelihood > 0 && r.Impact > 0 {
			scored++
			worst = max(worst, r.Likelihood*r.Impact)
		}
	}
	if open > 0 && scored == 0 {
		return 0, "no open risk has a likelihood and an impact"
	}
	return worst, ""
}

// Risk is a risk or issue as it is known at a period.
type Risk struct {
	Code, Title, Kind, State, Owner, Response string
	Likelihood, Impact                        int64 // zero: not said
	Source                                    portfolio.Source
}

// RisksInForce gives every risk ever stated up to the view's period with the
// values last said, in the order in which they were first stated.
func RisksInForce(v *portfolio.View) []Risk {
	var out []Risk
	at := make(map[string]int)
	for i := range v.Risks {
		r := &v.Risks[i]
		if r.Period > v.Period {
			break
		}
		k, ok := at[r.Risk]
		if !ok {
			k = len(out)
			at[r.Risk] = k
			out = append(out, Risk{Code: r.Risk, Kind: "risk", State: "open"})
		}
		x := &out[k]
		x.Source = r.Source
		for _, f := range [...]struct {
			to  *string
			by  *portfolio.Field
			def string
		}{{&x.Title, &r.Title, ""}, {&x.Kind, &r.Kind, "risk"}, {&x.State, &r.State, "open"}, {&x.Owner, &r.Owner, ""}, {&x.Response, &r.Response, ""}} {
			switch f.by.Said {
			case portfolio.Value:
				*f.to = f.by.Text
			case portfolio.None:
				*f.to = f.def
			}
		}
		for _, f := range [...]struct {
			to *int64
			by *portfolio.Field
		}{{&x.Likelihood, &r.Likelihood}, {&x.Impact, &r.Impact}} {
			if f.by.Said != portfolio.Nothing {
				*f.to = f.by.Int // zero where cleared
			}
		}
	}
	return out
}

// statementAge gives the periods since progress and forecast were last stated,
// the larger of the two. What was never stated is owed since the project's
// first period.
// OwesNothing is why an active project has no StatementAge: rules ask nothing of it.
const OwesNothing = "no statement is owed for it"

func statementAge(v *portfolio.View) (int64, string) {
	worst, owes := 0, false
	for _, kind := range portfolio.OwedKinds {
		d := v.Debt(kind)
		if !d.Owed {
			continue
		}
		if !d.Known {
			return 0, "nothing was stated, and no start tells since when it is owed"
		}
		owes, worst = true, max(worst, d.Behind)
	}
	if owes {
		return int64(worst), ""
	}
	if st := v.StateAt(v.Day); st != portfolio.Active {
		return 0, "a project that is " + string(st) + " owes nothing"
	}
	return 0, OwesNothing
}

func amount(n int64, why string) Value { return Value{Known: why == "", N: n, Why: why} }

// day is a date, or the reason why there is none.
func day(d calendar.Date, why string) Value {
	if d == 0 {
		return Value{Why: why}
	}
	return Value{Known: true, N: int64(d)}
}

func first(texts ...string) string {
	for _, t := range texts {
		if t != "" {
			return t
		}
	}
	return ""
}
