package gather

import (
	"cmp"
	"fmt"
	"maps"
	"slices"

	"turret/internal/core/money"
	"turret/internal/core/portfolio"
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
			if _, said := unitOf(text); said != "" {
				text = said
			}
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

// currencyOfCells takes the one currency that stands beside amounts, or that a spreadsheet
// shows beside them, for that of all. Where a head or a title says another it is asked;
// where there are several each row has its own.
func (f *finder) currencyOfCells(numbers []*numberForms) {
	u := f.u
	found := make(map[money.Currency]seen)
	for i, n := range numbers {
		if n == nil || n.money == nil || u.Uses[i].As == AsTotal {
			continue
		}
		for c, at := range n.money {
			if found[c].row == 0 {
				found[c] = at
			}
		}
		if c := f.s.currencies[i]; c != "" && found[c].row == 0 {
			found[c] = seen{string(c), u.Head}
		}
	}
	if len(found) == 0 || u.column("currency") >= 0 || f.t.Index("currency") < 0 {
		return
	}
	if at := found[krones]; at.row != 0 {
		delete(found, krones)
		if len(found) == 0 && !f.ownKrones() {
			u.ask(-1, "fixed.currency", fmt.Sprintf("%s is the sign of several currencies; say which one", at), "DKK", "NOK", "SEK")
			return
		}
	}
	all := slices.Sorted(maps.Keys(found))
	if len(all) == 0 {
		return
	}
	said := money.Currency(u.Fixed["currency"])
	switch {
	case len(all) > 1:
		u.note("Each row has the currency that stands beside its amount, as %s.", found[all[0]])
	case said == "":
		u.Fixed["currency"] = string(all[0])
		u.note("Amounts are taken as %s: it stands beside them, as %s.", all[0], found[all[0]])
	case said != all[0] && !u.Said["currency"]:
		u.ask(-1, "fixed.currency", fmt.Sprintf(
			"the amounts are said to be in %s, and beside them stands %s, as %s; say which they are", said, all[0], found[all[0]],
		), string(said), string(all[0]))
	}
}

// ownKrones tells whether all projects that the first rows are of are kept in a currency of
// that sign.
func (f *finder) ownKrones() bool {
	if f.o.Currency == nil || f.o.Names == nil {
		return false
	}
	codes := []string{f.u.Fixed["project"]}
	if at := f.u.column("project"); at >= 0 {
		codes = codes[:0]
		for _, r := range f.rows[f.at+1:] {
			if at < len(r.cells) {
				codes = append(codes, f.o.Names.Find("project", r.cells[at].Text)...)
			}
		}
	}
	own := func(code string) bool {
		return slices.Contains([]money.Currency{"DKK", "NOK", "SEK"}, f.o.Currency(code))
	}
	return len(codes) > 0 && !slices.ContainsFunc(codes, func(code string) bool { return !own(code) })
}

// signed takes the currency that stands beside the amount of a row for that of the row;
// why tells where the row says another.
func (r *reader) signed() (why string) {
	c := cmp.Or(r.beside, r.stands)
	r.beside = ""
	at := r.t.Index("currency")
	if c == "" || c == krones || at < 0 || r.Fixed["currency"] != "" {
		return "" // it is settled for all rows
	}
	to := &r.out.Fields[at]
	if to.Said == portfolio.Value && to.Text != string(c) {
		return fmt.Sprintf("the amount stands in %s, and the row says %s; correct one of them", c, to.Text)
	}
	*to = portfolio.Field{Said: portfolio.Value, Text: r.o.keep(string(c))}
	return ""
}
