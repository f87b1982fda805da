package entry_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/gather"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
)

// TestRulesOfOneSource: what a code stands for in one source is not said of every other; the
// rules for every source are.
func TestRulesOfOneSource(t *testing.T) {
	ctx := context.Background()
	o := officetest.WithBase(t)
	room := entry.In(o)
	rule := func(from string) gather.Mapping {
		return gather.Mapping{Codes: []gather.CodeRule{{Column: "cost_code", Match: gather.Exact, From: from, To: "10"}}}
	}
	require.NoError(t, room.SaveMapping(ctx, officetest.Operator, entry.NamedMapping{
		Name: "Harbour ledger", Look: "project|kto|jan 2026", Mapping: rule("K9"),
	}))
	require.NoError(t, room.SaveMapping(ctx, officetest.Operator, entry.NamedMapping{Name: entry.EverySource, Mapping: rule("E9")}))
	r, err := room.Gather(ctx, officetest.Operator, []entry.File{
		officetest.File("Actuals Jan 2026.csv", "Project,Cost code,Actual\nA,K9,5.00\nA,E9,6.00\n"),
	}, nil, entry.Options{DryRun: true})
	require.NoError(t, err)
	require.Len(t, r.Refusals, 1, "K9 is a code of that source alone")
	require.Equal(t, "K9", r.Refusals[0].Value)
}
