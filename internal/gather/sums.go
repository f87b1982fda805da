package gather

import (
	"strings"

	"turret/internal/core/money"
)

// totaller adds up columns and rows, and compares what the sheet states as
// their sums.
type totaller struct {
	u     *Layout
	loose bool          // sums are of unrounded figures, as spreadsheets have them
	all   map[int]int64 // of all rows
	since map[int]int64 // since the last row of sums
	found []Sum
	wide  bool // sums of rows stand in columns
	rows  bool
}

const (
	sumScale = 4  // decimals of the sums that are compared
	mostSums = 50 // told of one sheet
)

// newTotaller gives nil where the sheet has no amounts to add up.
func newTotaller(u *Layout, loose bool) *totaller {
	if u.Canonical {
		return nil
	}
	t := &totaller{u: u, loose: loose, all: make(map[int]int64), since: make(map[int]int64)}
	for _, x := range u.Uses {
		switch x.As {
		case AsMonth, "amount", AsCredit:
			t.rows = true
		case AsTotal:
			t.wide = true
		}
	}
	if !t.rows {
		return nil
	}
	return t
}

func (t *totaller) number(l *Line, i int) (n int64, ok bool) {
	c := l.At(i)
	text := c.Text
	if c.Kind == Words {
		if isBlank(text) || isDash(text) {
			return 0, isDash(text)
		}
		var is bool
		if text, is = plainNumber(text, t.u.Uses[i].Form); !is {
			return 0, false
		}
	}
	if c.Kind == Uncalculated {
		return 0, false
	}
	if whole, part, has := strings.Cut(text, "."); has && len(part) > sumScale {
		text = whole + "." + part[:sumScale]
	}
	n, err := money.ParseScaled(text, sumScale)
	return n, err == nil
}

// see takes a row; total tells that it is one of sums.
func (t *totaller) see(l *Line, total bool) {
	u := t.u
	if t.wide {
		t.across(l)
	}
	for i, x := range u.Uses {
		if x.As != AsMonth && x.As != "amount" && x.As != AsCredit {
			continue
		}
		n, ok := t.number(l, i)
		if !ok {
			continue
		}
		if !total {
			t.all[i] += n
			t.since[i] += n
			continue
		}
		found := t.since[i]
		if n == t.all[i] {
			found = n
		}
		t.add(l.N, u.Heads[i], n, found, false)
	}
	if total {
		clear(t.since)
	}
}

// across compares a sum at the side with the months before it: all of them, or
// those since the sum before.
func (t *totaller) across(l *Line) {
	var all, since int64
	months := false
	for i, x := range t.u.Uses {
		switch x.As {
		case AsMonth, "amount":
			if x.As == "amount" && x.Code == "" && x.Project == "" {
				break
			}
			n, _ := t.number(l, i)
			all, since, months = all+n, since+n, true
		case AsTotal:
			n, ok := t.number(l, i)
			if !ok {
				continue
			}
			if !months { // it stands before its months
				for j, y := range t.u.Uses {
					if y.As == AsMonth || y.Code != "" || y.Project != "" {
						m, _ := t.number(l, j)
						all += m
					}
				}
				t.add(l.N, t.u.Heads[i], n, all, true)
				all = 0
				continue
			}
			found := all
			if n == since {
				found = n
			}
			t.add(l.N, t.u.Heads[i], n, found, true)
			since = 0
		}
	}
}

// add notes a total: those that agree are counted, those that do not are told.
func (t *totaller) add(row int, head string, stated, found int64, across bool) {
	const cent = 100 // of the scale: sheets round
	d := stated - found
	agrees := d == 0 || across && d >= -cent && d <= cent && t.loose
	if len(t.found) < mostSums || !agrees {
		write := func(n int64) string { return trimmed(money.FormatScaled(n, sumScale)) }
		if len(t.found) < 2*mostSums {
			t.found = append(t.found, Sum{row, head, write(stated), write(found), agrees})
		}
	}
}

func trimmed(s string) string {
	return strings.TrimSuffix(strings.TrimRight(s, "0"), ".")
}
