// Package store keeps everything in one SQLite file: master records as rows,
// what is stated about projects as parts, every change as a batch, every closed
// period as a cut.
package store

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"sync/atomic"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"modernc.org/sqlite"
	sqlitelib "modernc.org/sqlite/lib"

	"turret/internal/store/pages"
)

//go:embed migrations/*.sql
var migrations embed.FS

// applicationID marks a SQLite file as Turret's.
const applicationID = 0x54757272

// sealedSince is the schema from which on pages have checksums.
const sealedSince = 23

// Errors that callers tell apart.
var (
	ErrNewer     = errors.New("was written by a newer version of Turret")
	ErrForeign   = errors.New("is not a Turret database")
	ErrMissing   = errors.New("does not exist")
	ErrFull      = errors.New("the disk is full")
	ErrReadOnly  = errors.New("the database cannot be written to")
	ErrOutpaced  = errors.New("another process changed the database meanwhile")
	errNoVersion = errors.New("no version")
)

// Store is an open database: a pool of readers, and one writer.
type Store struct {
	path    string
	readers *sqlx.DB
	writer  *sqlx.DB
	watch   *sqlx.Conn // pinned, for data_version

	how     string      // behind the address that it is read by; "" as ever
	file    os.FileInfo // of the database, as it was opened
	beside  *os.File    // the count of writes; nil where none is kept
	counts  bool        // that writes are counted
	named   atomic.Bool // that the file has the name under which they are
	staged  []Posting   // laid ready by who holds the writer's connection
	scratch string      // a directory of copies that is removed in the end; "" for none

	bodies, tables atomic.Int64 // that were read
}

// patience is how long others are waited for, and blink how long until it is looked again.
const patience, blink = 15 * time.Second, 4 * time.Millisecond

// wait says how long the writer's connection itself waits for others.
func (s *Store) wait(ctx context.Context, d time.Duration) error {
	_, err := s.writer.ExecContext(ctx, fmt.Sprintf("PRAGMA busy_timeout = %d", d.Milliseconds()))
	return plain(err)
}

// dsn is the address of a database as connections open it. What a connection keeps of pages
// takes twice what is named here, as memory comes in powers of two.
func dsn(path string, pragmas ...string) string {
	q := url.Values{}
	for _, p := range append([]string{fmt.Sprintf("busy_timeout(%d)", patience.Milliseconds()), "foreign_keys(1)", "cache_size(-32768)", "synchronous(FULL)"}, pragmas...) {
		q.Add("_pragma", p)
	}
	q.Set("_txlock", "immediate")
	return "file:" + (&url.URL{Path: path}).EscapedPath() + "?" + q.Encode()
}

// Open opens a database and brings it to this version's schema. With make it
// is made where absent; else ErrMissing. A file of another program is
// ErrForeign, one of a newer version ErrNewer, one that lacks what was kept ErrLost;
// none of them is touched.
func Open(ctx context.Context, path string, make bool) (*Store, error) {
	if err := pages.Use(); err != nil {
		return nil, err
	}
	fresh, err := look(ctx, path, make)
	if err != nil {
		return nil, err
	}
	if fresh { // where it cannot be made, opening tells why
		if f, err := private(path); err == nil {
			f.Close()
		}
	}
	s := &Store{path: path}
	if s.writer, err = sqlx.Open("sqlite", dsn(path, "journal_mode(WAL)")); err != nil {
		return nil, err
	}
	s.writer.SetMaxOpenConns(1)
	if err := s.migrate(ctx); err != nil {
		s.Close()
		return nil, fmt.Errorf("%s: %w", path, plain(err))
	}
	if err := s.read(ctx); err != nil {
		s.Close()
		return nil, err
	}
	if s.file, err = os.Stat(path); err != nil {
		s.Close()
		return nil, err
	}
	if err := s.witness(ctx); err != nil {
		s.Close()
		return nil, err
	}
	if err := s.wait(ctx, blink); err != nil {
		s.Close()
		return nil, err
	}
	return s, nil
}

// look tells whether there is a database to be opened, or one to be made.
func look(ctx context.Context, path string, make bool) (fresh bool, err error) {
	info, err := os.Stat(path)
	switch {
	case errors.Is(err, os.ErrNotExist) && make:
		return true, nil
	case errors.Is(err, os.ErrNotExist):
		return false, fmt.Errorf("%s %w", path, ErrMissing)
	case err != nil:
		return false, err
	case info.IsDir():
		return false, fmt.Errorf("%s is a directory: %w", path, ErrForeign)
	case info.Size() == 0:
		return false, nil
	}
	return false, inspect(ctx, dsn(path, "query_only(1)"), path)
}

// read opens the readers.
func (s *Store) read(ctx context.Context) (err error) {
	if s.readers, err = sqlx.Open("sqlite", dsn(s.path, "query_only(1)")+s.how); err != nil {
		return err
	}
	s.readers.SetMaxOpenConns(8)
	if s.watch, err = s.readers.Connx(ctx); err != nil {
		return fmt.Errorf("%s: %w", s.path, plain(err))
	}
	return nil
}

