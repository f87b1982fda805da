package tell

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestMeanwhile(t *testing.T) {
	m := Meanwhile{
		Who:    "Bea Two",
		At:     1795862640000,
		Batch:  60,
		What:   "rule",
		Key:    []string{"cost", "cpi", "2027-01"},
		Fields: []Clash{{"watch", "0.95", "0.96", "0.94"}, {"act_share", "", "30", ""}},
	}
	require.Equal(
		t,
		"Bea Two changed the rule cost, cpi, 2027-01 meanwhile (28 Nov 2026 10:44 UTC, batch 60): watch was 0.95, is 0.96 now, and yours is 0.94; act share was nothing, is 30 now, and yours is nothing. "+
			"Nothing was kept. What you typed is still in the form: send it again to put it in the place of theirs.",
		m.String(),
	)
	m.More, m.Who = 2, ""
	require.Contains(t, m.String(), "The same is true of 2 others.")
	require.Contains(t, m.String(), "Someone changed")
}
