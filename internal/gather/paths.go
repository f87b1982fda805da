package gather

import (
	"regexp"
	"strings"
)

// pathSign stands between the steps of a path: North quay > Construction > Sheet piles.
var pathSign = regexp.MustCompile(`\s*(?:>|»|→|\\|::|\|)\s*|\s+/\s+`)

// asPaths gives a sheet in which a column holds paths from a project to a task, with the two
// in columns of their own; nil where no column does: all of its cells have steps, and all
// begin with a project that is known.
func (s *Sheet) asPaths(names *Names) *Sheet {
	const most, few = 200, 2    // rows that are looked at; steps
	at, head, heads := -1, 0, 0 // the column, its first row, and the row of heads before it
	before := 0
	steps := make(map[int]int) // by column: cells that are paths of a project
	other := make(map[int]int)
	n := 0
	s.Each(func(l *Line) bool {
		n++
		for i, c := range l.Cells {
			if isBlank(c.Text) {
				continue
			}
			parts := pathSign.Split(strings.TrimFunc(c.Text, isSpace), -1)
			if len(parts) >= few && len(names.Find("project", parts[0])) == 1 {
				if steps[i]++; head == 0 {
					at, head, heads = i, l.N, before
				}
			} else if steps[i] > 0 {
				other[i]++
			}
		}
		if !l.Blank() {
			before = l.N
		}
		return n < most
	})
	if at < 0 || steps[at] < few || other[at] > 0 {
		return nil
	}
	out := *s
	out.plain, out.dates, out.shares, out.scaled, out.shown, out.currencies = false, nil, nil, nil, nil, nil
	out.each = func(f func(*Line) bool) {
		s.Each(func(l *Line) bool {
			x := *l
			x.Cells = nil
			for i, c := range l.Cells {
				if i != at {
					x.Cells = append(x.Cells, c)
					continue
				}
				first, last := Cell{}, c
				switch parts := pathSign.Split(strings.TrimFunc(c.Text, isSpace), -1); {
				case l.N == heads:
					first, last = Cell{Text: "Project"}, Cell{Text: "Activity"}
				case len(parts) >= few:
					first, last = Cell{Text: parts[0]}, Cell{Text: parts[len(parts)-1]}
				}
				x.Cells = append(x.Cells, first, last)
			}
			return f(&x)
		})
	}
	return &out
}
