package finding

import (
	"fmt"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// passedChecks look at projects that take their plan as their actual cost as time passes.
var passedChecks = []Check{
	{
		Code:     "cost-from-time",
		Title:    "Actual cost from the plan",
		Severity: Note,
		About:    "Actual cost of a project that is its plan as time passed, since nothing is booked.",
		run:      (*run).costFromTime,
	},
	{
		Code:     "booked-beside-time",
		Title:    "Booked beside cost from the plan",
		Severity: Note,
		About:    "In a project that takes its plan as its actual cost, a period of which something is booked, and how far that is from its plan.",
		run:      (*run).bookedBesideTime,
	},
}

// byPeriod sums the cost cells of lines through the period, in the project's currency; cells
// without a rate are left out, which the figures tell.
func (r *run) byPeriod(set money.Set, lists ...[]portfolio.Line) map[calendar.Period]int64 {
	out := make(map[calendar.Period]int64)
	for _, lines := range lists {
		for i := range lines {
			l := &lines[i]
			for _, c := range l.Cells {
				if l.Flow != portfolio.Cost || c.Period > r.at {
					continue
				}
				if conv, err := r.Converter(l.Currency, set, c.Period, false); err == nil {
					n, _ := conv.Convert(c.Amount)
					out[c.Period] += n
				}
			}
		}
	}
	return out
}

func (r *run) costFromTime() {
	passed := r.byPeriod(money.PeriodRates, r.Elapsed)
	if len(passed) == 0 {
		return
	}
	var sum int64
	for _, n := range passed {
		sum += n
	}
	r.add(Finding{
		Record: "actual cost", Money: sum, Values: amount(sum, r.own()), Source: firstSource(r.Elapsed),
		Text: fmt.Sprintf(
			"%s of its actual cost is its plan, as %s passed: nothing is booked of them. What is booked takes its place.",
			amount(sum, r.own()), plural(len(passed), "period", "periods"),
		),
	})
}

func (r *run) bookedBesideTime() {
	if !r.FromTime {
		return
	}
	booked := r.byPeriod(money.PeriodRates, r.Actual, r.Ledger)
	planned := make(map[calendar.Period]int64)
	if r.View.Plan != nil {
		lines := slices.DeleteFunc(slices.Clone(r.View.Plan.Lines), func(l portfolio.Line) bool { return r.Office.ManagementReserve(l.CodeID) })
		planned = r.byPeriod(money.PeriodRates, lines)
	}
	var periods []calendar.Period
	for p := range booked {
		if booked[p] != planned[p] {
			periods = append(periods, p)
		}
	}
	slices.Sort(periods)
	for _, p := range periods {
		r.add(Finding{
			Record: "booked in " + r.code(p), Money: booked[p] - planned[p],
			Values: amount(booked[p], r.own()) + " and " + amount(planned[p], r.own()), Source: firstSource(r.Ledger),
			Text: fmt.Sprintf(
				"Of %s %s is booked, and takes the place of the %s that its plan has: %s apart.",
				r.period(p), amount(booked[p], r.own()), amount(planned[p], r.own()), amount(max(booked[p]-planned[p], planned[p]-booked[p]), r.own()),
			),
		})
	}
}
