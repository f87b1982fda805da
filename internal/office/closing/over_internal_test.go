package closing

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestKindOfAPoint: cuts made before kinds were kept tell them by the words of the point.
func TestKindOfAPoint(t *testing.T) {
	for point, want := range map[string]string{
		"1 refused row waits":                        RefusedRows,
		"3 refused rows wait":                        RefusedRows,
		"1 project has errors open":                  OpenErrors,
		"12 projects have errors open":               OpenErrors,
		"2 projects have warnings without an answer": Unanswered,
		"1 standing moved two levels":                BigMoves,
		"1 project owes a statement":                 Owing,
		"20 projects owe statements":                 Owing,
		"something else":                             "",
	} {
		require.Equal(t, want, Over{Point: point}.kind(), point)
	}
	require.Equal(t, OpenErrors, Over{Kind: OpenErrors, Point: "1 project owes a statement"}.kind(), "what was kept counts")
}
