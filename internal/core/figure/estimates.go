package figure

import (
	"cmp"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
)

// Estimates are the estimates at completion that stand side by side.
var Estimates = []ID{EACStated, EACPlan, EACCPI, EACCPI3, EACCPISPI}

// extreme gives the lowest (way −1) or highest (1) of the estimates that are
// known.
func extreme(way int) func(*Eval, calendar.Period) Value {
	return func(e *Eval, _ calendar.Period) Value {
		out := Value{Why: "no estimate is known"}
		for _, id := range Estimates {
			if v := e.Get(id); v.Known && (!out.Known || way*cmp.Compare(v.N, out.N) > 0) {
				out = v
			}
		}
		return out
	}
}

// burn is the mean spend of the last three periods.
func burn(e *Eval, p calendar.Period) Value {
	v := less(e.At(AC, p), e.At(AC, p-3))
	if !v.Known {
		return v
	}
	return wholeOr(exact.Of(v.N, 3).Round())
}

// monthsLeft divides what is left of the plan by the mean spend.
func monthsLeft(e *Eval, _ calendar.Period) Value {
	left, spend := less(e.Get(BAC), e.Get(AC)), e.Get(Burn)
	switch {
	case left.Known && left.N <= 0:
		return Value{Why: "all of the plan is spent"}
	case spend.Known && spend.N <= 0:
		return Value{Why: "nothing was spent in three periods"}
	}
	return over(left, spend, "")
}

// estimate gives an estimate at completion: the actual cost where all is done,
// else AC + (BAC − EV) ÷ index, exact until one rounding.
func estimate(index func(*Eval) Value) func(*Eval, calendar.Period) Value {
	return func(e *Eval, _ calendar.Period) Value {
		ac, bac, ev := e.Get(ACEarned), e.Get(BACEarned), e.Get(EV)
		if why, bad := unknown(ac, bac, ev); bad {
			return Value{Why: why}
		}
		if e.Subject.Done(e) {
			return Value{Known: true, N: ac.N}
		}
		i := index(e)
		if !i.Known {
			return Value{Why: i.Why}
		}
		if i.R.Sign() <= 0 {
			return Value{Why: "its index is not above zero"}
		}
		left := exact.Whole(bac.N).Sub(exact.Whole(ev.N)).Quo(i.R)
		return wholeOr(left.Add(exact.Whole(ac.N)).Round())
	}
}

func atPlan(*Eval) Value { return Value{Known: true, R: exact.Whole(1)} }

func atCPI(e *Eval) Value { return e.Get(CPI) }

func atCPI3(e *Eval) Value { return e.Get(CPI3) }

func cpi3(e *Eval, _ calendar.Period) Value {
	return over(
		less(e.Get(EV), e.At(EV, e.Period-3)),
		less(e.Get(ACEarned), e.At(ACEarned, e.Period-3)),
		"nothing was spent in three periods",
	)
}

func atCPISPI(e *Eval) Value {
	c, s := e.Get(CPI), e.Get(SPI)
	if why, bad := unknown(c, s); bad {
		return Value{Why: why}
	}
	if c.R.Sign() <= 0 || s.R.Sign() <= 0 {
		return Value{Why: "its index is not above zero"}
	}
	return Value{Known: true, R: c.R.Mul(s.R)}
}

// Methods gives the estimate of each outlook method.
var Methods = map[string]ID{"stated": EACStated, "plan": EACPlan, "cpi": EACCPI, "cpi3": EACCPI3, "cpi_spi": EACCPISPI}

// tooSmall and tooLarge are the earned shares between which estimates are judged.
var tooSmall, tooLarge = exact.Of(15, 100), exact.Of(95, 100)

// Chosen gives the estimate that computes a project's outlook, before any
// fallback.
func Chosen(e *Eval, method string) ID {
	return Methods[ChosenMethod(method, e.Get(EarnedShare))]
}

// ChosenMethod gives the outlook method of a project: its own, or by its earned
// share.
func ChosenMethod(own string, earned Value) string {
	if _, ok := Methods[own]; ok {
		return own
	}
	switch {
	case !earned.Known:
		return "stated"
	case earned.R.Cmp(tooSmall) >= 0:
		return "cpi"
	}
	return "plan"
}

// Taken gives the estimate that is a project's computed outlook: the chosen one,
// else at plan, else as stated, whichever is known first; ok is false where none
// is.
func Taken(e *Eval, method string) (id ID, ok bool) {
	for _, id := range [...]ID{Chosen(e, method), EACPlan, EACStated} {
		if e.Get(id).Known {
			return id, true
		}
	}
	return 0, false
}

func computedOutlook(e *Eval, _ calendar.Period) Value {
	ac := e.Get(AC)
	if e.Subject.Done(e) {
		return ac
	}
	method := ""
	if p, ok := e.Subject.(*Project); ok {
		method = p.Method
	}
	if id, ok := Taken(e, method); ok {
		return e.Get(id)
	}
	bac := e.Get(BAC)
	if why, bad := unknown(bac, ac); bad {
		return Value{Why: why}
	}
	return Value{Known: true, N: max(bac.N, ac.N)}
}

func atStake(e *Eval, _ calendar.Period) Value {
	v := less(e.Get(EACComputed), e.Get(BAC))
	v.N = max(v.N, 0)
	return v
}
