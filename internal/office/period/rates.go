package period

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/tell"
)

// RateBook is what Setup shows of an office's rates.
type RateBook struct {
	Reporting  string
	Years      []string // fiscal years of plan rates
	Periods    []office.PeriodInfo
	Currencies []RateRow
	Missing    []string // what is missing, in sentences
	LeftOut    []string // codes of projects that totals are without, for want of a rate
}

// RateRow is a currency with its rates; those that go on from an earlier one are
// not stated.
type RateRow struct {
	Currency string
	Projects int // that keep their money in it
	Plan     []RateCell
	Period   []RateCell
	None     bool // it cannot be converted at all
}

// RateCell is a rate in force; "" where there is none.
type RateCell struct {
	Rate   string
	Stated bool
	Source portfolio.Source
}

// ratePeriods are the periods of rates that a screen shows, to the moment's.
const ratePeriods = 12

// Rates reads the rates of an office to a moment's period, and says what is
// missing and what that keeps out of totals.
func (o Room) Rates(ctx context.Context, a right.Actor, m *office.Moment) (*RateBook, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s := m.Snapshot()
	ps := s.Office.Periods
	out := &RateBook{Reporting: string(s.Office.Reporting)}
	at := m.Period.Number
	for p := max(at-ratePeriods+1, s.First(), 1); p <= at && ps.Exists(p); p++ {
		out.Periods = append(out.Periods, m.Info(p))
	}
	by := statedRates(s)
	used := make(map[string]int)
	for _, p := range s.Projects() {
		if string(p.Currency) != out.Reporting {
			used[string(p.Currency)]++
		}
	}
	first, last := at, at
	for _, x := range by {
		for p := range x.plan {
			first, last = min(first, p), max(last, p)
		}
	}
	var years []int
	for y := ps.FiscalYear(first); y <= ps.FiscalYear(last); y++ {
		years = append(years, y)
		out.Years = append(out.Years, fmt.Sprintf("FY%02d", y%100))
	}
	names := slices.Sorted(maps.Keys(used))
	for c := range by {
		if used[c] == 0 {
			names = append(names, c)
		}
	}
	slices.Sort(names)
	for _, c := range names {
		x := RateRow{Currency: c, Projects: used[c], None: !s.Office.Rates.Known(money.Currency(c))}
		for _, y := range years {
			from, to := ps.InYear(y, 1), ps.InYear(y+1, 1)-1
			x.Plan = append(x.Plan, by[c].plan.inForce(from, max(from, to)))
		}
		for _, p := range out.Periods {
			x.Period = append(x.Period, by[c].period.inForce(p.Number, p.Number))
		}
		out.Currencies = append(out.Currencies, x)
		if why := missingRates(x, by[c]); why != "" {
			out.Missing = append(out.Missing, why)
		}
	}
	if all := m.Readings().Group("*"); all != nil {
		for _, x := range all.LeftOut {
			if strings.Contains(x.Why, money.ErrNoRate.Error()) {
				out.LeftOut = append(out.LeftOut, x.Code)
			}
		}
	}
	return out, nil
}

// rateList are rates of one currency and set as they were stated, by period.
type rateList map[calendar.Period]struct {
	rate   string
	source portfolio.Source
}

// ratesOf are those of a currency.
type ratesOf struct{ plan, period rateList }

// statedRates gives the rates that were stated, by currency.
func statedRates(s *book.Snapshot) map[string]ratesOf {
	by := make(map[string]ratesOf)
	k, rows := record.Rates, s.Records.Of(record.Rates.Kind)
	for i := range rows {
		r := &rows[i]
		c := k.Currency.Of(r)
		x, ok := by[c]
		if !ok {
			x = ratesOf{make(rateList), make(rateList)}
			by[c] = x
		}
		list := x.period
		if k.Set.Or(r) == "plan" {
			list = x.plan
		}
		stated := list[k.Period.Of(r)]
		stated.rate, stated.source = k.Rate.Of(r), r.Source
		list[k.Period.Of(r)] = stated
	}
	return by
}

// inForce gives the rate that holds from one period to another: the last stated up
// to its end, else the first that was stated later.
func (l rateList) inForce(from, to calendar.Period) RateCell {
	var best calendar.Period
	for p := range l {
		if p <= to && (best == 0 || p > best || best > to) || best == 0 || p < best && best > to {
			best = p
		}
	}
	if best == 0 {
		return RateCell{}
	}
	return RateCell{l[best].rate, best >= from && best <= to, l[best].source}
}

// missingRates tells which rates a currency lacks, or "".
func missingRates(x RateRow, stated ratesOf) string {
	switch {
	case x.None:
		return fmt.Sprintf(
			"%s has no rate at all; the money of %s is in it.",
			x.Currency,
			tell.Plural(x.Projects, "project", "projects"),
		)
	case len(stated.plan) == 0:
		return x.Currency + " has no plan rates: its plans convert at period rates."
	case len(stated.period) == 0:
		return x.Currency + " has no period rates: what is booked converts at plan rates."
	}
	return ""
}

// SetRate states a rate of a currency from a period on: of the plan or the
// period rates.
func (o Room) SetRate(ctx context.Context, a right.Actor, seen int64, currency, period, set, rate string) error {
	if err := right.Check(a, right.Gather); err != nil {
		return err
	}
	if strings.TrimSpace(rate) == "" {
		return &office.Misfit{Column: "rate", Why: "write what one unit is worth in the reporting currency, above zero"}
	}
	currency = strings.ToUpper(strings.TrimSpace(currency))
	row := entry.Row{"currency": currency, "period": period, "set": set, "rate": rate}
	_, err := entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Priced, Note: fmt.Sprintf("%s %s rate from %s", currency, set, period), Seen: seen, Rows: entry.These(entry.Of("rates", row))})
	return err
}
