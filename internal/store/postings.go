package store

import (
	"context"
	"hash/fnv"
	"strings"

	"turret/internal/core/finding"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/store/format"
)

// Posting is a booked ledger line.
type Posting = format.Posting

// PostingKey tells postings apart by the hash of their code.
func PostingKey(code string) int64 {
	h := fnv.New64a()
	h.Write([]byte(code))
	return int64(h.Sum64())
}

// Known is what a gather needs to know of a posting that is there already.
type Known struct {
	ID     int64
	Digest int64
	Period int32
}

// Ledger is what a gather knows of all postings, by PostingKey. It does not change.
type Ledger struct {
	Known    map[int64]Known
	revision int64
	last     int64 // the highest id
}

// Ledger reads what a gather needs to know of all postings; where one was read before and
// no posting has come, changed or gone since, that one holds still.
func (s *Store) Ledger(ctx context.Context, was *Ledger) (*Ledger, error) {
	var now struct{ Revision, Last, N int64 }
	if err := s.readers.GetContext(ctx, &now, "SELECT (SELECT coalesce(max(id), 0) FROM batch) AS revision, (SELECT coalesce(max(id), 0) FROM posting) AS last, (SELECT count(*) FROM posting) AS n"); err != nil {
		return nil, plain(err)
	}
	if was != nil && was.last == now.Last && int64(len(was.Known)) == now.N {
		var moved bool
		err := s.readers.GetContext(
			ctx, &moved, "SELECT EXISTS (SELECT 1 FROM change WHERE batch > ?1 AND tbl = 'posting') OR EXISTS (SELECT 1 FROM batch WHERE undone > ?1)", was.revision,
		)
		if err != nil {
			return nil, plain(err)
		}
		if !moved {
			return was, nil
		}
	}
	out := &Ledger{Known: make(map[int64]Known, now.N), revision: now.Revision, last: now.Last}
	if now.N == 0 {
		return out, nil
	}
	rows, err := s.readers.QueryContext(ctx, "SELECT id, posting, digest, period FROM posting")
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	for rows.Next() {
		var k Known
		var code string
		if err := rows.Scan(&k.ID, &code, &k.Digest, &k.Period); err != nil {
			return nil, plain(err)
		}
		out.Known[PostingKey(code)] = k
	}
	return out, plain(rows.Err())
}

const postingColumns = "id, posting, day, period, late, project, cost_code, class, cost_centre, activity, amount, currency, supplier, text, digest, file, line, extra"

type postingRow struct {
	ID         int64
	Posting    string
	Day        int32
	Period     int32
	Late       bool
	Project    int64
	CostCode   int64 `db:"cost_code"`
	Class      string
	CostCentre string `db:"cost_centre"`
	Activity   int64
	Amount     int64
	Currency   string
	Supplier   string
	Text       string
	Digest     int64
	File       int32
	Line       int32
	Extra      *string
	Batch      int32
}

func (r *postingRow) posting() Posting {
	return Posting{
		ID: r.ID, Code: r.Posting, Day: r.Day, Period: r.Period, Late: r.Late, Project: r.Project, CostCode: r.CostCode, Class: r.Class, Centre: r.CostCentre,
		Activity: r.Activity, Amount: r.Amount, Currency: money.Currency(r.Currency), Supplier: r.Supplier, Text: r.Text, Extra: decodeExtra(r.Extra), Source: portfolio.Source{File: r.File, Row: r.Line}, Batch: r.Batch,
	}
}

// Posting gives one posting by id.
func (s *Store) Posting(ctx context.Context, id int64) (Posting, error) {
	var r postingRow
	err := s.readers.GetContext(ctx, &r, "SELECT "+postingColumns+", batch FROM posting WHERE id = ?", id)
	return r.posting(), plain(err)
}

// PostingsOf lists the postings of a project by id.
func (s *Store) PostingsOf(ctx context.Context, project int64) ([]Posting, error) {
	return s.postings(ctx, "WHERE project = ? ORDER BY id", project)
}

// EachPosting hands over every posting by id.
func (s *Store) EachPosting(ctx context.Context, each func(*Posting) error) error {
	rows, err := s.readers.QueryxContext(ctx, "SELECT "+postingColumns+", batch FROM posting ORDER BY id")
	if err != nil {
		return plain(err)
	}
	defer rows.Close()
	for rows.Next() {
		var r postingRow
		if err := rows.StructScan(&r); err != nil {
			return err
		}
		p := r.posting()
		if err := each(&p); err != nil {
			return err
		}
	}
	return plain(rows.Err())
}

// PostingOf gives the posting of a number; nil where there is none.
func (s *Store) PostingOf(ctx context.Context, code string) (*Posting, error) {
	list, err := s.postings(ctx, "WHERE posting = ?", code)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	return &list[0], nil
}

func (s *Store) postings(ctx context.Context, where string, args ...any) ([]Posting, error) {
	var rows []postingRow
	if err := s.readers.SelectContext(ctx, &rows, "SELECT "+postingColumns+", batch FROM posting "+where, args...); err != nil {
		return nil, plain(err)
	}
	out := make([]Posting, len(rows))
	for i := range rows {
		out[i] = rows[i].posting()
	}
	return out, nil
}

