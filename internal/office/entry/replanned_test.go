package entry

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestNamesBaseline(t *testing.T) {
	for name, want := range map[string]bool{
		"Plan baseline 1.csv": true, "Budget_baseline-01.xlsx": true,
		"Budget_v01.xlsx": false, "Budget rev 1.xlsx": false, // of the file
		"Plan baseline 2.csv": false, "Plan baseline 11.csv": false, "Budget 2026.xlsx": false,
	} {
		require.Equal(t, want, namesBaseline(name, 1), name)
	}
}
