package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"turret/internal/core/money"
)

// PostingSum is what postings of a file add up to on a project's cost code, in a period.
type PostingSum struct {
	File     int32
	Period   int32
	Project  int64
	CostCode int64 `db:"cost_code"`
	Currency money.Currency
	Amount   int64
	Rows     int
	Batch    int64 // the last that wrote one of them
}

// PostingSums adds up the postings of projects in a period, by file, project, cost code and
// currency.
func (s *Store) PostingSums(ctx context.Context, projects []int64, period int) (out []PostingSum, err error) {
	if len(projects) == 0 {
		return nil, nil
	}
	query, args, err := sqlx.In(
		`SELECT file, period, project, cost_code, currency, sum(amount) AS amount, count(*) AS rows, max(batch) AS batch FROM posting
WHERE project IN (?) AND period = ? GROUP BY file, project, cost_code, currency`, projects, period)
	if err != nil {
		return nil, err
	}
	return out, plain(s.readers.SelectContext(ctx, &out, query, args...))
}

// RefusedAmounts lists the rows with an amount that were not taken: that wait, or were
// dropped.
func (s *Store) RefusedAmounts(ctx context.Context) ([]Refusal, error) {
	return s.refusals(ctx, "WHERE r.state IN ('waiting', 'dropped') AND r.amount <> '' ORDER BY r.file, r.line, r.id")
}
