package store

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"

	"turret/internal/record"
)

// settleKinds brings the tables of records to what is declared of their kinds: a
// kind that is not there yet gets its table, a column its place. Nothing else is
// changed: what a declaration no longer has stays.
func (s *Store) settleKinds(ctx context.Context) error {
	// A database that is only read is not written to.
	if unsettled, err := unsettledKinds(ctx, s.writer); err != nil || !unsettled {
		return err
	}
	return s.write(ctx, func(tx *sqlx.Tx) error {
		for _, k := range record.OfRecords() {
			if err := settleKind(ctx, tx, k); err != nil {
				return fmt.Errorf("the table of %s: %w", k.Name, err)
			}
		}
		return nil
	})
}

// unsettledKinds tells whether a database lacks something that is declared of kinds.
func unsettledKinds(ctx context.Context, db *sqlx.DB) (bool, error) {
	var list []struct{ Name, Columns string }
	if err := db.SelectContext(ctx, &list, "SELECT name, columns FROM kind"); err != nil {
		return false, plain(err)
	}
	known := make(map[string]string, len(list))
	for _, x := range list {
		known[x.Name] = x.Columns
	}
	return slices.ContainsFunc(record.OfRecords(), func(k *record.Kind) bool { return known[k.SQL] != declaredOf(k) }), nil
}

func declaredOf(k *record.Kind) string { return strings.Join(k.SQLColumns(), ",") }

func settleKind(ctx context.Context, tx *sqlx.Tx, k *record.Kind) error {
	declared := declaredOf(k)
	var known string
	if err := tx.GetContext(ctx, &known, "SELECT coalesce((SELECT columns FROM kind WHERE name = ?), '')", k.SQL); err != nil ||
		known == declared {
		return err
	}
	var have []string
	if err := tx.SelectContext(ctx, &have, "SELECT name FROM pragma_table_info(?)", k.SQL); err != nil {
		return err
	}
	if len(have) == 0 {
		if _, err := tx.ExecContext(ctx, createTable(k)); err != nil {
			return err
		}
	}
	for i := range k.Columns {
		if c := &k.Columns[i]; len(have) > 0 && !slices.Contains(have, c.SQL) {
			if _, err := tx.ExecContext(ctx, "ALTER TABLE "+k.SQL+" ADD COLUMN "+columnOf(c)); err != nil {
				return err
			}
		}
	}
	_, err := tx.ExecContext(
		ctx,
		"INSERT INTO kind (name, columns) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET columns = excluded.columns",
		k.SQL,
		declared,
	)
	return err
}

// createTable writes the table of a kind: its columns, and where its rows came
// from.
func createTable(k *record.Kind) string {
	var columns, key []string
	for i := range k.Columns {
		columns = append(columns, columnOf(&k.Columns[i]))
		if k.Columns[i].Key {
			key = append(key, k.Columns[i].SQL)
		}
	}
	return fmt.Sprintf(
		"CREATE TABLE %s (\n  id INTEGER PRIMARY KEY, %s,\n  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL, UNIQUE (%s)\n) STRICT",
		k.SQL,
		strings.Join(columns, ", "),
		strings.Join(key, ", "),
	)
}

// columnOf writes a column as a table has it: one of the key is never NULL.
func columnOf(c *record.Column) string {
	typ, none := "TEXT", "''"
	if c.Type.Whole() {
		typ, none = "INTEGER", "0"
	}
	if c.Key {
		return c.SQL + " " + typ + " NOT NULL DEFAULT " + none
	}
	return c.SQL + " " + typ
}

// unknownKind names a kind, or a column of one, that a database has and this
// program does not declare; "" where it knows all of them.
func unknownKind(ctx context.Context, db *sqlx.DB) (string, error) {
	var list []struct{ Name, Columns string }
	var there int
	if err := db.GetContext(ctx, &there, "SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name = 'kind'"); err != nil ||
		there == 0 {
		return "", err
	}
	if err := db.SelectContext(ctx, &list, "SELECT name, columns FROM kind ORDER BY name"); err != nil {
		return "", err
	}
	for _, x := range list {
		k := record.BySQL(x.Name)
		if k == nil {
			return x.Name, nil
		}
		for c := range strings.SplitSeq(x.Columns, ",") {
			if k.BySQL(c) < 0 {
				return x.Name + "." + c, nil
			}
		}
	}
	return "", nil
}
