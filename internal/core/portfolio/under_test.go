package portfolio

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestUnder: a programme lies below those above it and in itself; one that is not known in
// itself alone.
func TestUnder(t *testing.T) {
	o := &Office{Groups: []Programme{{Code: "A"}, {Code: "B", Parent: "A"}, {Code: "C", Parent: "B"}, {Code: "E"}}}
	for _, c := range []struct {
		code, above string
		want        bool
	}{
		{"C", "A", true},
		{"C", "C", true},
		{"B", "C", false},
		{"E", "A", false},
		{"D", "A", false}, // between those that are known
		{"D", "E", false},
		{"Z", "A", false}, // after them
		{"Z", "Z", true},
	} {
		require.Equal(t, c.want, o.Under(c.code, c.above), c)
	}
}
