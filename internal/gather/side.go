package gather

import (
	"strings"

	"turret/internal/record"
)

// onSide gives a small sheet with its rows as columns, which are numbered as rows from the
// left; nil where it is no sheet that may lie on its side: a column of labels, each once,
// with columns of what they say beside it.
func (s *Sheet) onSide() *Sheet {
	const most = 60 // rows and columns
	var rows [][]Cell
	var wide int
	fits := !s.isCover
	labels := make(map[string]bool)
	s.Each(func(l *Line) bool {
		if l.Wrong != "" || len(rows) >= most || len(l.Cells) > most {
			fits = false
			return false
		}
		if l.Blank() {
			return true
		}
		cells := make([]Cell, len(l.Cells))
		for i, c := range l.Cells {
			if cells[i] = (Cell{strings.Clone(s.textAt(l, i)), c.Kind}); cells[i].Text != c.Text {
				cells[i].Kind = Words // a day that shows
			}
		}
		label := Normal(cells[0].Text)
		if label != "" && (cells[0].Kind != Words || labels[label]) {
			fits = false
		}
		labels[label] = true
		rows, wide = append(rows, cells), max(wide, len(cells))
		return fits
	})
	const few = 2
	if !fits || len(rows) < few || wide < few {
		return nil
	}
	if column, weight := called(record.Named("narratives"), rows[0][0].Text, nil); weight > 0 && column == "section" {
		rows[0][0].Text = "" // it heads the labels, and not what stands beside it
	}
	out := *s
	out.Lines, out.plain = wide, false
	out.dates, out.shares, out.scaled, out.shown, out.currencies = nil, nil, nil, nil, nil
	out.each = func(f func(*Line) bool) {
		for i := range wide {
			l := Line{N: i + 1}
			for _, r := range rows {
				c := Cell{}
				if i < len(r) {
					c = r[i]
				}
				l.Cells = append(l.Cells, c)
			}
			if !f(&l) {
				return
			}
		}
	}
	return &out
}
