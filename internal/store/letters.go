package store

import (
	"context"
	"database/sql"
	"errors"

	"github.com/jmoiron/sqlx"
)

// Letter is a letter to an account. Moments are UTC milliseconds.
type Letter struct {
	ID       int64  `db:"id"`
	Name     string `db:"name"` // what it is of: there is one letter of a name, ever
	Account  int64  `db:"account"`
	Made     int64  `db:"made"`
	Address  string `db:"address"`
	Subject  string `db:"subject"`
	Plain    string `db:"plain"`
	HTML     string `db:"html"`
	State    string `db:"state"`
	Tries    int64  `db:"tries"`
	Next     int64  `db:"next"`     // when it is tried next
	At       int64  `db:"at"`       // when it was tried last; zero: never
	Fault    string `db:"fault"`    // why it was not taken, or ""
	Enclosed string `db:"enclosed"` // a brief's number, a colon and its forms with commas; "": nothing
}

// States of letters.
const (
	LetterWaits   = "waiting"
	LetterSent    = "sent"
	LetterGivenUp = "given up"
)

// QueueLetters keeps letters to be sent, but for those whose names were there before, and
// gives how many are new.
func (s *Store) QueueLetters(ctx context.Context, list []Letter) (n int64, err error) {
	if len(list) == 0 {
		return 0, nil
	}
	err = s.write(ctx, func(tx *sqlx.Tx) (err error) {
		n, err = queue(ctx, tx, list)
		return err
	})
	return n, err
}

// queue is QueueLetters within a transaction.
func queue(ctx context.Context, tx *sqlx.Tx, list []Letter) (n int64, err error) {
	for _, l := range list {
		r, err := tx.ExecContext(ctx,
			"INSERT INTO letter (name, account, made, address, subject, plain, html, next, enclosed) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (name) DO NOTHING",
			l.Name, l.Account, l.Made, l.Address, l.Subject, l.Plain, l.HTML, l.Next, l.Enclosed)
		if err != nil {
			return 0, err
		}
		one, err := r.RowsAffected()
		if err != nil {
			return 0, err
		}
		n += one
	}
	return n, nil
}

// KnownLetters tells which of some names have a letter.
func (s *Store) KnownLetters(ctx context.Context, names []string) (map[string]bool, error) {
	out := make(map[string]bool)
	for len(names) > 0 {
		n := min(len(names), mostAsked)
		query, args, err := sqlx.In("SELECT name FROM letter WHERE name IN (?)", names[:n])
		if err != nil {
			return nil, err
		}
		var some []string
		if err := s.readers.SelectContext(ctx, &some, query, args...); err != nil {
			return nil, plain(err)
		}
		for _, name := range some {
			out[name] = true
		}
		names = names[n:]
	}
	return out, nil
}

// mostAsked is how many names one query asks for.
const mostAsked = 500

// LettersDue lists the letters that are to be tried at a moment, the oldest first.
func (s *Store) LettersDue(ctx context.Context, at int64, most int) (out []Letter, err error) {
	err = s.readers.SelectContext(ctx, &out, "SELECT * FROM letter WHERE state = 'waiting' AND next <= ? ORDER BY next, id LIMIT ?", at, most)
	return out, plain(err)
}

// Letters lists what was sent and is to be sent, the last first, without texts.
func (s *Store) Letters(ctx context.Context, most int) (out []Letter, err error) {
	err = s.readers.SelectContext(ctx, &out,
		"SELECT id, name, account, made, address, subject, '' AS plain, '' AS html, state, tries, next, at, fault, enclosed FROM letter ORDER BY id DESC LIMIT ?", most)
	return out, plain(err)
}

// LetterBy finds a letter; nil where there is none.
func (s *Store) LetterBy(ctx context.Context, id int64) (*Letter, error) {
	var l Letter
	err := s.readers.GetContext(ctx, &l, "SELECT * FROM letter WHERE id = ?", id)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return &l, plain(err)
}

// CountLetters counts letters by state.
func (s *Store) CountLetters(ctx context.Context) (map[string]int, error) {
	var rows []struct {
		State string `db:"state"`
		N     int    `db:"n"`
	}
	if err := s.readers.SelectContext(ctx, &rows, "SELECT state, count(*) AS n FROM letter GROUP BY state"); err != nil {
		return nil, plain(err)
	}
	out := make(map[string]int)
	for _, r := range rows {
		out[r.State] = r.N
	}
	return out, nil
}

// TriedLetter keeps how an attempt at a letter ended: its state, tries, next, at and fault.
func (s *Store) TriedLetter(ctx context.Context, l *Letter) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE letter SET state = ?, tries = ?, next = ?, at = ?, fault = ? WHERE id = ?",
			l.State, l.Tries, l.Next, l.At, l.Fault, l.ID)
		return err
	})
}

// RetryLetters lets those that were given up be tried again from a moment on.
func (s *Store) RetryLetters(ctx context.Context, at int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE letter SET state = 'waiting', tries = 0, next = ? WHERE state = 'given up'", at)
		return err
	})
}

// SetLetters keeps where an account reads letters, and which it wants.
func (s *Store) SetLetters(ctx context.Context, account int64, address, which string) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE account SET address = ?, letters = ? WHERE id = ?", address, which, account)
		return err
	})
}
