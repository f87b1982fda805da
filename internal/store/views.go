package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"

	"github.com/jmoiron/sqlx"
)

// View is a named state of the board: the query of its address.
type View struct {
	ID      int64  `db:"id"`
	Account int64  `db:"account"`
	Owner   string `db:"owner"`
	Name    string `db:"name"`
	Query   string `db:"query"`
	Shared  bool   `db:"shared"`
	Default bool   `db:"is_default"` // of the one who asks
}

// Views lists the views of an account and those shared with it, by name.
func (s *Store) Views(ctx context.Context, account int64) (out []View, err error) {
	err = s.readers.SelectContext(
		ctx,
		&out,
		`SELECT v.id, v.account, a.name AS owner, v.name, v.query, v.shared, d.view IS NOT NULL AS is_default
FROM view v JOIN account a ON a.id = v.account LEFT JOIN view_default d ON d.account = ? AND d.view = v.id
WHERE v.account = ? OR v.shared = 1 ORDER BY v.name, v.id`,
		account,
		account,
	)
	return out, plain(err)
}

// Mark tells one state of a view from another.
func (v *View) Mark() string {
	sum := sha256.Sum256([]byte(v.Query))
	return hex.EncodeToString(sum[:4])
}

// SaveView keeps a view under its name. Where its owner keeps another of that name, whose mark is
// not the one that was seen, it is left, and given as other.
func (s *Store) SaveView(ctx context.Context, v View, seen string) (id int64, other *View, err error) {
	err = s.write(ctx, func(tx *sqlx.Tx) error {
		var is []View
		if err := tx.SelectContext(ctx, &is, "SELECT id, account, name, query, shared FROM view WHERE account = ? AND name = ?", v.Account, v.Name); err != nil {
			return err
		}
		if len(is) > 0 && is[0].Query != v.Query && is[0].Mark() != seen {
			other = &is[0]
			return nil
		}
		return tx.GetContext(
			ctx,
			&id,
			"INSERT INTO view (account, name, query, shared) VALUES (?, ?, ?, ?) ON CONFLICT (account, name) DO UPDATE SET query = excluded.query, shared = excluded.shared RETURNING id",
			v.Account,
			v.Name,
			v.Query,
			v.Shared,
		)
	})
	return id, other, err
}

// DropView removes a view of an account; ok is false where it has none of that
// id.
func (s *Store) DropView(ctx context.Context, account, id int64) (ok bool, err error) {
	err = s.write(ctx, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, "DELETE FROM view WHERE id = ? AND account = ?", id, account)
		if err != nil {
			return err
		}
		n, err := r.RowsAffected()
		ok = n > 0
		return err
	})
	return ok, err
}

// SetDefaultView makes a view the one an account's board opens with; zero: none.
func (s *Store) SetDefaultView(ctx context.Context, account, id int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM view_default WHERE account = ?", account); err != nil || id == 0 {
			return err
		}
		_, err := tx.ExecContext(ctx, "INSERT INTO view_default (account, view) VALUES (?, ?)", account, id)
		return err
	})
}

// DefaultView gives the query that an account's board opens with, or "".
func (s *Store) DefaultView(ctx context.Context, account int64) (id int64, query string, err error) {
	var v View
	err = s.readers.GetContext(
		ctx,
		&v,
		"SELECT v.id, v.query FROM view_default d JOIN view v ON v.id = d.view WHERE d.account = ? AND (v.account = d.account OR v.shared = 1)",
		account,
	)
	if errors.Is(err, sql.ErrNoRows) {
		return 0, "", nil
	}
	return v.ID, v.Query, plain(err)
}
