package format

import (
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// EncodeLines packs time-phased amounts.
func EncodeLines(lines []portfolio.Line) []byte {
	w := &writer{}
	w.u(uint64(len(lines)))
	for i := range lines {
		l := &lines[i]
		w.i(l.CodeID)
		for _, s := range [...]string{l.Code, string(l.Flow), l.Class, l.Centre, l.Activity, string(l.Currency)} {
			w.t(s)
		}
		w.i(l.ActivityID)
		w.u(uint64(len(l.Cells)))
		var p calendar.Period
		var src portfolio.Source
		for j := range l.Cells {
			c := &l.Cells[j]
			w.i(int64(c.Period - p))
			w.i(c.Amount)
			w.i(int64(c.Source.File) - int64(src.File))
			w.i(int64(c.Source.Row) - int64(src.Row))
			p, src = c.Period, c.Source
			m := l.Remarks[c.Period]
			w.u(bit(m != nil, 1))
			if m != nil {
				w.t(m.Note)
				w.extra(m.Extra)
			}
		}
	}
	return w.seal(linesForm)
}

// DecodeLines unpacks time-phased amounts.
func DecodeLines(b []byte) ([]portfolio.Line, error) {
	r, err := openPart(b, linesForm)
	if err != nil {
		return nil, err
	}
	n := r.count()
	lines := make([]portfolio.Line, 0, n)
	for range n {
		l := portfolio.Line{CodeID: r.I()}
		l.Code, l.Flow, l.Class, l.Centre, l.Activity, l.Currency = r.t(), portfolio.Flow(
			r.t(),
		), r.t(), r.t(), r.t(), money.Currency(
			r.t(),
		)
		l.ActivityID = r.I()
		cells := r.count()
		l.Cells = make([]portfolio.Cell, 0, cells)
		var p calendar.Period
		var src portfolio.Source
		for range cells {
			p += calendar.Period(r.I())
			c := portfolio.Cell{Period: p, Amount: r.I()}
			src.File += int32(r.I())
			src.Row += int32(r.I())
			c.Source = src
			if r.U() != 0 {
				if l.Remarks == nil {
					l.Remarks = make(map[calendar.Period]*portfolio.Remark)
				}
				l.Remarks[p] = &portfolio.Remark{Note: r.t(), Extra: r.extra()}
			}
			if r.Bad {
				return nil, errPart
			}
			l.Cells = append(l.Cells, c)
		}
		lines = append(lines, l)
	}
	return lines, r.err()
}
