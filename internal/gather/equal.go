package gather

import (
	"fmt"
	"hash/maphash"
	"maps"
	"slices"
	"strings"

	"turret/internal/record"
)

// Several rows may state the same cell: the lines of one code, each with its own words.
// They add up, and it is told. Where the rows of many cells differ by the same few words,
// as low, likely and high, they are no parts of one amount, and it is asked.

// sameKey are the first rows of one cell, and what their other columns say.
type sameKey struct {
	rows   int
	others map[int]map[string]bool // by column
}

// equals finds whether several rows of the sheet state the same cell of costs.
func (f *finder) equals() {
	u := f.u
	if f.t.Name != "costs" || u.Canonical || u.Skipped != "" {
		return
	}
	if f.m.Lines != "" {
		u.Lines = f.m.Lines
		return
	}
	keys := make(map[uint64]*sameKey)
	seed := maphash.MakeSeed()
	twice, again := 0, 0
	wholes := make(map[uint64]bool)
	f.filled(func(r *reader, l *Line) bool {
		key := keyOf(seed, f, r, l)
		if key == 0 {
			return true
		}
		whole := wholeRow(seed, r.under+"|"+r.code, l)
		if wholes[whole] {
			again++
			return true
		}
		wholes[whole] = true
		k := keys[key]
		if k == nil {
			k = &sameKey{others: make(map[int]map[string]bool)}
			keys[key] = k
		}
		if k.rows++; k.rows == 2 {
			twice++
		}
		for i, x := range u.Uses {
			if x.As == AsExtra || x.As == AsNone || x.As == "note" {
				if k.others[i] == nil {
					k.others[i] = make(map[string]bool)
				}
				k.others[i][Normal(l.At(i).Text)] = true
			}
		}
		return true
	})
	if again > 0 {
		u.note("%s the same as another in every cell: each is taken once.", plural(again, "row says", "rows say"))
	}
	if twice == 0 {
		return
	}
	if column, words := f.alternatives(keys, twice); column >= 0 {
		u.ask(column, "lines", fmt.Sprintf(
			"several rows state the same cell, and %q tells them apart as %s; say whether they add up, or leave out those that are not meant",
			f.called(column), strings.Join(words, ", "),
		), LinesAdd)
		return
	}
	u.Lines = LinesAdd
	u.note("%s several rows of their own: they are added up.", plural(twice, "cell has", "cells have"))
}

// wholeRow is all that a row says.
func wholeRow(seed maphash.Seed, under string, l *Line) uint64 {
	var h maphash.Hash
	h.SetSeed(seed)
	_, _ = h.WriteString(under)
	for i := range l.Cells {
		_, _ = h.WriteString(strings.TrimFunc(l.Cells[i].Text, isSpace))
		_ = h.WriteByte(0)
	}
	return h.Sum64()
}

// sameAgain tells a row that says what one before it said in every cell, where rows of one
// cell add up: it is that row again.
func (r *reader) sameAgain(line *Line) bool {
	if r.Lines != LinesAdd {
		return false
	}
	if r.wholes == nil {
		r.wholes, r.seed = make(map[uint64]bool), maphash.MakeSeed()
	}
	whole := wholeRow(r.seed, r.under+"|"+r.code, line)
	again := r.wholes[whole]
	r.wholes[whole] = true
	return again
}

// keyOf is what a row says of where its amounts belong; zero where it says nothing.
func keyOf(seed maphash.Seed, f *finder, r *reader, l *Line) uint64 {
	var h maphash.Hash
	h.SetSeed(seed)
	_, _ = h.WriteString(r.under + "|" + r.code)
	said := false
	for i, x := range f.u.Uses {
		j := f.t.Index(x.As)
		if j < 0 || !f.t.Columns[j].Key {
			continue
		}
		text := LooseCode(l.At(i).Text)
		if f.t.Columns[j].Type == record.Period {
			text = f.periodText(l.At(i), &f.u.Uses[i])
		}
		said = said || text != ""
		_, _ = h.WriteString(x.As)
		_, _ = h.WriteString(text)
		_ = h.WriteByte(0)
	}
	if !said {
		return 0
	}
	return h.Sum64()
}

// periodText is the period that a cell states, in whichever way it is written.
func (f *finder) periodText(c Cell, use *Use) string {
	if p, _ := readMonth(c.Text, "", f.o.Periods); p != 0 && c.Kind == Words {
		return f.o.Periods.Code(p)
	}
	d := readDay(c.Text).in(use.Form)
	if c.Kind == Number {
		d = serialDay(c.Text, f.u.From1904)
	}
	if d == 0 {
		return LooseCode(c.Text)
	}
	return d.String()[:len("2026-11")]
}

// alternatives finds a column that tells the rows of the same cells apart by the same few
// words each time; -1 where there is none.
func (f *finder) alternatives(keys map[uint64]*sameKey, twice int) (column int, words []string) {
	const few = 6
	for i := range f.u.Uses {
		all, full := make(map[string]bool), 0
		for _, k := range keys {
			if k.rows < 2 || len(k.others[i]) != k.rows {
				continue
			}
			full++
			maps.Copy(all, k.others[i])
		}
		if full > 1 && full*2 > twice && len(all) <= few && len(all) < full*2 {
			return i, slices.Sorted(maps.Keys(all))
		}
	}
	return -1, nil
}
