package period

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

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
	k, rows := record.Rates, s.Records.Of(record.Rates.Kind)
	type stated struct {
		rate   string
		source portfolio.Source
	}
	by := make(map[string]map[string]map[calendar.Period]stated) // by currency, set and period
	used := make(map[string]int)
	for i := range rows {
		r := &rows[i]
		c, set := k.Currency.Of(r), k.Set.Or(r)
		if by[c] == nil {
			by[c] = map[string]map[calendar.Period]stated{"plan": {}, "period": {}}
		}
		by[c][set][k.Period.Of(r)] = stated{k.Rate.Of(r), r.Source}
	}
	for _, p := range s.Projects() {
		if string(p.Currency) != out.Reporting {
			used[string(p.Currency)]++
		}
	}
	first, last := at, at
	for _, sets := range by {
		for p := range sets["plan"] {
			first, last = min(first, p), max(last, p)
		}
	}
	var years []int
	for y := ps.FiscalYear(first); y <= ps.FiscalYear(last); y++ {
		years = append(years, y)
		out.Years = append(out.Years, fmt.Sprintf("FY%02d", y%100))
	}
	inForce := func(list map[calendar.Period]stated, from, to calendar.Period) RateCell {
		var best calendar.Period
		for p := range list {
			if p <= to && (best == 0 || p > best || best > to) || best == 0 || p < best && best > to {
				best = p
			}
		}
		if best == 0 {
			return RateCell{}
		}
		return RateCell{list[best].rate, best >= from && best <= to, list[best].source}
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
			x.Plan = append(x.Plan, inForce(by[c]["plan"], from, max(from, to)))
		}
		for _, p := range out.Periods {
			x.Period = append(x.Period, inForce(by[c]["period"], p.Number, p.Number))
		}
		out.Currencies = append(out.Currencies, x)
		switch {
		case x.None:
			out.Missing = append(
				out.Missing,
				fmt.Sprintf(
					"%s has no rate at all; the money of %s is in it.",
					c,
					tell.Plural(x.Projects, "project", "projects"),
				),
			)
		case len(by[c]["plan"]) == 0:
			out.Missing = append(out.Missing, c+" has no plan rates: its plans convert at period rates.")
		case len(by[c]["period"]) == 0:
			out.Missing = append(out.Missing, c+" has no period rates: what is booked converts at plan rates.")
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
