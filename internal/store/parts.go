package store

import (
	"context"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"

	"turret/internal/core/portfolio"
	"turret/internal/store/format"
)

// Stated points to the part in force.
type Stated struct {
	portfolio.Part
	ID    int64 // of the part
	Batch int64
}

// StatedParts lists every part in force, by project, kind and version.
func (s *Store) StatedParts(ctx context.Context) ([]Stated, error) {
	return stated(ctx, s.readers, "ORDER BY project, kind, version")
}

// StatedSince lists the parts in force that batches after one changed, in any
// order.
func (s *Store) StatedSince(ctx context.Context, batch int64) ([]Stated, error) {
	return stated(ctx, s.readers, "WHERE batch > ?", batch)
}

func stated(ctx context.Context, q sqlx.QueryerContext, rest string, args ...any) ([]Stated, error) {
	rows, err := q.QueryxContext(ctx, "SELECT project, kind, version, part, batch FROM stated "+rest, args...)
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	var out []Stated
	for rows.Next() {
		var x Stated
		if err := rows.Scan(&x.Project, &x.Kind, &x.Version, &x.ID, &x.Batch); err != nil {
			return nil, err
		}
		out = append(out, x)
	}
	return out, plain(rows.Err())
}

// MissingPart is the error of a part that is pointed to and is not there. It is
// ErrDamaged.
type MissingPart struct{ ID int64 }

func (m *MissingPart) Error() string { return fmt.Sprintf("part %d is not in the database", m.ID) }

// Is tells that a database that lacks a part is damaged.
func (m *MissingPart) Is(target error) bool { return target == ErrDamaged }

// Bodies reads parts by id and hands them over in any order, each once. The body
// is the receiver's. One that is not there is a *MissingPart, one that was altered
// ErrDamaged.
func (s *Store) Bodies(ctx context.Context, ids []int64, each func(id int64, body []byte) error) error {
	for len(ids) > 0 {
		n := min(len(ids), 200)
		if err := s.someBodies(ctx, ids[:n], each); err != nil {
			return err
		}
		ids = ids[n:]
	}
	return nil
}

func (s *Store) someBodies(ctx context.Context, ids []int64, each func(id int64, body []byte) error) error {
	s.bodies.Add(int64(len(ids)))
	args := make([]any, len(ids))
	left := make(map[int64]bool, len(ids))
	for i, id := range ids {
		args[i], left[id] = id, true
	}
	rows, err := s.readers.QueryContext(
		ctx,
		"SELECT id, hash, body FROM part WHERE id IN (?"+strings.Repeat(", ?", len(ids)-1)+")",
		args...)
	if err != nil {
		return plain(err)
	}
	defer rows.Close()
	for rows.Next() {
		var id int64
		var hash, body []byte
		if err := rows.Scan(&id, &hash, &body); err != nil {
			return err
		}
		if len(hash) != 32 {
			return fmt.Errorf("part %d %w: it has no hash", id, ErrDamaged)
		}
		if err := format.Sound(body, [32]byte(hash), false); err != nil {
			return fmt.Errorf("part %d: %w", id, err)
		}
		if err := each(id, body); err != nil {
			return fmt.Errorf("part %d: %w", id, err)
		}
		delete(left, id)
	}
	if err := rows.Err(); err != nil {
		return plain(err)
	}
	for _, id := range ids {
		if left[id] {
			return &MissingPart{id}
		}
	}
	return nil
}

// Hashes gives the content hash of every part that is stated, by id.
func (s *Store) Hashes(ctx context.Context) (map[int64][32]byte, error) {
	rows, err := s.readers.QueryContext(ctx, "SELECT id, hash FROM part WHERE id IN (SELECT part FROM stated)")
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	out := make(map[int64][32]byte)
	for rows.Next() {
		var id int64
		var hash []byte
		if err := rows.Scan(&id, &hash); err != nil {
			return nil, err
		}
		if len(hash) != 32 {
			return nil, fmt.Errorf("part %d %w: it has no hash", id, ErrDamaged)
		}
		out[id] = [32]byte(hash)
	}
	return out, plain(rows.Err())
}

