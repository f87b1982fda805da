package gather

import (
	"strings"

	"turret/internal/record"
)

// Lists often state a project or a code once, in the first of its rows, and leave the
// cells below empty. They are read as what stands above.

// repeats finds the columns of codes and choices in which empty cells stand for what is
// above: those in which no two rows in turn state the same, so that a cell that states
// something begins a group. A list that repeats itself in full has no such cells: one
// that is empty then was forgotten, and is refused.
func (f *finder) repeats() {
	u := f.u
	u.Down = nil
	if f.t.Name == "postings" {
		f.documentHeads()
		return
	}
	for i, x := range u.Uses {
		if !f.mayRepeat(x.As) {
			continue
		}
		last, filled, blank, full := "", 0, 0, false
		var above []string
		u.data(f.s, func(l *Line) bool {
			text := strings.TrimFunc(l.At(i).Text, isSpace)
			before := above
			above = f.keysOf(l)
			switch {
			case text == "" && filled > 0 && f.saysSame(i, before, above):
				full = true // it would be the row above once more
			case text != "" && text == last:
				full = true
			case text != "":
				filled++
				last = text
			case filled > 0 && u.states(l, i):
				blank++
			case u.states(l, i):
				full = true // it begins with none
			}
			return !full
		})
		if blank == 0 || filled == 0 || full {
			continue
		}
		u.Down = append(u.Down, i)
		u.note("%s: empty cells are taken for what stands above them.", f.called(i))
	}
}

// keysOf are what a row states of the columns that key it, by column.
func (f *finder) keysOf(l *Line) []string {
	out := make([]string, len(f.u.Uses))
	for i, x := range f.u.Uses {
		if j := f.t.Index(x.As); j >= 0 && f.t.Columns[j].Key {
			out[i] = strings.Clone(strings.TrimFunc(l.At(i).Text, isSpace))
		}
	}
	return out
}

// saysSame tells whether a row that leaves a column empty states a key, and of none another
// than the row above: no group has two such rows.
func (f *finder) saysSame(column int, above, row []string) bool {
	any := false
	for i, text := range row {
		if i == column || text == "" {
			continue
		}
		if above == nil || text != above[i] {
			return false
		}
		any = true
	}
	return any
}

// documentHeads finds documents that state their number, day and supplier in the first of
// their lines: no two rows in turn state the same number, and where a row states none it
// states no day either, and an amount.
func (f *finder) documentHeads() {
	u := f.u
	number := u.column("posting")
	if number < 0 {
		return
	}
	last, blank, filled, fits := "", 0, 0, true
	said := make(map[int]bool) // columns that a row without a number states
	u.data(f.s, func(l *Line) bool {
		text := strings.TrimFunc(l.At(number).Text, isSpace)
		switch {
		case text != "":
			fits = fits && text != last
			filled++
			last = text
		case filled == 0 || !u.states(l, number):
			fits = fits && !u.states(l, number)
		default:
			blank++
			for i := range u.Uses {
				said[i] = said[i] || !isBlank(l.At(i).Text)
			}
		}
		return fits
	})
	if !fits || blank == 0 {
		return
	}
	for i, x := range u.Uses {
		switch x.As {
		case "posting", "date", "supplier", "period":
			if !said[i] {
				u.Down = append(u.Down, i)
			}
		}
	}
	if d := u.column("date"); d >= 0 && said[d] {
		u.Down = nil // lines with a day of their own are bookings without a number
		return
	}
	u.note("%s: rows without one are lines of the document above them.", f.called(number))
}

// mayRepeat tells the columns that group rows.
func (f *finder) mayRepeat(as string) bool {
	j := f.t.Index(as)
	if j < 0 || !f.t.Columns[j].Key || f.t.Name == "postings" {
		return false
	}
	c := &f.t.Columns[j]
	switch c.Type {
	case record.ProjectRef, record.CostCodeRef, record.Choice, record.Period, record.ActivityRef:
		return !c.Blank
	}
	return false
}

// states tells whether a row states something beside a column.
func (l *Layout) states(line *Line, but int) bool {
	for i, x := range l.Uses {
		if i == but || x.As == AsNone || x.As == AsExtra || x.As == AsTotal {
			continue
		}
		if c := line.At(i); c.Kind == Uncalculated || !isBlank(c.Text) {
			return true
		}
	}
	return false
}

// repeat fills the empty cells of a row that stand for what is above; what a group to
// the left begins anew ends those within it, and a sum ends them all.
func (r *reader) repeat(line *Line) {
	for n, i := range r.Down {
		if text := strings.TrimFunc(line.At(i).Text, isSpace); text != "" {
			r.above[n] = line.At(i)
			r.above[n].Text = strings.Clone(text)
			clear(r.above[n+1:])
			continue
		}
		if r.above[n].Text == "" || !r.states(line, i) {
			continue
		}
		for len(line.Cells) <= i {
			line.Cells = append(line.Cells, Cell{})
		}
		line.Cells[i] = r.above[n]
	}
}

// ends takes a row of sums: what stands above it holds no more, but where it leads the
// rows that it sums.
func (r *reader) ends(line *Line) {
	clear(r.above)
	if r.leads(line) {
		r.repeat(line)
	}
}
