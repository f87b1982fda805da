package book

import (
	"maps"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/record"
	"turret/internal/store"
)

// Shifted gives changes of judging records as if they had been in force since a
// period: their own kind of what would have been.
func Shifted(changes []store.RecordChange, from calendar.Period) []store.RecordChange {
	out := slices.Clone(changes)
	for i := range out {
		c := &out[i]
		k := c.Table.Index("from")
		if k < 0 {
			continue
		}
		c.After.Fields = slices.Clone(c.After.Fields)
		c.After.Fields[k] = portfolio.Field{Said: portfolio.Value, Int: int64(from)}
	}
	return out
}

// RulesWith gives the rules of a snapshot as changes of judging records would
// leave them. A changed record of the same key takes the place of the old one.
func (s *Snapshot) RulesWith(changes []store.RecordChange) (*Rules, error) {
	rec := maps.Clone(s.Records)
	for _, c := range changes {
		rows := slices.DeleteFunc(
			slices.Clone(rec[c.Table.Name]),
			func(r portfolio.Row) bool { return sameKey(c.Table, &r, &c.After) },
		)
		rec[c.Table.Name] = append(rows, c.After)
	}
	return rec.rules()
}

// Apart gives changes their ids among the records of a snapshot: that of the
// record of the same key, or one of their own.
func (s *Snapshot) Apart(changes []store.RecordChange) []store.RecordChange {
	out := slices.Clone(changes)
	for i := range out {
		c := &out[i]
		var most int64
		c.After.ID = 0
		for _, r := range s.Records[c.Table.Name] {
			most = max(most, r.ID)
			if sameKey(c.Table, &r, &c.After) {
				c.After.ID = r.ID
			}
		}
		if c.After.ID == 0 {
			c.After.ID = most + 1 + int64(i)
		}
	}
	return out
}

func sameKey(t *record.Kind, a, b *portfolio.Row) bool {
	for i := range t.Columns {
		if t.Columns[i].Key && (a.Fields[i].Int != b.Fields[i].Int || a.Fields[i].Text != b.Fields[i].Text) {
			return false
		}
	}
	return true
}

// Rejudge rates kept readings of a period by other rules, without computing
// anything anew: by code of the project. The snapshot is the one that they were
// made of. Early holds shares below which it is too early, by project, where
// they are others.
func (s *Snapshot) Rejudge(rs *Readings, rules *Rules, early map[int64]int64) map[string]standing.Table {
	set := rules.At(rs.Period)
	day := s.Office.Periods.Last(rs.Period)
	out := make(map[string]standing.Table)
	for _, r := range rs.Rows {
		p := s.Project(r.Code)
		if r.Group || p == nil {
			continue
		}
		f := standing.Facts{
			Period: rs.Period, Rules: set.Rules(p.Code, s.Office.Chain(p.Programme)), State: p.StateAt(day), TooEarly: p.TooEarly,
			Exponent: p.Currency.Exponent(), Overrides: p.Overrides, Stated: r.Stated, HasStated: r.HasSaid,
		}
		if n, ok := early[p.ID]; ok {
			f.TooEarly = n
		}
		out[r.Code] = set.Judge(func(id figure.ID) figure.Value { return r.Value(id) }, f).Standing
	}
	return out
}