// inspect tells whether a file is a Turret database that this version reads.
func inspect(ctx context.Context, address, path string) error {
	db, err := sqlx.Open("sqlite", address)
	if err != nil {
		return err
	}
	defer db.Close()
	var id int64
	if err := db.GetContext(ctx, &id, "PRAGMA application_id"); err != nil {
		if sqliteCode(err)&0xff == sqlitelib.SQLITE_NOTADB {
			return fmt.Errorf("%s %w", path, ErrForeign)
		}
		return fmt.Errorf("%s: %w", path, plain(err))
	}
	if id != applicationID {
		return fmt.Errorf("%s %w", path, ErrForeign)
	}
	var version int64
	if err := db.GetContext(ctx, &version, "SELECT max(version_id) FROM goose_db_version"); err != nil {
		return fmt.Errorf("%s %w: %w", path, ErrForeign, errNoVersion)
	}
	if newest := newestMigration(); version > newest {
		return fmt.Errorf(
			"%s %w (its schema is %d, this program knows %d): use that version, or a backup made before",
			path,
			ErrNewer,
			version,
			newest,
		)
	}
	if sums, err := pages.Sealed(path); err != nil {
		return err
	} else if version >= sealedSince && !sums {
		return fmt.Errorf("%s %w: its pages should have checksums, and have none", path, ErrDamaged)
	}
	unknown, err := unknownKind(ctx, db)
	if err != nil {
		return fmt.Errorf("%s: %w", path, plain(err))
	}
	if unknown != "" {
		return fmt.Errorf(
			"%s %w (it keeps %s, which this program does not know): use that version, or a backup made before",
			path,
			ErrNewer,
			unknown,
		)
	}
	return nil
}

func newestMigration() int64 {
	entries, err := migrations.ReadDir("migrations")
	if err != nil {
		return 0
	}
	return int64(len(entries))
}

func (s *Store) migrate(ctx context.Context) error {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	p, err := goose.NewProvider(goose.DialectSQLite3, s.writer.DB, sub)
	if err != nil {
		return err
	}
	var id int64
	if err := s.writer.GetContext(ctx, &id, "PRAGMA application_id"); err != nil {
		return err
	}
	if id != applicationID {
		if _, err := s.writer.ExecContext(ctx, fmt.Sprintf("PRAGMA application_id = %d", applicationID)); err != nil {
			return err
		}
	}
	if err := s.seal(ctx); err != nil {
		return err
	}
	if pending, err := p.HasPending(ctx); err != nil {
		return err
	} else if pending {
		if _, err := p.Up(ctx); err != nil {
			return err
		}
	}
	s.counts = true
	return s.settleKinds(ctx)
}

// seal gives the pages of a database that was made before they had checksums theirs. What
// is damaged already is not sealed with them.
func (s *Store) seal(ctx context.Context) error {
	if sums, err := pages.Sealed(s.path); err != nil || sums {
		return err
	}
	if err := whole(ctx, s.writer, s.path); err != nil {
		return err
	}
	c, err := s.writer.Conn(ctx)
	if err != nil {
		return err
	}
	defer c.Close()
	if err := pages.Reserve(ctx, c); err != nil {
		return err
	}
	for _, q := range []string{"VACUUM", "PRAGMA wal_checkpoint(TRUNCATE)"} {
		if _, err := c.ExecContext(ctx, q); err != nil {
			return err
		}
	}
	if sums, err := pages.Sealed(s.path); err != nil {
		return err
	} else if !sums {
		return errors.New("its pages cannot be given checksums while others have it open: close them, and try again")
	}
	return nil
}

// Close waits for nothing and closes all connections.
func (s *Store) Close() error {
	var errs []error
	if s.watch != nil {
		errs = append(errs, s.watch.Close())
	}
	if s.readers != nil {
		errs = append(errs, s.readers.Close())
	}
	if s.writer != nil {
		errs = append(errs, s.writer.Close())
	}
	if s.beside != nil {
		errs = append(errs, s.beside.Close())
	}
	if s.scratch != "" {
		errs = append(errs, os.RemoveAll(s.scratch))
	}
	return errors.Join(errs...)
}

// Read counts the parts and the tables of records that were read since it was
// opened.
func (s *Store) Read() (parts, tables int64) { return s.bodies.Load(), s.tables.Load() }

// Path is the database file.
func (s *Store) Path() string { return s.path }

// DataVersion changes whenever another connection has written.
func (s *Store) DataVersion(ctx context.Context) (n int64, err error) {
	err = s.watch.GetContext(ctx, &n, "PRAGMA data_version")
	return n, plain(err)
}

// Revision is the id of the last batch; zero in an empty database.
func (s *Store) Revision(ctx context.Context) (n int64, err error) {
	err = s.readers.GetContext(ctx, &n, "SELECT coalesce(max(id), 0) FROM batch")
	return n, plain(err)
}

// sqliteCode gives the extended code of an error of SQLite; zero of any other.
func sqliteCode(err error) int {
	var e *sqlite.Error
	if errors.As(err, &e) {
		return e.Code()
	}
	return 0
}

// plain turns the faults of a disk into sentences.
func plain(err error) error {
	code := sqliteCode(err)
	if code == sqlitelib.SQLITE_IOERR_DATA {
		return fmt.Errorf("page %d of the database %w: it is not what was written (%w)", pages.LastBad(), ErrDamaged, err)
	}
	switch code & 0xff {
	case sqlitelib.SQLITE_FULL:
		return fmt.Errorf("%w: nothing was written; make room and try again (%w)", ErrFull, err)
	case sqlitelib.SQLITE_CORRUPT, sqlitelib.SQLITE_NOTADB:
		return fmt.Errorf("the database %w (%w)", ErrDamaged, err)
	case sqlitelib.SQLITE_READONLY, sqlitelib.SQLITE_CANTOPEN, sqlitelib.SQLITE_PERM:
		return fmt.Errorf("%w: nothing was written; check the file's and its directory's rights (%w)", ErrReadOnly, err)
	}
	return err
}

// Exists tells whether there is a file or directory at a path.
func Exists(path string) bool {
	_, err := os.Stat(path)
	return err == nil
}
