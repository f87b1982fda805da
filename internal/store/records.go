package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// Records gives all rows of a table of records, by id. References have the id
// alone; the text of a code is for the caller to fill in.
func (s *Store) Records(ctx context.Context, t *record.Kind) ([]portfolio.Row, error) {
	s.tables.Add(1)
	return records(ctx, s.readers, t)
}

func records(ctx context.Context, q sqlx.QueryerContext, t *record.Kind) ([]portfolio.Row, error) {
	rows, err := q.QueryxContext(
		ctx,
		fmt.Sprintf("SELECT id, extra, file, line, %s FROM %s ORDER BY id", strings.Join(t.SQLColumns(), ", "), t.SQL),
	)
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	var out []portfolio.Row
	ints := make([]sql.NullInt64, len(t.Columns))
	texts := make([]sql.NullString, len(t.Columns))
	for rows.Next() {
		r := portfolio.Row{Fields: make([]portfolio.Field, len(t.Columns))}
		var extra sql.NullString
		var file, line sql.NullInt64
		to := []any{&r.ID, &extra, &file, &line}
		for i, c := range t.Columns {
			if c.Type.Whole() {
				to = append(to, &ints[i])
			} else {
				to = append(to, &texts[i])
			}
		}
		if err := rows.Scan(to...); err != nil {
			return nil, err
		}
		r.Source = portfolio.Source{File: int32(file.Int64), Row: int32(line.Int64)}
		if extra.Valid {
			if err := json.Unmarshal([]byte(extra.String), &r.Extra); err != nil {
				return nil, fmt.Errorf("%s %d: %w", t.SQL, r.ID, err)
			}
		}
		for i, c := range t.Columns {
			f := &r.Fields[i]
			if c.Type.Whole() && ints[i].Valid {
				f.Said, f.Int = portfolio.Value, ints[i].Int64
			} else if !c.Type.Whole() && texts[i].Valid {
				f.Said, f.Text = portfolio.Value, texts[i].String
			}
		}
		out = append(out, r)
	}
	return out, plain(rows.Err())
}

// RecordChange is a record as it becomes, and as it was; a new one has no
// before. Its id is set by the caller.
type RecordChange struct {
	Table  *record.Kind
	Before *portfolio.Row
	After  portfolio.Row
}

func sqlValue(c *record.Column, f *portfolio.Field) any {
	if f.Said != portfolio.Value {
		if c.Key {
			if c.Type.Whole() {
				return int64(0)
			}
			return ""
		}
		return nil
	}
	if c.Type.Whole() {
		return f.Int
	}
	return f.Text
}

func encodeExtra(m map[string]string) any {
	if len(m) == 0 {
		return nil
	}
	b, err := json.Marshal(m)
	if err != nil {
		return nil // strings always encode
	}
	return string(b)
}

// writeRecord inserts or updates one record and keeps what changed.
func writeRecord(ctx context.Context, tx *sqlx.Tx, batch int64, rc *RecordChange) error {
	name, columns := rc.Table.SQL, rc.Table.SQLColumns()
	args := []any{rc.After.ID, encodeExtra(rc.After.Extra), rc.After.Source.File, rc.After.Source.Row, batch}
	set := make([]string, len(columns))
	for i := range rc.Table.Columns {
		args = append(args, sqlValue(&rc.Table.Columns[i], &rc.After.Fields[i]))
		set[i] = columns[i] + " = excluded." + columns[i]
	}
	marks := strings.TrimSuffix(strings.Repeat("?, ", len(args)), ", ")
	q := fmt.Sprintf(
		"INSERT INTO %s (id, extra, file, line, batch, %s) VALUES (%s) ON CONFLICT (id) DO UPDATE SET extra = excluded.extra, file = excluded.file, line = excluded.line, batch = excluded.batch, %s",
		name,
		strings.Join(columns, ", "),
		marks,
		strings.Join(set, ", "),
	)
	if _, err := tx.ExecContext(ctx, q, args...); err != nil {
		return fmt.Errorf("%s: %w", name, err)
	}
	if rc.Before == nil {
		return keepChange(ctx, tx, batch, name, rc.After.ID, Added, nil, nil)
	}
	for field, pair := range map[string][2]int32{"file": {rc.Before.Source.File, rc.After.Source.File}, "line": {rc.Before.Source.Row, rc.After.Source.Row}} {
		if pair[0] != pair[1] {
			if err := keepChange(ctx, tx, batch, name, rc.After.ID, field, pair[0], pair[1]); err != nil {
				return err
			}
		}
	}
	for i := range rc.Table.Columns {
		c := &rc.Table.Columns[i]
		before, after := sqlValue(c, &rc.Before.Fields[i]), sqlValue(c, &rc.After.Fields[i])
		if before == after {
			continue
		}
		if err := keepChange(ctx, tx, batch, name, rc.After.ID, columns[i], before, after); err != nil {
			return err
		}
	}
	before, after := encodeExtra(rc.Before.Extra), encodeExtra(rc.After.Extra)
	if before != after {
		return keepChange(ctx, tx, batch, name, rc.After.ID, "extra", before, after)
	}
	return nil
}

// Added stands for the field of a record that a batch made.
const Added = "+"

func keepChange(
	ctx context.Context,
	tx *sqlx.Tx,
	batch int64,
	table string,
	record int64,
	field string,
	before, after any,
) error {
	text := func(v any) any {
		if v == nil {
			return nil
		}
		return fmt.Sprint(v)
	}
	_, err := tx.ExecContext(
		ctx,
		"INSERT INTO change (batch, tbl, record, field, before, after) VALUES (?, ?, ?, ?, ?, ?)",
		batch,
		table,
		record,
		field,
		text(before),
		text(after),
	)
	return err
}

func decodeExtra(s *string) map[string]string {
	if s == nil {
		return nil
	}
	var m map[string]string
	if json.Unmarshal([]byte(*s), &m) != nil {
		return nil // written by encodeExtra only
	}
	return m
}
