package store

import (
	"context"
	"errors"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// TestKindsGetTheirTables: one that is declared gets a table, a column that it
// gains its place, and a program that does not declare them leaves the file alone.
func TestKindsGetTheirTables(t *testing.T) {
	path := temp(t)
	lamps := func(more bool) *record.Kind {
		k := record.NewRecords("lamps", "lamp", "lamp", "lights")
		k.Text("lamp", "code", record.Key)
		k.Whole("height", "metres")
		if more {
			k.Text("colour", "colour", record.As("hue"))
		}
		return k
	}
	remove := record.Declare(lamps(false))
	s, err := Open(ctx, path, true)
	require.NoError(t, err)
	row := portfolio.Row{
		ID:     1,
		Fields: []portfolio.Field{{Said: portfolio.Value, Text: "N"}, {Said: portfolio.Value, Int: 9}},
	}
	_, err = s.Commit(ctx, &Batch{Records: []RecordChange{{Table: record.Named("lamps"), After: row}}})
	require.NoError(t, err)
	require.NoError(t, s.Close())
	remove()
	remove = record.Declare(lamps(true))
	s, err = Open(ctx, path, false)
	require.NoError(t, err)
	rows, err := s.Records(ctx, record.Named("lamps"))
	require.NoError(t, err)
	require.Equal(t, int64(9), rows[0].Fields[1].Int)
	require.Equal(t, portfolio.Nothing, rows[0].Fields[2].Said)
	require.NoError(t, s.Close())
	remove()
	remove = record.Declare(lamps(false))
	_, err = Open(ctx, path, false)
	require.ErrorIs(t, err, ErrNewer)
	require.ErrorContains(t, err, "lamp.hue")
	remove()
	_, err = Open(ctx, path, false)
	require.ErrorContains(t, err, "it keeps lamp,")
}

// TestEveryDeclaredKindHasItsColumns: the tables that migrations made have what the
// kinds declare.
func TestEveryDeclaredKindHasItsColumns(t *testing.T) {
	s := open(t, temp(t))
	for _, k := range record.OfRecords() {
		var have []string
		require.NoError(t, s.readers.SelectContext(ctx, &have, "SELECT name FROM pragma_table_info(?)", k.SQL))
		require.Subset(t, have, append(k.SQLColumns(), "id", "extra", "file", "line", "batch"), k.Name)
	}
}

// TestAlone: what is planned while nobody else can write is committed, or nothing.
func TestAlone(t *testing.T) {
	s := open(t, temp(t))
	b := &Batch{Records: []RecordChange{setting(1, "name", "x")}}
	require.NoError(t, s.Alone(ctx, func(commit func(context.Context, *Batch) (int64, error)) error {
		id, err := commit(ctx, b)
		require.Equal(t, int64(1), id)
		return err
	}))
	require.Positive(t, b.Held)
	broken := errors.New("broken")
	require.ErrorIs(t, s.Alone(ctx, func(commit func(context.Context, *Batch) (int64, error)) error {
		_, err := commit(ctx, &Batch{Base: 1, Records: []RecordChange{setting(2, "other", "y")}})
		require.NoError(t, err)
		return broken
	}), broken)
	rev, err := s.Revision(ctx)
	require.NoError(t, err)
	require.Equal(t, int64(1), rev)
	require.ErrorIs(t, s.Alone(ctx, func(commit func(context.Context, *Batch) (int64, error)) error {
		_, err := commit(ctx, &Batch{Base: 0})
		return err
	}), ErrOutpaced)
}

// TestWhatLaterBatchesTouched: parts and plans that changed since, and what is
// known of files and suppliers.
func TestWhatLaterBatchesTouched(t *testing.T) {
	s := told(t)
	since, err := s.StatedSince(ctx, 2)
	require.NoError(t, err)
	require.Len(t, since, 2)
	since, err = s.StatedSince(ctx, 3)
	require.NoError(t, err)
	require.Empty(t, since)
	hashes, err := s.Hashes(ctx)
	require.NoError(t, err)
	require.Len(t, hashes, 2)
	plan := portfolio.Part{Project: 1, Kind: portfolio.PlanPart, Version: 1}
	_, err = s.Commit(ctx, &Batch{Base: 5, Parts: []PartChange{{Part: plan, Body: []byte("\x02a")}}})
	require.NoError(t, err)
	changed, err := s.PlansChanged(ctx, 5, 9)
	require.NoError(t, err)
	require.Empty(t, changed, "a first plan changes none")
	_, err = s.Commit(ctx, &Batch{Base: 6, Parts: []PartChange{{Part: plan, Body: []byte("\x02b"), Before: 3}}})
	require.NoError(t, err)
	for _, c := range []struct {
		after, upTo int64
		want        int
	}{{5, 7, 1}, {6, 7, 1}, {7, 9, 0}, {5, 6, 0}} {
		changed, err = s.PlansChanged(ctx, c.after, c.upTo)
		require.NoError(t, err)
		require.Len(t, changed, c.want, "%d to %d", c.after, c.upTo)
	}
	none, err := s.Content(ctx, 99)
	require.NoError(t, err)
	require.Nil(t, none)
	at, err := s.BatchAt(ctx, 3)
	require.NoError(t, err)
	require.Equal(t, int64(3*day), at)
	writers, err := s.BaselineWriters(ctx, 1, 1)
	require.NoError(t, err)
	require.Equal(t, []Author{{}}, writers, "whoever wrote its plan")
	projects, err := s.SuppliersChangedSince(ctx, 0)
	require.NoError(t, err)
	require.Empty(t, projects)
	parts, tables := s.Read()
	require.Zero(t, parts+tables)
	require.NoError(t, s.Bodies(ctx, []int64{1}, func(int64, []byte) error { return nil }))
	parts, _ = s.Read()
	require.Equal(t, int64(1), parts)
	broken := errors.New("broken")
	require.ErrorIs(t, s.Bodies(ctx, []int64{1}, func(int64, []byte) error { return broken }), broken)
}
