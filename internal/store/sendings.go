package store

import (
	"cmp"
	"context"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"
)

// Sending is a brief of a pack that was sent to a reader, who opens it by a link: the hash of its
// token alone is kept. Moments are in milliseconds; zero is never.
type Sending struct {
	ID       int64  `db:"id"`
	Pack     string `db:"pack"`
	Occasion string `db:"occasion"`
	Brief    int64  `db:"brief"`
	Forms    string `db:"forms"`   // that the link offers, with commas
	Account  int64  `db:"account"` // zero: of no one who signs in
	Address  string `db:"address"`
	Reader   string `db:"reader"`
	Hash     []byte `db:"hash"`
	At       int64  `db:"at"`
	Until    int64  `db:"until"`
	Actor    string `db:"actor"`
	Revoked  int64  `db:"revoked"`
	Opened   int64  `db:"opened"` // for the first time
	Opens    int64  `db:"opens"`
	Letter   string `db:"letter"`   // the state of its letter
	Fault    string `db:"fault"`    // why the letter was not taken
	Enclosed string `db:"enclosed"` // what the letter encloses, as Letter has it
}

// Why nothing is sent, as it was found where it is written.
var (
	ErrSent  = errors.New("it was sent on that occasion already")
	ErrEnded = errors.New("the link that it takes the place of has ended")
)

const sendings = `SELECT s.id, s.pack, s.occasion, s.brief, s.forms, s.account, s.address, s.reader, s.hash, s.at, s.until, s.actor, s.revoked, s.opened,
  s.opens, coalesce(l.state, '') AS letter, coalesce(l.fault, '') AS fault, coalesce(l.enclosed, '') AS enclosed FROM sending s LEFT JOIN letter l ON l.name = 'sending ' || hex(s.hash) `

// LetterOf names the letter with the link of what was sent.
func LetterOf(hash []byte) string { return fmt.Sprintf("sending %X", hash) }

// Send keeps what is sent of a pack on one occasion together with its letters, and ends the links
// that it takes the place of: all or nothing. What was sent on that occasion is not sent twice
// (ErrSent), and a link that has ended is not begun again (ErrEnded).
func (s *Store) Send(ctx context.Context, list []Sending, letters []Letter, ends ...int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		if sent, err := sentOn(ctx, tx, list[0].Pack, list[0].Occasion); err != nil || sent {
			return cmp.Or(err, ErrSent)
		}
		for _, id := range ends {
			if ended, err := revoke(ctx, tx, id, list[0].At); err != nil || !ended {
				return cmp.Or(err, ErrEnded)
			}
		}
		for _, x := range list {
			if _, err := tx.NamedExecContext(ctx, `INSERT INTO sending (pack, occasion, brief, forms, account, address, reader, hash, at, until, actor)
VALUES (:pack, :occasion, :brief, :forms, :account, :address, :reader, :hash, :at, :until, :actor)`, x); err != nil {
				return err
			}
		}
		_, err := queue(ctx, tx, letters)
		return err
	})
}

// Sendings lists the last ones, of a pack or, without one, of all.
func (s *Store) Sendings(ctx context.Context, pack string, most int) (out []Sending, err error) {
	err = s.readers.SelectContext(ctx, &out, sendings+"WHERE ? IN ('', s.pack) ORDER BY s.id DESC LIMIT ?", pack, most)
	return out, plain(err)
}

// SentOn tells whether something was sent of a pack on an occasion.
func (s *Store) SentOn(ctx context.Context, pack, occasion string) (yes bool, err error) {
	yes, err = sentOn(ctx, s.readers, pack, occasion)
	return yes, plain(err)
}

func sentOn(ctx context.Context, q sqlx.QueryerContext, pack, occasion string) (yes bool, err error) {
	err = sqlx.GetContext(ctx, q, &yes, "SELECT EXISTS (SELECT 1 FROM sending WHERE pack = ? AND occasion = ?)", pack, occasion)
	return yes, err
}

// SendingOf gives one by its id, or by the hash of its token; nil where there is none.
func (s *Store) SendingOf(ctx context.Context, id int64, hash []byte) (*Sending, error) {
	var out []Sending
	if err := s.readers.SelectContext(ctx, &out, sendings+"WHERE s.id = ? OR s.hash = ?", id, hash); err != nil || len(out) == 0 {
		return nil, plain(err)
	}
	return &out[0], nil
}

// Opened counts that one was opened at a moment.
func (s *Store) Opened(ctx context.Context, id, at int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, "UPDATE sending SET opens = opens + 1, opened = CASE opened WHEN 0 THEN ? ELSE opened END WHERE id = ?", at, id)
		return err
	})
}

// RevokeSending ends the link of one at a moment.
func (s *Store) RevokeSending(ctx context.Context, id, at int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := revoke(ctx, tx, id, at)
		return err
	})
}

// revoke ends a link, and tells whether it had not ended before.
func revoke(ctx context.Context, tx *sqlx.Tx, id, at int64) (ended bool, err error) {
	r, err := tx.ExecContext(ctx, "UPDATE sending SET revoked = ? WHERE id = ? AND revoked = 0", at, id)
	if err != nil {
		return false, err
	}
	n, err := r.RowsAffected()
	return n > 0, err
}
