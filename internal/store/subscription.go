package store

import (
	"context"

	"github.com/jmoiron/sqlx"
)

// Subscription is an address at which dates are read without signing in: what the address of
// the calendar asked for, of the account that made it.
type Subscription struct {
	ID      int64  `db:"id"`
	Account int64  `db:"account"`
	Query   string `db:"query"`
	Made    int64  `db:"made"`
}

// Subscribe keeps the hash of a token of an account, made at a moment.
func (s *Store) Subscribe(ctx context.Context, account int64, hash []byte, query string, at int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO subscription (account, hash, query, made) VALUES (?, ?, ?, ?)", account, hash, query, at)
		return err
	})
}

// Subscriptions lists those of an account, the latest first.
func (s *Store) Subscriptions(ctx context.Context, account int64) (out []Subscription, err error) {
	err = s.readers.SelectContext(ctx, &out, "SELECT id, account, query, made FROM subscription WHERE account = ? ORDER BY id DESC", account)
	return out, plain(err)
}

// SubscriptionBy gives the one whose token has a hash; nil where there is none.
func (s *Store) SubscriptionBy(ctx context.Context, hash []byte) (*Subscription, error) {
	var out []Subscription
	if err := s.readers.SelectContext(ctx, &out, "SELECT id, account, query, made FROM subscription WHERE hash = ?", hash); err != nil {
		return nil, plain(err)
	}
	if len(out) == 0 {
		return nil, nil
	}
	return &out[0], nil
}

// Unsubscribe takes one of an account back.
func (s *Store) Unsubscribe(ctx context.Context, account, id int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "DELETE FROM subscription WHERE account = ? AND id = ?", account, id)
		return err
	})
}
