package gather

import (
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/record"
)

// Summed is what a sheet of amounts states of projects without cost codes, or of cost codes
// without projects: it may sum up what other sheets state.
type Summed struct {
	By   string // project or cost_code
	Kind string // of all its amounts; "" where nothing tells it
	// Sums are amounts by code and period, times Unit.
	Sums map[string]map[calendar.Period]float64
	// Near is how far sums may be off by rounding, in whole units of currency.
	Near float64
}

// Summed gives what a sheet states of the one, where all that it asks is the other; nil
// where it is no such sheet, or not all of its rows and months could be told.
func (u *Understanding) Summed(o *Options) *Summed {
	by, asks := "project", "columns.cost_code"
	if u.column("project") < 0 {
		by, asks = "cost_code", "fixed.project"
	}
	at := u.column(by)
	if u.Table != record.Costs.Name || u.Canonical || u.Skipped != "" || at < 0 || len(u.Questions) == 0 ||
		slices.ContainsFunc(u.Questions, func(q Question) bool { return q.About != asks }) {
		return nil
	}
	t := newTotaller(&u.Layout, true)
	if t == nil {
		return nil
	}
	const most = 2_000 // rows of a summary
	out := &Summed{By: by, Kind: u.Fixed["kind"], Sums: make(map[string]map[calendar.Period]float64), Near: 1}
	unit := 1.0
	for range u.Places {
		unit *= 10
	}
	out.Near = max(out.Near, unit/2)
	whole, rows := true, 0
	u.data(u.sheet, func(l *Line) bool {
		rows++
		text := strings.TrimFunc(l.At(at).Text, isSpace)
		codes := o.Names.Find(by, text)
		if len(codes) != 1 || rows > most {
			whole = text == "" && !u.anyAmount(t, l) && rows <= most
			return whole
		}
		if out.Sums[codes[0]] == nil {
			out.Sums[codes[0]] = make(map[calendar.Period]float64)
		}
		for i, x := range u.Uses {
			if x.As != AsMonth && x.As != "amount" {
				continue
			}
			period := x.Period
			if x.As == "amount" {
				period = u.Fixed["period"]
			}
			p, err := o.Periods.Parse(period)
			n, said := t.number(l, i)
			if err != nil || x.Kind != "" && x.Kind != out.Kind {
				whole = false
				return false
			}
			if said {
				out.Sums[codes[0]][p] += float64(n) / tenThousand * unit
			}
		}
		return true
	})
	if !whole || len(out.Sums) == 0 {
		return nil
	}
	return out
}

// tenThousand is what sums of cells are multiplied by.
const tenThousand = 10_000

// anyAmount tells a row that states an amount.
func (u *Understanding) anyAmount(t *totaller, l *Line) bool {
	_, any := t.amounts(l)
	return any
}
