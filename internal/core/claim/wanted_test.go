package claim_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/claim"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

func TestWanted(t *testing.T) {
	for _, c := range []struct {
		state       portfolio.State
		overall     standing.Standing
		moved, owed bool
		want        bool
	}{
		{portfolio.Active, standing.Watch, false, false, true},
		{portfolio.Active, standing.Act, false, false, true},
		{portfolio.Active, standing.Steady, false, false, false},
		{portfolio.Active, standing.Unrated, false, false, false},
		{portfolio.Active, standing.Steady, true, false, true},
		{portfolio.Active, standing.Steady, false, true, true},
		{portfolio.Finished, standing.Act, true, true, false},
		{portfolio.Proposed, standing.Watch, true, true, false},
	} {
		require.Equal(t, c.want, claim.Wanted(c.state, c.overall, c.moved, c.owed), "%v", c)
	}
}

// TestFar: from Steady to Act are two steps; of overall they count twice: 2 × 2 + 1.
func TestFar(t *testing.T) {
	require.Zero(t, claim.Far(nil))
	require.Equal(t, 5, claim.Far([]claim.Step{
		{standing.Overall, standing.Steady, standing.Act},
		{standing.Cost, standing.Watch, standing.Steady},
	}))
}
