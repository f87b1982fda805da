package store

import (
	"context"
	"database/sql"
	"errors"

	"github.com/jmoiron/sqlx"
)

// Second is the second factor of an account: a secret that codes of the moment are made of,
// and how many recovery codes are left. Since is UTC milliseconds.
type Second struct {
	Secret string `db:"secret"`
	Since  int64  `db:"since"`
	Codes  int    `db:"codes"`
}

// SecondOf gives the second factor of an account; nil where it has none.
func (s *Store) SecondOf(ctx context.Context, account int64) (*Second, error) {
	var x Second
	err := s.readers.GetContext(ctx, &x,
		"SELECT secret, since, (SELECT count(*) FROM recovery WHERE account = f.account) AS codes FROM second_factor f WHERE account = ?", account)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return &x, plain(err)
}

// Seconds tells which accounts have a second factor.
func (s *Store) Seconds(ctx context.Context) (map[int64]bool, error) {
	var ids []int64
	err := s.readers.SelectContext(ctx, &ids, "SELECT account FROM second_factor")
	out := make(map[int64]bool, len(ids))
	for _, id := range ids {
		out[id] = true
	}
	return out, plain(err)
}

// SetSecond gives an account a second factor with the hashes of its recovery codes, at a
// moment; with an empty secret it takes it away.
func (s *Store) SetSecond(ctx context.Context, account int64, secret string, codes [][]byte, at int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		for _, q := range []string{"DELETE FROM second_factor WHERE account = ?", "DELETE FROM recovery WHERE account = ?"} {
			if _, err := tx.ExecContext(ctx, q, account); err != nil {
				return err
			}
		}
		if secret == "" {
			return nil
		}
		if _, err := tx.ExecContext(ctx, "INSERT INTO second_factor (account, secret, since) VALUES (?, ?, ?)", account, secret, at); err != nil {
			return err
		}
		for _, hash := range codes {
			if _, err := tx.ExecContext(ctx, "INSERT INTO recovery (account, hash) VALUES (?, ?)", account, hash); err != nil {
				return err
			}
		}
		return nil
	})
}

// SpendStep uses up the code of a step of time, and those before it; ok is false where it is
// used up already.
func (s *Store) SpendStep(ctx context.Context, account, step int64) (ok bool, err error) {
	return s.spend(ctx, "UPDATE second_factor SET step = ?2 WHERE account = ?1 AND step < ?2", account, step)
}

// SpendRecovery uses up a recovery code; ok is false where there is none of that hash.
func (s *Store) SpendRecovery(ctx context.Context, account int64, hash []byte) (ok bool, err error) {
	return s.spend(ctx, "DELETE FROM recovery WHERE account = ? AND hash = ?", account, hash)
}

func (s *Store) spend(ctx context.Context, query string, args ...any) (ok bool, err error) {
	err = s.write(ctx, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, query, args...)
		if err != nil {
			return err
		}
		n, err := r.RowsAffected()
		ok = n > 0
		return err
	})
	return ok && err == nil, err
}
