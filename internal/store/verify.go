package store

import (
	"bytes"
	"cmp"
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"os"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"

	"turret/internal/store/format"
	"turret/internal/store/pages"
)

// Verify tells whether a database, which may be in use, is sound, unaltered and of a
// version that can be read: each of its pages, what SQLite makes of them, every part,
// received file, brief and cut by its hash, and the log of access. What is damaged is
// named.
func Verify(ctx context.Context, path string) error {
	if err := pages.Use(); err != nil {
		return err
	}
	if _, err := os.Stat(path); err != nil {
		return fmt.Errorf("%s %w", path, ErrMissing)
	}
	beside := witnessed(path)
	address := dsn(path, "query_only(1)")
	if err := inspect(ctx, address, path); err != nil {
		return err
	}
	db, err := sqlx.Open("sqlite", address)
	if err != nil {
		return err
	}
	defer db.Close()
	if err := everyPage(ctx, db, path); err != nil {
		return err
	}
	if err := whole(ctx, db, path); err != nil {
		return err
	}
	if there, err := hasTable(ctx, db, "head"); err != nil || !there {
		return err
	}
	h, err := readHead(ctx, db)
	if err != nil {
		return err
	}
	return h.behind(path, beside)
}

func hasTable(ctx context.Context, db *sqlx.DB, name string) (there bool, err error) {
	err = db.GetContext(ctx, &there, "SELECT count(*) > 0 FROM sqlite_master WHERE type = 'table' AND name = ?", name)
	return there, plain(err)
}

const mostNamed = 20 // bad pages that are looked for

// everyPage reads all pages of a database as it is now, and names those that are bad with
// what they hold.
func everyPage(ctx context.Context, db *sqlx.DB, path string) error {
	var n int64
	err := db.GetContext(ctx, &n, "SELECT coalesce(sum(length(data)), 0) FROM sqlite_dbpage")
	if err == nil {
		return nil
	}
	if !errors.Is(plain(err), ErrDamaged) {
		return fmt.Errorf("%s: %w", path, plain(err))
	}
	if err := db.GetContext(ctx, &n, "PRAGMA page_count"); err != nil {
		return fmt.Errorf("%s: %w", path, plain(err))
	}
	var bad []int64
	for p := int64(1); p <= n && len(bad) < mostNamed; p++ {
		var data []byte
		if err := db.GetContext(ctx, &data, "SELECT data FROM sqlite_dbpage WHERE pgno = ?", p); err != nil {
			bad = append(bad, p)
		}
	}
	if len(bad) == 0 {
		return fmt.Errorf("%s: %w", path, plain(err))
	}
	if named := held(ctx, path, bad); len(named) > 0 {
		return fmt.Errorf("%s %w: %s", path, ErrDamaged, strings.Join(named, ", "))
	}
	return nil
}

// held tells what bad pages hold, as far as it can be told. Those that hold nothing, and are
// nothing but zeros, are left out: another program carried them into the file.
func held(ctx context.Context, path string, bad []int64) (out []string) {
	for _, p := range bad {
		out = append(out, fmt.Sprintf("page %d", p))
	}
	db, err := sqlx.Open("sqlite", dsn(path, "query_only(1)")+"&"+pages.Unchecked+"=1")
	if err != nil {
		return out
	}
	defer db.Close()
	var empty []int64
	q, args, err := sqlx.In("SELECT pgno FROM sqlite_dbpage WHERE pgno IN (?) AND data = zeroblob(length(data))", bad)
	if err != nil || db.SelectContext(ctx, &empty, q, args...) != nil {
		return out
	}
	var all []struct {
		Page int64
		Name string
	}
	q, args, err = sqlx.In("SELECT pageno AS page, name FROM dbstat WHERE pageno IN (?)", bad)
	if err != nil || db.SelectContext(ctx, &all, q, args...) != nil {
		return out // too much is damaged to tell
	}
	for _, x := range all {
		if i := slices.Index(bad, x.Page); i >= 0 {
			out[i] += " (" + strings.TrimPrefix(x.Name, "sqlite_autoindex_") + ")"
		}
		empty = slices.DeleteFunc(empty, func(p int64) bool { return p == x.Page })
	}
	for _, p := range empty {
		out = slices.DeleteFunc(out, func(s string) bool { return s == fmt.Sprintf("page %d", p) })
	}
	return out
}

