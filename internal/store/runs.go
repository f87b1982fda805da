package store

import (
	"context"
	"database/sql"
	"errors"
	"slices"
	"strings"

	"turret/internal/record"

	"github.com/jmoiron/sqlx"
)

// Run is a gather: its batch, and what it made of each sheet.
type Run struct {
	Batch   int64  `db:"batch"`
	At      int64  `db:"at"`
	Actor   string `db:"actor"`
	Origin  string `db:"origin"`
	Note    string `db:"note"`
	Sheets  string `db:"sheets"` // JSON
	Undone  int64  `db:"undone"` // the batch that undid it, or zero
	Kept    int    `db:"kept"`   // projects that it was not undone of
	Waiting int    `db:"waiting"`
}

const runColumns = `SELECT r.batch, b.at, b.actor, b.origin, b.note, r.sheets, b.undone, b.kept,
  (SELECT count(DISTINCT f.file || '.' || f.line) FROM refusal f WHERE f.batch = r.batch AND f.state = 'waiting') AS waiting
FROM run r JOIN batch b ON b.id = r.batch `

// Runs lists the last runs, latest first.
func (s *Store) Runs(ctx context.Context, most int) (out []Run, err error) {
	err = s.readers.SelectContext(ctx, &out, runColumns+"ORDER BY r.batch DESC LIMIT ?", most)
	return out, plain(err)
}

// RunOf gives a run by its batch; nil where there is none.
func (s *Store) RunOf(ctx context.Context, batch int64) (*Run, error) {
	var r Run
	err := s.readers.GetContext(ctx, &r, runColumns+"WHERE r.batch = ?", batch)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return &r, plain(err)
}

// Removed stands for the field of a record that a batch took away.
const Removed = "-"

// RecordName names a record for messages by the first of its columns; "" where
// it is gone.
func (s *Store) RecordName(ctx context.Context, table string, id int64) (name string, err error) {
	column := ""
	if k := record.BySQL(table); k != nil {
		column = k.Columns[0].SQL
	}
	if table == "posting" {
		column = "posting"
	}
	if column == "" {
		return "", nil
	}
	err = s.readers.GetContext(ctx, &name, "SELECT CAST("+column+" AS TEXT) FROM "+table+" WHERE id = ?", id)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return strings.TrimSpace(name), plain(err)
}

// BatchName is a batch with how it came.
type BatchName struct {
	ID     int64  `db:"id"`
	At     int64  `db:"at"`
	Actor  string `db:"actor"`
	Origin string `db:"origin"`
	Sheets string `db:"sheets"` // JSON of the run; "" where it was none
}

// BatchesNamed gives batches by id.
func (s *Store) BatchesNamed(ctx context.Context, ids []int64) (map[int64]BatchName, error) {
	out := make(map[int64]BatchName, len(ids))
	for part := range slices.Chunk(ids, 500) {
		q, args, err := sqlx.In(
			"SELECT b.id, b.at, b.actor, b.origin, coalesce(r.sheets, '') AS sheets FROM batch b LEFT JOIN run r ON r.batch = b.id WHERE b.id IN (?)",
			part,
		)
		if err != nil {
			return nil, err
		}
		var list []BatchName
		if err := s.readers.SelectContext(ctx, &list, q, args...); err != nil {
			return nil, plain(err)
		}
		for _, b := range list {
			out[b.ID] = b
		}
	}
	return out, nil
}
