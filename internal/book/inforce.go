package book

import (
	"context"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store/format"
)

// InForce is a row of what is stated about a project, with the values last said up to
// a period, and those of the periods before it.
type InForce struct {
	Cells  map[string]string // by column, in canonical form
	Before map[string]string // as they stood before the period; nil where it was not there
	Said   calendar.Period   // the last period that says anything of it
}

// InForce reads the rows that a project stated of a kind up to a period, in the order
// in which they were first stated: of each cell what was said last; what was cleared
// is left out. It is for kinds of rows: progress, risks, narratives.
func (s *Snapshot) InForce(ctx context.Context, project int64, kind portfolio.PartKind, at calendar.Period) ([]InForce, error) {
	t := record.OfPart(kind)
	var own money.Currency
	if p := s.ByID(project); p != nil {
		own = p.Currency
	}
	var ids []int64
	when := make(map[int64]calendar.Period)
	for _, x := range s.Stated[project] { // by kind and version
		if x.Kind == kind && calendar.Period(x.Version) <= at {
			ids = append(ids, x.ID)
			when[x.ID] = calendar.Period(x.Version)
		}
	}
	bodies := make(map[int64][]byte, len(ids))
	if err := s.bodies(ctx, ids, func(id int64, body []byte) error { bodies[id] = body; return nil }); err != nil {
		return nil, err
	}
	var out []InForce
	places := make(map[string]int)
	for _, id := range ids {
		rows, err := format.DecodeRows(bodies[id], len(t.Columns))
		if err != nil {
			return nil, err
		}
		for i := range rows {
			key := keyIn(t, &rows[i])
			k, there := places[key]
			if !there {
				k = len(out)
				places[key] = k
				out = append(out, InForce{Cells: make(map[string]string)})
			}
			x := &out[k]
			if when[id] == at && x.Said != 0 && x.Said < at {
				x.Before = make(map[string]string, len(x.Cells))
				for name, text := range x.Cells {
					x.Before[name] = text
				}
			}
			x.Said = when[id]
			for c := range t.Columns {
				switch f := &rows[i].Fields[c]; f.Said {
				case portfolio.Value:
					x.Cells[t.Columns[c].Name] = record.Format(&t.Columns[c], f, own, s.Office.Periods)
				case portfolio.None:
					delete(x.Cells, t.Columns[c].Name)
				}
			}
		}
	}
	for i := range out {
		if x := &out[i]; x.Said < at {
			x.Before = x.Cells
		}
	}
	return out, nil
}

// keyIn writes what tells a row of a statement from the others of its project: the
// whole key but the project and the period.
func keyIn(t *record.Kind, r *portfolio.Row) string {
	var b strings.Builder
	for c := range t.Columns {
		if k := &t.Columns[c]; k.Key && k.Type != record.ProjectRef && k.Type != record.Period {
			b.WriteString(r.Fields[c].Text + "\x00")
		}
	}
	return b.String()
}
