package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"

	"github.com/jmoiron/sqlx"

	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store/format"
)

// stands, after the number of a batch, leaves out those that were undone and those that
// undid them.
const stands = " NOT IN (SELECT id FROM batch WHERE undone <> 0 AND kept = 0 UNION SELECT undone FROM batch WHERE undone <> 0 AND kept = 0)"

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
	rows, err := s.readers.QueryContext(
		ctx,
		"SELECT project, kind, version FROM part_change WHERE batch = ? ORDER BY project, kind, version",
		batch,
	)
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
	return out, plain(rows.Err())
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
		return plain(rows.Err())
	}
	err = add(
		`SELECT pc.project, pc.kind, pc.version, min(l.batch) FROM part_change pc JOIN part_change l ON l.project = pc.project AND l.kind = pc.kind AND l.version = pc.version
WHERE pc.batch = ?1 AND l.batch > ?1 AND l.batch`+stands+` GROUP BY pc.project, pc.kind, pc.version ORDER BY min(l.batch), pc.project, pc.kind, pc.version`,
		func(r *sql.Rows, o *Obstacle) error {
			return r.Scan(&o.Part.Project, &o.Part.Kind, &o.Part.Version, &o.Later)
		},
	)
	if err != nil {
		return nil, err
	}
	err = add(
		`SELECT c.tbl, c.record, min(d.batch) FROM change c JOIN change d ON d.tbl = c.tbl AND d.record = c.record AND (d.field = c.field OR c.field = '+' OR c.tbl = 'posting')
WHERE c.batch = ?1 AND d.batch > ?1 AND d.batch`+stands+` GROUP BY c.tbl, c.record ORDER BY c.tbl, c.record`,
		func(r *sql.Rows, o *Obstacle) error {
			return r.Scan(&o.Table, &o.Record, &o.Later)
		},
	)
	if err != nil {
		return nil, err
	}
	err = add(
		`SELECT d.tbl, d.record, min(d.batch) FROM change d WHERE d.tbl = 'posting' AND d.batch > ?1 AND d.batch`+stands+` AND json_valid(d.before) AND coalesce(json_extract(d.before, '$.batch'), json_extract(d.before, '$.Batch')) = ?1 GROUP BY d.record`,
		func(r *sql.Rows, o *Obstacle) error {
			return r.Scan(&o.Table, &o.Record, &o.Later)
		},
	)
	if err != nil {
		return nil, err
	}
	// Later parts and postings may refer to the projects and codes that it made.
	err = add(
		`SELECT c.tbl, c.record, (SELECT min(pc.batch) FROM part_change pc WHERE pc.batch > ?1 AND pc.batch`+stands+` AND (c.tbl <> 'project' OR pc.project = c.record)) AS later
FROM change c WHERE c.batch = ?1 AND c.field = '+' AND c.tbl IN ('project', 'cost_code') AND later IS NOT NULL ORDER BY c.tbl, c.record`,
		func(r *sql.Rows, o *Obstacle) error {
			return r.Scan(&o.Table, &o.Record, &o.Later)
		},
	)
	return out, err
}

var errBefore = errors.New("it was made by a version of Turret that did not keep what postings were before")

