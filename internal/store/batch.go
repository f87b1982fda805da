package store

import (
	"cmp"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/record"
	"turret/internal/store/format"
)

// Batch is everything that one person or one file changes at once: it is
// written whole or not at all.
type Batch struct {
	Base     int64  // revision that it was planned on
	Rests    *Rests // on what of it; nil: on everything
	At       int64  // UTC milliseconds
	Actor    string
	Account  int64  // of the actor; zero: the command line
	Origin   string // gather, close, reopen, …
	Note     string
	Records  []RecordChange
	Parts    []PartChange
	Postings []Posting
	Files    []File
	Refusals []Refusal
	Settled  []Settled
	Run      []byte  // what a gather made of each sheet, as JSON; nil where it was none
	Undoes   int64   // the batch that this one takes back, or zero
	Keep     []int64 // projects that it is not taken back of
	Cut      *Cut
	Reopened int64 // period whose cuts are marked as reopened, or zero

	Held time.Duration // how long Commit held the write lock
}

// Empty tells whether a batch would change nothing.
func (b *Batch) Empty() bool {
	return len(b.Records)+len(b.Parts)+len(b.Postings)+len(b.Refusals)+len(b.Settled) == 0 && b.Cut == nil &&
		b.Reopened == 0 &&
		b.Undoes == 0
}

// File is a received file, or one sheet of it.
type File struct {
	ID     int32
	Hash   [32]byte
	Name   string
	Sheet  string
	Sender string
	At     int64
	Size   int64
	Layout string // how it was read, as JSON; "" is Turret's own form
	Body   []byte // compressed; nil where the content is kept already
}

// Commit writes a batch in one transaction and gives its id, which is the new
// revision. Where another process wrote since Base what the batch rests on, it changes
// nothing and fails with ErrOutpaced.
func (s *Store) Commit(ctx context.Context, b *Batch) (id int64, err error) {
	hashes, err := b.hashes()
	if err != nil {
		return 0, err
	}
	if err := s.stage(ctx, b.Postings); err != nil {
		return 0, err
	}
	var begun time.Time
	err = s.write(ctx, func(tx *sqlx.Tx) error {
		begun = time.Now()
		id, err = b.commit(ctx, s, tx, hashes)
		return err
	})
	b.Held = time.Since(begun)
	if !errors.Is(err, ErrOutpaced) && len(b.Postings) >= stagedFrom {
		s.unstage(ctx)
	}
	return id, err
}

// Alone lets a batch be planned while nobody else can write, and committed: once
// at most. Planning must not write.
func (s *Store) Alone(ctx context.Context, do func(commit func(context.Context, *Batch) (int64, error)) error) error {
	defer s.unstage(context.WithoutCancel(ctx))
	return s.write(ctx, func(tx *sqlx.Tx) error {
		begun := time.Now()
		return do(func(ctx context.Context, b *Batch) (int64, error) {
			hashes, err := b.hashes()
			if err != nil {
				return 0, err
			}
			id, err := b.commit(ctx, s, tx, hashes)
			b.Held = time.Since(begun)
			return id, err
		})
	})
}

