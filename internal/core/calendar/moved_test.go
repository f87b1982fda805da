package calendar

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestMoved: a plan from Monday 5 January to one that begins on another day keeps its
// working days. 15 January is 8 working days after the 5th (6 7 8 9 12 13 14 15).
func TestMoved(t *testing.T) {
	c := New("", MondayToFriday, []Date{day(t, "2026-03-11")})
	for name, x := range map[string]struct{ d, to, is string }{
		"the first day":                  {"2026-01-05", "2026-03-02", "2026-03-02"},
		"eight days on":                  {"2026-01-15", "2026-02-02", "2026-02-12"},
		"over a holiday":                 {"2026-01-15", "2026-03-02", "2026-03-13"}, // 3 4 5 6 9 10 12 13
		"to a Sunday, so to the Monday":  {"2026-01-05", "2026-03-01", "2026-03-02"},
		"to a Saturday, eight days on":   {"2026-01-15", "2026-01-31", "2026-02-12"},
		"earlier":                        {"2026-01-15", "2025-12-01", "2025-12-11"},
		"a Saturday is its Friday":       {"2026-01-10", "2026-02-02", "2026-02-06"},
		"before the first, as the first": {"2026-01-02", "2026-02-02", "2026-02-02"},
	} {
		t.Run(name, func(t *testing.T) {
			require.Equal(t, x.is, c.Moved(day(t, x.d), day(t, "2026-01-05"), day(t, x.to)).String())
		})
	}
	require.Equal(t, "2026-02-03", c.Moved(day(t, "2026-01-06"), day(t, "2026-01-04"), day(t, "2026-02-02")).String(), "from a Sunday: counted from the Monday")
	require.Zero(t, c.Moved(0, day(t, "2026-01-05"), day(t, "2026-03-02")))
}
