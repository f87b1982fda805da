package gather

import (
	"fmt"
	"slices"
	"strings"
)

// A sheet may hold several tables, beside and below each other. It is parted before any
// of them is read: each part is a sheet of its own, with the titles that it stands under.

// farRight is beyond the last column that a sheet may have.
const farRight = 1 << 20

// lookedAt is the number of rows among which a sheet's tables are looked for.
const lookedAt = 2_000

// parts gives the sheet for each table that it holds, or the sheet alone.
func (s *Sheet) parts() []*Sheet {
	heads, preface := s.headRows()
	if len(heads) == 0 || len(heads) == 1 && len(heads[0].spans) == 1 {
		return []*Sheet{s}
	}
	heads = withoutTitles(heads)
	var out []*Sheet
	for i, h := range heads {
		last := 0
		if i+1 < len(heads) {
			last = heads[i+1].top - 1
		}
		for _, span := range h.spans {
			out = append(out, s.part(h, i, last, span, preface))
		}
	}
	return out
}

// withoutTitles leaves out titles of tables side by side, with which those begin.
func withoutTitles(heads []headRow) (out []headRow) {
	for i, h := range heads {
		if i+1 == len(heads) || heads[i+1].top > h.top {
			out = append(out, h)
		}
	}
	return out
}

// part is a sheet of the rows and columns of one table; last is zero where it goes on to
// the end, and preface the titles of the whole sheet.
func (s *Sheet) part(h headRow, at, last int, span [2]int, preface []*Line) *Sheet {
	p := *s
	p.own = s.Name
	first := h.top
	var where []string
	if at > 0 || last > 0 {
		if last > 0 {
			where = append(where, fmt.Sprintf("rows %d to %d", h.top, last))
		} else {
			where = append(where, fmt.Sprintf("rows from %d", h.top))
		}
	}
	if len(h.spans) > 1 {
		if span[1] == farRight {
			where = append(where, "columns from "+letters(span[0]))
		} else {
			where = append(where, fmt.Sprintf("columns %s to %s", letters(span[0]), letters(span[1])))
		}
	}
	if at == 0 {
		first = 0
	}
	p.Name = strings.TrimPrefix(s.Name+", "+strings.Join(where, ", "), ", ")
	p.plain = false
	p.dates, p.shares, p.scaled = shifted(s.dates, span), shifted(s.shares, span), shifted(s.scaled, span)
	p.currencies = shifted(s.currencies, span)
	p.shown = make(map[int][]string, len(s.shown))
	for n, cells := range s.shown {
		p.shown[n] = cut(cells, span)
	}
	wide := len(h.spans) == 1
	p.each = func(f func(*Line) bool) {
		var line Line
		hand := func(l *Line) bool {
			line = *l
			if !wide && l.Wrong == "" {
				line.Cells = cut(l.Cells, span)
				if l.N < h.n && line.Blank() {
					line.Cells = slices.Clone(l.Cells[:min(1, len(l.Cells))]) // a title of all
					if filled(l) != 1 {
						return true
					}
				}
			}
			return f(&line)
		}
		if at > 0 {
			for _, l := range preface {
				if label, _, ok := aPair(l); ok && h.pairs[label] != "" {
					continue // the part says it itself
				}
				if !hand(l) {
					return
				}
			}
		}
		s.each(func(l *Line) bool {
			if l.N < first {
				return true
			}
			if last > 0 && l.N > last {
				return false
			}
			return hand(l)
		})
	}
	return &p
}

// SplitAt parts a sheet at rows at which someone said that another table begins; it is the
// sheet alone where there are none. A part without heads of its own has those of the first.
func (s *Sheet) SplitAt(rows []int) []*Sheet {
	rows = slices.Compact(slices.Sorted(slices.Values(rows)))
	if len(rows) == 0 {
		return []*Sheet{s}
	}
	whole := [][2]int{{0, farRight}}
	heads, _ := s.headRows()
	var first []*Line
	if len(heads) > 0 {
		s.Each(func(l *Line) bool {
			if l.Wrong == "" && l.N <= heads[0].n {
				first = append(first, &Line{N: l.N, Cells: slices.Clone(l.Cells)})
			}
			return l.N < heads[0].n
		})
	}
	var out []*Sheet
	for i := range len(rows) + 1 {
		from, last := 1, 0
		if i > 0 {
			from = rows[i-1]
		}
		if i < len(rows) {
			last = rows[i] - 1
		}
		preface := first
		if len(heads) > 0 && heads[0].n >= from || slices.ContainsFunc(heads, func(h headRow) bool {
			return h.n >= from && (last == 0 || h.n <= last)
		}) {
			preface = nil
		}
		p := s.part(headRow{n: from, top: from, spans: whole}, i, last, whole[0], preface)
		p.own = s.title()
		out = append(out, p)
	}
	return out
}

func cut[T any](cells []T, span [2]int) []T {
	from, to := min(span[0], len(cells)), min(span[1]+1, len(cells))
	return slices.Clone(cells[from:to])
}

func shifted[T any](m map[int]T, span [2]int) map[int]T {
	out := make(map[int]T)
	for i, v := range m {
		if i >= span[0] && i <= span[1] {
			out[i-span[0]] = v
		}
	}
	return out
}

func filled(l *Line) (n int) {
	for i := range l.Cells {
		if !isBlank(l.Cells[i].Text) {
			n++
		}
	}
	return n
}
