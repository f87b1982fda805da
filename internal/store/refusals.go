package store

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"
)

// Refusal is a row that was not taken, with its cells as text by head. Waits is
// the column whose code nothing matched, where that is why.
type Refusal struct {
	ID       int64
	Batch    int64
	At       int64 // of the batch
	File     int32
	Line     int32
	Field    string
	Value    string
	Reason   string
	Cells    map[string]string
	Waits    string
	Amount   string // a plain decimal, or ""
	Currency string
	State    string
	Why      string // it was dropped
}

// The states of a refused row: it waits for someone, was mended and taken, was
// dropped with a reason, or its run was undone.
const (
	Waiting = "waiting"
	Mended  = "mended"
	Dropped = "dropped"
	Undone  = "undone"
)

// Settled says what became of refused rows.
type Settled struct {
	IDs   []int64
	State string
	Why   string
}

func writeRefusal(ctx context.Context, tx *sqlx.Tx, batch int64, r *Refusal) error {
	cells, err := json.Marshal(r.Cells)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(
		ctx,
		`INSERT INTO refusal (batch, file, line, field, value, reason, cells, waits, amount, currency) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
ON CONFLICT (file, line, field, reason) DO UPDATE SET batch = excluded.batch, value = excluded.value, cells = excluded.cells, waits = excluded.waits, amount = excluded.amount, currency = excluded.currency, state = 'waiting', settled = 0, why = ''`,
		batch,
		r.File,
		r.Line,
		r.Field,
		r.Value,
		r.Reason,
		string(cells),
		r.Waits,
		r.Amount,
		r.Currency,
	)
	return err
}

// settle marks refused rows; one that is no longer waiting stays as it is.
func settle(ctx context.Context, tx *sqlx.Tx, batch int64, b *Batch) error {
	for _, s := range b.Settled {
		for _, id := range s.IDs {
			if _, err := tx.ExecContext(ctx, "UPDATE refusal SET state = ?, settled = ?, why = ? WHERE id = ? AND state = 'waiting'", s.State, batch, s.Why, id); err != nil {
				return err
			}
		}
	}
	return nil
}

// RefusalsOf lists the refused rows of a file, but for those of undone runs.
func (s *Store) RefusalsOf(ctx context.Context, file int32) ([]Refusal, error) {
	return s.refusals(ctx, "WHERE r.file = ? AND r.state <> 'undone'", file)
}

// AllRefusalsWaiting tells how many refused rows wait for someone.
func (s *Store) AllRefusalsWaiting(ctx context.Context) (n int, err error) {
	err = s.readers.GetContext(
		ctx,
		&n,
		"SELECT count(*) FROM (SELECT DISTINCT file, line FROM refusal WHERE state = 'waiting')",
	)
	return n, plain(err)
}

// Refusals lists refused rows by file and line: those of a batch, or with zero
// of all; of one state, or with "" of all.
func (s *Store) Refusals(ctx context.Context, batch int64, state string, most int) ([]Refusal, error) {
	return s.refusals(
		ctx,
		"WHERE (?1 = 0 OR r.batch = ?1) AND (?2 = '' OR r.state = ?2) ORDER BY r.file, r.line, r.id LIMIT ?3",
		batch,
		state,
		most,
	)
}

// RefusalsFor lists the rows that wait for a code.
func (s *Store) RefusalsFor(ctx context.Context, column, code string) ([]Refusal, error) {
	return s.refusals(
		ctx,
		"WHERE r.state = 'waiting' AND r.waits = ? AND r.value = ? ORDER BY r.file, r.line, r.id",
		column,
		code,
	)
}

// RefusalsByID gives refused rows by id, by file and line.
func (s *Store) RefusalsByID(ctx context.Context, ids []int64) ([]Refusal, error) {
	if len(ids) == 0 {
		return nil, nil
	}
	args := make([]any, len(ids))
	for i, id := range ids {
		args[i] = id
	}
	return s.refusals(
		ctx,
		"WHERE r.id IN (?"+strings.Repeat(", ?", len(ids)-1)+") ORDER BY r.file, r.line, r.id",
		args...)
}

func (s *Store) refusals(ctx context.Context, where string, args ...any) ([]Refusal, error) {
	rows, err := s.readers.QueryContext(
		ctx,
		`SELECT r.id, r.batch, b.at, r.file, r.line, r.field, r.value, r.reason, r.cells, r.waits, r.amount, r.currency, r.state, r.why
FROM refusal r JOIN batch b ON b.id = r.batch `+where,
		args...)
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	var out []Refusal
	for rows.Next() {
		var r Refusal
		var cells string
		if err := rows.Scan(&r.ID, &r.Batch, &r.At, &r.File, &r.Line, &r.Field, &r.Value, &r.Reason, &cells, &r.Waits, &r.Amount, &r.Currency, &r.State, &r.Why); err != nil {
			return nil, err
		}
		if err := json.Unmarshal([]byte(cells), &r.Cells); err != nil {
			return nil, fmt.Errorf("refused row %d: %w", r.ID, err)
		}
		out = append(out, r)
	}
	return out, plain(rows.Err())
}

// WaitingCode is a code that nothing matches, with what waits for it.
type WaitingCode struct {
	Column, Code string
	Rows         int
	Amounts      string // of the rows: "100.00 EUR" one after the other, between bars
	Since        int64  // when the first came
	Files        string // names, with commas
}

// WaitingCodes lists the codes that rows wait for, those of most rows first.
func (s *Store) WaitingCodes(ctx context.Context) ([]WaitingCode, error) {
	rows, err := s.readers.QueryContext(
		ctx,
		`SELECT r.waits, r.value, count(*), group_concat(r.amount || ' ' || r.currency, '|'), min(b.at), group_concat(DISTINCT f.name)
FROM refusal r JOIN batch b ON b.id = r.batch JOIN file f ON f.id = r.file WHERE r.state = 'waiting' AND r.waits <> '' GROUP BY r.waits, r.value ORDER BY count(*) DESC, r.value`,
	)
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	var out []WaitingCode
	for rows.Next() {
		var w WaitingCode
		if err := rows.Scan(&w.Column, &w.Code, &w.Rows, &w.Amounts, &w.Since, &w.Files); err != nil {
			return nil, err
		}
		out = append(out, w)
	}
	return out, plain(rows.Err())
}