// PartChange is a part as it becomes. Before is the id of the part that was in
// force, or zero.
type PartChange struct {
	portfolio.Part
	Body   []byte
	Before int64
}

const perStatement = 50 // rows written by one statement

// chunks calls f with the bounds of runs of at most perStatement.
func chunks(n int, f func(from, to int) error) error {
	for i := 0; i < n; i += perStatement {
		if err := f(i, min(i+perStatement, n)); err != nil {
			return err
		}
	}
	return nil
}

func values(rows, columns int) string {
	row := "(?" + strings.Repeat(", ?", columns-1) + ")"
	return row + strings.Repeat(", "+row, rows-1)
}

func writeParts(ctx context.Context, tx *sqlx.Tx, batch int64, list []PartChange, hashes [][32]byte) error {
	ids := make([]int64, len(list))
	known := make(map[[32]byte]int64)
	var next int64
	if err := tx.GetContext(ctx, &next, "SELECT coalesce(max(id), 0) + 1 FROM part"); err != nil {
		return err
	}
	err := chunks(len(list), func(from, to int) error {
		args := make([]any, 0, to-from)
		for i := from; i < to; i++ {
			args = append(args, hashes[i][:])
		}
		rows, err := tx.QueryContext(
			ctx,
			"SELECT id, hash FROM part WHERE hash IN (?"+strings.Repeat(", ?", to-from-1)+")",
			args...)
		if err != nil {
			return err
		}
		defer rows.Close()
		for rows.Next() {
			var id int64
			var hash []byte
			if err := rows.Scan(&id, &hash); err != nil {
				return err
			}
			known[[32]byte(hash)] = id
		}
		return plain(rows.Err())
	})
	if err != nil {
		return err
	}
	var fresh []int
	for i := range list {
		id, ok := known[hashes[i]]
		if !ok {
			id = next
			next++
			known[hashes[i]] = id
			fresh = append(fresh, i)
		}
		ids[i] = id
	}
	err = chunks(len(fresh), func(from, to int) error {
		args := make([]any, 0, 3*(to-from))
		for _, i := range fresh[from:to] {
			args = append(args, ids[i], hashes[i][:], list[i].Body)
		}
		_, err := tx.ExecContext(ctx, "INSERT INTO part (id, hash, body) VALUES "+values(to-from, 3), args...)
		return err
	})
	if err != nil {
		return err
	}
	return chunks(len(list), func(from, to int) error {
		var now, kept []any
		for i := from; i < to; i++ {
			c := &list[i]
			now = append(now, c.Project, c.Kind, c.Version, ids[i], batch)
			var before any
			if c.Before != 0 {
				before = c.Before
			}
			kept = append(kept, batch, c.Project, c.Kind, c.Version, before, ids[i])
		}
		if _, err := tx.ExecContext(ctx, "INSERT INTO stated (project, kind, version, part, batch) VALUES "+values(to-from, 5)+" ON CONFLICT (project, kind, version) DO UPDATE SET part = excluded.part, batch = excluded.batch", now...); err != nil {
			return err
		}
		_, err := tx.ExecContext(
			ctx,
			"INSERT INTO part_change (batch, project, kind, version, before, after) VALUES "+values(to-from, 6),
			kept...)
		return err
	})
}

// PlanChange is a plan, or baseline dates, that a batch changed under the same
// number.
type PlanChange struct {
	portfolio.Part
	Before int64 // the part as it was
}

// PlansChanged lists plans and baseline dates that batches after one, up to
// another, changed under the same number, the earliest first.
func (s *Store) PlansChanged(ctx context.Context, after, upTo int64) (out []PlanChange, err error) {
	rows, err := s.readers.QueryContext(
		ctx,
		"SELECT project, kind, version, before FROM part_change WHERE batch > ? AND batch <= ? AND before IS NOT NULL AND kind IN (?, ?) ORDER BY batch, rowid",
		after,
		upTo,
		portfolio.PlanPart,
		portfolio.BaselinePart,
	)
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	for rows.Next() {
		var c PlanChange
		if err := rows.Scan(&c.Project, &c.Kind, &c.Version, &c.Before); err != nil {
			return nil, err
		}
		out = append(out, c)
	}
	return out, plain(rows.Err())
}
