package store

import (
	"context"
	"errors"
	"fmt"
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
	if err := free(target); err != nil {
		return err
	}
	if err := Verify(ctx, backup); err != nil {
		return err
	}
	return RestoreWith(ctx, target, func(tmp string) error { return copyFile(backup, tmp) })
}

// RestoreWith puts a database in place that fill writes to a path where nothing is, once it
// is verified. What came without checksums of its pages gets them. The target must not exist.
func RestoreWith(ctx context.Context, target string, fill func(tmp string) error) error {
	if err := free(target); err != nil {
		return err
	}
	tmp := target + ".part"
	if err := gone(tmp); err != nil { // of one that was broken off
		return err
	}
	err := fill(tmp)
	if err == nil {
		err = os.Chmod(tmp, 0o600)
	}
	if err == nil {
		if e := pages.Fill(tmp); !errors.Is(e, pages.ErrUnsealed) { // an older one has none
			err = e
		}
	}
	if err == nil {
		err = Verify(ctx, tmp)
	}
	if err == nil {
		err = gone(headPath(target)) // of the one that was here
	}
	if err == nil {
		err = os.Rename(tmp, target)
	}
	for _, end := range []string{"", "-wal", "-shm"} {
		os.Remove(tmp + end)
	}
	return err
}

// free tells whether a database can be put in a place.
func free(target string) error {
	if _, err := os.Stat(target); err == nil {
		return fmt.Errorf("%s exists already; move it away first, or restore to another file", target)
	}
	if info, err := os.Stat(target + "-wal"); err == nil && info.Size() > 0 {
		return fmt.Errorf("%s-wal is the journal of the database that was here: move it away with that database, or restore to another file", target)
	}
	return nil
}

// gone removes a file that may not be there.
func gone(path string) error {
	if err := os.Remove(path); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	return nil
}
