package brief

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/book"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/check"
)

// TestTrustSaid: what is open, with nothing, warnings alone, and errors; those that were
// accepted are not.
func TestTrustSaid(t *testing.T) {
	found := func(severity finding.Severity, project string, state finding.State) office.Finding {
		return office.Finding{Project: project, Finding: finding.Finding{Severity: severity, State: state}}
	}
	warning := found(finding.Warning, "A", finding.Open)
	e := found(finding.Error, "A", finding.Open)
	over := found(finding.Error, "B", finding.Accepted)
	bac := func(n int64) *briefWriter {
		r := &book.Reading{Values: make([]figure.Value, figure.Len())}
		r.Values[figure.BAC] = figure.Value{Known: true, N: n}
		return &briefWriter{m: &office.Moment{InProject: true}, list: &board.List{Total: board.Row{Now: r}}}
	}
	for _, c := range []struct {
		list []office.Finding
		says string
	}{
		{nil, "Neither an error nor a warning is open."},
		{[]office.Finding{over}, "Neither an error nor a warning is open."},
		{[]office.Finding{warning}, "No error is open, and 1 warning is."},
		{[]office.Finding{warning, warning, over}, "No error is open, and 2 warnings are."},
		{[]office.Finding{e}, "1 error on 1 project and 0 warnings are open."},
		{[]office.Finding{e, e, warning}, "2 errors on 1 project and 1 warning are open."},
	} {
		require.Contains(t, bac(100).trustSaid(&check.Trust{}, c.list), c.says)
	}
	require.NotContains(t, bac(100).trustSaid(&check.Trust{}, []office.Finding{e}), "of the plan", "its money is in many currencies")
}

// TestFoundOn: a project's page says what is open on it, and nothing where nothing is.
func TestFoundOn(t *testing.T) {
	on := func(list ...finding.Finding) string {
		return (&briefWriter{}).foundOn(&office.Reading{Findings: list})
	}
	e := finding.Finding{Severity: finding.Error, State: finding.Open, Text: "Its plan has no money."}
	w := finding.Finding{Severity: finding.Warning, State: finding.Open, Text: "It is late."}
	require.Empty(t, on())
	require.Equal(t, "Its data have 0 errors and 1 warning open.", on(w))
	require.Equal(t, "Its data have 1 error and 1 warning open. Its plan has no money.", on(w, e))
	require.Equal(t, "Its data have 1 error and 0 warnings open. Its plan has no money.", on(e))
}
