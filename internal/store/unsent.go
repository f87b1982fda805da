package store

import (
	"context"

	"github.com/jmoiron/sqlx"
)

// Unsent is what someone has typed of a statement and not sent yet. Moments are UTC
// milliseconds.
type Unsent struct {
	Account int64  `db:"account"`
	Project int64  `db:"project"`
	Kind    string `db:"kind"`   // of statement
	Period  int64  `db:"period"` // ordinal of the one that it is for
	Begun   int64  `db:"begun"`
	At      int64  `db:"at"` // when it was typed in last
	Body    string `db:"body"`
}

// UnsentOf lists the drafts of an account, the oldest first.
func (s *Store) UnsentOf(ctx context.Context, account int64) (out []Unsent, err error) {
	err = s.readers.SelectContext(ctx, &out, "SELECT * FROM unsent WHERE account = ? ORDER BY begun, project, kind", account)
	return out, plain(err)
}

// ChangeUnsent makes of the body of a draft, "" where there is none, what its writer
// now has: what change gives for it, in one transaction; "" drops it. The draft says
// whose it is, what of, and when.
func (s *Store) ChangeUnsent(ctx context.Context, d Unsent, change func(body string) (string, error)) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		const which = "account = ? AND project = ? AND kind = ? AND period = ?"
		key := []any{d.Account, d.Project, d.Kind, d.Period}
		var was []string
		if err := tx.SelectContext(ctx, &was, "SELECT body FROM unsent WHERE "+which, key...); err != nil {
			return err
		}
		body := ""
		if len(was) > 0 {
			body = was[0]
		}
		body, err := change(body)
		switch {
		case err != nil:
			return err
		case body == "":
			_, err = tx.ExecContext(ctx, "DELETE FROM unsent WHERE "+which, key...)
		default:
			_, err = tx.ExecContext(ctx,
				"INSERT INTO unsent (account, project, kind, period, begun, at, body) VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO UPDATE SET at = excluded.at, body = excluded.body",
				append(key, d.At, d.At, body)...)
		}
		return err
	})
}

// UnsentFor counts who has a draft, by project and kind, for a period.
func (s *Store) UnsentFor(ctx context.Context, period int64) (out []Unsent, err error) {
	err = s.readers.SelectContext(ctx, &out, "SELECT account, project, kind, period, begun, at, '' AS body FROM unsent WHERE period = ? ORDER BY begun", period)
	return out, plain(err)
}
