package gather

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"turret/internal/record"
)

// Rows may be marked as not counting, and sheets may hold what is no money.

// voidWords are words of a status by which a row does not count, or not yet.
var voidWords = phrases(`cancelled|canceled|void|voided|parked|deleted|rejected|withdrawn|superseded|obsolete|duplicate|not approved|not posted|on hold|
storniert|geloscht|abgelehnt|geparkt|annulliert|annullert|slettet|avvist|annule|supprime|rejete|anulado|rechazado|annullato|rifiutato|geannuleerd|vervallen|
makulert|makulerad|annullerad`)

// longestVoid is more than the length of each of them, as people write them.
const longestVoid = 40

// voids asks about rows of amounts that a cell beside them says do not count.
func (f *finder) voids() (w watcher) {
	u := f.u
	if f.t != record.Costs.Kind && f.t != record.Postings.Kind || u.Trusted {
		return w
	}
	type said struct {
		column int
		word   string
	}
	found := make(map[said]int)
	var beside []int
	for i, x := range u.Uses {
		if x.As == AsExtra || x.As == AsNone || x.As == "note" || x.As == AsMark {
			beside = append(beside, i)
		}
	}
	if len(beside) == 0 {
		return w
	}
	w.row = func(l *Line) {
		for _, i := range beside {
			if text := l.At(i).Text; len(text) <= longestVoid && voidWords[Normal(text)] {
				found[said{i, Normal(text)}]++
			}
		}
	}
	w.done = func() {
		const most = 3 // asked of one sheet
		all := slices.SortedFunc(maps.Keys(found), func(a, b said) int {
			return cmp.Or(cmp.Compare(a.column, b.column), cmp.Compare(a.word, b.word))
		})
		for _, s := range all[:min(len(all), most)] {
			u.ask(s.column, "skip."+s.word, fmt.Sprintf(
				"%s %q under %q: say whether they are left out, or count like the others",
				plural(found[s], "row says", "rows say"), s.word, f.called(s.column),
			), LeaveRows, CountRows)
		}
	}
	return w
}

// notMoney are words of titles by which numbers are no amounts of money.
var notMoney = wordsOf(`hours hrs fte ftes headcount mandays manhours persondays personhours stunden std personentage timer timeverk heures horas ore uren
timmar manmanader manntimer`)

// money asks about a sheet of amounts whose titles speak of hours or people, and of no
// currency or cost.
func (f *finder) money() {
	u := f.u
	if f.t != record.Costs.Kind || u.Trusted || u.Places != 0 {
		return
	}
	for _, text := range f.around() {
		if label, _, ok := strings.Cut(text, ":"); ok {
			text = label // what it is set to says nothing of amounts
		}
		words := strings.Fields(strings.Map(apart, Normal(text)))
		const few = 8
		if len(words) > few {
			continue
		}
		said := ""
		for _, w := range words {
			if tableWords[w] == "costs" && kinds[w] == "" || f.t.Index("amount") < 0 {
				said = ""
				break
			}
			if notMoney[w] {
				said = w
			}
		}
		if _, unit := unitIn(text); said == "" || unit {
			continue
		}
		u.ask(-1, "trust", fmt.Sprintf(
			"%q speaks of %s, and amounts are money: say that they are money, or leave the sheet out", strings.TrimSpace(text), said,
		), "yes")
		return
	}
}

// currencyOfOther finds a column of currencies that is not that of the amounts: their head
// names one, and some rows state another.
func (f *finder) currencyOfOther() {
	u := f.u
	at, amount := u.column("currency"), u.column("amount")
	if at < 0 || amount < 0 || f.m.Columns[u.Heads[at]] != "" {
		return
	}
	own, ok := unitIn(u.Columns[amount].Head)
	if _, said := unitOf(u.Columns[amount].Head); said != "" {
		own, ok = unitIn(said)
	}
	if !ok || own.currency == "" {
		return
	}
	other := ""
	u.data(f.s, func(l *Line) bool {
		if text := strings.TrimFunc(l.At(at).Text, isSpace); isCurrency(text) && !strings.EqualFold(text, string(own.currency)) {
			other = strings.Clone(text)
		}
		return other == ""
	})
	if other == "" {
		return
	}
	u.Uses[at].As, u.Columns[at].As = AsExtra, AsExtra
	u.Columns[at].Certainty, u.Columns[at].Why = Likely, "it is of other amounts"
	u.Fixed["currency"] = string(own.currency)
	u.note("%s is kept beside: %q says that the amounts are %s, so that %s is the currency of others.",
		f.called(at), u.Columns[amount].Head, own.currency, other)
}
