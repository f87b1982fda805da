package gather

import (
	"cmp"
	"fmt"
	"strings"

	"turret/internal/record"
)

// What kind an amount is of may be told by a letter beside it, or by the column that it
// stands in.

// looksKind takes a column whose cells are all letters or words for kinds of amounts, of
// two at least: A and F.
func (f *finder) looksKind() {
	u := f.u
	if f.t != record.Costs.Kind || f.uses("kind") || f.m.Fixed["kind"] != "" {
		return
	}
	for i, x := range u.Uses {
		if x.As != AsExtra && x.As != AsNone || f.m.Columns[u.Heads[i]] != "" {
			continue
		}
		found, all := make(map[string]string), true
		for _, r := range f.rows[f.at+1:] {
			if i >= len(r.cells) || startsTotal(r.cells) || isBlank(r.cells[i].Text) {
				continue
			}
			n := Normal(r.cells[i].Text)
			k := cmp.Or(kindOf(r.cells[i].Text), kindLetters[n])
			found[n], all = k, all && k != ""
		}
		kinds := make(map[string]bool)
		for _, k := range found {
			kinds[k] = true
		}
		if !all || len(kinds) < 2 {
			continue
		}
		u.Uses[i].As, u.Uses[i].Words = "kind", found
		c := &u.Columns[i]
		c.As, c.Certainty, c.Why = "kind", Likely, "all its cells are words or letters for kinds of amounts"
		return
	}
}

// classColumns takes columns of amounts that are each headed by a class: Capex, Opex.
func (f *finder) classColumns() {
	u := f.u
	if f.t != record.Costs.Kind || !f.lacks("amount") || f.hasMonths() || f.uses("class") {
		return
	}
	var found []int
	for i, x := range u.Uses {
		if (x.As == AsExtra || x.As == AsNone) && f.m.Columns[u.Heads[i]] == "" && classWords[Normal(bareHead(u.Columns[i].Head))] != "" &&
			f.mostlyNumbers(i) {
			found = append(found, i)
		}
	}
	for _, i := range found {
		u.Uses[i] = Use{As: "amount", Class: classWords[Normal(bareHead(u.Columns[i].Head))], Form: u.Uses[i].Form}
		c := &u.Columns[i]
		c.As, c.Certainty, c.Why = "amount", Likely, "its head is the class of its amounts"
	}
}

// sumAlone takes a column that is headed as a sum for the amount, where no other is: what it
// is the sum of stands beside.
func (f *finder) sumAlone() {
	u := f.u
	if f.t != record.Costs.Kind || !f.lacks("amount") || f.hasMonths() || f.hasCredit() {
		return
	}
	at := -1
	for i, x := range u.Uses {
		if x.As == AsTotal && f.m.Columns[u.Heads[i]] == "" && f.mostlyNumbers(i) {
			if at >= 0 {
				return
			}
			at = i
		}
	}
	if at < 0 || !f.sumsOthers(at) {
		return
	}
	u.Uses[at].As = "amount"
	c := &u.Columns[at]
	c.As, c.Certainty, c.Why = "amount", Likely, "it is the sum of the columns beside it, of which none is told alone"
	u.note("%s is taken as the amount: it is the sum of those beside it.", f.called(at))
}

// sumsOthers tells whether a column is in each row the sum of the columns of numbers before it
// that nothing takes.
func (f *finder) sumsOthers(at int) bool {
	u, rows, agrees := f.u, 0, true
	t := &totaller{u: &u.Layout}
	u.data(f.s, func(l *Line) bool {
		total, ok := t.number(l, at)
		if !ok {
			return true
		}
		var sum int64
		for i := range at {
			if as := u.Uses[i].As; as == AsExtra || as == AsNone {
				n, _ := t.number(l, i)
				sum += n
			}
		}
		rows++
		agrees = sum == total
		return agrees && rows < sampled
	})
	return agrees && rows > 0
}

// weighted asks about amounts beside which probabilities stand that are not all certain.
func (f *finder) weighted() {
	u := f.u
	if f.t != record.Costs.Kind || u.Trusted {
		return
	}
	for i, x := range u.Uses {
		if x.As != AsExtra && x.As != AsNone || !likelyHeads[Normal(u.Columns[i].Head)] {
			continue
		}
		unsure := false
		u.data(f.s, func(l *Line) bool {
			text := strings.TrimSuffix(strings.TrimFunc(l.At(i).Text, isSpace), "%")
			if text = strings.TrimFunc(text, isSpace); text != "" && text != "100" && text != "1" && text != "100.0" {
				unsure = true
			}
			return !unsure
		})
		if unsure {
			u.ask(i, "trust", fmt.Sprintf(
				"%s says how likely each amount is, and amounts count whole: say that they are right so", f.called(i),
			), "yes")
			return
		}
	}
}

// likelyHeads are heads of how likely amounts are.
var likelyHeads = phrases("probability|likelihood|confidence|prob|chance|certainty|wahrscheinlichkeit|sannsynlighet|probabilite|probabilidad|probabilita|kans")

// scaleOfMoney asks about a cost of risks that is nothing but steps from one to five.
func (f *finder) scaleOfMoney() {
	u := f.u
	at := u.column("cost_impact")
	if f.t != record.Risks.Kind || at < 0 || f.m.Columns[u.Heads[at]] != "" {
		return
	}
	rows, steps := 0, true
	u.data(f.s, func(l *Line) bool {
		if text := strings.TrimFunc(l.At(at).Text, isSpace); text != "" {
			rows++
			steps = steps && len(text) == 1 && text >= "0" && text <= "5"
		}
		return steps
	})
	if _, said := unitOf(u.Columns[at].Head); rows == 0 || !steps || said != "" {
		return
	}
	choices := []string{AsExtra}
	if f.lacks("impact") {
		choices = []string{"impact", AsExtra}
	}
	u.ask(at, "columns", fmt.Sprintf("%q holds steps from 1 to 5, and no amounts of money; say what it is", u.Columns[at].Head), choices...)
}
