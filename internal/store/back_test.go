package store

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// TestAFieldIsTakenBack: what later batches changed of a record is taken back field
// by field, to the text, the number or the nothing that was there; what they made
// is gone, and columns that the kind does not have are left alone.
func TestAFieldIsTakenBack(t *testing.T) {
	k := record.Overrides.Kind
	now := func() *portfolio.Row {
		r := portfolio.Row{ID: 1, Fields: make([]portfolio.Field, len(k.Columns))}
		*record.Overrides.Until.In(&r) = portfolio.Field{Said: portfolio.Value, Int: 24330}
		*record.Overrides.Reason.In(&r) = portfolio.Field{Said: portfolio.Value, Text: "now"}
		return &r
	}
	text := func(s string) *string { return &s }
	for _, c := range []struct {
		name   string
		change Change
		until  portfolio.Field
		reason portfolio.Field
		gone   bool
		fails  bool
	}{
		{"a number", Change{Field: "until", Before: text("24318")}, portfolio.Field{Said: portfolio.Value, Int: 24318}, portfolio.Field{Said: portfolio.Value, Text: "now"}, false, false},
		{"a text", Change{Field: "reason", Before: text("24318")}, portfolio.Field{Said: portfolio.Value, Int: 24330}, portfolio.Field{Said: portfolio.Value, Text: "24318"}, false, false},
		{"nothing", Change{Field: "until"}, portfolio.Field{}, portfolio.Field{Said: portfolio.Value, Text: "now"}, false, false},
		{"the record itself", Change{Field: Added}, portfolio.Field{}, portfolio.Field{}, true, false},
		{"an extra column", Change{Field: "crane", Before: text("yes")}, portfolio.Field{Said: portfolio.Value, Int: 24330}, portfolio.Field{Said: portfolio.Value, Text: "now"}, false, false},
		{"a number that is none", Change{Field: "until", Before: text("soon")}, portfolio.Field{}, portfolio.Field{}, false, true},
	} {
		row, err := c.change.Back(k, now())
		require.Equal(t, c.fails, err != nil, c.name)
		switch {
		case c.fails:
		case c.gone:
			require.Nil(t, row, c.name)
			row, err = (&Change{Field: "until", Before: text("1")}).Back(k, nil)
			require.NoError(t, err)
			require.Nil(t, row, "there is nothing left to take back")
		default:
			require.Equal(t, c.until, *record.Overrides.Until.In(row), c.name)
			require.Equal(t, c.reason, *record.Overrides.Reason.In(row), c.name)
		}
	}
}
