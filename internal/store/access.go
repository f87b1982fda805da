package store

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"
)

// Access is an entry of the log of access: who came, was refused, or took what. Moments are
// UTC milliseconds.
type Access struct {
	ID      int64  `db:"id"`
	At      int64  `db:"at"`
	Account int64  `db:"account"` // zero: nobody's, or the command line's
	Name    string `db:"name"`
	Source  string `db:"source"` // an address, or the machine's user
	What    string `db:"what"`
	Detail  string `db:"detail"`
	Hash    []byte `db:"hash"`
}

// after is the hash of an entry that follows another, by that one's hash: over what was said,
// in the tagged form that is kept for ever.
func (a *Access) after(last []byte) ([]byte, error) {
	said, err := json.Marshal(struct {
		ID      int64  `json:"id"`
		At      int64  `json:"at"`
		Account int64  `json:"account"`
		Name    string `json:"name"`
		Source  string `json:"source"`
		What    string `json:"what"`
		Detail  string `json:"detail"`
	}{a.ID, a.At, a.Account, a.Name, a.Source, a.What, a.Detail})
	if err != nil {
		return nil, err
	}
	sum := sha256.Sum256(append(bytes.Clone(last), said...))
	return sum[:], nil
}

// accessEnds are the hashes before the first entry that is kept, and of the last.
type accessEnds struct {
	First []byte `db:"first"`
	Last  []byte `db:"last"`
}

const readEnds = "SELECT first, last FROM access_ends"

// LogAccess adds an entry to the log of access, behind the last, and drops those that are
// older than a moment.
func (s *Store) LogAccess(ctx context.Context, a Access, forget int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		var ends accessEnds
		if err := tx.GetContext(ctx, &ends, readEnds); err != nil {
			return err
		}
		if err := tx.GetContext(ctx, &a.ID, "SELECT coalesce(max(id), 0) + 1 FROM access"); err != nil {
			return err
		}
		for _, text := range []*string{&a.Name, &a.Source, &a.What, &a.Detail} {
			*text = strings.ToValidUTF8(*text, "�")
		}
		hash, err := a.after(ends.Last)
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, "INSERT INTO access (id, at, account, name, source, what, detail, hash) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
			a.ID, a.At, a.Account, a.Name, a.Source, a.What, a.Detail, hash); err != nil {
			return err
		}
		if _, err = tx.ExecContext(ctx, "UPDATE access_ends SET last = ?", hash); err != nil {
			return err
		}
		return forgetAccess(ctx, tx, forget)
	})
}

// forgetAccess drops the entries that are older than a moment, but never the last.
func forgetAccess(ctx context.Context, tx *sqlx.Tx, before int64) error {
	var old []Access
	const which = "SELECT * FROM access WHERE at < ? AND id < (SELECT max(id) FROM access) ORDER BY id DESC LIMIT 1"
	if err := tx.SelectContext(ctx, &old, which, before); err != nil || len(old) == 0 {
		return err
	}
	if _, err := tx.ExecContext(ctx, "DELETE FROM access WHERE id <= ?", old[0].ID); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, "UPDATE access_ends SET first = ?", old[0].Hash)
	return err
}

// AccessAsk says which entries of the log of access are asked for: of those whose person,
// source or detail has a text, of some kinds, from a moment on and before another, and before
// an entry; zero and none ask for all.
type AccessAsk struct {
	Text        string
	What        []string
	From, Until int64
	Before      int64
	Most        int
}

// AccessLog lists entries of the log of access, the last first.
func (s *Store) AccessLog(ctx context.Context, ask AccessAsk) (out []Access, err error) {
	query := "SELECT * FROM access WHERE (? = '' OR instr(lower(name || char(10) || source || char(10) || detail), lower(?)) > 0) AND at >= ? AND (? = 0 OR at < ?) AND (? = 0 OR id < ?)"
	args := []any{ask.Text, ask.Text, ask.From, ask.Until, ask.Until, ask.Before, ask.Before}
	if len(ask.What) > 0 {
		in, some, err := sqlx.In(" AND what IN (?)", ask.What)
		if err != nil {
			return nil, err
		}
		query, args = query+in, append(args, some...)
	}
	err = s.readers.SelectContext(ctx, &out, query+" ORDER BY id DESC LIMIT ?", append(args, ask.Most)...)
	return out, plain(err)
}

// verifyAccess follows the log of access from its first entry to its last.
func verifyAccess(ctx context.Context, db *sqlx.DB) error {
	var ends accessEnds
	if err := db.GetContext(ctx, &ends, readEnds); err != nil {
		return fmt.Errorf("the log of access has lost its ends: %w", err)
	}
	rows, err := db.QueryxContext(ctx, "SELECT * FROM access ORDER BY id")
	if err != nil {
		return err
	}
	defer rows.Close()
	last := ends.First
	for rows.Next() {
		var a Access
		if err := rows.StructScan(&a); err != nil {
			return fmt.Errorf("the log of access cannot be read: %w", err)
		}
		hash, err := a.after(last)
		if err != nil {
			return err
		}
		if !bytes.Equal(hash, a.Hash) {
			return fmt.Errorf("the log of access was altered at or before its entry %d", a.ID)
		}
		last = hash
	}
	if err := plain(rows.Err()); err != nil {
		return err
	}
	if !bytes.Equal(last, ends.Last) {
		return fmt.Errorf("the log of access has lost its last entries")
	}
	return nil
}
