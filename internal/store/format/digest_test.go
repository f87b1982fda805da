package format

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestDigest: the digest of a posting is kept in databases, so it never changes; it is
// of what the ledger says, and not of the period or of where the row stood.
func TestDigest(t *testing.T) {
	p := Posting{Code: "L1", Class: "opex", Currency: "EUR", Supplier: "Yard", Text: "One", Amount: 12345}
	require.Equal(t, int64(-7187557783668654253), p.Digest())
	was := p.Digest()
	for _, change := range []func(*Posting){
		func(p *Posting) { p.Code = "L2" },
		func(p *Posting) { p.Class = "capex" },
		func(p *Posting) { p.Centre = "C" },
		func(p *Posting) { p.Currency = "NOK" },
		func(p *Posting) { p.Supplier = "Firm" },
		func(p *Posting) { p.Text = "Two" },
		func(p *Posting) { p.Amount++ },
	} {
		q := p
		change(&q)
		require.NotEqual(t, was, q.Digest())
	}
	q := p
	q.Period++
	require.Equal(t, was, q.Digest())
}
