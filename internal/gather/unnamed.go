package gather

import (
	"slices"
	"strings"
)

// unnamed finds the rows of sums that no word tells from the rows they sum: where codes
// stand once for several rows, a row that states none at all would be taken for one more of
// the last code. It is a sum where each of its amounts is that of rows above it, and where
// it states the name of what the rows stand under again; whether it is right is then asked.
func (f *finder) unnamed() {
	u := f.u
	if len(u.Down) == 0 || f.t.Name != "costs" {
		return
	}
	t := newTotaller(&u.Layout, true)
	if t == nil {
		return
	}
	const most = 20_000 // rows that are looked at
	seen, groups := 0, make(map[int]map[string]bool)
	var rows [][]int64
	var shut []int // rows before each sum
	u.data(f.s, func(l *Line) bool {
		if seen++; seen > most || len(u.Unnamed) > sampled {
			return false
		}
		amounts, any := t.amounts(l)
		if !any {
			return true
		}
		if f.statesNone(l) && (isSumOf(amounts, rows, shut) || f.isGroup(l, groups)) {
			u.Unnamed, shut = append(u.Unnamed, l.N), append(shut, len(rows))
			u.Rows, f.totals = u.Rows-1, f.totals+1
			return true
		}
		rows = append(rows, amounts)
		for i, x := range u.Uses {
			if text := Normal(l.At(i).Text); x.As == AsExtra && text != "" && l.At(i).Kind == Words {
				if groups[i] == nil {
					groups[i] = make(map[string]bool)
				}
				groups[i][text] = true
			}
		}
		return true
	})
	if n := len(u.Unnamed); n > 0 {
		u.note("%s neither project nor code, and what %s is the sum of rows above: left out, as row %d.",
			plural(n, "row states", "rows state"), map[bool]string{true: "it states", false: "they state"}[n == 1], u.Unnamed[0])
	}
}

// statesNone tells a row that states nothing of its key but amounts: neither a code, nor a
// period, activity or kind of its own; a programme is none, where projects stand.
func (f *finder) statesNone(l *Line) bool {
	for i, x := range f.u.Uses {
		j := f.t.Index(x.As)
		if j >= 0 && (f.t.Columns[j].Key || x.As == "note") && !isBlank(l.At(i).Text) {
			text := l.At(i).Text
			if x.As == "project" && len(f.o.Names.Find("project", text)) == 0 && len(f.o.Names.Find("programme", text)) > 0 {
				continue
			}
			return false
		}
	}
	return true
}

// isGroup tells a row whose words name again what rows before it stand under.
func (f *finder) isGroup(l *Line, groups map[int]map[string]bool) bool {
	words, named := 0, 0
	for i, x := range f.u.Uses {
		text := strings.TrimFunc(l.At(i).Text, isSpace)
		if x.As != AsExtra || text == "" || l.At(i).Kind != Words {
			continue
		}
		words++
		if groups[i][Normal(text)] || len(f.o.Names.Find("programme", text)) > 0 {
			named++
		}
	}
	return words > 0 && named == words
}

// amounts are what a row states under each head of amounts.
func (t *totaller) amounts(l *Line) (out []int64, any bool) {
	for i, x := range t.u.Uses {
		if x.As == AsMonth || x.As == "amount" || x.As == AsCredit {
			n, ok := t.number(l, i)
			out, any = append(out, n), any || ok
		}
	}
	return out, any
}

// isSumOf tells whether amounts are the sums of two rows before or more: of those since
// the last sum, or since one before it.
func isSumOf(amounts []int64, rows [][]int64, shut []int) bool {
	const cent, few = 100, 2
	if !slices.ContainsFunc(amounts, func(n int64) bool { return n != 0 }) {
		return false
	}
	sums := make([]int64, len(amounts))
	for k := len(rows) - 1; k >= 0 && len(rows)-k < mostGroups; k-- {
		for i, n := range rows[k] {
			sums[i] += n
		}
		if len(rows)-k < few || k > 0 && !slices.Contains(shut, k) {
			continue
		}
		same := true
		for i := range sums {
			d := sums[i] - amounts[i]
			same = same && d >= -cent && d <= cent
		}
		if same {
			return true
		}
	}
	return false
}
