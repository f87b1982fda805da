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
	for i := range line.Cells {
		c := &line.Cells[i]
		if i >= len(l.Uses) || c.Kind == Number || len(c.Text) > longest || !mayBalance(c.Text) {
			continue
		}
		if text := strings.TrimFunc(c.Text, isSpace); balances[Normal(text)] {
			return text
		}
	}
	return ""
}

// balanceStarts are how the words begin.
var balanceStarts = func() map[[2]byte]bool {
	out := make(map[[2]byte]bool)
	for w := range balances {
		out[[2]byte{w[0], w[1]}] = true
	}
	return out
}()

// mayBalance rules out most texts by how they begin, as ledgers are long.
func mayBalance(text string) bool {
	const letters = 2
	if len(text) < letters {
		return false
	}
	if text[0] <= ' ' || text[0] >= 0x80 || text[1] >= 0x80 || text[1] <= '/' {
		return true
	}
	return balanceStarts[[2]byte{text[0] | 0x20, text[1] | 0x20}]
}
