package store

import (
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store/pages"
)

// filled makes a database with something of each kind in it, closed.
func filled(t *testing.T) (path string, content []byte) {
	path = temp(t)
	s := open(t, path)
	b := &Batch{Actor: "me", Origin: "gather"}
	for i := range 200 {
		b.Parts = append(b.Parts, part(int64(i+1), fmt.Sprintf("\x01part %d %s", i, strings.Repeat("x", i))))
		b.Records = append(b.Records, setting(int64(i+1), fmt.Sprint("name", i), fmt.Sprint("value", i)))
		b.Postings = append(b.Postings, Posting{ID: int64(i + 1), Code: fmt.Sprint("P", i), Day: 1, Period: 2, Project: 1, Amount: int64(i), Currency: "EUR", Text: "booked"})
	}
	_, err := s.Commit(ctx, b)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	content, err = os.ReadFile(path)
	require.NoError(t, err)
	return path, content
}

// all reads everything that filled wrote, as text.
func all(s *Store) (string, error) {
	var out strings.Builder
	stated, err := s.StatedParts(ctx)
	if err != nil {
		return "", err
	}
	var ids []int64
	for _, x := range stated {
		ids = append(ids, x.ID)
	}
	bodies := make(map[int64]string)
	if err := s.Bodies(ctx, ids, func(id int64, body []byte) error { bodies[id] = string(body); return nil }); err != nil {
		return "", err
	}
	rows, err := s.Records(ctx, record.Settings.Kind)
	if err != nil {
		return "", err
	}
	fmt.Fprint(&out, stated, bodies, rows)
	err = s.EachPosting(ctx, func(p *Posting) error { fmt.Fprint(&out, *p); return nil })
	if err != nil {
		return "", err
	}
	sums, n, err := s.PostedThrough(ctx, 2)
	fmt.Fprint(&out, sums, n)
	return out.String(), err
}

// TestEveryBitThatTurnsIsTold: of bits turned anywhere in the file none is called
// sound, and what is read is as it was written or refused.
func TestEveryBitThatTurnsIsTold(t *testing.T) {
	n := 250
	if testing.Short() {
		n = 50
	}
	path, content := filled(t)
	s := open(t, path)
	want, err := all(s)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	require.NoError(t, Verify(ctx, path))
	dir := t.TempDir()
	r := rand.New(rand.NewPCG(5, 5))
	refused := 0
	for range n {
		bad := append([]byte{}, content...)
		at, bit := r.IntN(len(bad)), r.IntN(8)
		bad[at] ^= 1 << bit
		path := filepath.Join(dir, "bad.db")
		for _, end := range []string{"", "-wal", "-shm", "-head"} {
			os.Remove(path + end)
		}
		require.NoError(t, os.WriteFile(path, bad, 0o600))
		require.Error(t, Verify(ctx, path), "bit %d of byte %d is called sound", bit, at)
		require.Error(t, Restore(ctx, path, filepath.Join(dir, "again.db")), "bit %d of byte %d is restored", bit, at)
		s, err := Open(ctx, path, false)
		if err != nil {
			refused++
			continue
		}
		got, err := all(s)
		if err != nil {
			require.ErrorIs(t, err, ErrDamaged, "bit %d of byte %d", bit, at)
			refused++
		} else {
			require.Equal(t, want, got, "bit %d of byte %d is read wrong", bit, at)
		}
		require.NoError(t, s.Close())
	}
	require.Greater(t, refused, n/20)
}

// TestDamageIsNamed: what is bad is named by its page and what it holds.
func TestDamageIsNamed(t *testing.T) {
	path, content := filled(t)
	at := strings.Index(string(content), "part 77 ")
	content[at] ^= 1
	require.NoError(t, os.WriteFile(path, content, 0o600))
	err := Verify(ctx, path)
	require.ErrorIs(t, err, ErrDamaged)
	require.ErrorContains(t, err, fmt.Sprintf("page %d (part)", at/4096+1))
}

