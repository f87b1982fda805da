package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"

	"turret/internal/core/portfolio"
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
	Waiting int    `db:"waiting"`
}

const runColumns = `SELECT r.batch, b.at, b.actor, b.origin, b.note, r.sheets, r.undone,
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

// Obstacle is something that a later batch did to what a run had done.
type Obstacle struct {
	What   string // a part or record, for messages
	Part   portfolio.Part
	Table  string
	Record int64
	Later  int64 // the batch
}

// PartsOf lists the parts that a batch changed.
func (s *Store) PartsOf(ctx context.Context, batch int64) (out []portfolio.Part, err error) {
	rows, err := s.readers.QueryContext(ctx, "SELECT project, kind, version FROM part_change WHERE batch = ? ORDER BY project, kind, version", batch)
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	for rows.Next() {
		var p portfolio.Part
		if err := rows.Scan(&p.Project, &p.Kind, &p.Version); err != nil {
			return nil, err
		}
		out = append(out, p)
	}
	return out, rows.Err()
}

// Obstacles lists what later batches did to the same parts, records and
// postings as one: until they are taken back, it cannot be. What it made anew
// and later ones refer to counts too.
func (s *Store) Obstacles(ctx context.Context, batch int64) (out []Obstacle, err error) {
	add := func(query string, scan func(*sql.Rows, *Obstacle) error) error {
		rows, err := s.readers.QueryContext(ctx, query, batch)
		if err != nil {
			return plain(err)
		}
		defer rows.Close()
		for rows.Next() {
			var o Obstacle
			if err := scan(rows, &o); err != nil {
				return err
			}
			out = append(out, o)
		}
		return rows.Err()
	}
	const stands = " NOT IN (SELECT batch FROM run WHERE undone <> 0 UNION SELECT undone FROM run WHERE undone <> 0)"
	err = add(`SELECT pc.project, pc.kind, pc.version, min(l.batch) FROM part_change pc JOIN part_change l ON l.project = pc.project AND l.kind = pc.kind AND l.version = pc.version
WHERE pc.batch = ?1 AND l.batch > ?1 AND l.batch`+stands+` GROUP BY pc.project, pc.kind, pc.version ORDER BY min(l.batch), pc.project, pc.kind, pc.version`, func(r *sql.Rows, o *Obstacle) error {
		return r.Scan(&o.Part.Project, &o.Part.Kind, &o.Part.Version, &o.Later)
	})
	if err != nil {
		return nil, err
	}
	err = add(`SELECT c.tbl, c.record, min(d.batch) FROM change c JOIN change d ON d.tbl = c.tbl AND d.record = c.record AND (d.field = c.field OR c.field = '+' OR c.tbl = 'posting')
WHERE c.batch = ?1 AND d.batch > ?1 AND d.batch`+stands+` GROUP BY c.tbl, c.record ORDER BY c.tbl, c.record`, func(r *sql.Rows, o *Obstacle) error {
		return r.Scan(&o.Table, &o.Record, &o.Later)
	})
	if err != nil {
		return nil, err
	}
	err = add(`SELECT d.tbl, d.record, min(d.batch) FROM change d WHERE d.tbl = 'posting' AND d.batch > ?1 AND d.batch`+stands+` AND json_valid(d.before) AND json_extract(d.before, '$.Batch') = ?1 GROUP BY d.record`, func(r *sql.Rows, o *Obstacle) error {
		return r.Scan(&o.Table, &o.Record, &o.Later)
	})
	if err != nil {
		return nil, err
	}
	// Later parts and postings may refer to the projects and codes that it made.
	err = add(`SELECT c.tbl, c.record, (SELECT min(pc.batch) FROM part_change pc WHERE pc.batch > ?1 AND pc.batch`+stands+` AND (c.tbl <> 'project' OR pc.project = c.record)) AS later
