package store

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"

	"github.com/jmoiron/sqlx"

	"turret/internal/store/format"
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
	return Verify(ctx, target)
}

// Verify tells whether a file is a sound Turret database of a version that can
// be read.
func Verify(ctx context.Context, path string) error {
	if _, err := os.Stat(path); err != nil {
		return fmt.Errorf("%s %w", path, ErrMissing)
	}
	if err := inspect(ctx, path); err != nil {
		return err
	}
	db, err := sqlx.Open("sqlite", dsn(path, "query_only(1)"))
	if err != nil {
		return err
	}
	defer db.Close()
	var found []string
	if err := db.SelectContext(ctx, &found, "PRAGMA integrity_check"); err != nil {
		return fmt.Errorf("%s %w: %w", path, ErrDamaged, err)
	}
	if len(found) != 1 || found[0] != "ok" {
		return fmt.Errorf("%s %w: %v", path, ErrDamaged, found)
	}
	rows, err := db.QueryContext(ctx, "SELECT hash, body FROM part")
	if err != nil {
		return fmt.Errorf("%s %w: %w", path, ErrDamaged, err)
	}
	defer rows.Close()
	for rows.Next() {
		var hash, body []byte
		if err := rows.Scan(&hash, &body); err != nil {
			return err
		}
		if len(hash) != 32 || format.Sound(body, [32]byte(hash), true) != nil {
			return fmt.Errorf("%s %w: a part's content does not match its hash", path, ErrDamaged)
		}
	}
	if err := rows.Err(); err != nil {
		return fmt.Errorf("%s %w: %w", path, ErrDamaged, err)
	}
	logged := 0
	if err := db.GetContext(ctx, &logged, "SELECT count(*) FROM sqlite_master WHERE name = 'access'"); err != nil || logged == 0 {
		return err // it is of a version before the log
	}
	if err := verifyAccess(ctx, db); err != nil {
		return fmt.Errorf("%s %w: %w", path, ErrDamaged, err)
	}
	return nil
}

// Restore puts a verified backup in place. The target must not exist.
func Restore(ctx context.Context, backup, target string) error {
	if _, err := os.Stat(target); err == nil {
		return fmt.Errorf("%s exists already; move it away first, or restore to another file", target)
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
	if err == nil {
		err = os.Rename(tmp, target)
	}
	if err != nil {
		os.Remove(tmp)
	}
	return err
}
