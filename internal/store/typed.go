package store

import (
	"context"

	"github.com/jmoiron/sqlx"
)

// Typed is what someone has typed into a form and not sent. Moments are UTC milliseconds.
type Typed struct {
	Account int64  `db:"account"`
	Place   string `db:"place"` // address of the page that the form is on
	Form    string `db:"form"`  // which of its forms
	Title   string `db:"title"` // of the page
	Begun   int64  `db:"begun"`
	At      int64  `db:"at"` // when it was typed in last
	Body    string `db:"body"`
}

// TypedOn lists what an account has typed on a page.
func (s *Store) TypedOn(ctx context.Context, account int64, place string) (out []Typed, err error) {
	err = s.readers.SelectContext(ctx, &out, "SELECT * FROM typed WHERE account = ? AND place = ? ORDER BY form", account, place)
	return out, plain(err)
}

// TypedOf lists what an account has typed anywhere, the oldest first, without texts.
func (s *Store) TypedOf(ctx context.Context, account int64) (out []Typed, err error) {
	err = s.readers.SelectContext(ctx, &out,
		"SELECT account, place, form, title, begun, at, '' AS body FROM typed WHERE account = ? ORDER BY begun, place, form", account)
	return out, plain(err)
}

// KeepTyped keeps what was typed into a form, instead of what was kept of it before. It is
// not kept, and ok is false, where the account has as many others as there may be.
func (s *Store) KeepTyped(ctx context.Context, t Typed, most int) (ok bool, err error) {
	err = s.write(ctx, func(tx *sqlx.Tx) error {
		var others int
		if err := tx.GetContext(ctx, &others, "SELECT count(*) FROM typed WHERE account = ? AND (place, form) <> (?, ?)", t.Account, t.Place, t.Form); err != nil {
			return err
		}
		if ok = others < most; !ok {
			return nil
		}
		_, err := tx.ExecContext(ctx,
			"INSERT INTO typed (account, place, form, title, begun, at, body) VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO UPDATE SET title = excluded.title, at = excluded.at, body = excluded.body",
			t.Account, t.Place, t.Form, t.Title, t.At, t.At, t.Body)
		return err
	})
	return ok, err
}

// DropTyped forgets what was typed into a form.
func (s *Store) DropTyped(ctx context.Context, account int64, place, form string) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "DELETE FROM typed WHERE account = ? AND place = ? AND form = ?", account, place, form)
		return err
	})
}
