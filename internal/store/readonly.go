package store

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"

	"github.com/jmoiron/sqlx"
)

// untouched, behind the address of a database, reads it without a journal or a lock: for
// one that nobody can write to.
const untouched = "&mode=ro&immutable=1"

// OpenToRead opens a database as Open does; where its file, its directory or its disk takes
// nothing, it is read as it lies, and writing is ErrReadOnly. What has to be brought up
// first, or has a journal still, is read from a copy that goes when it is closed.
func OpenToRead(ctx context.Context, path string) (*Store, error) {
	s, err := Open(ctx, path, false)
	if !errors.Is(err, ErrReadOnly) && !errors.Is(err, ErrFull) {
		return s, err
	}
	first := err
	if info, err := os.Stat(path + "-wal"); err == nil && info.Size() > 0 {
		return openCopy(ctx, path)
	}
	address := dsn(path, "query_only(1)") + untouched
	if err := inspect(ctx, address, path); err != nil {
		return nil, err
	}
	db, err := sqlx.Open("sqlite", address)
	if err != nil {
		return nil, err
	}
	defer db.Close()
	if up, err := isUp(ctx, db); err != nil {
		return nil, errors.Join(first, err)
	} else if !up {
		return openCopy(ctx, path)
	}
	beside := witnessed(path)
	s = &Store{path: path, how: untouched}
	if err := s.read(ctx); err != nil {
		s.Close()
		return nil, err
	}
	h, err := readHead(ctx, s.readers)
	if err == nil {
		err = h.behind(path, beside)
	}
	if err != nil {
		s.Close()
		return nil, err
	}
	return s, nil
}

// isUp tells whether a database has this version's schema, and the columns of its kinds.
func isUp(ctx context.Context, db *sqlx.DB) (bool, error) {
	var version int64
	if err := db.GetContext(ctx, &version, "SELECT max(version_id) FROM goose_db_version"); err != nil || version != newestMigration() {
		return false, plain(err)
	}
	unsettled, err := unsettledKinds(ctx, db)
	return !unsettled, err
}

func openCopy(ctx context.Context, path string) (*Store, error) {
	beside := witnessed(path)
	dir, err := os.MkdirTemp("", "turret-read-")
	if err != nil {
		return nil, fmt.Errorf("%s cannot be written to, and there is no room to read it from a copy: %w", path, err)
	}
	copied := filepath.Join(dir, filepath.Base(path))
	for _, end := range []string{"", "-wal"} {
		if err = copyFile(path+end, copied+end); err != nil && (end == "" || !errors.Is(err, os.ErrNotExist)) {
			os.RemoveAll(dir)
			return nil, fmt.Errorf("%s cannot be written to, and not be read from a copy: %w", path, err)
		}
	}
	s, err := Open(ctx, copied, false)
	if err != nil {
		os.RemoveAll(dir)
		return nil, err
	}
	s.scratch = dir
	h, err := readHead(ctx, s.readers)
	if err == nil {
		err = h.behind(path, beside)
	}
	if err == nil {
		err = s.writer.Close()
		s.writer = nil
	}
	if err != nil {
		s.Close()
		return nil, err
	}
	return s, nil
}

func copyFile(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := private(to)
	if err != nil {
		return err
	}
	if _, err = io.Copy(out, in); err == nil {
		err = out.Sync()
	}
	return errors.Join(err, out.Close())
}
