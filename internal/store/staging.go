package store

import (
	"context"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"

	"turret/internal/store/format"
)

// stagedFrom is how many postings are worth laying ready before others are kept from
// writing.
const stagedFrom = 1000

// stage lays postings ready in a table of the writer's own, while others write. Commit
// takes them from there in one step, so that it holds others up for less.
func (s *Store) stage(ctx context.Context, list []Posting) error {
	if len(list) < stagedFrom || s.writer == nil {
		return nil
	}
	c, err := s.writer.Connx(ctx)
	if err != nil {
		return plain(err)
	}
	defer c.Close()
	if _, ok := fitting(s.staged, list); ok { // of a try before; the connection is ours alone
		return nil
	}
	s.staged = nil
	for _, q := range []string{"CREATE TEMP TABLE IF NOT EXISTS staged (" + strings.Replace(postingColumns, "id,", "id INTEGER PRIMARY KEY,", 1) + ")", "PRAGMA temp.cache_size = -4096", "BEGIN DEFERRED", "DELETE FROM staged"} {
		if _, err := c.ExecContext(ctx, q); err != nil {
			return plain(err)
		}
	}
	err = fill(ctx, c, "INSERT INTO staged ("+postingColumns+")", "", list, nil)
	end := "COMMIT"
	if err != nil {
		end = "ROLLBACK"
	}
	if _, e := c.ExecContext(context.WithoutCancel(ctx), end); err == nil {
		err = e
	}
	if err == nil {
		s.staged = list
	}
	return plain(err)
}

// unstage throws away what was laid ready.
func (s *Store) unstage(ctx context.Context) {
	if s.writer == nil {
		return
	}
	c, err := s.writer.Connx(ctx)
	if err != nil {
		return // it goes with the connection
	}
	defer c.Close()
	if s.staged != nil {
		s.staged = nil
		_, _ = c.ExecContext(ctx, "DELETE FROM staged") // nothing takes it any more
	}
}

// fitting tells whether postings are those that were laid ready, but for the numbers of
// their files, which are moved by as much in all of them.
func fitting(staged, list []Posting) (moved int32, ok bool) {
	if len(staged) != len(list) || len(list) == 0 {
		return 0, false
	}
	moved = list[0].Source.File - staged[0].Source.File
	for i := range list {
		if list[i].Source.File-staged[i].Source.File != moved || !list[i].Same(&staged[i]) {
			return 0, false
		}
	}
	return moved, true
}

// writePostings writes postings, of which some may replace others.
func (s *Store) writePostings(ctx context.Context, tx *sqlx.Tx, batch int64, list []Posting) error {
	for i := range list {
		p := &list[i]
		if p.Was == nil {
			continue
		}
		if err := keepChange(ctx, tx, batch, "posting", p.ID, "row", format.EncodePosting(p.Was), format.EncodePosting(p)); err != nil {
			return err
		}
	}
	if moved, ok := fitting(s.staged, list); ok {
		columns := strings.Replace(postingColumns, ", file,", fmt.Sprintf(", file + %d,", moved), 1)
		_, err := tx.ExecContext(
			ctx, fmt.Sprintf("INSERT INTO posting (%s, batch) SELECT %s, ? FROM temp.staged WHERE true ORDER BY id%s", postingColumns, columns, replacing()), batch,
		)
		return err
	}
	return fill(ctx, tx, "INSERT INTO posting ("+postingColumns+", batch)", replacing(), list, &batch)
}

// replacing is what becomes of a posting that is there already.
func replacing() string {
	var set []string
	for _, c := range strings.Split(postingColumns, ", ")[1:] {
		set = append(set, c+" = excluded."+c)
	}
	return " ON CONFLICT (id) DO UPDATE SET " + strings.Join(set, ", ") + ", batch = excluded.batch"
}

// fill inserts postings by an INSERT without and with what comes behind its values; a batch
// is the last value of each.
func fill(ctx context.Context, to sqlx.PreparerContext, insert, end string, list []Posting, batch *int64) error {
	columns := strings.Count(postingColumns, ",") + 1
	if batch != nil {
		columns++
	}
	statement := func(n int) string { return insert + " VALUES " + values(n, columns) + end }
	many, err := to.PrepareContext(ctx, statement(perStatement))
	if err != nil {
		return err
	}
	defer many.Close()
	args := make([]any, 0, perStatement*columns)
	return chunks(len(list), func(from, to2 int) error {
		args = args[:0]
		for i := from; i < to2; i++ {
			p := &list[i]
			args = append(
				args,
				p.ID,
				p.Code,
				p.Day,
				p.Period,
				p.Late,
				p.Project,
				p.CostCode,
				p.Class,
				p.Centre,
				p.Activity,
				p.Amount,
				string(p.Currency),
				p.Supplier,
				p.Text,
				p.Digest(),
				p.Source.File,
				p.Source.Row,
				encodeExtra(p.Extra),
			)
			if batch != nil {
				args = append(args, *batch)
			}
		}
		if to2-from == perStatement {
			_, err := many.ExecContext(ctx, args...)
			return err
		}
		rest, err := to.PrepareContext(ctx, statement(to2-from))
		if err != nil {
			return err
		}
		defer rest.Close()
		_, err = rest.ExecContext(ctx, args...)
		return err
	})
}
