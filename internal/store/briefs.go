package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"

	"turret/internal/store/format"
)

// Brief is a brief that was made.
type Brief struct {
	ID          int64
	Title       string
	Spec        string // JSON
	Period      int64
	Hash        []byte // of the inputs
	At          int64
	Actor       string
	Leaves      int
	Withdrawn   sql.NullString
	WithdrawnBy sql.NullString `db:"withdrawn_by"`
	WithdrawnAt sql.NullInt64  `db:"withdrawn_at"`
	Forms       string         // in which it was made, with commas
}

const briefColumns = "SELECT id, title, spec, period, hash, at, actor, leaves, withdrawn, withdrawn_by, withdrawn_at, (SELECT coalesce(group_concat(form), '') FROM brief_form WHERE brief = brief.id) AS forms FROM brief "

// SaveBrief keeps a brief with its forms, by name such as pdf.
func (s *Store) SaveBrief(ctx context.Context, b Brief, forms map[string][]byte) (id int64, err error) {
	packed := make(map[string][]byte, len(forms))
	for name, body := range forms {
		packed[name] = format.Compress(body)
	}
	err = s.write(ctx, func(tx *sqlx.Tx) error {
		if err := tx.GetContext(ctx, &id, "INSERT INTO brief (title, spec, period, hash, at, actor, leaves) VALUES (?, ?, ?, ?, ?, ?, ?) RETURNING id", b.Title, b.Spec, b.Period, b.Hash, b.At, b.Actor, b.Leaves); err != nil {
			return err
		}
		for name, body := range forms {
			sum := sha256.Sum256(body)
			if _, err := tx.ExecContext(ctx, "INSERT INTO brief_form (brief, form, sum, body) VALUES (?, ?, ?, ?)", id, name, sum[:], packed[name]); err != nil {
				return err
			}
		}
		return nil
	})
	return id, err
}

// Briefs lists the briefs that were made, the last first.
func (s *Store) Briefs(ctx context.Context) (out []Brief, err error) {
	err = s.readers.SelectContext(ctx, &out, briefColumns+"ORDER BY id DESC")
	return out, plain(err)
}

// BriefOf gives a brief; nil where there is none.
func (s *Store) BriefOf(ctx context.Context, id int64) (*Brief, error) {
	var b Brief
	err := s.readers.GetContext(ctx, &b, briefColumns+"WHERE id = ?", id)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return &b, plain(err)
}

// BriefForm gives a form of a brief as it was made; nil where there is none.
// One whose bytes are no longer those is an error.
func (s *Store) BriefForm(ctx context.Context, id int64, form string) ([]byte, error) {
	var row struct{ Sum, Body []byte }
	err := s.readers.GetContext(ctx, &row, "SELECT sum, body FROM brief_form WHERE brief = ? AND form = ?", id, form)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, plain(err)
	}
	body, err := format.Expand(row.Body)
	if sum := sha256.Sum256(body); err != nil || string(sum[:]) != string(row.Sum) {
		return nil, fmt.Errorf("brief %d: its %s is not what was made: %w", id, form, ErrDamaged)
	}
	return body, nil
}

// WithdrawBrief marks a brief as withdrawn; one that is stays as it is.
func (s *Store) WithdrawBrief(ctx context.Context, id int64, why, by string, at int64) error {
	return s.write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(
			ctx,
			"UPDATE brief SET withdrawn = ?, withdrawn_by = ?, withdrawn_at = ? WHERE id = ? AND withdrawn IS NULL",
			why,
			by,
			at,
			id,
		)
		return err
	})
}

// BatchAt tells when a batch was written; zero where there is none.
func (s *Store) BatchAt(ctx context.Context, id int64) (at int64, err error) {
	err = s.readers.GetContext(ctx, &at, "SELECT coalesce(max(at), 0) FROM batch WHERE id = ?", id)
	return at, plain(err)
}
