package store

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestPostedTwiceLooksNowhereElse: the database looks for postings that say the same by
// the index of their project, and goes through no table of postings.
func TestPostedTwiceLooksNowhereElse(t *testing.T) {
	s := open(t, temp(t))
	for _, alone := range []bool{true, false} {
		var plan []string
		rows, err := s.readers.QueryContext(t.Context(), "EXPLAIN QUERY PLAN "+postedTwice(alone), 1, 1)
		require.NoError(t, err)
		for rows.Next() {
			var id, parent, unused int
			var step string
			require.NoError(t, rows.Scan(&id, &parent, &unused, &step))
			plan = append(plan, step)
		}
		require.NoError(t, rows.Err())
		rows.Close()
		require.NotEmpty(t, plan)
		for _, step := range plan {
			for _, table := range []string{"posting", "x", "p", "f"} {
				require.NotEqual(t, "SCAN "+table, step, strings.Join(plan, "\n"))
			}
			if strings.HasPrefix(step, "SEARCH x") || strings.HasPrefix(step, "SEARCH p ") {
				require.Contains(t, step, "project=?", strings.Join(plan, "\n"))
			}
		}
	}
}
