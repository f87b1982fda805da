package store

import (
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

var ctx = context.Background()

func open(t testing.TB, path string) *Store {
	t.Helper()
	s, err := Open(ctx, path, true)
	require.NoError(t, err)
	t.Cleanup(func() { s.Close() })
	return s
}

func temp(t testing.TB) string { return filepath.Join(t.TempDir(), "turret.db") }

func setting(id int64, name, value string) RecordChange {
	return RecordChange{
		Table: record.Named("settings"),
		After: portfolio.Row{
			ID:     id,
			Fields: []portfolio.Field{{Said: portfolio.Value, Text: name}, {Said: portfolio.Value, Text: value}},
		},
	}
}

func part(project int64, body string) PartChange {
	return PartChange{
		Part: portfolio.Part{Project: project, Kind: portfolio.ProgressPart, Version: 24311},
		Body: []byte(body),
	}
}

func TestCommitAndRead(t *testing.T) {
	s := open(t, temp(t))
	id, err := s.Commit(
		ctx,
		&Batch{
			Actor:   "me",
			Origin:  "test",
			Records: []RecordChange{setting(1, "name", "Office")},
			Parts:   []PartChange{part(1, "\x01a"), part(2, "\x01a"), part(3, "\x01b")},
		},
	)
	require.NoError(t, err)
	require.Equal(t, int64(1), id)
	stated, err := s.StatedParts(ctx)
	require.NoError(t, err)
	require.Len(t, stated, 3)
	require.Equal(t, stated[0].ID, stated[1].ID, "equal content is kept once")
	rows, err := s.Records(ctx, record.Named("settings"))
	require.NoError(t, err)
	require.Equal(t, "Office", rows[0].Fields[1].Text)

	changed := setting(1, "name", "Other")
	changed.Before = &rows[0]
	_, err = s.Commit(ctx, &Batch{Base: 1, Records: []RecordChange{changed}})
	require.NoError(t, err)
	var before, after string
	require.NoError(
		t,
		s.readers.QueryRowContext(ctx, "SELECT before, after FROM change WHERE batch = 2").Scan(&before, &after),
	)
	require.Equal(t, [2]string{"Office", "Other"}, [2]string{before, after}, "what it was is kept")
	_, err = s.readers.ExecContext(ctx, "DELETE FROM setting")
	require.Error(t, err, "readers cannot write")
}

func TestOutpaced(t *testing.T) {
	path := temp(t)
	one, two := open(t, path), open(t, path)
	v, err := two.DataVersion(ctx)
	require.NoError(t, err)
	_, err = one.Commit(ctx, &Batch{Parts: []PartChange{part(1, "\x01a")}})
	require.NoError(t, err)
	after, err := two.DataVersion(ctx)
	require.NoError(t, err)
	require.NotEqual(t, v, after)
	_, err = two.Commit(ctx, &Batch{Base: 0, Parts: []PartChange{part(2, "\x01b")}})
	require.ErrorIs(t, err, ErrOutpaced)
	list, err := one.StatedParts(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1, "nothing of the outpaced batch is there")
}

// TestFullDisk: a batch that does not fit leaves everything as it was.
func TestFullDisk(t *testing.T) {
	s := open(t, temp(t))
	_, err := s.Commit(ctx, &Batch{Parts: []PartChange{part(1, "\x01a")}})
	require.NoError(t, err)
	var pages int
	require.NoError(t, s.writer.GetContext(ctx, &pages, "PRAGMA page_count"))
	_, err = s.writer.ExecContext(ctx, fmt.Sprintf("PRAGMA max_page_count = %d", pages+4))
	require.NoError(t, err)
	big := make([]byte, 1<<20)
	for i := range big {
		big[i] = byte(rand.IntN(256))
	}
	_, err = s.Commit(
		ctx,
		&Batch{
			Base:    1,
			Records: []RecordChange{setting(1, "name", "x")},
			Parts:   []PartChange{part(2, "\x01"+string(big))},
		},
	)
	require.ErrorIs(t, err, ErrFull)
	rev, err := s.Revision(ctx)
	require.NoError(t, err)
	require.Equal(t, int64(1), rev)
	rows, err := s.Records(ctx, record.Named("settings"))
	require.NoError(t, err)
	require.Empty(t, rows)
	_, err = s.Commit(ctx, &Batch{Base: 1, Parts: []PartChange{part(2, "\x01small")}})
	require.NoError(t, err, "it goes on afterwards")
}

func TestForeignAndNewer(t *testing.T) {
	_, err := Open(ctx, temp(t), false)
	require.ErrorIs(t, err, ErrMissing)
	_, err = Open(ctx, t.TempDir(), false)
	require.ErrorIs(t, err, ErrForeign)

	text := temp(t)
	require.NoError(
		t,
		os.WriteFile(text, []byte("this is a letter, and no database at all, however long one reads on in it"), 0o600),
	)
	_, err = Open(ctx, text, false)
	require.ErrorIs(t, err, ErrForeign)

	other := temp(t)
	db, err := sqlx.Open("sqlite", other)
	require.NoError(t, err)
	_, err = db.Exec("CREATE TABLE x (y)")
	require.NoError(t, err)
	require.NoError(t, db.Close())
	_, err = Open(ctx, other, false)
	require.ErrorIs(t, err, ErrForeign)

	path := temp(t)
	s := open(t, path)
	_, err = s.writer.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)")
	require.NoError(t, err)
	require.NoError(t, s.Close())
	_, err = Open(ctx, path, false)
	require.ErrorIs(t, err, ErrNewer)
	require.ErrorContains(t, err, "use that version")
}

