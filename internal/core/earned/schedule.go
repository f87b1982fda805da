package earned

import (
	"math/big"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
)

// Schedule is earned schedule in numbers of periods counted from the first
// plan period (W. Lipke, Schedule is Different, 2003).
type Schedule struct {
	ES exact.Ratio // periods earned
	AT int         // periods gone; stays at the period in which all was earned
	PD int         // periods planned: the first in which the plan is complete
}

// NewSchedule computes earned schedule from cumulative PV and the EV of each
// period. ok is false with the reason before the first plan period, and
// where nothing is planned. ev is asked only for periods from the first plan
// period through at, and may answer false for a period not known.
func NewSchedule(pv Series, at calendar.Period, ev func(calendar.Period) (int64, bool)) (s Schedule, why string) {
	bac := pv.Total()
	switch {
	case len(pv.Cum) == 0 || bac <= 0:
		return s, "nothing is planned"
	case at < pv.First:
		return s, "it is before the first plan period"
	}
	earned, ok := ev(at)
	if !ok {
		return s, "what is earned is not known"
	}
	for s.PD = 1; pv.Cum[s.PD-1] != bac; s.PD++ {
	}
	s.AT = int(at-pv.First) + 1
	if earned >= bac {
		for q := pv.First; q < at; q++ {
			if n, ok := ev(q); ok && n >= bac {
				s.AT = int(q-pv.First) + 1
				break
			}
		}
		s.ES = exact.Whole(int64(s.PD))
		return s, ""
	}
	c := len(pv.Cum)
	for c > 0 && pv.Cum[c-1] > earned {
		c--
	}
	var low int64
	if c > 0 {
		low = pv.Cum[c-1]
	}
	s.ES = exact.Whole(int64(c))
	if c < len(pv.Cum) {
		s.ES = s.ES.Add(exact.Of(earned-low, pv.Cum[c]-low))
	}
	if s.ES.Sign() < 0 {
		s.ES = exact.Whole(0)
	}
	return s, ""
}

// Finish gives the computed finish: n + r = PD × AT ÷ ES with n whole and r
// below 1, the r-th part, days rounded up, of the period after the n-th; the
// last day of the n-th where r is 0. Zero where ES is 0 or the day lies beyond
// the office's calendar.
func (s Schedule) Finish(periods *calendar.Periods, first calendar.Period) calendar.Date {
	if s.ES.Sign() <= 0 {
		return 0
	}
	t := new(big.Rat).Quo(new(big.Rat).SetInt64(int64(s.PD)*int64(s.AT)), s.ES.Rat())
	return periods.After(first-1, t)
}