// takeBack puts everything back that a batch changed, as it was before, but for
// the projects to be kept; with some to be kept, the office's own records stay
// too. That nothing later stands on it is for the caller to know.
func (s *Store) takeBack(ctx context.Context, tx *sqlx.Tx, batch, undone int64, keep []int64) error {
	kept, err := json.Marshal(append([]int64{}, keep...))
	if err != nil {
		return err
	}
	const rest = " AND project NOT IN (SELECT value FROM json_each(?3))"
	queries := []string{
		"INSERT INTO part_change (batch, project, kind, version, before, after) SELECT ?1, project, kind, version, after, before FROM part_change WHERE batch = ?2" + rest,
		"DELETE FROM stated WHERE (project, kind, version) IN (SELECT project, kind, version FROM part_change WHERE batch = ?2 AND before IS NULL" + rest + ")",
		"UPDATE stated SET part = pc.before, batch = ?1 FROM part_change pc WHERE pc.batch = ?2 AND pc.before IS NOT NULL AND pc.project = stated.project AND pc.kind = stated.kind AND pc.version = stated.version AND pc.project NOT IN (SELECT value FROM json_each(?3))",
		"UPDATE batch SET undone = ?1, kept = json_array_length(?3) WHERE id = ?2",
	}
	if len(keep) == 0 {
		queries = append(
			queries,
			"UPDATE refusal SET state = 'undone', settled = ?1 WHERE batch = ?2 AND state = 'waiting'",
			"UPDATE refusal SET state = 'waiting', settled = 0, why = '' WHERE settled = ?2 AND state IN ('mended', 'dropped')",
		)
	}
	for _, q := range queries {
		if _, err := tx.ExecContext(ctx, q, batch, undone, string(kept)); err != nil {
			return err
		}
	}
	if err := s.takeBackPostings(ctx, tx, batch, undone, string(kept)); err != nil {
		return err
	}
	return takeBackRecords(ctx, tx, batch, undone, keep)
}

func (s *Store) takeBackPostings(ctx context.Context, tx *sqlx.Tx, batch, undone int64, kept string) error {
	const rest = " AND posting.project NOT IN (SELECT value FROM json_each(?2))"
	var before []string
	if err := tx.SelectContext(ctx, &before, "SELECT coalesce(c.before, '') FROM change c JOIN posting ON posting.id = c.record WHERE c.batch = ?1 AND c.tbl = 'posting'"+rest, undone, kept); err != nil {
		return err
	}
	var back []Posting
	for _, text := range before {
		p, err := format.DecodePosting(text)
		if err != nil {
			return errors.Join(errBefore, err)
		}
		back = append(back, p)
	}
	if _, err := tx.ExecContext(ctx, "DELETE FROM posting WHERE batch = ?1 AND id NOT IN (SELECT record FROM change WHERE batch = ?1 AND tbl = 'posting')"+rest, undone, kept); err != nil {
		return err
	}
	return s.writePostings(ctx, tx, batch, back)
}