FROM change c WHERE c.batch = ?1 AND c.field = '+' AND c.tbl IN ('project', 'cost_code') AND later IS NOT NULL ORDER BY c.tbl, c.record`, func(r *sql.Rows, o *Obstacle) error {
		return r.Scan(&o.Table, &o.Record, &o.Later)
	})
	return out, err
}

var errBefore = errors.New("it was made by a version of Turret that did not keep what postings were before")

// takeBack puts everything back that a batch changed, as it was before. That
// nothing later stands on it is for the caller to know.
func takeBack(ctx context.Context, tx *sqlx.Tx, batch, undone int64) error {
	for _, q := range [...]string{
		"INSERT INTO part_change (batch, project, kind, version, before, after) SELECT ?1, project, kind, version, after, before FROM part_change WHERE batch = ?2",
		"DELETE FROM stated WHERE (project, kind, version) IN (SELECT project, kind, version FROM part_change WHERE batch = ?2 AND before IS NULL)",
		"UPDATE stated SET part = pc.before, batch = ?1 FROM part_change pc WHERE pc.batch = ?2 AND pc.before IS NOT NULL AND pc.project = stated.project AND pc.kind = stated.kind AND pc.version = stated.version",
		"UPDATE refusal SET state = 'undone', settled = ?1 WHERE batch = ?2 AND state = 'waiting'",
		"UPDATE refusal SET state = 'waiting', settled = 0, why = '' WHERE settled = ?2 AND state IN ('mended', 'dropped')",
		"UPDATE run SET undone = ?1 WHERE batch = ?2",
	} {
		if _, err := tx.ExecContext(ctx, q, batch, undone); err != nil {
			return err
		}
	}
	if err := takeBackPostings(ctx, tx, batch, undone); err != nil {
		return err
	}
	return takeBackRecords(ctx, tx, batch, undone)
}

func takeBackPostings(ctx context.Context, tx *sqlx.Tx, batch, undone int64) error {
	var before []string
	if err := tx.SelectContext(ctx, &before, "SELECT coalesce(before, '') FROM change WHERE batch = ? AND tbl = 'posting'", undone); err != nil {
		return err
	}
	var back []Posting
	for _, text := range before {
		var p Posting
		if err := json.Unmarshal([]byte(text), &p); err != nil {
			return errBefore
		}
		back = append(back, p)
	}
	if _, err := tx.ExecContext(ctx, "DELETE FROM posting WHERE batch = ?1 AND id NOT IN (SELECT record FROM change WHERE batch = ?1 AND tbl = 'posting')", undone); err != nil {
		return err
	}
	return writePostings(ctx, tx, batch, back)
}

func takeBackRecords(ctx context.Context, tx *sqlx.Tx, batch, undone int64) error {
	var list []struct {
		Tbl    string
		Record int64
		Field  string
		Before *string
		After  *string
	}
	if err := tx.SelectContext(ctx, &list, "SELECT tbl, record, field, before, after FROM change WHERE batch = ? AND tbl <> 'posting' ORDER BY rowid DESC", undone); err != nil {
		return err
	}
	tables := make(map[string][]string)
	for _, rt := range recordTables {
		tables[rt.name] = append([]string{"extra", "file", "line"}, rt.columns...)
	}
	for _, c := range list {
		columns, known := tables[c.Tbl]
		switch {
		case !known:
			return fmt.Errorf("a change of %q cannot be taken back", c.Tbl)
		case c.Field == Added:
			if _, err := tx.ExecContext(ctx, "DELETE FROM "+c.Tbl+" WHERE id = ?", c.Record); err != nil {
				return err
			}
		case slices.Contains(columns, c.Field):
			if _, err := tx.ExecContext(ctx, "UPDATE "+c.Tbl+" SET "+c.Field+" = ?, batch = ? WHERE id = ?", c.Before, batch, c.Record); err != nil {
				return err
			}
		default:
			return fmt.Errorf("a change of %s %q cannot be taken back", c.Tbl, c.Field)
		}
		field := c.Field
		if field == Added {
			field = Removed
		}
		if _, err := tx.ExecContext(ctx, "INSERT INTO change (batch, tbl, record, field, before, after) VALUES (?, ?, ?, ?, ?, ?)", batch, c.Tbl, c.Record, field, c.After, c.Before); err != nil {
			return err
		}
	}
	return nil
}

// Removed stands for the field of a record that a batch took away.
const Removed = "-"

// RecordName names a record for messages by the first of its columns; "" where
// it is gone.
func (s *Store) RecordName(ctx context.Context, table string, id int64) (name string, err error) {
	column := ""
	for _, rt := range recordTables {
		if rt.name == table {
			column = rt.columns[0]
		}
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
		q, args, err := sqlx.In("SELECT b.id, b.at, b.actor, b.origin, coalesce(r.sheets, '') AS sheets FROM batch b LEFT JOIN run r ON r.batch = b.id WHERE b.id IN (?)", part)
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
