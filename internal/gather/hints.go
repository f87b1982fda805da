package gather

import (
	"path"
	"strconv"
	"strings"

	"turret/internal/record"
)

// What speaks of a table beside its heads: names, titles, and what someone said.

// saidHead is the row that names the columns of a table that someone said it is, though no
// head of it is known: the one that was pointed at, or else the first of several texts with
// a row below it; -1 where there is none.
func (f *finder) saidHead() int {
	const few = 2
	for i, r := range f.rows[:min(len(f.rows), within)] {
		if f.m.Head != 0 {
			if r.n == f.m.Head {
				return i
			}
			continue
		}
		texts := 0
		for _, c := range r.cells {
			if text := strings.TrimSpace(c.Text); c.Kind == Words && text != "" && !isPlain(text) {
				texts++
			}
		}
		if texts >= few && texts == filled(&Line{Cells: r.cells}) && i+1 < len(f.rows) {
			return i
		}
	}
	return -1
}

// hint is the table that the names of file and sheet speak of.
func (f *finder) hint() *record.Kind {
	if t := f.o.named(f.s); t != nil {
		return t
	}
	for _, text := range [...]string{f.s.title(), strings.TrimSuffix(path.Base(f.s.File), path.Ext(f.s.File))} {
		for w := range strings.FieldsSeq(strings.Map(apart, Normal(text))) {
			if name := tableWords[w]; name != "" {
				return record.Named(name)
			}
		}
	}
	return nil
}

// titled tells whether a row above speaks of a table, or of a kind of amount.
func (f *finder) titled(at int, t *record.Kind) bool {
	if tables, ok := f.spoken[at]; ok {
		return tables[t.Name]
	}
	if f.spoken == nil {
		f.spoken = make(map[int]map[string]bool)
	}
	out := make(map[string]bool)
	f.spoken[at] = out
	const few = 8 // words of a title, and rows above
	for _, r := range f.rows[max(0, at-few):at] {
		text := textOf(&Line{Cells: r.cells})
		words := strings.Fields(strings.Map(apart, Normal(text)))
		if isRemark(text) || len(words) > few {
			continue
		}
		if len(kindsIn(text)) > 0 {
			out["costs"] = true
		}
		for _, w := range words {
			out[tableWords[w]] = true
		}
	}
	return out[t.Name]
}

// ownKey tells whether a row names the key of a table by its own name.
func (f *finder) ownKey(at int, t *record.Kind) bool {
	for i := range f.rows[at].cells {
		column, weight := called(t, f.head(at, i), f.o.Words)
		if j := t.Index(column); j >= 0 && t.Columns[j].Key && weight > 2 {
			return true
		}
	}
	return false
}

// beyondPercents tells that numbers stand below the months of a row which no percent can
// be.
func (f *finder) beyondPercents(at int) bool {
	const all = 100
	for i := range f.rows[at].cells {
		if f.month(at, i) == 0 {
			continue
		}
		for _, r := range f.rows[at+1:] {
			if i < len(r.cells) && !f.holdsDays(at, i) {
				if n, err := strconv.ParseFloat(strings.TrimSpace(r.cells[i].Text), 64); err == nil && n > all {
					return true
				}
			}
		}
	}
	return false
}
