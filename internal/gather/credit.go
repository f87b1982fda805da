package gather

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/portfolio"
)

// AsMark is a column whose words say which amounts are credits, where amounts have no sign
// of their own: D and C, or invoice and credit note.
const AsMark = "credit mark"

var (
	creditWords = phrases("c|cr|credit|credits|h|haben|kredit|credit note|credit memo|gutschrift|kreditnota|kreditnote|kreditfaktura|avoir|abono|nota de credito|nota di credito|creditnota|storno|stornierung|reversal|refund|return|cn")
	debitWords  = phrases("d|dr|debit|debits|s|soll|debet|invoice|invoices|rechnung|faktura|facture|factura|fattura|factuur|debit note|bill|inv|payment|posting|booking")
)

func phrases(list string) map[string]bool {
	out := make(map[string]bool)
	for w := range strings.SplitSeq(list, "|") {
		out[strings.TrimSpace(w)] = true
	}
	return out
}

// marks finds the column that says which amounts are credits. Where the amounts of credits
// are written negative already it says nothing more; where some are and some are not, it is
// asked.
func (f *finder) marks() {
	u := f.u
	amount := u.column("amount")
	if f.t.Name != "postings" && f.t.Name != "costs" || amount < 0 || f.hasCredit() || f.uses(AsMark) {
		return
	}
	for i, x := range u.Uses {
		if x.As != AsExtra && x.As != AsNone || f.m.Columns[u.Heads[i]] != "" {
			continue
		}
		credits, debits, positive, negative, other := 0, 0, 0, 0, false
		u.data(f.s, func(l *Line) bool {
			word := markWord(l.At(i).Text)
			switch {
			case word == "" || l.At(i).Kind == Number:
				other = other || l.At(i).Kind == Number
			case debitWords[word] || word == "+":
				debits++
			case !creditWords[word] && word != "-":
				other = true
			default:
				credits++
				if isNegative(l.At(amount)) {
					negative++
				} else {
					positive++
				}
			}
			return !other
		})
		switch {
		case other || credits == 0 || debits == 0:
		case negative > 0 && positive > 0:
			u.ask(i, "columns", fmt.Sprintf(
				"%q marks credits, and some of their amounts are negative already and some are not; say whether it turns the sign", f.called(i),
			), AsMark, AsExtra)
			return
		case positive > 0:
			u.Uses[i].As, u.Columns[i].As = AsMark, AsMark
			u.Columns[i].Certainty, u.Columns[i].Why = Sure, "it says which amounts are credits, and those have no sign"
			u.note("%s of %q are taken as negative amounts.", plural(credits, "credit", "credits"), f.called(i))
			return
		}
	}
}

// isNegative tells an amount that is written as one below nought.
func isNegative(c Cell) bool {
	text := strings.TrimFunc(c.Text, isSpace)
	return strings.HasPrefix(text, "-") || strings.HasSuffix(text, "-") || strings.HasPrefix(text, "(") || strings.HasPrefix(text, "−")
}

// isCredit tells a row that a mark says is a credit.
func (l *Layout) isCredit(line *Line) bool {
	i := slices.IndexFunc(l.Uses, func(x Use) bool { return x.As == AsMark })
	if i < 0 {
		return false
	}
	word := markWord(line.At(i).Text)
	return word == "-" || creditWords[word]
}

// markWord is the word of a mark, or its sign.
func markWord(text string) string {
	switch text = strings.TrimFunc(text, isSpace); text {
	case "-", "−", "–":
		return "-"
	case "+":
		return "+"
	}
	return Normal(text)
}

// marked turns the sign of a credit that is written without one.
func (r *reader) marked(line *Line) {
	if !r.marks || !r.isCredit(line) {
		return
	}
	f := &r.out.Fields[r.t.Index("amount")]
	if f.Said == portfolio.Value && !strings.HasPrefix(f.Text, "-") {
		f.Text = r.o.keep(negated(f.Text))
	}
}
