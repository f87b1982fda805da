package book

import (
	"context"
	"path/filepath"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// TestSnapshotIsWholeBeforeItIsShared: whoever holds a project of a snapshot sees
// it stay as it was while others decode the parts, and a decoding that fails
// leaves all as it was.
func TestSnapshotIsWholeBeforeItIsShared(t *testing.T) {
	ctx := context.Background()
	path := filepath.Join(t.TempDir(), "a.db")
	st, err := store.Open(ctx, path, true)
	require.NoError(t, err)
	defer st.Close()
	table := record.Named("projects")
	batch := &store.Batch{}
	const many = 40
	for i := range int64(many) {
		row := portfolio.Row{ID: i + 1, Fields: make([]portfolio.Field, len(table.Columns))}
		row.Fields[0] = portfolio.Field{Said: portfolio.Value, Text: "K" + string(rune('A'+i))}
		batch.Records = append(batch.Records, store.RecordChange{Table: table, After: row})
		batch.Parts = append(batch.Parts, store.PartChange{
			Part: portfolio.Part{Project: i + 1, Kind: portfolio.PlanPart, Version: 1},
			Body: format.EncodeLines(
				[]portfolio.Line{
					{
						Flow:     portfolio.Cost,
						Class:    "opex",
						Currency: "EUR",
						Cells:    []portfolio.Cell{{Period: 24311, Amount: i + 1}},
					},
				},
			),
		})
	}
	_, err = st.Commit(ctx, batch)
	require.NoError(t, err)
	b, err := Open(ctx, st)
	require.NoError(t, err)
	s, err := b.Snapshot(ctx)
	require.NoError(t, err)

	cancelled, cancel := context.WithCancel(ctx)
	cancel()
	_, err = s.Filled(cancelled)
	require.Error(t, err)

	held := s.Project("KA")
	var readers sync.WaitGroup
	for range 4 {
		readers.Go(func() {
			for range 200 {
				for _, p := range s.Projects() {
					if n := len(p.Plan); n > 1 {
						t.Errorf("%s has %d plans", p.Code, n)
					}
				}
			}
		})
	}
	filled, err := s.Filled(ctx)
	require.NoError(t, err)
	readers.Wait()
	require.Empty(t, held.Plan, "what was handed out does not change")
	require.Len(t, filled, many)
	for i, p := range filled {
		require.Equal(t, int64(i+1), p.Plan[0].Lines[0].Cells[0].Amount)
		require.Same(t, p, s.ByID(p.ID))
	}
}
