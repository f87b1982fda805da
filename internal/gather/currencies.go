package gather

import (
	"slices"

	"turret/internal/core/money"
)

// currenciesBeside decides between the amounts of one period in several currencies, side by
// side: those in the currency of the one project that the sheet is about are its, and the
// others are the same again. Where nothing tells, it is asked.
func (f *finder) currenciesBeside() {
	u := f.u
	if f.t.Name != "costs" {
		return
	}
	of := make([]money.Currency, len(u.Uses))
	periods := make(map[string][]money.Currency)
	var all []money.Currency
	for i, x := range u.Uses {
		if x.As != AsMonth || f.m.Columns[u.Heads[i]] != "" {
			continue
		}
		for _, text := range append([]string{u.Columns[i].Head}, f.high[i]...) {
			if x, ok := unitIn(text); ok && x.currency != "" {
				of[i] = x.currency
				break
			}
		}
		if of[i] == "" {
			continue
		}
		key := x.Period + "|" + x.Kind + "|" + x.Code + "|" + x.Project
		periods[key] = append(periods[key], of[i])
		if !slices.Contains(all, of[i]) {
			all = append(all, of[i])
		}
	}
	several := false
	for _, list := range periods {
		several = several || len(list) > 1 && len(slices.Compact(slices.Sorted(slices.Values(list)))) == len(list)
	}
	if !several {
		return
	}
	keep := money.Currency(f.m.Fixed["currency"])
	if project := f.onlyProject(); keep == "" && project != "" && f.o.Currency != nil {
		keep = f.o.Currency(project)
	}
	if !slices.Contains(all, keep) {
		var choices []string
		for _, c := range all {
			choices = append(choices, string(c))
		}
		u.ask(-1, "fixed.currency", "the amounts of each period stand in several currencies side by side; say which are taken", choices...)
		return
	}
	for i, c := range of {
		if c != "" && c != keep {
			u.Uses[i] = Use{As: AsNone}
			u.Columns[i].As, u.Columns[i].Certainty, u.Columns[i].Why = AsNone, Likely, "it is the same in another currency"
		}
	}
	u.note("Amounts are taken in %s; those in another currency beside them are left out.", keep)
}
