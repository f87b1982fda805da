package gather

import (
	"maps"
	"slices"
	"strings"
)

// parents leaves out rows of cost codes that are the sums of the codes below them, which
// the sheet has too: each of their amounts is that of those rows of the same project. A
// row that is not their sum holds amounts of its own.
func (f *finder) parents() {
	u := f.u
	code := u.column("cost_code")
	if f.t.Name != "costs" || f.o.Names == nil || len(f.o.Names.above) == 0 || code < 0 || u.Uses[code].Kinds {
		return
	}
	t := newTotaller(&u.Layout, true)
	if t == nil {
		return
	}
	type row struct {
		n       int
		code    string
		amounts []int64
	}
	groups := make(map[string][]row)
	f.filled(func(r *reader, l *Line) bool {
		found := f.o.Names.Find("cost_code", strings.TrimFunc(l.At(code).Text, isSpace))
		amounts, any := t.amounts(l)
		if len(found) != 1 || !any {
			return true
		}
		key := strings.Clone(r.under + "|" + r.kind + "|" + f.keysBeside(l, code))
		groups[key] = append(groups[key], row{l.N, found[0], amounts})
		return true
	})
	for _, key := range slices.Sorted(maps.Keys(groups)) {
		rows := groups[key]
		for _, x := range rows {
			var below [][]int64
			for _, y := range rows {
				if f.o.Names.below(y.code, x.code) && !slices.ContainsFunc(rows, func(z row) bool {
					return f.o.Names.below(y.code, z.code) && f.o.Names.below(z.code, x.code) // summed within it
				}) {
					below = append(below, y.amounts)
				}
			}
			if len(below) > 0 && addsUp(x.amounts, below) {
				u.Unnamed = append(u.Unnamed, x.n)
				if f.proven == nil {
					f.proven = make(map[int]bool)
				}
				f.proven[x.n] = true
				u.Rows, f.totals = u.Rows-1, f.totals+1
				u.note("Row %d is left out: its cost code %s stands above others of the sheet, and it is their sum.", x.n, x.code)
			}
		}
	}
}

// keysBeside is what a row states of its key beside the cost code.
func (f *finder) keysBeside(l *Line, code int) string {
	var out []string
	for i, x := range f.u.Uses {
		if j := f.t.Index(x.As); i != code && j >= 0 && f.t.Columns[j].Key {
			out = append(out, Normal(l.At(i).Text))
		}
	}
	return strings.Join(out, "|")
}

// addsUp tells whether amounts, of which some say something, are the sums of rows.
func addsUp(amounts []int64, rows [][]int64) bool {
	const cent = 100
	some := false
	for i, n := range amounts {
		for _, r := range rows {
			n -= r[i]
		}
		if n < -cent || n > cent {
			return false
		}
		some = some || amounts[i] != 0
	}
	return some
}
