package book

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
)

// TestNextSaid: one whose day has come was missed.
func TestNextSaid(t *testing.T) {
	for _, c := range []struct {
		next Next
		says string
	}{
		{Next{}, ""},
		{Next{Name: "Gate", Date: 101}, "Gate"},
		{Next{Name: "Gate", Date: 100}, "Gate, missed"},
		{Next{Name: "Gate", Date: 99}, "Gate, missed"},
	} {
		require.Equal(t, c.says, c.next.Said(100))
	}
}

// TestNextOfWhatRuns: in the demonstration the crew cabins are on hold and the solar canopy
// is cancelled, so that neither says what comes next, nor their programmes by them.
func TestNextOfWhatRuns(t *testing.T) {
	_, s := demonstration(t)
	rs, err := s.Live(t.Context(), s.Last, portfolio.Latest, true)
	require.NoError(t, err)
	first := make(map[string]Next)
	for _, r := range rs.Rows {
		if r.Group {
			continue
		}
		if r.State != portfolio.Active {
			require.Empty(t, r.Next, "%s is %s", r.Code, r.State)
		} else if n := first[r.Parent]; r.Next.Date != 0 && (n.Date == 0 || r.Next.Date < n.Date) {
			first[r.Parent] = r.Next
		}
	}
	require.NotEmpty(t, first)
	for code, n := range first {
		require.Equal(t, n, rs.Group(code).Next, code)
	}
	require.NotEqual(t, "Contract signed", rs.Group("*").Next.Name)
}
