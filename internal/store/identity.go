package store

import (
	"context"
	"errors"

	"github.com/jmoiron/sqlx"
)

// Identity is what a provider knows somebody by.
type Identity struct{ Issuer, Subject string }

// ErrLinked is the error of an identity that is another account's.
var ErrLinked = errors.New("the identity is another account's")

// AccountOf gives the account of an identity; zero where there is none.
func (s *Store) AccountOf(ctx context.Context, x Identity) (account int64, err error) {
	err = s.readers.GetContext(
		ctx, &account, "SELECT coalesce((SELECT account FROM identity WHERE issuer = ? AND subject = ?), 0)", x.Issuer, x.Subject,
	)
	return account, plain(err)
}

// Identities counts the identities of each account that has one.
func (s *Store) Identities(ctx context.Context) (map[int64]int, error) {
	var list []struct {
		Account int64
		N       int
	}
	if err := s.readers.SelectContext(ctx, &list, "SELECT account, count(*) AS n FROM identity GROUP BY account"); err != nil {
		return nil, plain(err)
	}
	out := make(map[int64]int, len(list))
	for _, x := range list {
		out[x.Account] = x.N
	}
	return out, nil
}

// link makes an identity an account's; ErrLinked where it is another's.
func link(ctx context.Context, tx *sqlx.Tx, x Identity, account, at int64) error {
	var now int64
	err := tx.GetContext(
		ctx, &now, "INSERT INTO identity (issuer, subject, account, since) VALUES (?, ?, ?, ?) ON CONFLICT (issuer, subject) DO UPDATE SET account = account RETURNING account",
		x.Issuer, x.Subject, account, at,
	)
	if err == nil && now != account {
		return ErrLinked
	}
	return err
}
