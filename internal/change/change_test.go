package change

import (
	"context"
	"errors"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/book"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
)

var ctx = context.Background()

// writer opens a database as one process does.
func writer(t *testing.T, path string) (*Writer, *store.Store) {
	t.Helper()
	st, err := store.Open(ctx, path, true)
	require.NoError(t, err)
	t.Cleanup(func() { st.Close() })
	b, err := book.Open(ctx, st)
	require.NoError(t, err)
	return New(st, b), st
}

// setting is a row of settings.
func setting(id int64, name, value string) portfolio.Row {
	return portfolio.Row{
		ID:     id,
		Fields: []portfolio.Field{{Said: portfolio.Value, Text: name}, {Said: portfolio.Value, Text: value}},
	}
}

// set plans that a setting is this, whatever it was.
func set(id int64, name, value string, takes time.Duration) Plan {
	return func(_ context.Context, s *book.Snapshot) (*store.Batch, error) {
		time.Sleep(takes)
		c := store.RecordChange{Table: record.Named("settings"), After: setting(id, name, value)}
		for i := range s.Records["settings"] {
			if r := &s.Records["settings"][i]; r.ID == id {
				c.Before = r
			}
		}
		return &store.Batch{Origin: "test", Records: []store.RecordChange{c}}, nil
	}
}

// TestWriteBesideABusyProcess: what takes longer to plan than others take to write
// is written all the same.
func TestWriteBesideABusyProcess(t *testing.T) {
	path := filepath.Join(t.TempDir(), "a.db")
	slow, st := writer(t, path)
	busy, _ := writer(t, path)
	stop := make(chan struct{})
	var others sync.WaitGroup
	others.Go(func() {
		for i := 0; ; i++ {
			select {
			case <-stop:
				return
			default:
				if _, err := busy.Write(ctx, By{Name: "busy"}, int64(i), set(1, "busy", string(rune('a'+i%26)), 0)); err != nil {
					t.Error(err)
				}
			}
		}
	})
	for i := range 3 {
		id, err := slow.Write(
			ctx,
			By{Account: 7, Name: "slow"},
			5,
			set(2, "slow", string(rune('a'+i)), 30*time.Millisecond),
			Beside(),
		)
		require.NoError(t, err)
		list, err := st.Batches(ctx, store.HistoryFilter{Actor: "slow", Most: 1})
		require.NoError(t, err)
		require.Equal(t, id, list[0].ID)
	}
	close(stop)
	others.Wait()
}

// TestWriteNothing: a plan that calls for nothing writes nothing, and one that
// fails leaves all as it was.
func TestWriteNothing(t *testing.T) {
	w, st := writer(t, filepath.Join(t.TempDir(), "a.db"))
	first, err := w.Write(ctx, By{Name: "me"}, 1, set(1, "name", "x", 0))
	require.NoError(t, err)
	for _, plan := range []Plan{
		func(context.Context, *book.Snapshot) (*store.Batch, error) { return nil, nil },
		func(context.Context, *book.Snapshot) (*store.Batch, error) { return &store.Batch{}, nil },
	} {
		id, err := w.Write(ctx, By{Name: "me"}, 1, plan)
		require.NoError(t, err)
		require.Equal(t, first, id)
	}
	broken := errors.New("broken")
	_, err = w.Write(
		ctx,
		By{Name: "me"},
		1,
		func(context.Context, *book.Snapshot) (*store.Batch, error) { return nil, broken },
	)
	require.ErrorIs(t, err, broken)
	rev, err := st.Revision(ctx)
	require.NoError(t, err)
	require.Equal(t, first, rev)
	gone, cancel := context.WithCancel(ctx)
	cancel()
	_, err = w.Write(gone, By{Name: "me"}, 1, set(1, "name", "y", 0))
	require.ErrorIs(t, err, context.Canceled)
}

