package tell

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestDecision: what is to be decided, whatever of it is known. 1.2 M of 20 M are 6%.
func TestDecision(t *testing.T) {
	const start = "Baseline 2 is to be approved or rejected: "
	for _, c := range []struct {
		d    Decision
		says string
	}{
		{Decision{Known: true, Plan: 20_000_000_00, Change: 1_200_000_00, Shift: 20, Proposer: "Ines", On: "24 Nov 2026"}, start + "it adds €1.2 M (6.0%) to the plan and moves the finish by 20 working days; proposed by Ines on 24 Nov 2026."},
		{Decision{Known: true, Plan: 20_000_000_00, Change: -1_200_000_00, Shift: -1, Proposer: "Ines"}, start + "it takes €1.2 M (6.0%) from the plan and brings the finish 1 working day nearer; proposed by Ines."},
		{Decision{Known: true, Plan: 20_000_000_00, On: "24 Nov 2026"}, start + "it leaves the plan's sum as it is; proposed on 24 Nov 2026."},
		{Decision{Known: true, Change: 40_000_00}, start + "it adds €40,000 to the plan."},
		{Decision{Shift: 3}, start + "what it does to the plan is not known, as a rate is missing; it moves the finish by 3 working days."},
	} {
		c.d.Number, c.d.Currency = 2, "EUR"
		require.Equal(t, c.says, c.d.String())
	}
}
