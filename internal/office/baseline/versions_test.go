package baseline_test

import (
	"context"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/baseline"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/officetest"
)

// TestVersions: statements, cuts and baselines are versions by themselves; any
// can be given a name and a note, which are exported and read again.
func TestVersions(t *testing.T) {
	ctx := context.Background()
	o := officetest.Pier(t)
	_, err := baseline.In(o).
		Propose(ctx, officetest.Ines, officetest.Moment(t, o, office.Ask{At: "2026-05"}), 0, baseline.Proposal{Project: "P", Money: baseline.Stated, Reason: "r"})
	require.NoError(t, err)
	require.NoError(
		t,
		closing.In(o).
			MakeCut(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-05"}), "Stage gate"),
	)
	at := func() *office.Moment { return officetest.Moment(t, o, office.Ask{At: "2026-05"}) }
	mark := func() int64 {
		n, err := o.Revision(ctx, officetest.Ines)
		require.NoError(t, err)
		return n
	}
	list, err := baseline.In(o).Versions(ctx, officetest.Tor, at())
	require.NoError(t, err)
	var titles []string
	for _, v := range list {
		titles = append(titles, v.Title+", "+v.Name)
	}
	require.Equal(t, []string{"as stated in May 2026, ", "cut Stage gate, ", "baseline 2 of P, "}, titles)
	for i, name := range []string{"Board forecast", "Gate 3", "Softer ground"} {
		require.NoError(
			t,
			baseline.In(o).NameVersion(ctx, officetest.Ines, at(), mark(), list[i].Key(), name, "as shown in June"),
		)
	}
	require.NoError(
		t,
		baseline.In(o).NameVersion(ctx, officetest.Ines, at(), mark(), list[1].Key(), " ", ""),
		"a name is taken back",
	)
	named, err := baseline.In(o).Named(ctx, officetest.Tor, at())
	require.NoError(t, err)
	require.Len(t, named, 2)
	i := slices.IndexFunc(named, func(v baseline.Version) bool { return v.Kind == baseline.BaselineVersion })
	require.Equal(
		t,
		[]string{"Softer ground", "as shown in June", "P"},
		[]string{named[i].Name, named[i].Note, named[i].Project},
	)
	require.ErrorContains(
		t,
		baseline.In(o).NameVersion(ctx, officetest.Ines, at(), mark(), "cut~~99", "x", ""),
		"That version is gone",
	)
	require.ErrorContains(
		t,
		baseline.In(o).NameVersion(ctx, officetest.Ines, at(), 0, list[0].Key(), "x", ""),
		"changed the name of a version",
	)
	dir := filepath.Join(t.TempDir(), "out")
	require.NoError(t, export.In(o).Export(ctx, officetest.Operator, dir))
	other := officetest.NewOffice(t)
	require.Empty(t, officetest.GatherPaths(t, other, entry.Options{}, dir).Refusals)
	again, err := baseline.In(other).Named(ctx, officetest.Tor, officetest.Moment(t, other, office.Ask{At: "2026-05"}))
	require.NoError(t, err)
	require.Equal(t, named, again)
}
