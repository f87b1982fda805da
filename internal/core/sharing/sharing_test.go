package sharing

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestRefuse(t *testing.T) {
	require.Empty(t, Refuse(100_000_000, "2026-04"))
	require.Empty(t, Refuse(0, "2026-04"))
	require.Equal(
		t,
		"the shares from 2026-04 add up to 99.5%, not to 100; state them all, those that end with 0",
		Refuse(99_500_000, "2026-04"),
	)
	require.Contains(t, Refuse(100_000_001, "2026-04"), "100.000001%")
	require.Contains(t, Refuse(-1_000_000, "2026-04"), "-1%")
}
