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
	Spent   int64  `db:"spent"` // milliseconds that went into it so far
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
				"INSERT INTO unsent (account, project, kind, period, begun, at, body) VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO UPDATE SET spent = spent + "+pause+", at = excluded.at, body = excluded.body",
				append(key, d.At, d.At, body, d.At, idle)...)
		}
		return err
	})
}

// UnsentFor counts who has a draft, by project and kind, for a period.
func (s *Store) UnsentFor(ctx context.Context, period int64) (out []Unsent, err error) {
	err = s.readers.SelectContext(ctx, &out, "SELECT account, project, kind, period, begun, at, '' AS body, spent FROM unsent WHERE period = ? ORDER BY begun", period)
	return out, plain(err)
}

// A pause between two cells that is longer than idle milliseconds counts as that long:
// its writer was elsewhere.
const (
	idle  = 2 * 60 * 1000
	pause = "max(0, min(? - at, ?))"
)

// Spend adds what an account's drafts of a project for a period took until a moment to what
// its statements of them took, and begins to count anew.
func (s *Store) Spend(ctx context.Context, account, project, period, at int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		const which = "account = ? AND project = ? AND period = ?"
		var ms int64
		if err := tx.GetContext(ctx, &ms, "SELECT coalesce(sum(spent), 0) + coalesce(min("+pause+"), 0) FROM unsent WHERE "+which, at, idle, account, project, period); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "UPDATE unsent SET spent = 0, at = ? WHERE "+which, at, account, project, period); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "INSERT INTO spent (account, project, period, ms) VALUES (?, ?, ?, ?) ON CONFLICT DO UPDATE SET ms = ms + excluded.ms", account, project, period, ms)
		return err
	})
}

// Spent gives, by project, the milliseconds that an account's statements took for the last
// period before one.
func (s *Store) Spent(ctx context.Context, account, period int64) (map[int64]int64, error) {
	var rows []struct {
		Project int64 `db:"project"`
		MS      int64 `db:"ms"`
	}
	err := s.readers.SelectContext(ctx, &rows, "SELECT project, ms FROM spent WHERE account = ? AND period < ? ORDER BY period", account, period)
	out := make(map[int64]int64, len(rows))
	for _, r := range rows {
		out[r.Project] = r.MS
	}
	return out, plain(err)
}

// Visit notes that an account is there at a moment, and gives when it was there before:
// visits that follow each other within away milliseconds are one. Zero where it never was.
func (s *Store) Visit(ctx context.Context, account, at, away int64) (before int64, err error) {
	var known []struct {
		At     int64 `db:"at"`
		Before int64 `db:"before"`
	}
	if err := s.readers.SelectContext(ctx, &known, "SELECT at, before FROM visit WHERE account = ?", account); err != nil {
		return 0, plain(err)
	}
	const step = 60 * 1000 // it need not be known closer
	switch {
	case len(known) == 0:
	case at-known[0].At < step:
		return known[0].Before, nil
	case at-known[0].At < away:
		before = known[0].Before
	default:
		before = known[0].At
	}
	return before, s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO visit (account, at, before) VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET at = excluded.at, before = excluded.before", account, at, before)
		return err
	})
}
