package store

import (
	"context"
	"encoding/hex"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
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
	return RecordChange{Table: portfolio.TableNamed("settings"), After: portfolio.Row{ID: id, Fields: []portfolio.Field{{Said: portfolio.Value, Text: name}, {Said: portfolio.Value, Text: value}}}}
}

func part(project int64, body string) PartChange {
	return PartChange{Part: portfolio.Part{Project: project, Kind: portfolio.ProgressPart, Version: 24311}, Body: []byte(body)}
}

func TestCommitAndRead(t *testing.T) {
	s := open(t, temp(t))
	id, err := s.Commit(ctx, &Batch{Actor: "me", Origin: "test", Records: []RecordChange{setting(1, "name", "Office")}, Parts: []PartChange{part(1, "a"), part(2, "a"), part(3, "b")}})
	require.NoError(t, err)
	require.Equal(t, int64(1), id)
	stated, err := s.StatedParts(ctx)
	require.NoError(t, err)
	require.Len(t, stated, 3)
	require.Equal(t, stated[0].ID, stated[1].ID, "equal content is kept once")
	rows, err := s.Records(ctx, portfolio.TableNamed("settings"))
	require.NoError(t, err)
	require.Equal(t, "Office", rows[0].Fields[1].Text)

	changed := setting(1, "name", "Other")
	changed.Before = &rows[0]
	_, err = s.Commit(ctx, &Batch{Base: 1, Records: []RecordChange{changed}})
	require.NoError(t, err)
	var before, after string
	require.NoError(t, s.readers.QueryRowContext(ctx, "SELECT before, after FROM change WHERE batch = 2").Scan(&before, &after))
	require.Equal(t, [2]string{"Office", "Other"}, [2]string{before, after}, "what it was is kept")
	_, err = s.readers.ExecContext(ctx, "DELETE FROM setting")
	require.Error(t, err, "readers cannot write")
}

func TestOutpaced(t *testing.T) {
	path := temp(t)
	one, two := open(t, path), open(t, path)
	v, err := two.DataVersion(ctx)
	require.NoError(t, err)
	_, err = one.Commit(ctx, &Batch{Parts: []PartChange{part(1, "a")}})
	require.NoError(t, err)
	after, err := two.DataVersion(ctx)
	require.NoError(t, err)
	require.NotEqual(t, v, after)
	_, err = two.Commit(ctx, &Batch{Base: 0, Parts: []PartChange{part(2, "b")}})
	require.ErrorIs(t, err, ErrOutpaced)
	list, err := one.StatedParts(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1, "nothing of the outpaced batch is there")
}

// TestFullDisk: a batch that does not fit leaves everything as it was.
func TestFullDisk(t *testing.T) {
	s := open(t, temp(t))
	_, err := s.Commit(ctx, &Batch{Parts: []PartChange{part(1, "a")}})
	require.NoError(t, err)
	var pages int
	require.NoError(t, s.writer.GetContext(ctx, &pages, "PRAGMA page_count"))
	_, err = s.writer.ExecContext(ctx, fmt.Sprintf("PRAGMA max_page_count = %d", pages+4))
	require.NoError(t, err)
	big := make([]byte, 1<<20)
	for i := range big {
		big[i] = byte(rand.IntN(256))
	}
	_, err = s.Commit(ctx, &Batch{Base: 1, Records: []RecordChange{setting(1, "name", "x")}, Parts: []PartChange{part(2, string(big))}})
	require.ErrorIs(t, err, ErrFull)
	rev, err := s.Revision(ctx)
	require.NoError(t, err)
	require.Equal(t, int64(1), rev)
	rows, err := s.Records(ctx, portfolio.TableNamed("settings"))
	require.NoError(t, err)
	require.Empty(t, rows)
	_, err = s.Commit(ctx, &Batch{Base: 1, Parts: []PartChange{part(2, "small")}})
	require.NoError(t, err, "it goes on afterwards")
}