// hashes of the batch's parts.
func (b *Batch) hashes() (out [][32]byte, err error) {
	out = make([][32]byte, len(b.Parts))
	for i := range b.Parts {
		if out[i], err = format.Hash(b.Parts[i].Body); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// commit writes the batch within a transaction.
func (b *Batch) commit(ctx context.Context, s *Store, tx *sqlx.Tx, hashes [][32]byte) (id int64, err error) {
	if err := tx.GetContext(ctx, &id, "SELECT coalesce(max(id), 0) FROM batch"); err != nil {
		return 0, err
	}
	if id != b.Base {
		if still, err := b.still(ctx, tx); err != nil || !still {
			return 0, cmp.Or(err, ErrOutpaced)
		}
	}
	id++
	if _, err := tx.ExecContext(ctx, "INSERT INTO batch (id, at, actor, account, origin, note, records) VALUES (?, ?, ?, ?, ?, ?, ?)", id, b.At, b.Actor, b.Account, b.Origin, b.Note, b.masters()); err != nil {
		return 0, err
	}
	if err := writeFiles(ctx, tx, id, b.Files); err != nil {
		return 0, err
	}
	for i := range b.Records {
		if err := writeRecord(ctx, tx, id, &b.Records[i]); err != nil {
			return 0, err
		}
	}
	if err := writeParts(ctx, tx, id, b.Parts, hashes); err != nil {
		return 0, err
	}
	if err := s.writePostings(ctx, tx, id, b.Postings); err != nil {
		return 0, err
	}
	for i := range b.Refusals {
		if err := writeRefusal(ctx, tx, id, &b.Refusals[i]); err != nil {
			return 0, err
		}
	}
	if err := settle(ctx, tx, id, b); err != nil {
		return 0, err
	}
	if b.Run != nil {
		if _, err := tx.ExecContext(ctx, "INSERT INTO run (batch, sheets) VALUES (?, ?)", id, string(b.Run)); err != nil {
			return 0, err
		}
	}
	if b.Undoes != 0 {
		if err := s.takeBack(ctx, tx, id, b.Undoes, b.Keep); err != nil {
			return 0, err
		}
	}
	if b.Reopened != 0 {
		if _, err := tx.ExecContext(ctx, "UPDATE cut SET reopened = ?, reopened_by = ?, reopened_at = ? WHERE period = ? AND reopened IS NULL AND kind = 'close'", b.Note, b.Actor, b.At, b.Reopened); err != nil {
			return 0, err
		}
	}
	if err := b.touch(ctx, tx, id); err != nil {
		return 0, err
	}
	if b.Cut != nil {
		if err := writeCut(ctx, tx, id, b); err != nil {
			return 0, err
		}
	}
	return id, nil
}

// touch keeps with the batch what it touched.
func (b *Batch) touch(ctx context.Context, tx *sqlx.Tx, id int64) error {
	if b.Undoes != 0 {
		_, err := tx.ExecContext(ctx, `UPDATE batch SET
  touched = coalesce((SELECT group_concat(what) FROM (SELECT DISTINCT tbl AS what FROM change WHERE batch = ?1 UNION SELECT DISTINCT CAST(kind AS TEXT) FROM part_change WHERE batch = ?1)), ''),
  projects = (SELECT count(DISTINCT project) FROM part_change WHERE batch = ?1) WHERE id = ?1`, id)
		return err
	}
	what, projects := make(map[string]bool), make(map[int64]bool)
	for i := range b.Records {
		what[b.Records[i].Table.SQL] = true
	}
	for i := range b.Parts {
		what[strconv.Itoa(int(b.Parts[i].Kind))] = true
		projects[b.Parts[i].Project] = true
	}
	_, err := tx.ExecContext(
		ctx,
		"UPDATE batch SET touched = ?, projects = ? WHERE id = ?",
		strings.Join(slices.Sorted(maps.Keys(what)), ","),
		len(projects),
		id,
	)
	return err
}

func writeFiles(ctx context.Context, tx *sqlx.Tx, batch int64, files []File) error {
	for i := range files {
		f := &files[i]
		if f.Body != nil {
			if _, err := tx.ExecContext(ctx, "INSERT INTO content (hash, size, body) VALUES (?, ?, ?) ON CONFLICT (hash) DO NOTHING", f.Hash[:], f.Size, f.Body); err != nil {
				return err
			}
		}
		if _, err := tx.ExecContext(ctx, "INSERT INTO file (id, hash, name, sheet, sender, at, batch, layout) VALUES (?, ?, ?, ?, ?, ?, ?, ?)", f.ID, f.Hash[:], f.Name, f.Sheet, f.Sender, f.At, batch, f.Layout); err != nil {
			return err
		}
	}
	return nil
}

// Files lists every received file, by id.
func (s *Store) Files(ctx context.Context) (map[int32]File, error) { return s.files(ctx, "") }

// FilesOf lists the received files, and sheets of one, of a content.
func (s *Store) FilesOf(ctx context.Context, hash [32]byte) (map[int32]File, error) {
	return s.files(ctx, " WHERE hash = ?", hash[:])
}

// LastFile gives the highest id of a received file; zero where there is none.
func (s *Store) LastFile(ctx context.Context) (id int32, err error) {
	err = s.readers.GetContext(ctx, &id, "SELECT coalesce(max(id), 0) FROM file")
	return id, plain(err)
}

func (s *Store) files(ctx context.Context, where string, args ...any) (map[int32]File, error) {
	rows, err := s.readers.QueryContext(ctx, "SELECT id, hash, name, sheet, sender, at, layout FROM file"+where, args...)
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	out := make(map[int32]File)
	for rows.Next() {
		var f File
		var hash []byte
		if err := rows.Scan(&f.ID, &hash, &f.Name, &f.Sheet, &f.Sender, &f.At, &f.Layout); err != nil {
			return nil, err
		}
		copy(f.Hash[:], hash)
		out[f.ID] = f
	}
	return out, plain(rows.Err())
}

// The kinds of cuts: made at the close of a period, or by hand.
const (
	CloseCut = "close"
	HandCut  = "hand"
)

// Cut is a frozen copy of all inputs and readings at a moment.
type Cut struct {
	ID        int64
	Period    int64
	Name      string
	At        int64
	Actor     string
	Batch     int64
	Catalogue int
	Hash      [32]byte
	Kind      string         // CloseCut or HandCut
	Over      string         // reasons by open point, as JSON; "" where nothing stood in the way
	Reopened  sql.NullString // the reason, where it no longer holds
	By        string         // who reopened it
	When      int64          // and when
	Inputs    []byte         // compressed by the store
	Readings  []byte
}

func writeCut(ctx context.Context, tx *sqlx.Tx, batch int64, b *Batch) error {
	c := b.Cut
	_, err := tx.ExecContext(
		ctx,
		"INSERT INTO cut (period, name, at, actor, batch, catalogue, hash, inputs, readings, kind, closed_over) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
		c.Period,
		c.Name,
		b.At,
		b.Actor,
		batch,
		c.Catalogue,
		c.Hash[:],
		format.Compress(c.Inputs),
		format.Compress(c.Readings),
		cmp.Or(c.Kind, CloseCut),
		c.Over,
	)
	return err
}

// Cuts lists all cuts by id, without their bodies.
func (s *Store) Cuts(ctx context.Context) ([]Cut, error) {
	rows, err := s.readers.QueryContext(
		ctx,
		"SELECT id, period, name, at, actor, batch, catalogue, hash, reopened, kind, closed_over, reopened_by, reopened_at FROM cut ORDER BY id",
	)
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	var out []Cut
	for rows.Next() {
		var c Cut
		var hash []byte
		if err := rows.Scan(&c.ID, &c.Period, &c.Name, &c.At, &c.Actor, &c.Batch, &c.Catalogue, &hash, &c.Reopened, &c.Kind, &c.Over, &c.By, &c.When); err != nil {
			return nil, err
		}
		copy(c.Hash[:], hash)
		out = append(out, c)
	}
	return out, plain(rows.Err())
}

// CutReadings gives the stored readings of a cut.
func (s *Store) CutReadings(ctx context.Context, id int64) ([]byte, error) {
	return s.cutBody(ctx, "SELECT readings FROM cut WHERE id = ?", id)
}

// CutInputs gives the list of everything that a cut was made of.
func (s *Store) CutInputs(ctx context.Context, id int64) ([]byte, error) {
	return s.cutBody(ctx, "SELECT inputs FROM cut WHERE id = ?", id)
}

func (s *Store) cutBody(ctx context.Context, query string, id int64) ([]byte, error) {
	var b []byte
	if err := s.readers.GetContext(ctx, &b, query, id); err != nil {
		return nil, plain(err)
	}
	out, err := format.Expand(b)
	if err != nil {
		return nil, fmt.Errorf("cut %d: %w", id, err)
	}
	return out, nil
}

// masters counts the master records of a batch other than the state of periods.
// One that takes another back counts too: what it removes is only seen by
// loading anew.
func (b *Batch) masters() (n int) {
	if b.Undoes != 0 {
		n++
	}
	for i := range b.Records {
		if b.Records[i].Table.Name != "periods" {
			n++
		}
	}
	return n
}

// RecordsChangedSince lists the tables of records that batches after one
// changed; undone tells that one of them took another back, so that records may
// be gone.
func (s *Store) RecordsChangedSince(ctx context.Context, batch int64) (tables []string, undone bool, err error) {
	var n, taken int
	if err := s.readers.QueryRowxContext(ctx, "SELECT count(*), coalesce(sum(origin = 'undo'), 0) FROM batch WHERE id > ? AND records > 0", batch).Scan(&n, &taken); err != nil {
		return nil, false, plain(err)
	}
	if n == 0 || taken > 0 {
		return nil, taken > 0, nil
	}
	var names []string
	if err := s.readers.SelectContext(ctx, &names, "SELECT DISTINCT tbl FROM change WHERE batch > ?", batch); err != nil {
		return nil, false, plain(err)
	}
	for _, k := range record.OfRecords() {
		if slices.Contains(names, k.SQL) {
			tables = append(tables, k.Name)
		}
	}
	return tables, false, nil
}

// Content gives the body of a received file; nil where there is none of that
// id.
func (s *Store) Content(ctx context.Context, file int32) ([]byte, error) {
	var b []byte
	err := s.readers.GetContext(
		ctx,
		&b,
		"SELECT c.body FROM file f JOIN content c ON c.hash = f.hash WHERE f.id = ?",
		file,
	)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, plain(err)
	}
	return format.Expand(b)
}

// BatchInfo is a batch as a history shows it.
type BatchInfo struct {
	ID     int64  `db:"id"`
	At     int64  `db:"at"`
	Actor  string `db:"actor"`
	Origin string `db:"origin"`
	Note   string `db:"note"`
	Parts  string `db:"parts"` // kinds of parts that it changed, as numbers with commas
	Fields string `db:"fields"`
	Files  string `db:"files"`
}

// BatchesOf lists the batches that touched a project, last first, up to one.
func (s *Store) BatchesOf(ctx context.Context, project, upTo int64, most int) (out []BatchInfo, err error) {
	err = s.readers.SelectContext(ctx, &out, `SELECT b.id, b.at, b.actor, b.origin, b.note,
  coalesce((SELECT group_concat(DISTINCT pc.kind) FROM part_change pc WHERE +pc.batch = b.id AND pc.project = ?1), '') AS parts,
  coalesce((SELECT group_concat(DISTINCT c.field) FROM change c WHERE +c.batch = b.id AND c.tbl = 'project' AND c.record = ?1), '') AS fields,
  coalesce((SELECT group_concat(DISTINCT f.name) FROM file f WHERE f.batch = b.id), '') AS files
FROM batch b WHERE b.id <= ?2 AND b.id IN (
  SELECT batch FROM part_change WHERE project = ?1 UNION SELECT batch FROM change WHERE tbl = 'project' AND record = ?1)
ORDER BY b.id DESC LIMIT ?3`, project, upTo, most)
	return out, plain(err)
}
