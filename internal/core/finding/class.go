package finding

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// classChecks look at what tells investment from running cost.
var classChecks = []Check{{
	Code:     "class-not-stated",
	Title:    "Class not stated",
	Severity: Note,
	About:    "Cost of which neither the row nor the plan of its cost code states one class; it counts as opex.",
	run:      (*run).classNotStated,
}}

// unclassed is the cost of a code that states no class, by how it was said.
type unclassed struct {
	code                     int64
	text                     string // of the code
	booked, accrued          int64
	toCome, ordered, planned int64
	source                   portfolio.Source
}

func (u *unclassed) parts() []struct {
	n    int64
	word string
} {
	return []struct {
		n    int64
		word string
	}{
		{u.booked, "booked"},
		{u.accrued, "accrued"},
		{u.toCome, "forecast"},
		{u.ordered, "on order"},
		{u.planned, "planned"},
	}
}

func (r *run) classNotStated() {
	list, stated, ok := r.unclassed()
	if !ok || len(list) == 0 {
		return // a rate is missing, which another check tells
	}
	if !stated { // nothing tells them apart: that is one thing to know, not one for each code
		all := unclassed{source: list[0].source}
		for _, u := range list {
			all.booked, all.accrued = all.booked+u.booked, all.accrued+u.accrued
			all.toCome, all.ordered, all.planned = all.toCome+u.toCome, all.ordered+u.ordered, all.planned+u.planned
		}
		r.addUnclassed(&all, "cost", "Nothing of the project states a class: all of it, %s, counts as opex. State the class in the plan, and what states none takes it.")
		return
	}
	for i := range list {
		u := &list[i]
		why := "the plan states none there"
		if both := r.PlannedClasses(u.code); len(both) > 1 {
			why = "the plan has both " + strings.Join(both, " and ") + " there"
		}
		r.addUnclassed(
			u,
			"class of "+u.text,
			"No class is stated for %s on "+u.text+", and "+why+"; it counts as opex. State the class where it comes from, or in the plan.",
		)
	}
}

// addUnclassed notes one finding; format has a place for the amounts.
func (r *run) addUnclassed(u *unclassed, record, format string) {
	var said []string
	var first int64
	for _, x := range u.parts() {
		if x.n != 0 {
			first = cmp.Or(first, x.n)
			said = append(said, amount(x.n, r.own())+" "+x.word)
		}
	}
	if len(said) == 0 {
		return
	}
	r.add(Finding{
		Record: record,
		Money:  first,
		Values: strings.Join(said, ", "),
		Source: u.source,
		Text:   fmt.Sprintf(format, and(said)),
	})
}

// unclassed sums the cost that states no class and is given none by the plan, by cost code;
// stated tells whether any cost of the project states one. It is not ok where a rate is
// missing.
func (r *run) unclassed() (list []unclassed, stated, ok bool) {
	at := func(code int64, text string) *unclassed {
		i := slices.IndexFunc(list, func(u unclassed) bool { return u.code == code })
		if i < 0 {
			i = len(list)
			list = append(list, unclassed{code: code, text: text})
		}
		return &list[i]
	}
	ok = true
	add := func(lines []portfolio.Line, set money.Set, said bool, to func(*unclassed) *int64, counts func(calendar.Period) bool) {
		for i := range lines {
			l := &lines[i]
			if l.Flow != portfolio.Cost {
				continue
			}
			if _, known := r.Class(l); known {
				stated = true
				continue
			}
			var u *unclassed
			for _, c := range l.Cells {
				if c.Amount == 0 || !counts(c.Period) {
					continue
				}
				n := c.Amount
				if l.Currency != r.own() {
					conv, err := r.Converter(l.Currency, set, c.Period, said)
					if err != nil {
						ok = false
						return
					}
					n, _ = conv.Convert(n) // beyond 64 bits the figures tell
				}
				if u == nil {
					u = at(l.CodeID, l.Code)
				}
				*to(u) += n
				if u.source == (portfolio.Source{}) {
					u.source = c.Source
				}
			}
		}
	}
	past := func(p calendar.Period) bool { return p <= r.at }
	later := func(p calendar.Period) bool { return p > r.at }
	always := func(calendar.Period) bool { return true }
	booked := func(u *unclassed) *int64 { return &u.booked }
	add(r.Actual, money.PeriodRates, false, booked, past)
	add(r.Ledger, money.PeriodRates, false, booked, past)
	add(r.Accrual, money.PeriodRates, false, func(u *unclassed) *int64 { return &u.accrued },
		func(p calendar.Period) bool { return p == r.at })
	if r.Forecast != nil {
		add(r.Forecast.Lines, money.PeriodRates, true, func(u *unclassed) *int64 { return &u.toCome }, later)
	}
	if r.Commitment != nil {
		add(r.Commitment.Lines, money.PeriodRates, true, func(u *unclassed) *int64 { return &u.ordered }, always)
	}
	if r.View.Plan != nil {
		add(r.View.Plan.Lines, money.PlanRates, false, func(u *unclassed) *int64 { return &u.planned }, always)
	}
	return list, stated, ok
}

// and lists words in a sentence: a, b and c.
func and(list []string) string {
	if n := len(list) - 1; n > 0 {
		return strings.Join(list[:n], ", ") + " and " + list[n]
	}
	return strings.Join(list, "")
}