func TestForeignAndNewer(t *testing.T) {
	_, err := Open(ctx, temp(t), false)
	require.ErrorIs(t, err, ErrMissing)
	_, err = Open(ctx, t.TempDir(), false)
	require.ErrorIs(t, err, ErrForeign)

	text := temp(t)
	require.NoError(t, os.WriteFile(text, []byte("this is a letter, and no database at all, however long one reads on in it"), 0o600))
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
	_, err := s.Commit(ctx, &Batch{Parts: []PartChange{part(1, "a")}})
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

var rowSample = []portfolio.Row{
	{ID: 3, Source: portfolio.Source{File: 2, Row: 7}, Fields: []portfolio.Field{{Said: portfolio.Value, Int: -5, Text: "A"}, {Said: portfolio.None}, {}}},
	{ID: 4, Source: portfolio.Source{File: 2, Row: 8}, Fields: []portfolio.Field{{Said: portfolio.Value, Text: "A"}, {}, {Said: portfolio.Value, Int: 1 << 40}}, Extra: map[string]string{"b": "2", "a": "1"}},
}

var lineSample = []portfolio.Line{{CodeID: 1, Code: "10", Flow: portfolio.Cost, Class: "opex", Currency: "EUR", ActivityID: 4, Activity: "A4", Cells: []portfolio.Cell{
	{Period: 24311, Amount: -100, Source: portfolio.Source{File: 1, Row: 2}}, {Period: 24312, Amount: 1 << 50, Source: portfolio.Source{File: 1, Row: 3}, Remark: &portfolio.Remark{Note: "n", Extra: map[string]string{"k": "v"}}},
}}}

// TestGolden: what an earlier version packed is read for ever.
func TestGolden(t *testing.T) {
	for _, name := range []string{"rows", "lines"} {
		path := filepath.Join("testdata", name+".hex")
		b, err := os.ReadFile(path)
		require.NoError(t, err)
		body, err := hex.DecodeString(string(b))
		require.NoError(t, err)
		if name == "rows" {
			got, err := DecodeRows(body, 3)
			require.NoError(t, err)
			require.Equal(t, rowSample, got)
			require.Equal(t, body, EncodeRows(rowSample))
			wider, err := DecodeRows(body, 5)
			require.NoError(t, err)
			require.Len(t, wider[0].Fields, 5, "columns added since say nothing")
		} else {
			got, err := DecodeLines(body)
			require.NoError(t, err)
			require.Equal(t, lineSample, got)
			require.Equal(t, body, EncodeLines(lineSample))
		}
	}
}

func FuzzDecode(f *testing.F) {
	f.Add(EncodeRows(rowSample))
	f.Add(EncodeLines(lineSample))
	f.Add([]byte{formatRows | packed, 0x28})
	f.Fuzz(func(t *testing.T, b []byte) {
		if rows, err := DecodeRows(b, 3); err == nil {
			again, err := DecodeRows(EncodeRows(rows), 3)
			require.NoError(t, err)
			require.Equal(t, rows, again)
		}
		if lines, err := DecodeLines(b); err == nil {
			again, err := DecodeLines(EncodeLines(lines))
			require.NoError(t, err)
			require.Equal(t, len(lines), len(again))
		}
	})
}

func TestLargePartIsPacked(t *testing.T) {
	var cells []portfolio.Cell
	for i := range 500 {
		cells = append(cells, portfolio.Cell{Period: 24000, Amount: int64(i % 7)})
	}
	b := EncodeLines([]portfolio.Line{{Code: "10", Cells: cells}})
	require.NotZero(t, b[0]&packed)
	require.Less(t, len(b), 1000)
	lines, err := DecodeLines(b)
	require.NoError(t, err)
	require.Equal(t, cells, lines[0].Cells)
	_, err = DecodeRows(b, 1)
	require.ErrorIs(t, err, errPart)
}