// TestSame: people are told apart by their accounts, and by name where they have
// none.
func TestSame(t *testing.T) {
	for _, c := range []struct {
		a, b By
		same bool
	}{
		{By{1, "Ada"}, By{1, "Renamed"}, true}, {By{1, "Ada"}, By{2, "Ada"}, false}, {By{1, "Ada"}, By{0, " ada "}, true}, {By{0, "Ada"}, By{0, "Bea"}, false},
	} {
		require.Equal(t, c.same, c.a.Same(c.b), "%v %v", c.a, c.b)
	}
}

// TestMerge goes through what can become of a field that two look at: was, is and
// would, as letters; "" is nothing.
func TestMerge(t *testing.T) {
	table := record.Named("rules")
	watch := table.Index("watch")
	field := func(s string) portfolio.Field {
		if s == "" {
			return portfolio.Field{}
		}
		return portfolio.Field{Said: portfolio.Value, Text: s}
	}
	row := func(s string) portfolio.Row {
		r := portfolio.Row{ID: 4, Fields: make([]portfolio.Field, len(table.Columns))}
		r.Fields[0] = field("cost")
		r.Fields[watch] = field(s)
		return r
	}
	for _, c := range []struct {
		was, is, would string
		conflict       bool
		leaves         string
	}{
		{"a", "a", "b", false, "b"},
		{"a", "b", "a", false, "b"},
		{"a", "b", "b", false, "b"},
		{"a", "b", "c", true, "c"},
		{"", "b", "c", true, "c"},
		{"a", "", "c", true, "c"},
		{"a", "b", "", true, ""},
		{"", "b", "", false, "b"},
		{"a", "", "a", false, ""},
	} {
		was, is, after := row(c.was), row(c.is), row(c.would)
		got := (&Seen{row: &was, by: By{3, "Bea"}, batch: 9}).Merge(table, &is, &after)
		require.Equal(t, c.conflict, got != nil, "%v", c)
		require.Equal(t, field(c.leaves), after.Fields[watch], "%v", c)
		if got != nil {
			require.Equal(t, []Clash{{&table.Columns[watch], field(c.was), field(c.is), field(c.would)}}, got.Clashes)
			require.Equal(t, int64(9), got.Batch)
			require.ErrorContains(t, got, "batch 9")
		}
	}
	is, after := row("b"), row("c")
	require.NotNil(t, (&Seen{}).Merge(table, &is, &after), "a record that was not there")
	after = row("b")
	after.Fields[0] = field("dates")
	require.Nil(t, (&Seen{}).Merge(table, &is, &after), "keys are not looked at")
	answers := record.Named("answers")
	by := answers.Index("by")
	was, now, then := portfolio.Row{
		Fields: make([]portfolio.Field, len(answers.Columns)),
	}, portfolio.Row{
		Fields: make([]portfolio.Field, len(answers.Columns)),
	}, portfolio.Row{
		Fields: make([]portfolio.Field, len(answers.Columns)),
	}
	now.Fields[by], then.Fields[by] = field("Ada"), field("Bea")
	require.Nil(t, (&Seen{row: &was}).Merge(answers, &now, &then), "who said the same is no matter")
}

// TestSeenAt goes back through what was written since.
func TestSeenAt(t *testing.T) {
	w, st := writer(t, filepath.Join(t.TempDir(), "a.db"))
	for i, v := range []string{"a", "b", "c"} {
		_, err := w.Write(ctx, By{Account: int64(i + 1), Name: v}, 1, set(1, "name", v, 0))
		require.NoError(t, err)
	}
	table := record.Named("settings")
	rows, err := st.Records(ctx, table)
	require.NoError(t, err)
	for revision, want := range map[int64]string{0: "", 1: "a", 2: "b"} {
		seen, err := SeenAt(ctx, st, table, rows, revision)
		require.NoError(t, err)
		x := seen[1]
		require.Equal(t, By{3, "c"}, x.by)
		if want == "" {
			require.Nil(t, x.row)
		} else {
			require.Equal(t, want, x.row.Fields[1].Text)
		}
	}
	seen, err := SeenAt(ctx, st, table, rows, 3)
	require.NoError(t, err)
	require.Empty(t, seen)
	require.Equal(t, "c", rows[0].Fields[1].Text, "the rows stay as they are")
}
