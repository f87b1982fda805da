package tell

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestLedger: of none, one, some and all; what was compared is said, and never more.
func TestLedger(t *testing.T) {
	const same = "; it is not compared with the ledger itself, of which no totals are known."
	for _, c := range []struct {
		agrees              bool
		postings, corrected int
		outside             []string
		says                string
	}{
		{true, 0, 0, nil, "No ledger posting is kept, so the cost counted is compared with nothing."},
		{true, 1, 0, nil, "The booked cost counted is what the one posting that is kept says" + same},
		{true, 1, 1, nil, "The booked cost counted is what the one posting that is kept says" + same + " It was corrected after it first came."},
		{true, 5412, 0, nil, "The booked cost counted is what the 5,412 postings that are kept add up to" + same},
		{true, 5412, 1, nil, "The booked cost counted is what the 5,412 postings that are kept add up to" + same + " One of them was corrected after it first came."},
		{true, 12, 12, []string{"A"}, "The booked cost counted is what the 12 postings that are kept add up to" + same + " 12 of them were corrected after they first came. 1 project with postings stands outside the portfolio's sums: A."},
		{false, 12, 2, []string{"A", "B"}, "The booked cost counted is not what the 12 postings that are kept add up to. Two of them were corrected after they first came. 2 projects with postings stand outside the portfolio's sums: A, B."},
		{true, 12, 0, []string{"A", "B", "C", "D", "E", "F", "G", "H"}, "The booked cost counted is what the 12 postings that are kept add up to" + same + " 8 projects with postings stand outside the portfolio's sums: A, B, C, D, E, F, and 2 more."},
	} {
		says := Ledger(c.agrees, c.postings, c.corrected, c.outside)
		require.Equal(t, c.says, says)
		require.NotContains(t, says, "to the cent")
	}
}
