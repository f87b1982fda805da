package demo

import (
	"fmt"
	"math"
	"strconv"
)

// planRows writes a plan over some months; scale raises what lies after from.
func planRows(co *sheet, l *life, version, from, months int, scale float64) {
	total := float64(l.budget) * 1000
	before, stated := 0.0, make(map[string]float64)
	for m := range months {
		share := l.planned(min(m*l.months/months, l.months-1))
		if m == months-1 {
			share = 1
		}
		part := share - before
		before = share
		if m >= from {
			part *= scale
		}
		for _, s := range shares {
			x := math.Round(total*part*s.share/100) * 100 // plans are made in hundreds
			if m == months-1 && scale == 1 {
				x = total*s.share - stated[s.code]
			}
			if stated[s.code] += x; x != 0 {
				co.row(
					l.code,
					s.code,
					"plan",
					"cost",
					s.class,
					code(l.start+m),
					strconv.Itoa(version),
					cents(x),
					"",
					"",
				)
			}
		}
	}
	grantPlan(co, l, version, months)
	co.row(
		l.code,
		"900",
		"plan",
		"cost",
		"opex",
		code(l.start+months-1),
		strconv.Itoa(version),
		cents(total*0.05),
		"",
		"",
	)
}

// moneyRows state postings, accruals, the forecast and the commitments of a
// period.
func moneyRows(co, po *sheet, l *life, p int) {
	total, month := float64(l.budget)*1000, code(p)
	home := l.currency
	if home == "" {
		home = "EUR"
	}
	now, before := l.spent(p), 0.0
	if p > l.start {
		before = l.spent(p - 1)
	}
	n := 0
	for _, s := range shares {
		cost := total * (now - before) * s.share
		if cost < 1 {
			continue
		}
		accrued := 0.0
		if s.code == "210" {
			accrued = cost * 0.18
			co.row(
				l.code,
				s.code,
				"accrual",
				"cost",
				s.class,
				month,
				"",
				cents(accrued),
				"",
				"work done, not yet invoiced",
			)
			if p > l.start {
				accrued -= total * max(before-l.spent(p-2), 0) * s.share * 0.18
			}
		}
		supplier, currency, worth := "Own ledger", home, 1.0
		if s.paid && l.supplier != "" && l.paidIn != home {
			supplier, currency = l.supplier, l.paidIn
			worth = rate(home, p) / rate(l.paidIn, p)
		} else if s.paid && l.supplier != "" {
			supplier = l.supplier
		}
		for part, share := range []float64{0.62, 0.38} {
			n++
			day := firstDay(p).AddDate(0, 0, 7+13*part)
			po.row(
				fmt.Sprintf("L%s-%s-%02d", month, l.code, n),
				day.Format(iso),
				l.code,
				s.code,
				s.class,
				cents((cost-accrued)*share*worth),
				currency,
				supplier,
				"Invoice "+strconv.Itoa(1000+p*97+n*13),
			)
		}
	}
	forecastRows(co, l, p, total, now)
	grantRows(co, l, p)
}

// forecastRows spread what is still to come, as the lead sees it.
func forecastRows(co *sheet, l *life, p int, total, spent float64) {
	if l.forecastUntil > 0 && p > l.forecastUntil || l.state == "finished" && p == l.stateFrom {
		return
	}
	f := l.earned(p)
	price := 1 + (l.price(min(f+0.1, 1))-1)*(1-l.hope)
	toGo := (1 - f) * price * total
	months := max(l.start+l.months-1-p+int(l.admitted(p)/30), 1)
	if f >= 0.999 {
		co.row(l.code, "110", "forecast", "cost", "opex", code(p+1), code(p), "0.00", "", "nothing left")
		return
	}
	var weights float64
	for m := range months {
		weights += l.pace(p, m, months)
	}
	for _, s := range shares {
		for m := range months {
			if x := toGo * s.share * l.pace(p, m, months) / weights; x >= 1 {
				co.row(l.code, s.code, "forecast", "cost", s.class, code(p+1+m), code(p), cents(x), "", "")
			}
		}
		if s.paid {
			for m := range min(months, 6) {
				if x := toGo * s.share * 0.75 / float64(min(months, 6)); x >= 1 {
					co.row(l.code, s.code, "commitment", "cost", s.class, code(p+1+m), code(p), cents(x), "", "")
				}
			}
		}
	}
}

// pace is how much of what is left a lead expects in the m-th of some months
// after a period: the rest of the plan, stretched to them.
func (l *life) pace(p, m, months int) float64 {
	k, left := p-l.start, float64(l.months-1-(p-l.start))
	at := func(m int) float64 {
		x := float64(k) + float64(m)*left/float64(months)
		low := int(math.Floor(x))
		if low >= l.months-1 {
			return 1
		}
		return l.planned(low) + (x-float64(low))*(l.planned(low+1)-l.planned(low))
	}
	if left < 1 {
		return 1
	}
	return max(at(m+1)-at(m), 0.001)
}