func takeBackRecords(ctx context.Context, tx *sqlx.Tx, batch, undone int64, keep []int64) error {
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
	for _, k := range record.OfRecords() {
		tables[k.SQL] = append([]string{"extra", "file", "line"}, k.SQLColumns()...)
	}
	for _, c := range list {
		if len(keep) > 0 {
			if project, err := projectOf(ctx, tx, c.Tbl, c.Record); err != nil {
				return err
			} else if project == 0 || slices.Contains(keep, project) {
				continue
			}
		}
		columns, known := tables[c.Tbl]
		switch {
		case !known:
			return fmt.Errorf("a change of %q cannot be taken back", c.Tbl)
		case c.Field == Added:
			if err := keepGone(ctx, tx, batch, c.Tbl, c.Record); err != nil {
				return err
			}
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

// keepGone keeps what a record said that a batch takes away, field by field.
func keepGone(ctx context.Context, tx *sqlx.Tx, batch int64, table string, record int64) error {
	for _, c := range columnsOf(table) {
		_, err := tx.ExecContext(
			ctx,
			"INSERT INTO change (batch, tbl, record, field, before) SELECT ?1, ?2, id, ?3, "+c+" FROM "+table+" WHERE id = ?4 AND "+c+" IS NOT NULL",
			batch, table, c, record,
		)
		if err != nil {
			return err
		}
	}
	return nil
}

// columnsOf lists the columns of a table of records that people send.
func columnsOf(table string) []string {
	if k := record.BySQL(table); k != nil {
		return k.SQLColumns()
	}
	return nil
}

// projectOf gives the project that a record is, or belongs to; zero where it is
// the office's own.
func projectOf(ctx context.Context, q sqlx.QueryerContext, table string, id int64) (project int64, err error) {
	k := record.BySQL(table)
	switch {
	case k == record.Projects.Kind:
		return id, nil
	case k == nil || k.Project() < 0:
		return 0, nil
	}
	err = sqlx.GetContext(ctx, q, &project, "SELECT coalesce(project, 0) FROM "+table+" WHERE id = ?", id)
	if errors.Is(err, sql.ErrNoRows) {
		return 0, nil
	}
	return project, plain(err)
}

// ProjectOf gives the project that a record is, or belongs to; zero where it is
// the office's own.
func (s *Store) ProjectOf(ctx context.Context, table string, record int64) (int64, error) {
	return projectOf(ctx, s.readers, table, record)
}

// Touched lists the projects that a batch changed something of.
func (s *Store) Touched(ctx context.Context, batch int64) (out []int64, err error) {
	q := "SELECT project FROM part_change WHERE batch = ?1 UNION SELECT record FROM change WHERE batch = ?1 AND tbl = 'project'"
	for _, k := range record.OfRecords() {
		if k.Project() < 0 {
			continue
		}
		t := k.SQL
		q += " UNION SELECT t.project FROM change c JOIN " + t + " t ON t.id = c.record WHERE c.batch = ?1 AND c.tbl = '" + t + "'"
	}
	err = s.readers.SelectContext(ctx, &out, q, batch)
	return out, plain(err)
}

// Moved lists pairs of projects between which a batch moved postings.
func (s *Store) Moved(ctx context.Context, batch int64) (out [][2]int64, err error) {
	rows, err := s.readers.QueryContext(
		ctx,
		`SELECT DISTINCT coalesce(json_extract(c.before, '$.project'), json_extract(c.before, '$.Project')) AS was, p.project FROM change c JOIN posting p ON p.id = c.record
WHERE c.batch = ? AND c.tbl = 'posting' AND json_valid(c.before) AND was <> p.project`,
		batch,
	)
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	for rows.Next() {
		var x [2]int64
		if err := rows.Scan(&x[0], &x[1]); err != nil {
			return nil, err
		}
		out = append(out, x)
	}
	return out, plain(rows.Err())
}

// RecordsBefore gives the records of a table that a batch changed as taking it
// back would leave them, by id: nil for one that it made.
func (s *Store) RecordsBefore(ctx context.Context, batch int64, t *record.Kind) (map[int64]*portfolio.Row, error) {
	list, err := s.ChangesIn(ctx, batch, t.Name, -1)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	rows, err := s.Records(ctx, t)
	if err != nil {
		return nil, err
	}
	out := make(map[int64]*portfolio.Row)
	for _, c := range slices.Backward(list) {
		row, seen := out[c.Record]
		if i := slices.IndexFunc(rows, func(r portfolio.Row) bool { return r.ID == c.Record }); !seen && i >= 0 {
			row = &rows[i]
		}
		if out[c.Record], err = c.Back(t, row); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Back gives a record as it was before a change of one of its fields, in the row
// that it is given; nil where the change made it, or where there is none.
func (c *Change) Back(t *record.Kind, row *portfolio.Row) (*portfolio.Row, error) {
	switch i := t.Index(c.Field); {
	case c.Field == Added:
		return nil, nil
	case row == nil || i < 0: // its extra columns
	case c.Before == nil:
		row.Fields[i] = portfolio.Field{}
	case t.Columns[i].Type.Whole():
		n, err := strconv.ParseInt(*c.Before, 10, 64)
		if err != nil {
			return nil, fmt.Errorf("what batch %d changed of %s: %w", c.Batch, t.Name, err)
		}
		row.Fields[i] = portfolio.Field{Said: portfolio.Value, Int: n}
	default:
		row.Fields[i] = portfolio.Field{Said: portfolio.Value, Text: *c.Before}
	}
	return row, nil
}
