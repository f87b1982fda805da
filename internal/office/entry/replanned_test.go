package entry

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestNamesBaseline(t *testing.T) {
	for name, want := range map[string]bool{
		"Plan baseline 1.csv": true, "Budget_v01.xlsx": true, "Rev 1": true, "Version-1": true,
		"Plan baseline 2.csv": false, "Plan baseline 11.csv": false, "Budget 2026.xlsx": false, "Move 1.csv": false,
	} {
		require.Equal(t, want, namesBaseline(name, 1), name)
	}
}
