package standing

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestWeight: a dimension of the office's own counts by its weight, at least 1, and one that
// stands apart not at all; of those built in Data and Overall never count.
func TestWeight(t *testing.T) {
	s := &Set{Book: &Book{Own: []Own{{Code: "crew", Apart: true, Weight: 5}, {Code: "safety", Weight: 3}, {Code: "town"}}}}
	s.Weights = map[Dimension]int64{Cost: 4, Dates: 0}
	for d, want := range map[Dimension]int64{
		builtIn: 0, builtIn + 1: 3, builtIn + 2: 1, builtIn + 3: 0,
		Cost: 4, Dates: 0, Progress: 1, Data: 0, Overall: 0,
	} {
		require.Equal(t, want, s.Weight(d), d)
	}
}