// TestWhatSomethingElseWrote: a program that does not know of the sums leaves a database
// that is not taken for sound until somebody accepts it.
func TestWhatSomethingElseWrote(t *testing.T) {
	path, _ := filled(t)
	db, err := sqlx.Open("sqlite", dsn(path)+"&vfs=unix")
	require.NoError(t, err)
	_, err = db.Exec("UPDATE posting SET amount = 1000000 WHERE id = 7")
	require.NoError(t, err)
	require.NoError(t, db.Close())
	err = Verify(ctx, path)
	require.ErrorIs(t, err, ErrDamaged)
	require.ErrorContains(t, err, "(posting)")
	s := open(t, path)
	_, err = all(s)
	require.ErrorIs(t, err, ErrDamaged)
	require.NoError(t, s.Close())

	require.NoError(t, Accept(ctx, path))
	require.NoError(t, Verify(ctx, path))
	s = open(t, path)
	sums, _, err := s.PostedThrough(ctx, 2)
	require.NoError(t, err)
	require.Equal(t, int64(200*199/2-6+1000000), sums["EUR"])
	require.ErrorContains(t, Accept(ctx, path), "in use")
}

// TestLostJournal: a database whose journal was taken away after a crash says so, as often
// as it is opened, until somebody accepts what is there.
func TestLostJournal(t *testing.T) {
	path, _ := filled(t)
	s := open(t, path)
	_, err := s.Commit(ctx, &Batch{Base: 1, Records: []RecordChange{setting(500, "early", "yes")}})
	require.NoError(t, err)
	content, err := os.ReadFile(path)
	require.NoError(t, err)
	_, err = s.Commit(ctx, &Batch{Base: 2, Records: []RecordChange{setting(501, "late", "yes")}})
	require.NoError(t, err)
	again, err := os.ReadFile(path)
	require.NoError(t, err)
	require.Equal(t, content, again, "what was written last is in the journal alone")
	crashed := temp(t)
	require.NoError(t, os.WriteFile(crashed, content, 0o600))
	require.NoError(t, copyFile(headPath(path), headPath(crashed)))
	for range 2 {
		_, err = Open(ctx, crashed, false)
		require.ErrorIs(t, err, ErrLost)
		require.ErrorContains(t, err, "1 writes that were kept are not in it")
		require.ErrorIs(t, Verify(ctx, crashed), ErrLost)
		_, err = OpenToRead(ctx, crashed)
		require.ErrorIs(t, err, ErrLost)
	}
	require.NoError(t, Accept(ctx, crashed))
	require.NoError(t, Verify(ctx, crashed))
	require.NoError(t, open(t, crashed).Close())

	// With its journal it has everything.
	whole := temp(t)
	require.NoError(t, os.WriteFile(whole, content, 0o600))
	require.NoError(t, copyFile(headPath(path), headPath(whole)))
	require.NoError(t, copyFile(path+"-wal", whole+"-wal"))
	rows, err := open(t, whole).Records(ctx, record.Settings.Kind)
	require.NoError(t, err)
	require.Len(t, rows, 202)

	// Another database under the name has nothing to do with the count.
	other := temp(t)
	require.NoError(t, copyFile(headPath(path), headPath(other)))
	require.NoError(t, open(t, other).Close())
}

// TestJournalRemovedWhileOpen: what is written after it is in the file when it is told.
func TestJournalRemovedWhileOpen(t *testing.T) {
	path, _ := filled(t)
	s := open(t, path)
	_, err := s.Commit(ctx, &Batch{Base: 1, Records: []RecordChange{setting(500, "before", "yes")}})
	require.NoError(t, err)
	require.NoError(t, os.Remove(path+"-wal"))
	_, err = s.Commit(ctx, &Batch{Base: 2, Records: []RecordChange{setting(501, "after", "yes")}})
	require.NoError(t, err)
	crashed := temp(t)
	require.NoError(t, copyFile(path, crashed))
	require.NoError(t, copyFile(headPath(path), headPath(crashed)))
	require.NoError(t, Verify(ctx, crashed))
	rows, err := open(t, crashed).Records(ctx, record.Settings.Kind)
	require.NoError(t, err)
	require.Len(t, rows, 202)
}

