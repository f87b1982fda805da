package change

import (
	"context"
	"fmt"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
)

// Unseen is what a writer saw who was shown nothing that others could have
// changed, as whoever sends a file.
const Unseen int64 = -1

// Clash is a field that someone else changed since the writer saw it, and that
// the writer would set to something else.
type Clash struct {
	Column         *record.Column
	Was, Is, Would portfolio.Field
}

// Conflict is the error of a record that someone else changed meanwhile.
type Conflict struct {
	Table   *record.Kind
	Record  portfolio.Row // as it is
	Clashes []Clash
	By      By
	At      int64 // UTC milliseconds
	Batch   int64
}

func (c *Conflict) Error() string {
	return fmt.Sprintf("%s %d was changed by batch %d meanwhile", c.Table.Name, c.Record.ID, c.Batch)
}

// Seen is a record as a writer saw it, and who has changed it since.
type Seen struct {
	row   *portfolio.Row // nil: it was not there
	by    By
	at    int64
	batch int64
}

// SeenAt gives the records of a table that batches after a revision changed, each
// as it was then, by id. The rows are the table's as they are.
func SeenAt(
	ctx context.Context,
	st *store.Store,
	t *record.Kind,
	rows []portfolio.Row,
	revision int64,
) (map[int64]*Seen, error) {
	list, err := st.ChangesSince(ctx, t.Name, revision)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	now := make(map[int64]*portfolio.Row, len(rows))
	for i := range rows {
		now[rows[i].ID] = &rows[i]
	}
	out := make(map[int64]*Seen)
	for _, c := range list { // the last first
		x := out[c.Record]
		if x == nil {
			x = &Seen{by: By{c.Account, c.Actor}, at: c.At, batch: c.Batch}
			if r := now[c.Record]; r != nil {
				was := *r
				was.Fields = append([]portfolio.Field(nil), r.Fields...)
				x.row = &was
			}
			out[c.Record] = x
		}
		if x.row, err = c.Back(t, x.row); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Merge looks at a record that its writer would leave as after, where it is now
// something else than they saw. What only others changed stays as it is, in after
// too; what both changed, to different values, is a conflict. It gives nil where
// there is none.
func (x *Seen) Merge(t *record.Kind, now, after *portfolio.Row) *Conflict {
	conflict := &Conflict{Table: t, Record: *now, By: x.by, At: x.at, Batch: x.batch}
	told := false
	for i := range t.Columns {
		c := &t.Columns[i]
		is, would := plain(&now.Fields[i]), plain(&after.Fields[i])
		var was portfolio.Field
		if x.row != nil {
			was = plain(&x.row.Fields[i])
		}
		switch {
		case c.Key || would == is || is == was:
		case would == was:
			after.Fields[i] = now.Fields[i]
		default:
			conflict.Clashes = append(conflict.Clashes, Clash{c, was, is, would})
			told = told || !c.Stamp
		}
	}
	if !told {
		return nil
	}
	return conflict
}

// plain leaves out what a field says beside its value: the text of a reference,
// and that it was cleared.
func plain(f *portfolio.Field) portfolio.Field {
	if f.Said != portfolio.Value {
		return portfolio.Field{}
	}
	if f.Int != 0 {
		return portfolio.Field{Said: portfolio.Value, Int: f.Int}
	}
	return *f
}

func sameName(a, b string) bool {
	return strings.EqualFold(strings.TrimSpace(a), strings.TrimSpace(b))
}
