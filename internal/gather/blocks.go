package gather

import (
	"slices"
	"strings"
)

// A text may hold a block of labels for each thing that it tells of, with what each says
// behind it: "Task: Sheet piles", "Progress: 80%".

// asBlocks gives such a text as a table, a row for each block; nil where it is none: two
// blocks at least, that begin with the same label and have the same ones.
func (s *Sheet) asBlocks() *Sheet {
	const most, few = 2_000, 2
	var heads []string
	var rows [][]string
	var numbers []int
	titles, n := 0, 0
	fits := true
	s.Each(func(l *Line) bool {
		n++
		if l.Blank() {
			return true
		}
		label, rest, ok := strings.Cut(textOf(l), ":")
		label, rest = strings.TrimSpace(label), strings.TrimSpace(rest)
		switch {
		case !ok || label == "" || rest == "" || len(strings.Fields(label)) > few+1:
			if titles++; len(rows) > 0 {
				fits = false // what stands between is no label's
			}
			return fits
		case len(rows) == 0 || label == heads[0]:
			rows, numbers = append(rows, make([]string, len(heads))), append(numbers, l.N)
		}
		at := slices.Index(heads, label)
		if at < 0 {
			if len(rows) > 1 {
				fits = false
				return false
			}
			at, heads = len(heads), append(heads, label)
			rows[0] = append(rows[0], "")
		}
		row := rows[len(rows)-1]
		if row[at] != "" {
			fits = false
			return false
		}
		row[at] = rest
		return n < most
	})
	if !fits || len(rows) < few || len(heads) < few || n >= most || titles > few {
		return nil
	}
	out := *s
	out.Lines, out.plain = len(rows)+1, false
	out.each = Grid(s.File, s.Name, append([]int{0}, numbers...), append([][]string{heads}, rows...)).each
	return &out
}
