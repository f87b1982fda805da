package book

import (
	"context"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// TestOnlyWhatAChangeTouchedIsLoaded counts what a change of each kind of records
// reads again: its own table and the states of periods, and no statement; and
// finds in the new snapshot what a fresh load gives.
func TestOnlyWhatAChangeTouchedIsLoaded(t *testing.T) {
	ctx := context.Background()
	st, err := store.Open(ctx, filepath.Join(t.TempDir(), "a.db"), true)
	require.NoError(t, err)
	defer st.Close()
	said := func(s string) portfolio.Field { return portfolio.Field{Said: portfolio.Value, Text: s} }
	number := func(n int64) portfolio.Field { return portfolio.Field{Said: portfolio.Value, Int: n} }
	row := func(k *record.Kind, id int64, fields map[string]portfolio.Field) store.RecordChange {
		r := portfolio.Row{ID: id, Fields: make([]portfolio.Field, len(k.Columns))}
		for name, f := range fields {
			r.Fields[k.Index(name)] = f
		}
		return store.RecordChange{Table: k, After: r}
	}
	commit := func(b *store.Batch) {
		b.Base, err = st.Revision(ctx)
		require.NoError(t, err)
		_, err = st.Commit(ctx, b)
		require.NoError(t, err)
	}
	first := &store.Batch{
		Records: []store.RecordChange{
			row(record.CostCodes.Kind, 1, map[string]portfolio.Field{"cost_code": said("10")}),
		},
	}
	for i := range int64(5) {
		first.Records = append(
			first.Records,
			row(record.Projects.Kind, i+1, map[string]portfolio.Field{"project": said("K" + string(rune('A'+i)))}),
		)
		for _, kind := range []portfolio.PartKind{portfolio.PlanPart, portfolio.ActualPart} {
			version := int32(1)
			if kind == portfolio.ActualPart {
				version = 24311
			}
			first.Parts = append(first.Parts, store.PartChange{
				Part: portfolio.Part{Project: i + 1, Kind: kind, Version: version},
				Body: format.EncodeLines(
					[]portfolio.Line{
						{
							CodeID:   1,
							Code:     "10",
							Flow:     portfolio.Cost,
							Class:    "opex",
							Currency: "EUR",
							Cells:    []portfolio.Cell{{Period: 24311, Amount: 100 * (i + 1)}},
						},
					},
				),
			})
		}
	}
	first.Parts = append(
		first.Parts,
		store.PartChange{
			Part: portfolio.Part{Project: 1, Kind: portfolio.BaselinePart, Version: 2},
			Body: format.EncodeRows(nil),
		},
	)
	commit(first)
	b, err := Open(ctx, st)
	require.NoError(t, err)
	read := func(b *Book) []*Reading { return rowsOf(t, b) }
	require.Equal(t, int64(100), read(b)[0].Value(figure.AC).N)
	for _, c := range []store.RecordChange{
		row(record.Versions.Kind, 1, map[string]portfolio.Field{"kind": said("statement"), "version": said("2026-01"), "name": said("Board")}),
		row(record.DueDays.Kind, 1, map[string]portfolio.Field{"statement": said("progress"), "days": number(3)}),
		row(record.Overrides.Kind, 1, map[string]portfolio.Field{"project": number(1), "dimension": said("cost"), "from": number(24300), "until": number(24330), "standing": said("act"), "reason": said("r")}),
		row(record.Policies.Kind, 1, map[string]portfolio.Field{"policy": said("overall"), "from": number(1), "how": said("worst")}),
		row(record.Periods.Kind, 1, map[string]portfolio.Field{"period": number(24300), "state": said("in checking")}),
		row(record.Programmes.Kind, 1, map[string]portfolio.Field{"programme": said("G"), "name": said("Green")}),
		row(record.Baselines.Kind, 1, map[string]portfolio.Field{"project": number(1), "baseline": number(2), "state": said("proposed")}),
		row(record.CostCodes.Kind, 2, map[string]portfolio.Field{"cost_code": said("20"), "reserve": said("management")}),
		row(record.CostCodes.Kind, 1, map[string]portfolio.Field{"cost_code": said("11"), "name": said("Renamed"), "parent": number(2)}),
	} {
		parts, tables := st.Read()
		commit(&store.Batch{Records: []store.RecordChange{c}})
		now := read(b)
		p, n := st.Read()
		require.Equal(t, parts, p, "no statement is read again for %s", c.Table.Name)
		require.LessOrEqual(t, n-tables, int64(2), c.Table.Name)
		fresh, err := Open(ctx, st)
		require.NoError(t, err)
		require.Equal(t, read(fresh), now, c.Table.Name)
		is, err := b.Snapshot(ctx)
		require.NoError(t, err)
		as, err := fresh.Snapshot(ctx)
		require.NoError(t, err)
		require.Equal(t, as.Records, is.Records, c.Table.Name)
		require.Equal(t, as.Projects(), is.Projects(), c.Table.Name)
		require.Equal(t, as.Office.Codes, is.Office.Codes)
		require.Equal(t, as.Office.Due, is.Office.Due)
		require.Equal(t, as.Office.Groups, is.Office.Groups)
	}
	require.Equal(t, 3, int(mustSnapshot(t, b).Office.Due["progress"]))
}

func mustSnapshot(t *testing.T, b *Book) *Snapshot {
	t.Helper()
	s, err := b.Snapshot(context.Background())
	require.NoError(t, err)
	return s
}
