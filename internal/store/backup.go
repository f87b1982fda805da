package store

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"

	"github.com/jmoiron/sqlx"

	"turret/internal/store/format"
	"turret/internal/store/pages"
)

// ErrDamaged tells that a database does not hold what it should.
var ErrDamaged = format.ErrDamaged

// private makes a file that nobody reads but its owner, as databases and what is copied of
// them are. One that is there already is an error, and stays as it is: another may have
// made it meanwhile.
func private(path string) (*os.File, error) {
	return os.OpenFile(path, os.O_RDWR|os.O_CREATE|os.O_EXCL, 0o600)
}

// Backup writes a consistent copy of the database while it is in use, and
// verifies it. The target must not exist.
func (s *Store) Backup(ctx context.Context, target string) error {
	if _, err := os.Stat(target); err == nil {
		return fmt.Errorf("%s exists already; name another file", target)
	}
	db, err := sqlx.Open("sqlite", dsn(s.path))
	if err != nil {
		return err
	}
	defer db.Close()
	out, err := private(target)
	if err != nil {
		return fmt.Errorf("back up to %s: %w", target, err)
	}
	if err := out.Close(); err != nil {
		return err
	}
	if _, err := db.ExecContext(ctx, "VACUUM INTO ?", target); err != nil {
		os.Remove(target)
		return fmt.Errorf("back up to %s: %w", target, plain(err))
	}
	if err = pages.Seal(target); err == nil {
		err = Verify(ctx, target)
	}
	if err != nil {
		os.Remove(target)
	}
	return err
}

// Restore puts a verified backup in place. The target must not exist.
func Restore(ctx context.Context, backup, target string) error {
	if _, err := os.Stat(target); err == nil {
		return fmt.Errorf("%s exists already; move it away first, or restore to another file", target)
	}
	if info, err := os.Stat(target + "-wal"); err == nil && info.Size() > 0 {
		return fmt.Errorf("%s-wal is the journal of the database that was here: move it away with that database, or restore to another file", target)
	}
	if err := Verify(ctx, backup); err != nil {
		return err
	}
	in, err := os.Open(backup)
	if err != nil {
		return err
	}
	defer in.Close()
	tmp := target + ".part"
	if err := os.Remove(tmp); err != nil && !errors.Is(err, os.ErrNotExist) { // of one that was broken off
		return err
	}
	out, err := private(tmp)
	if err != nil {
		return err
	}
	if _, err = io.Copy(out, in); err == nil {
		err = out.Sync()
	}
	if e := out.Close(); err == nil {
		err = e
	}
	if err == nil {
		err = Verify(ctx, tmp)
	}
	if e := os.Remove(headPath(target)); err == nil && !errors.Is(e, os.ErrNotExist) { // of the one that was here
		err = e
	}
	if err == nil {
		err = os.Rename(tmp, target)
	}
	if err != nil {
		os.Remove(tmp)
	}
	return err
}
