package figure

import (
	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/funding"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// NotFunded is why nothing is known of the money that is authorised.
const NotFunded = "no money is recorded as authorised for it"

// Spender is a subject with money that is authorised for it and a course of cost.
type Spender interface {
	// Authorised gives the cumulative money that is authorised, by period, and why it is not
	// known, or "".
	Authorised(e *Eval) (earned.Series, string)
	// Course gives the cumulative cost, booked and to come, and why it is not known, or "".
	Course(e *Eval) (earned.Series, string)
}

// Authorised gives the project's own money.
func (s *Project) Authorised(e *Eval) (earned.Series, string) {
	if len(s.Project.Funding) == 0 {
		return earned.Series{}, NotFunded
	}
	if why := s.moneyWhy(); why != "" {
		return earned.Series{}, why
	}
	return funding.Authorised(s.Office, s.Project.Funding, e.Currency, s.Period)
}

// Course gives the project's cost.
func (s *Project) Course(*Eval) (earned.Series, string) {
	if why := s.moneyWhy(); why != "" {
		return earned.Series{}, why
	}
	return s.Money.Course(s.done)
}

// fiscalYear gives the first and the last period of the fiscal year that an evaluation is in.
func fiscalYear(e *Eval) (first, last calendar.Period) {
	year := e.Calendar.FiscalYear(e.Period)
	for first = e.Period; first > 1 && e.Calendar.FiscalYear(first-1) == year; first-- {
	}
	for last = e.Period; e.Calendar.FiscalYear(last+1) == year; last++ {
	}
	return first, last
}

func fundingGap(e *Eval, _ calendar.Period) Value {
	funded := e.Get(Funded)
	if !funded.Known {
		return funded
	}
	outlook := e.Get(EACStated)
	if !outlook.Known {
		outlook = e.Get(EACComputed)
	}
	return less(outlook, funded)
}

func runsOut(e *Eval, _ calendar.Period) Value {
	s, ok := e.Subject.(Spender)
	if !ok {
		return Value{Why: NotFunded}
	}
	authorised, why := s.Authorised(e)
	if why != "" {
		return Value{Why: why}
	}
	spent, why := s.Course(e)
	if why != "" {
		return Value{Why: why}
	}
	p, _ := funding.RunsOut(spent, authorised, e.Period)
	if p == 0 {
		return Value{Why: "what is authorised covers all that is to come"}
	}
	return day(e.Calendar.Last(p), "it runs out beyond the periods that are drawn")
}

// FundingFacts lists the money of a list, in a currency; of what has no rate, why.
func FundingFacts(o *portfolio.Office, list []portfolio.Funding, to money.Currency, at calendar.Period) (out []Fact) {
	for i := range list {
		f := &list[i]
		what := "from " + f.From
		switch {
		case f.Transfer != "" && f.From != "":
			what = "transfer " + f.Transfer + ", " + f.From
		case f.Transfer != "":
			what = "transfer " + f.Transfer
		}
		fact := Fact{What: what, Detail: f.Says, Period: f.Period, Source: f.Source}
		if f.Currency != to {
			fact.From = money.Format(f.Amount, f.Currency) + " " + string(f.Currency)
		}
		course, why := funding.Authorised(o, list[i:i+1], to, at)
		fact.Value = amount(course.Total(), why)
		fact.Value.Unit = Money
		out = append(out, fact)
	}
	return out
}

// worth gives what the plan is worth, and when it is paid back.
func (s *Project) worth(e *Eval, id ID) Value {
	if why := s.moneyWhy(); why != "" {
		return Value{Why: why}
	}
	if id == NPV && s.Office.Discount < 0 {
		return Value{Why: "the office has set no yearly rate for it"}
	}
	net, why := s.Net()
	if why != "" {
		return Value{Why: why}
	}
	if id == NPV {
		return wholeOr(earned.Present(net, s.Office.Discount, e.Period, e.Calendar))
	}
	p := earned.PaidBack(net)
	if p == 0 {
		return Value{Why: "what is planned to come in never covers what it costs"}
	}
	return day(e.Calendar.Last(p), "it lies beyond the periods that are drawn")
}