func TestBackupAndRestore(t *testing.T) {
	path, copied, again := temp(t), temp(t), temp(t)
	s := open(t, path)
	_, err := s.Commit(ctx, &Batch{Parts: []PartChange{part(1, "\x01a")}})
	require.NoError(t, err)
	require.NoError(t, s.Backup(ctx, copied))
	require.Error(t, s.Backup(ctx, copied), "it does not overwrite")
	require.NoError(t, Restore(ctx, copied, again))
	require.Error(t, Restore(ctx, copied, again))
	list, err := open(t, again).StatedParts(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1)

	db, err := sqlx.Open("sqlite", copied)
	require.NoError(t, err)
	_, err = db.Exec("UPDATE part SET body = x'00'")
	require.NoError(t, err)
	require.NoError(t, db.Close())
	require.ErrorIs(t, Restore(ctx, copied, temp(t)), ErrDamaged)
	require.ErrorIs(t, Restore(ctx, filepath.Join(t.TempDir(), "none"), temp(t)), ErrMissing)
}

// TestDamagedParts: of a file with damage anywhere, each part is as it was
// written, or there is an error; never fewer parts and none.
func TestDamagedParts(t *testing.T) {
	path := temp(t)
	s := open(t, path)
	r := rand.New(rand.NewPCG(3, 3))
	b := &Batch{}
	want := make(map[int64][]byte)
	var ids []int64
	for i := range 300 {
		body := make([]byte, 200+r.IntN(600))
		for k := range body {
			body[k] = byte(r.IntN(256))
		}
		body[0] = 1 // a form, not packed
		b.Parts = append(b.Parts, part(int64(i+1), string(body)))
		want[int64(i+1)] = body
		ids = append(ids, int64(i+1))
	}
	_, err := s.Commit(ctx, b)
	require.NoError(t, err)
	_, err = s.writer.Exec("PRAGMA wal_checkpoint(TRUNCATE)")
	require.NoError(t, err)
	require.NoError(t, s.Close())
	whole, err := os.ReadFile(path)
	require.NoError(t, err)
	told := 0
	for range 60 {
		bad := append([]byte{}, whole...)
		at := 100 + r.IntN(len(bad)-164)
		for k := range 48 {
			bad[at+k] = byte(r.IntN(256))
		}
		path := temp(t)
		require.NoError(t, os.WriteFile(path, bad, 0o600))
		s, err := Open(ctx, path, false)
		if err != nil {
			told++
			continue
		}
		got := 0
		err = s.Bodies(ctx, ids, func(id int64, body []byte) error {
			require.Equal(t, want[id], body, "part %d after damage at %d", id, at)
			got++
			return nil
		})
		if err != nil {
			told++
		} else {
			require.Equal(t, len(want), got, "damage at %d is told", at)
		}
		require.NoError(t, s.Close())
	}
	require.Greater(t, told, 10)
}

// TestMissingPart: one that is pointed to and not there is an error that names it.
func TestMissingPart(t *testing.T) {
	s := open(t, temp(t))
	_, err := s.Commit(ctx, &Batch{Parts: []PartChange{part(1, "\x01a"), part(2, "\x01b")}})
	require.NoError(t, err)
	err = s.Bodies(ctx, []int64{1, 7}, func(int64, []byte) error { return nil })
	var missing *MissingPart
	require.ErrorAs(t, err, &missing)
	require.Equal(t, int64(7), missing.ID)
	require.ErrorIs(t, err, ErrDamaged)
}
