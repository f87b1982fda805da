package store

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"time"

	"github.com/jmoiron/sqlx"
	sqlitelib "modernc.org/sqlite/lib"
)

// ErrLost is the error of a database that lacks what was said to be kept: its journal was
// taken away, or was damaged, before what it held was in the file.
var ErrLost = errors.New("has lost its last changes")

// head counts what was written to a database. The count stands in the database, and in a
// file beside it that is written once a write is kept: one that is ahead of the database
// tells that the database lost its journal. So that the count is compared with none but the
// database that it is of, and not with an earlier copy of it, whoever opens a database
// gives it another name before the first write, and sees that name into the file. The count
// is no more than a witness: where it cannot be kept nothing else fails.
type head struct {
	Name   []byte `db:"name"`
	Writes int64  `db:"writes"`
}

func headPath(path string) string { return path + "-head" }

func readHead(ctx context.Context, q sqlx.QueryerContext) (h head, err error) {
	err = sqlx.GetContext(ctx, q, &h, "SELECT name, writes FROM head")
	return h, plain(err)
}

// witnessed reads the count beside a database; what it does not understand is none.
func witnessed(path string) (h head) {
	b, err := os.ReadFile(headPath(path))
	if err != nil {
		return head{}
	}
	if _, err := fmt.Sscanf(string(b), "%x %d", &h.Name, &h.Writes); err != nil {
		return head{}
	}
	return h
}

// keep writes the count beside the database.
func (h head) keep(f *os.File) {
	if f == nil {
		return
	}
	if _, err := f.WriteAt(fmt.Appendf(nil, "%x %020d\n", h.Name, h.Writes), 0); err != nil {
		slog.Warn("the count of writes beside the database cannot be kept", "err", err)
	}
}

// behind compares a database with the count beside it, which must have been read before.
func (h head) behind(path string, beside head) error {
	if string(beside.Name) != string(h.Name) || beside.Writes <= h.Writes {
		return nil
	}
	return fmt.Errorf(
		"%s %w: %d writes that were kept are not in it, because its journal (%s-wal) is missing or damaged. Put the journal back, or restore a backup; to go on with what is there, run turret verify --db %s --accept",
		path, ErrLost, beside.Writes-h.Writes, path, path,
	)
}

// witness opens the file beside the database, and tells whether the database has all that
// was counted there.
func (s *Store) witness(ctx context.Context) error {
	beside := witnessed(s.path)
	h, err := readHead(ctx, s.readers)
	if err != nil {
		return err
	}
	if err := h.behind(s.path, beside); err != nil {
		return err
	}
	if s.beside, err = os.OpenFile(headPath(s.path), os.O_RDWR|os.O_CREATE, 0o600); err != nil {
		slog.Debug("no count of writes is kept beside the database", "err", err)
	}
	return nil
}

// write does what is to be kept in one transaction. A database that was moved away or
// replaced under its name takes no more writes; one whose journal was removed has all that
// it holds put into its file at once.
func (s *Store) write(ctx context.Context, do func(*sqlx.Tx) error) error {
	if s.writer == nil {
		return fmt.Errorf("%w: it was opened to be read", ErrReadOnly)
	}
	if err := s.there(); err != nil {
		return err
	}
	tx, err := s.begin(ctx)
	if err != nil {
		return plain(err)
	}
	var h head
	if err = do(tx); err == nil && s.counts {
		err = tx.GetContext(ctx, &h, "UPDATE head SET writes = writes + 1, name = iif(?, name, randomblob(16)) RETURNING name, writes", s.named.Load())
	}
	if err != nil {
		_ = tx.Rollback() // the first error tells more
		return plain(err)
	}
	if err := tx.Commit(); err != nil {
		return plain(err)
	}
	if !s.counts {
		return nil
	}
	if err := s.rescue(context.WithoutCancel(ctx)); err != nil {
		return err
	}
	if !s.named.Load() {
		var busy, pages, done int
		err := s.writer.QueryRowxContext(context.WithoutCancel(ctx), "PRAGMA wal_checkpoint(PASSIVE)").Scan(&busy, &pages, &done)
		s.named.Store(err == nil && busy == 0 && done >= pages)
	}
	h.keep(s.beside)
	return nil
}

// begin takes the write lock, once nobody else has it. It looks every few milliseconds, as
// SQLite itself would for the tenth of a second once it has waited for as long.
func (s *Store) begin(ctx context.Context) (*sqlx.Tx, error) {
	for until := time.Now().Add(patience); ; {
		tx, err := s.writer.BeginTxx(ctx, nil)
		if err == nil || sqliteCode(err)&0xff != sqlitelib.SQLITE_BUSY || time.Now().After(until) {
			return tx, err
		}
		select {
		case <-ctx.Done():
			return nil, ctx.Err()
		case <-time.After(blink):
		}
	}
}

// there tells whether the file that is open is still the one of its name.
func (s *Store) there() error {
	if s.file == nil {
		return nil
	}
	now, err := os.Stat(s.path)
	if err == nil && os.SameFile(now, s.file) {
		return nil
	}
	return fmt.Errorf("%w: its file %s was moved away, removed or replaced while it was open; put it back and start Turret again", ErrReadOnly, s.path)
}

// rescue puts what was written into the database's file where its journal was removed:
// whoever has it open reads it still, and nobody else.
func (s *Store) rescue(ctx context.Context) error {
	if _, err := os.Stat(s.path + "-wal"); !errors.Is(err, os.ErrNotExist) {
		return nil
	}
	var busy, pages, done int
	if err := s.wait(ctx, patience); err != nil {
		return err
	}
	err := s.writer.QueryRowxContext(ctx, "PRAGMA wal_checkpoint(FULL)").Scan(&busy, &pages, &done)
	slog.Warn("the journal of the database is missing: what it held is put into the file; start Turret again", "journal", s.path+"-wal", "err", err)
	if err == nil && (busy != 0 || done < pages) {
		err = errors.New("others are reading")
	}
	if e := s.wait(ctx, blink); err == nil {
		err = e
	}
	if err != nil {
		return fmt.Errorf("the journal of the database was removed, and what was written cannot be put into its file: %w", err)
	}
	return nil
}
