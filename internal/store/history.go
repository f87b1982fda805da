package store

import (
	"context"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// HistoryFilter picks batches; what is empty asks for nothing.
type HistoryFilter struct {
	Actor    string // part of a name
	File     string // part of a name
	Project  int64
	Tables   []string             // of records, by the names people send
	Kinds    []portfolio.PartKind // of statements; with Tables: either
	From, To int64                // UTC milliseconds, To excluded; zero is open
	Before   int64                // batches before this one
	Only     []int64              // of these; nil is all
	Most     int
}

// BatchLine is a batch as a list of them shows it.
type BatchLine struct {
	ID       int64  `db:"id"`
	At       int64  `db:"at"`
	Actor    string `db:"actor"`
	Origin   string `db:"origin"`
	Note     string `db:"note"`
	Files    string `db:"files"`  // names, a line each
	Undone   int64  `db:"undone"` // the batch that took it back, or zero
	Kept     int    `db:"kept"`   // projects that it was not taken back of
	Run      bool   `db:"run"`
	Projects int    `db:"projects"` // whose statements it changed
	Touched  string `db:"touched"`  // SQL tables and kinds of parts that it changed, with commas
}

// kinds are numbers and Tables are known names, so that they can stand in SQL.
func (f *HistoryFilter) where() (string, map[string]any) {
	like := func(s string) string {
		return "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(s) + "%"
	}
	w := []string{"b.origin <> 'init'"}
	args := map[string]any{
		"actor":   like(f.Actor),
		"file":    like(f.File),
		"project": f.Project,
		"from":    f.From,
		"to":      f.To,
		"before":  f.Before,
		"most":    f.Most,
	}
	add := func(asked bool, s string) {
		if asked {
			w = append(w, s)
		}
	}
	add(f.Actor != "", `b.actor LIKE :actor ESCAPE '\'`)
	add(
		f.File != "",
		`(EXISTS (SELECT 1 FROM file f WHERE f.batch = b.id AND f.name LIKE :file ESCAPE '\') OR EXISTS (SELECT 1 FROM run r WHERE r.batch = b.id AND r.sheets LIKE :file ESCAPE '\'))`,
	)
	add(f.From != 0, "b.at >= :from")
	add(f.To != 0, "b.at < :to")
	add(f.Before != 0, "b.id < :before")
	if f.Only != nil {
		args["only"] = append([]int64{0}, f.Only...)
		w = append(w, "b.id IN (:only)")
	} else if f.Project != 0 || len(f.Tables)+len(f.Kinds) > 0 {
		w = append(w, "b.id IN ("+strings.Join(f.touching(args), " UNION ")+")")
	}
	return strings.Join(w, " AND "), args
}

// touching lists queries of the batches that touched the project, the tables or
// both.
func (f *HistoryFilter) touching(args map[string]any) (out []string) {
	parts := "SELECT batch FROM part_change WHERE 1"
	if f.Project != 0 {
		parts += " AND project = :project"
	}
	all := len(f.Tables)+len(f.Kinds) == 0
	if all {
		out = append(out, parts)
	} else if len(f.Kinds) > 0 {
		args["kinds"] = f.Kinds
		out = append(out, parts+" AND kind IN (:kinds)")
	}
	for _, k := range record.OfRecords() {
		if !all && !slices.Contains(f.Tables, k.Name) {
			continue
		}
		switch {
		case f.Project == 0:
			out = append(out, "SELECT batch FROM change WHERE tbl = '"+k.SQL+"'")
		case k == record.Projects.Kind:
			out = append(out, "SELECT batch FROM change WHERE tbl = 'project' AND record = :project")
		case k.Project() >= 0:
			out = append(
				out,
				"SELECT c.batch FROM "+k.SQL+" t JOIN change c ON c.tbl = '"+k.SQL+"' AND c.record = t.id WHERE t.project = :project",
			)
		}
	}
	if len(out) == 0 {
		out = append(out, "SELECT 0")
	}
	slices.Sort(out)
	return out
}

// Batches lists the batches of a filter, last first.
func (s *Store) Batches(ctx context.Context, f HistoryFilter) (out []BatchLine, err error) {
	where, named := f.where()
	q, args, err := sqlx.Named(`SELECT b.id, b.at, b.actor, b.origin, b.note, b.undone, b.kept, b.touched, b.projects,
  EXISTS (SELECT 1 FROM run r WHERE r.batch = b.id) AS run,
  coalesce((SELECT group_concat(name, char(10)) FROM (SELECT DISTINCT name FROM file f WHERE f.batch = b.id ORDER BY name)), '') AS files
FROM batch b WHERE `+where+" ORDER BY b.id DESC LIMIT :most", named)
	if err != nil {
		return nil, err
	}
	if q, args, err = sqlx.In(q, args...); err != nil {
		return nil, err
	}
	err = s.readers.SelectContext(ctx, &out, q, args...)
	return out, plain(err)
}

// TableOf gives the name that people send a SQL table of records by.
func TableOf(name string) string {
	if k := record.BySQL(name); k != nil {
		return k.Name
	}
	return name
}

// sqlOf gives the SQL table of a table of records; "" where it is none.
func sqlOf(table string) string {
	if k := record.Named(table); k != nil {
		return k.SQL
	}
	return ""
}

// PartHistory is a part that a batch changed; Before and After are ids of
// bodies, zero for none.
type PartHistory struct {
	Batch int64
	portfolio.Part
	Before, After int64
}

// PartsIn lists the parts that a batch changed: of a project, where one is
// given.
func (s *Store) PartsIn(ctx context.Context, batch, project int64) ([]PartHistory, error) {
	return s.partHistory(
		ctx,
		"WHERE batch = ?1 AND (?2 = 0 OR project = ?2) ORDER BY project, kind, version",
		batch,
		project,
	)
}

// PartsThrough lists every change of a project's parts of some kinds, last
// first.
func (s *Store) PartsThrough(ctx context.Context, project int64, kinds []portfolio.PartKind) ([]PartHistory, error) {
	if len(kinds) == 0 {
		return nil, nil
	}
	q, args, err := sqlx.In("WHERE project = ? AND kind IN (?) ORDER BY batch DESC, kind, version", project, kinds)
	if err != nil {
		return nil, err
	}
	return s.partHistory(ctx, q, args...)
}

func (s *Store) partHistory(ctx context.Context, rest string, args ...any) (out []PartHistory, err error) {
	rows, err := s.readers.QueryContext(
		ctx,
		"SELECT batch, project, kind, version, coalesce(before, 0), coalesce(after, 0) FROM part_change "+rest,
		args...)
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	for rows.Next() {
		var p PartHistory
		if err := rows.Scan(&p.Batch, &p.Project, &p.Kind, &p.Version, &p.Before, &p.After); err != nil {
			return nil, err
		}
		out = append(out, p)
	}
	return out, plain(rows.Err())
}

// Change is one field of a record that a batch changed. The field is Added or
// Removed where the record itself came or went.
type Change struct {
	Batch  int64   `db:"batch"`
	Table  string  `db:"tbl"` // as people send it
	Record int64   `db:"record"`
	Field  string  `db:"field"` // the column, as people send it
	Before *string `db:"before"`
	After  *string `db:"after"`
}

// ChangesIn lists what a batch changed of records: of a table, where one is
// given.
func (s *Store) ChangesIn(ctx context.Context, batch int64, table string, most int) ([]Change, error) {
	name := sqlOf(table)
	return s.changes(
		ctx,
		"WHERE batch = ?1 AND tbl <> 'posting' AND (?2 = '' OR tbl = ?3) AND field NOT IN ('file', 'line') ORDER BY rowid LIMIT ?4",
		batch,
		table,
		name,
		most,
	)
}

// ChangesThrough lists every change of a table's records, last first: of those
// that belong to a project, where one is given.
func (s *Store) ChangesThrough(ctx context.Context, table string, project int64, most int) ([]Change, error) {
	k := record.Named(table)
	if k == nil || k.Keep != record.Records {
		return nil, nil
	}
	rest := ""
	switch {
	case project == 0:
	case k == record.Projects.Kind:
		rest = " AND record = ?2"
	case k.Project() >= 0:
		rest = " AND record IN (SELECT id FROM " + k.SQL + " WHERE project = ?2)"
	default:
		return nil, nil
	}
	return s.changes(
		ctx,
		"WHERE tbl = ?1"+rest+" AND field NOT IN ('file', 'line') AND (?2 = ?2) ORDER BY rowid DESC LIMIT ?3",
		k.SQL,
		project,
		most,
	)
}

// ChangesAfter lists what later batches changed of a record, last first.
func (s *Store) ChangesAfter(ctx context.Context, table string, id, batch int64) ([]Change, error) {
	return s.changes(ctx, "WHERE tbl = ? AND record = ? AND batch > ? ORDER BY rowid DESC", sqlOf(table), id, batch)
}

// LaterChange is a change with who made it.
type LaterChange struct {
	Change
	Actor   string `db:"actor"`
	Account int64  `db:"account"`
	At      int64  `db:"at"`
}

// ChangesSince lists what batches after one changed of a table's records, last
// first.
func (s *Store) ChangesSince(ctx context.Context, table string, batch int64) (out []LaterChange, err error) {
	err = s.readers.SelectContext(
		ctx,
		&out,
		`SELECT c.batch, c.tbl, c.record, c.field, c.before, c.after, b.actor, b.account, b.at FROM change c JOIN batch b ON b.id = c.batch
WHERE c.tbl = ? AND c.batch > ? AND c.field NOT IN ('file', 'line') ORDER BY c.rowid DESC`,
		sqlOf(table),
		batch,
	)
	for i := range out {
		out[i].named()
	}
	return out, plain(err)
}

func (s *Store) changes(ctx context.Context, rest string, args ...any) (out []Change, err error) {
	if err := s.readers.SelectContext(ctx, &out, "SELECT batch, tbl, record, field, before, after FROM change "+rest, args...); err != nil {
		return nil, plain(err)
	}
	for i := range out {
		out[i].named()
	}
	return out, nil
}

// named calls a change's table and column as people send them.
func (c *Change) named() {
	if k := record.BySQL(c.Table); k != nil {
		c.Table = k.Name
		if j := k.BySQL(c.Field); j >= 0 {
			c.Field = k.Columns[j].Name
		}
	}
}

// Author is who wrote a batch.
type Author struct {
	Account int64  `db:"account"`
	Actor   string `db:"actor"`
}

// BaselineWriters lists who has written a project's baseline of a number: its
// record, its plan or its dates, in batches that were not taken back.
func (s *Store) BaselineWriters(ctx context.Context, project int64, number int) (out []Author, err error) {
	err = s.readers.SelectContext(
		ctx,
		&out,
		`SELECT DISTINCT b.account, b.actor FROM batch b WHERE b.origin <> 'undo' AND (b.undone = 0 OR b.kept > 0) AND b.id IN (
  SELECT c.batch FROM change c JOIN baseline x ON x.id = c.record WHERE c.tbl = 'baseline' AND x.project = ?1 AND x.baseline = ?2
  UNION SELECT batch FROM part_change WHERE project = ?1 AND version = ?2 AND kind IN (?3, ?4))`,
		project,
		number,
		portfolio.PlanPart,
		portfolio.BaselinePart,
	)
	return out, plain(err)
}
