package format

import (
	"turret/internal/core/portfolio"
)

// EncodeRows packs rows. Columns may be added to a table at its end only: rows
// packed before say nothing of them.
func EncodeRows(rows []portfolio.Row) []byte {
	w := &writer{}
	w.u(uint64(len(rows)))
	var id int64
	var src portfolio.Source
	for i := range rows {
		r := &rows[i]
		w.i(r.ID - id)
		w.i(int64(r.Source.File) - int64(src.File))
		w.i(int64(r.Source.Row) - int64(src.Row))
		id, src = r.ID, r.Source
		w.u(uint64(len(r.Fields)))
		for j := range r.Fields {
			f := &r.Fields[j]
			hasInt, hasText := f.Int != 0, f.Text != ""
			w.u(uint64(f.Said) | bit(hasInt, 4) | bit(hasText, 8))
			if hasInt {
				w.i(f.Int)
			}
			if hasText {
				w.t(f.Text)
			}
		}
		w.extra(r.Extra)
	}
	return w.seal(rowsForm)
}

func bit(b bool, n uint64) uint64 {
	if b {
		return n
	}
	return 0
}

// DecodeRows unpacks rows with at least columns fields each.
func DecodeRows(b []byte, columns int) ([]portfolio.Row, error) {
	r, err := openPart(b, rowsForm)
	if err != nil {
		return nil, err
	}
	n := r.count()
	rows := make([]portfolio.Row, 0, n)
	slab := make([]portfolio.Field, n*columns) // one piece for all rows
	var id int64
	var src portfolio.Source
	for range n {
		id += r.I()
		src.File += int32(r.I())
		src.Row += int32(r.I())
		have := r.count()
		row := portfolio.Row{ID: id, Source: src, Fields: slab[:columns:columns]}
		slab = slab[columns:]
		if have > columns {
			row.Fields = make([]portfolio.Field, have)
		}
		for j := range have {
			head := r.U()
			f := &row.Fields[j]
			f.Said = portfolio.Said(head & 3)
			if head&4 != 0 {
				f.Int = r.I()
			}
			if head&8 != 0 {
				f.Text = r.t()
			}
		}
		row.Extra = r.extra()
		if r.Bad {
			return nil, errPart
		}
		rows = append(rows, row)
	}
	return rows, r.err()
}
