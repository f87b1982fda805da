package gather

import (
	"slices"
	"strings"
)

// balances are the words of a ledger beside an amount that is no booking.
var balances = phrases(`opening balance|closing balance|balance brought forward|balance carried forward|brought forward|carried forward|
balance b f|balance c f|b f|c f|opening balance b f|beginning balance|ending balance|ending bal|opening bal|closing bal|
anfangsbestand|endbestand|saldovortrag|saldo vortrag|vortrag|anfangssaldo|endsaldo|schlusssaldo|ubertrag|
inngaende balanse|utgaende balanse|inngaende saldo|utgaende saldo|ingaende balans|utgaende balans|ingaende saldo|utgaende saldo|
ib|ub|primosaldo|ultimosaldo|primo saldo|ultimo saldo|solde initial|solde final|report a nouveau|solde anterieur|a nouveau|
solde d ouverture|solde de cloture|saldo inicial|saldo final|saldo iniziale|saldo finale|beginsaldo|eindsaldo|beginbalans|eindbalans`)

// balance tells a row of a ledger that states what an account came to, before or after its
// bookings, and gives the words that say so.
func (l *Layout) balance(line *Line) string {
	const longest = 60
	if l.Table != "postings" || l.Canonical || slices.Contains(l.Keep, line.N) {
		return ""
	}
	numbered := false
	for i := range min(len(line.Cells), len(l.Uses)) {
		c := &line.Cells[i]
		switch l.Uses[i].As {
		case "text":
		case "posting":
			numbered = c.Text != ""
			continue
		case "date", "project", "cost_code", "amount", AsCredit, AsMonth:
			continue
		default:
			if numbered {
				continue // it is a booking, but for what its text says
			}
		}
		if c.Kind == Number || len(c.Text) > longest || !mayBalance(c.Text) {
			continue
		}
		if text := strings.TrimFunc(c.Text, isSpace); balances[Normal(text)] {
			return text
		}
	}
	return ""
}

// balanceStarts are how the words begin.
var balanceStarts = func() map[[starting]byte]bool {
	out := make(map[[starting]byte]bool)
	for w := range balances {
		out[begin(w)] = true
	}
	return out
}()

// starting is the number of letters by which most texts are told to be no balance.
const starting = 4

// begin is how a text begins, in small letters.
func begin(text string) (out [starting]byte) {
	for i := range min(starting, len(text)) {
		if out[i] = text[i]; 'A' <= text[i] && text[i] <= 'Z' {
			out[i] += 'a' - 'A'
		}
	}
	return out
}

// mayBalance rules out most texts by how they begin, as ledgers are long. What has signs or
// letters beyond ASCII there is not ruled out.
func mayBalance(text string) bool {
	const least = 2
	if len(text) < least {
		return false
	}
	for i := range min(starting, len(text)) {
		if c := text[i]; c < '0' || c >= 0x80 {
			return c != '.' && c != ',' && c != '-'
		}
		if text[i] <= '9' {
			return false
		}
	}
	return balanceStarts[begin(text)]
}