// whole tells whether SQLite finds a database sound, and whether what lies in it has the
// content that its hashes tell.
func whole(ctx context.Context, db *sqlx.DB, path string) error {
	var found []string
	if err := db.SelectContext(ctx, &found, "PRAGMA integrity_check"); err != nil {
		return fmt.Errorf("%s %w: %w", path, ErrDamaged, err)
	}
	if len(found) != 1 || found[0] != "ok" {
		return fmt.Errorf("%s %w: %v", path, ErrDamaged, found)
	}
	for _, h := range hashed {
		if there, err := hasTable(ctx, db, h.table); err != nil {
			return err
		} else if !there {
			continue // it is of a version before
		}
		if err := h.verify(ctx, db); err != nil {
			return fmt.Errorf("%s %w: %w", path, ErrDamaged, err)
		}
	}
	if there, err := hasTable(ctx, db, "access"); err != nil || !there {
		return err
	}
	if err := verifyAccess(ctx, db); err != nil {
		return fmt.Errorf("%s %w: %w", path, ErrDamaged, err)
	}
	return nil
}

// hashing is how what a table keeps is told by its hash.
type hashing struct {
	table, query string // what it is called, its hash, its body
	what         string
	sound        func(body, hash []byte) bool
}

var hashed = []hashing{
	{"part", "SELECT id, hash, body FROM part", "part", func(body, hash []byte) bool {
		return len(hash) == sha256.Size && format.Sound(body, [sha256.Size]byte(hash), true) == nil
	}},
	{"content", "SELECT coalesce((SELECT name FROM file WHERE file.hash = content.hash), 'a draft'), hash, body FROM content", "the received file", unpacks},
	{"brief_form", "SELECT brief || ' as ' || form, sum, body FROM brief_form", "brief", unpacks},
	{"cut", "SELECT id, NULL, inputs FROM cut", "the inputs of cut", opens},
	{"cut", "SELECT id, NULL, readings FROM cut", "the readings of cut", opens},
}

func opens(body, _ []byte) bool {
	_, err := format.Expand(body)
	return err == nil
}

func unpacks(body, hash []byte) bool {
	b, err := format.Expand(body)
	sum := sha256.Sum256(b)
	return err == nil && bytes.Equal(sum[:], hash)
}

func (h *hashing) verify(ctx context.Context, db *sqlx.DB) error {
	rows, err := db.QueryContext(ctx, h.query)
	if err != nil {
		return plain(err)
	}
	defer rows.Close()
	for rows.Next() {
		var name string
		var hash, body []byte
		if err := rows.Scan(&name, &hash, &body); err != nil {
			return err
		}
		if !h.sound(body, hash) {
			return fmt.Errorf("%s %s is not what was kept", h.what, name)
		}
	}
	return plain(rows.Err())
}

// Accept takes a database that nobody has open for right as it is, though something else
// than Turret wrote to it or though it lost its last writes: its pages get their checksums
// anew, and the count of writes beside it is its own. What SQLite itself cannot read is not
// accepted.
func Accept(ctx context.Context, path string) error {
	if err := pages.Use(); err != nil {
		return err
	}
	if _, err := os.Stat(path); err != nil {
		return fmt.Errorf("%s %w", path, ErrMissing)
	}
	if sums, err := pages.Sealed(path); err != nil {
		return err
	} else if !sums {
		return fmt.Errorf("%s: %w: there is nothing to accept", path, pages.ErrUnsealed)
	}
	db, err := sqlx.Open("sqlite", dsn(path)+"&"+pages.Unchecked+"=1")
	if err != nil {
		return err
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	var busy, log, done int
	err = db.QueryRowxContext(ctx, "PRAGMA wal_checkpoint(TRUNCATE)").Scan(&busy, &log, &done)
	if err != nil {
		return fmt.Errorf("%s: %w", path, plain(err))
	}
	var found []string
	if err := db.SelectContext(ctx, &found, "PRAGMA integrity_check"); err != nil || len(found) != 1 || found[0] != "ok" {
		return fmt.Errorf("%s %w, and cannot be accepted: %v %w", path, ErrDamaged, found, cmp.Or(err, errors.New("restore a backup")))
	}
	h, err := readHead(ctx, db)
	if err != nil {
		return err
	}
	if err := db.Close(); err != nil {
		return err
	}
	if _, err := os.Stat(path + "-wal"); busy != 0 || err == nil { // it goes with whoever closes it last
		return fmt.Errorf("%s is in use: stop what uses it, and try again", path)
	}
	if err := pages.Seal(path); err != nil {
		return err
	}
	f, err := os.OpenFile(headPath(path), os.O_RDWR|os.O_CREATE, 0o600)
	if err != nil {
		return err
	}
	h.keep(f)
	return f.Close()
}