// TestFileMovedWhileOpen: nothing is said to be kept that nobody would find again.
func TestFileMovedWhileOpen(t *testing.T) {
	path, _ := filled(t)
	s := open(t, path)
	require.NoError(t, os.Rename(path, path+".away"))
	_, err := s.Commit(ctx, &Batch{Base: 1, Records: []RecordChange{setting(500, "x", "y")}})
	require.ErrorIs(t, err, ErrReadOnly)
	require.NoError(t, os.Rename(path+".away", path))
	_, err = s.Commit(ctx, &Batch{Base: 1, Records: []RecordChange{setting(500, "x", "y")}})
	require.NoError(t, err)
}

// TestReadWhereNothingCanBeWritten: as it lies, or from a copy where it has a journal.
func TestReadWhereNothingCanBeWritten(t *testing.T) {
	path, _ := filled(t)
	want, err := all(open(t, path))
	require.NoError(t, err)
	s, err := OpenToRead(ctx, path)
	require.NoError(t, err)
	require.NotNil(t, s.writer, "what can be written to is opened as ever")
	require.NoError(t, s.Close())

	s = &Store{path: path, how: untouched}
	require.NoError(t, s.read(ctx))
	got, err := all(s)
	require.NoError(t, err)
	require.Equal(t, want, got)
	_, err = s.Commit(ctx, &Batch{Base: 1, Records: []RecordChange{setting(500, "x", "y")}})
	require.ErrorIs(t, err, ErrReadOnly)
	require.NoError(t, s.Close())

	w := open(t, path)
	_, err = w.Commit(ctx, &Batch{Base: 1, Records: []RecordChange{{Table: record.Settings.Kind, After: portfolio.Row{ID: 500, Fields: setting(0, "x", "y").After.Fields}}}})
	require.NoError(t, err)
	s, err = openCopy(ctx, path)
	require.NoError(t, err)
	rows, err := s.Records(ctx, record.Settings.Kind)
	require.NoError(t, err)
	require.Len(t, rows, 201, "with what is in the journal")
	dir := s.scratch
	require.NoError(t, s.Close())
	require.NoDirExists(t, dir)
}

// TestSealOfAnOlderDatabase: what was made before pages had sums gets them, unless it is
// damaged already.
func TestSealOfAnOlderDatabase(t *testing.T) {
	path, _ := filled(t)
	older := temp(t)
	require.NoError(t, copyFile(path, older))
	require.NoError(t, pages.Seal(older))
	bad, err := pages.Check(older)
	require.NoError(t, err)
	require.Empty(t, bad)
	f, err := os.OpenFile(older, os.O_RDWR, 0)
	require.NoError(t, err)
	_, err = f.WriteAt([]byte{0}, 20) // room for sums
	require.NoError(t, err)
	require.NoError(t, f.Close())
	_, err = Open(ctx, older, false)
	require.ErrorIs(t, err, ErrDamaged, "one of this schema has them")
}

// TestAnotherProgramEndsTheJournal: after a crash, a program that does not know of the sums
// opens and closes the database, which carries its journal into the file: all is sound.
func TestAnotherProgramEndsTheJournal(t *testing.T) {
	path, content := filled(t)
	s := open(t, path)
	_, err := s.Commit(ctx, &Batch{Base: 1, Records: []RecordChange{setting(500, "late", "yes")}, Parts: []PartChange{part(900, "\x01late")}})
	require.NoError(t, err)
	want, err := all(s)
	require.NoError(t, err)
	crashed := temp(t)
	require.NoError(t, copyFile(path, crashed))
	require.NoError(t, copyFile(path+"-wal", crashed+"-wal"))
	require.NoError(t, copyFile(headPath(path), headPath(crashed)))
	db, err := sqlx.Open("sqlite", dsn(crashed)+"&vfs=unix")
	require.NoError(t, err)
	var n int
	require.NoError(t, db.Get(&n, "SELECT count(*) FROM setting"))
	require.Equal(t, 201, n)
	require.NoError(t, db.Close())
	require.NoFileExists(t, crashed+"-wal")
	require.NoError(t, Verify(ctx, crashed))
	got, err := all(open(t, crashed))
	require.NoError(t, err)
	require.Equal(t, want, got)

	// An earlier copy in its place has lost nothing.
	earlier := temp(t)
	require.NoError(t, os.WriteFile(earlier, content, 0o600))
	require.NoError(t, copyFile(headPath(path), headPath(earlier)))
	require.NoError(t, open(t, earlier).Close())
}