// PostedThrough sums the postings of periods up to one by currency, in minor
// units, and counts them.
func (s *Store) PostedThrough(ctx context.Context, period int64) (sums map[string]int64, n int, err error) {
	var rows []struct {
		Currency string
		Sum      int64
		N        int
	}
	if err := s.readers.SelectContext(ctx, &rows, "SELECT currency, sum(amount) AS sum, count(*) AS n FROM posting WHERE period <= ? GROUP BY currency", period); err != nil {
		return nil, 0, plain(err)
	}
	sums = make(map[string]int64)
	for _, r := range rows {
		sums[r.Currency] = r.Sum
		n += r.N
	}
	return sums, n, nil
}

// CorrectedThrough counts the postings of periods up to one that a later batch which still
// stands has changed.
func (s *Store) CorrectedThrough(ctx context.Context, period int64) (n int, err error) {
	err = s.readers.GetContext(
		ctx,
		&n,
		"SELECT count(DISTINCT c.record) FROM change c JOIN posting p ON p.id = c.record WHERE c.tbl = 'posting' AND p.period <= ? AND c.batch"+stands,
		period,
	)
	return n, plain(err)
}

// postedTwice finds postings that say the same in period ?1, of all projects or of ?2
// alone. The index tells which may be the same; those alone are compared in full, found
// one by one, whatever the planner thinks (CROSS JOIN).
func postedTwice(alone bool) string {
	one := ""
	if alone {
		one = " AND project = ?2"
	}
	return `WITH may AS MATERIALIZED (
  SELECT project, amount, day, cost_code FROM posting INDEXED BY posting_same WHERE period = ?1` + one + ` AND amount <> 0 AND (supplier <> '' OR text <> '')
  GROUP BY project, amount, day, cost_code HAVING count(*) > 1),
g AS (
  SELECT min(x.id) AS first, x.project, x.day, x.cost_code, x.class, x.cost_centre, x.activity, x.amount, x.currency, x.supplier, x.text
  FROM may CROSS JOIN posting x ON x.period = ?1 AND x.project = may.project AND x.amount = may.amount AND x.day IS may.day AND x.cost_code = may.cost_code
  WHERE x.supplier <> '' OR x.text <> '' GROUP BY 2, 3, 4, 5, 6, 7, 8, 9, 10, 11 HAVING count(*) > 1)
SELECT p.project, f.posting, p.posting, p.cost_code, p.amount, p.currency, p.file, p.line, f.file, f.line FROM g CROSS JOIN posting f ON f.id = g.first
CROSS JOIN posting p ON p.period = ?1 AND p.project = g.project AND p.id <> g.first AND p.day IS g.day AND p.cost_code = g.cost_code AND p.class = g.class AND p.cost_centre = g.cost_centre
  AND p.activity = g.activity AND p.amount = g.amount AND p.currency = g.currency AND p.supplier = g.supplier AND p.text = g.text AND (p.supplier <> '' OR p.text <> '') ORDER BY p.id`
}

// PostedTwice gives the postings of a period that say the same as an earlier one of
// their project: day, place, amount, supplier and text, one of the last two being
// there. They are those of one project, or of all with zero, by project.
func (s *Store) PostedTwice(ctx context.Context, project, period int64) (map[int64][]finding.Twice, error) {
	rows, err := s.readers.QueryContext(ctx, postedTwice(project != 0), period, project)
	if err != nil {
		return nil, plain(err)
	}
	defer rows.Close()
	out := make(map[int64][]finding.Twice)
	for rows.Next() {
		var of int64
		var t finding.Twice
		if err := rows.Scan(&of, &t.First, &t.Posting, &t.CodeID, &t.Amount, &t.Currency, &t.Source.File, &t.Source.Row, &t.Against.File, &t.Against.Row); err != nil {
			return nil, err
		}
		out[of] = append(out[of], t)
	}
	return out, plain(rows.Err())
}

// SupplierSum is what a supplier was booked on a project in one currency, in its
// minor units.
type SupplierSum struct {
	Project  int64
	Supplier string
	Currency string
	Sum      int64
}

// SuppliersChangedSince lists the projects that have postings whose supplier was
// changed by a later batch.
func (s *Store) SuppliersChangedSince(ctx context.Context, batch int64) (projects []int64, err error) {
	err = s.readers.SelectContext(
		ctx,
		&projects,
		"SELECT DISTINCT p.project FROM change c JOIN posting p ON p.id = c.record WHERE c.batch > ? AND c.tbl = 'posting' AND c.field = 'supplier'",
		batch,
	)
	return projects, plain(err)
}

// SupplierSums sums the postings of projects through a period by supplier, those
// that name none left out.
func (s *Store) SupplierSums(ctx context.Context, projects []int64, period int64) (out []SupplierSum, err error) {
	for len(projects) > 0 {
		n := min(len(projects), 500)
		args := []any{period}
		for _, id := range projects[:n] {
			args = append(args, id)
		}
		var some []SupplierSum
		err := s.readers.SelectContext(
			ctx,
			&some,
			"SELECT project, supplier, currency, sum(amount) AS sum FROM posting WHERE period <= ? AND supplier != '' AND project IN (?"+strings.Repeat(
				", ?",
				n-1,
			)+") GROUP BY project, supplier, currency",
			args...)
		if err != nil {
			return nil, plain(err)
		}
		out, projects = append(out, some...), projects[n:]
	}
	return out, nil
}
