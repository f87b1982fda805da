package tell

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestMatrix: the likeliest above, impact to the right; 4 × 5 is high, 3 × 4 is mid, 2 × 5
// is neither. What has no score stands nowhere, and more than 5 counts as 5.
func TestMatrix(t *testing.T) {
	require.Nil(t, Matrix(nil))
	require.Nil(t, Matrix([]Placed{{"R1", 3, 0}, {"R2", 0, 3}}))
	var b strings.Builder
	for _, row := range Matrix([]Placed{{"R1", 3, 4}, {"R2", 1, 1}, {"R3", 3, 4}, {"R4", 9, 7}, {"R5", 2, 0}}) {
		fmt.Fprintf(&b, "%d:", row.Likelihood)
		for _, c := range row.Cells {
			fmt.Fprintf(&b, " %s%s", map[string]string{"": ".", "mid": "m", "high": "h"}[c.Class], strings.Join(c.Codes, ","))
		}
		b.WriteString("\n")
	}
	require.Equal(t, "5: . . m h hR4\n4: . . m m h\n3: . . . mR1,R3 m\n2: . . . . .\n1: .R2 . . . .\n", b.String())
}
