package figure

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
)

func minus(a, b ID) func(*Eval, calendar.Period) Value {
	return func(e *Eval, _ calendar.Period) Value { return less(e.Get(a), e.Get(b)) }
}

func quotient(a, b ID, zero string) func(*Eval, calendar.Period) Value {
	return func(e *Eval, p calendar.Period) Value { return over(e.At(a, p), e.At(b, p), zero) }
}

func positiveQuotient(a, b ID) func(*Eval, calendar.Period) Value {
	return func(e *Eval, p calendar.Period) Value {
		d := e.At(b, p)
		if d.Known && d.N <= 0 {
			return Value{Why: "the cost is not above zero"}
		}
		return over(e.At(a, p), d, "")
	}
}

func step(id ID) func(*Eval, calendar.Period) Value {
	return func(e *Eval, p calendar.Period) Value { return less(e.At(id, p), e.At(id, p-1)) }
}

func overPlan(id ID) func(*Eval, calendar.Period) Value {
	return func(e *Eval, _ calendar.Period) Value {
		v := over(e.Get(id), e.Get(BAC), "the plan is zero")
		if v.Known && e.Get(BAC).N < 0 {
			return Value{Why: "the plan is below zero"}
		}
		if v.Known {
			v.R = v.R.Sub(exact.Whole(1))
		}
		return v
	}
}

func cpi(e *Eval, p calendar.Period) Value {
	ac := e.At(ACEarned, p)
	if ac.Known && ac.N <= 0 {
		return Value{Why: "the actual cost is not above zero"}
	}
	return over(e.At(EV, p), ac, "")
}

func tcpiBAC(e *Eval, _ calendar.Period) Value {
	bac, ev, ac := e.Get(BACEarned), e.Get(EV), e.Get(ACEarned)
	if why, bad := unknown(bac, ev, ac); bad {
		return Value{Why: why}
	}
	if ac.N >= bac.N && ev.N < bac.N {
		return Value{Why: "out of reach"}
	}
	return over(less(bac, ev), less(bac, ac), "all of the plan is spent")
}

func tcpiEAC(e *Eval, _ calendar.Period) Value {
	return over(
		less(e.Get(BACEarned), e.Get(EV)),
		less(e.Get(EACStatedEarned), e.Get(ACEarned)),
		"the stated outlook has nothing to go",
	)
}

// credible is the largest credibility gap of a credible outlook.
var credible = exact.Of(10, 100)

// Credible tells whether a known credibility gap leaves the stated outlook
// credible.
func Credible(gap Value) bool { return gap.R.Cmp(credible) <= 0 }

func credibilityGap(e *Eval, _ calendar.Period) Value {
	f := e.Get(EarnedShare)
	if f.Known && (f.R.Cmp(tooSmall) < 0 || f.R.Cmp(tooLarge) > 0) {
		return Value{Why: "it is judged while 15% to 95% is earned"}
	}
	v := less(e.Get(TCPIEAC), e.Get(CPI))
	if v.Known {
		v.R = v.R.Abs()
	}
	return v
}

func earnedSchedule(e *Eval, _ calendar.Period) Value {
	s := e.earnedSchedule()
	if s.why != "" {
		return Value{Why: s.why}
	}
	return Value{Known: true, R: s.ES}
}

func actualTime(e *Eval, _ calendar.Period) Value {
	s := e.earnedSchedule()
	if s.why != "" {
		return Value{Why: s.why}
	}
	return Value{Known: true, R: exact.Whole(int64(s.AT))}
}

func computedFinish(e *Eval, _ calendar.Period) Value {
	es, at := e.Get(ES), e.Get(AT)
	if why, bad := unknown(es, at); bad {
		return Value{Why: why}
	}
	if bac, ev := e.Get(BACEarned), e.Get(EV); e.Subject.Done(e) || ev.N >= bac.N {
		return Value{Why: "it is done"}
	}
	if es.R.Sign() == 0 {
		return Value{Why: "nothing is earned yet"}
	}
	s := e.earnedSchedule()
	d := s.Finish(e.Calendar, s.first)
	if d == 0 {
		return Value{Why: fmt.Sprintf("at this pace it lies beyond the office's calendar (%d periods planned)", s.PD)}
	}
	return Value{Known: true, N: int64(d)}
}
