package book

import (
	"context"
	"maps"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// SameAsBefore tells which statements made in a period say the same as the last
// ones before, wherever they came from: of amounts, those of later periods
// count.
func (s *Snapshot) SameAsBefore(
	ctx context.Context,
	at calendar.Period,
	kinds ...portfolio.PartKind,
) (map[portfolio.Part]bool, error) {
	type pair struct{ now, before store.Stated }
	var pairs []pair
	var ids []int64
	for _, list := range s.Stated {
		last := make(map[portfolio.PartKind]store.Stated)
		for _, x := range list {
			if !slices.Contains(kinds, x.Kind) {
				continue
			}
			switch v := calendar.Period(x.Version); {
			case v < at:
				last[x.Kind] = x
			case v == at && last[x.Kind].ID != 0:
				pairs = append(pairs, pair{x, last[x.Kind]})
				ids = append(ids, x.ID, last[x.Kind].ID)
			}
		}
	}
	slices.Sort(ids)
	bodies := make(map[int64][]byte, len(ids))
	if err := s.bodies(ctx, slices.Compact(ids), func(id int64, b []byte) error { bodies[id] = b; return nil }); err != nil {
		return nil, err
	}
	out := make(map[portfolio.Part]bool)
	for _, p := range pairs {
		if p.now.ID == p.before.ID {
			out[p.now.Part] = true
			continue
		}
		same, err := sameBodies(p.now.Kind, bodies[p.now.ID], bodies[p.before.ID], at)
		if err != nil {
			return nil, err
		}
		if same {
			out[p.now.Part] = true
		}
	}
	return out, nil
}

func sameBodies(k portfolio.PartKind, a, b []byte, after calendar.Period) (bool, error) {
	if k.Lines() {
		x, err := amounts(a, after)
		if err != nil {
			return false, err
		}
		y, err := amounts(b, after)
		return maps.Equal(x, y), err
	}
	n := len(record.OfPart(k).Columns)
	x, err := format.DecodeRows(a, n)
	if err != nil {
		return false, err
	}
	y, err := format.DecodeRows(b, n)
	return err == nil && slices.EqualFunc(x, y, func(p, q portfolio.Row) bool {
		return slices.Equal(p.Fields, q.Fields) && maps.Equal(p.Extra, q.Extra)
	}), err
}

type amountKey struct {
	code, activity      int64
	flow, class, centre string
	currency            string
	period              calendar.Period
}

func amounts(body []byte, after calendar.Period) (map[amountKey]int64, error) {
	lines, err := format.DecodeLines(body)
	out := make(map[amountKey]int64)
	for i := range lines {
		l := &lines[i]
		for _, c := range l.Cells {
			if c.Period > after && c.Amount != 0 {
				out[amountKey{l.CodeID, l.ActivityID, string(l.Flow), l.Class, l.Centre, string(l.Currency), c.Period}] += c.Amount
			}
		}
	}
	return out, err
}
