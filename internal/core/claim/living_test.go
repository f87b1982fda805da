package claim_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/claim"
)

// TestLiving: names in braces are filled where they are known; all else stays to the letter.
func TestLiving(t *testing.T) {
	fill := func(name string) (string, bool) {
		return "0.90", name == "cpi" || name == "spi_t" || name == "milestone E/3 ä"
	}
	for text, want := range map[string]string{
		"":                         "",
		"CPI {cpi}":                "CPI 0.90",
		"{cpi}/{spi_t}":            "0.90/0.90",
		"{nope} and {cpi}":         "{nope} and 0.90",
		"{ cpi }, {CPI}, {}, {1a}": "{ cpi }, {CPI}, {}, {1a}",
		"{{cpi}}":                  "{0.90}",
		"{milestone E/3 ä}, {milestone }, {milestones E}, {milestone X}": "0.90, {milestone }, {milestones E}, {milestone X}",
	} {
		require.Equal(t, want, claim.Living(text, fill))
	}
	require.True(t, claim.Lives("x {cpi}"))
	require.False(t, claim.Lives("x {CPI}"))
	require.Equal(t, []string{"nope"}, claim.Unknown(claim.Living("{nope} {cpi}", fill)))
}
