package money

import (
	"cmp"
	"context"
	"net/url"
	"slices"
	"strings"

	"turret/internal/core/costs"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/tell"
)

// fewRows is how many rows a table shows whole when nothing is said.
const fewRows = 40

// list flattens the rows that are shown.
func (b *moneyBuilder) list() {
	t := b.out
	all := 0
	var depth func(*costs.Row)
	depth = func(r *costs.Row) {
		all++
		t.Depth = max(t.Depth, r.Depth)
		for _, c := range r.Below {
			depth(c)
		}
	}
	depth(t.Root)
	other := 1
	if all <= fewRows {
		other = max(t.Depth, 1)
	}
	t.Unfolded = max(b.number("level", b.ask.Unfolded, other), 1)
	turned := make(map[string]bool)
	for _, k := range strings.Split(b.ask.Fold, ",") {
		if k != "" {
			turned[k] = true
		}
	}
	few := b.largest()
	var walk func(*costs.Row)
	walk = func(r *costs.Row) {
		for _, c := range r.Below {
			if !b.shown(c) || few != nil && c.Parent == t.Root && !few[c] {
				continue
			}
			row := Row{Row: c, Depth: c.Depth}
			if len(c.Below) > 0 {
				key := RowKey(c)
				row.Folded = (c.Depth >= t.Unfolded) != turned[key]
				row.Fold = turn(b.ask.Fold, key)
			}
			t.Rows = append(t.Rows, row)
			if len(c.Below) > 0 && !row.Folded {
				walk(c)
			}
		}
	}
	walk(t.Root)
}

// mostLargest is how many rows the largest few are.
const mostLargest = 10

// largest are the rows at the top with the most money, either way, where those alone are asked
// for: all others are in the total, and it is told how many they are. Nil: all are wanted.
func (b *moneyBuilder) largest() map[*costs.Row]bool {
	t := b.out
	if b.ask.Only != "largest" || len(t.Root.Below) <= mostLargest {
		return nil
	}
	size := func(r *costs.Row) (sum uint64) {
		for _, m := range t.Measures {
			for c := range t.Columns {
				if n, ok := t.Value(r, 0, m, c); ok {
					sum += uint64(max(n, -n))
				}
			}
		}
		return sum
	}
	list := slices.Clone(t.Root.Below)
	slices.SortStableFunc(list, func(a, b *costs.Row) int { return cmp.Compare(size(b), size(a)) })
	out := make(map[*costs.Row]bool)
	for _, r := range list[:mostLargest] {
		out[r] = true
	}
	b.note("These are the %d largest of %d rows; the total counts all of them.", mostLargest, len(list))
	return out
}

// shown tells whether a row is wanted: one with amounts, and, where that is
// asked, one that differs.
func (b *moneyBuilder) shown(r *costs.Row) bool {
	t := b.out
	switch b.ask.Only {
	case "differs":
		return !t.Compared() || t.Differs(r, t.Measures)
	case "empty":
		return true
	}
	for _, m := range t.Measures {
		for c := range t.Columns {
			for v := range 2 {
				if n, ok := t.Value(r, v, m, c); ok && n != 0 {
					return true
				}
			}
		}
	}
	return false
}

// RowKey names a row by its path, for an address.
func RowKey(r *costs.Row) string {
	path := r.Path()
	for i := range path {
		path[i] = escapeKey(path[i])
	}
	return strings.Join(path, "~")
}

func escapeKey(s string) string { return strings.ReplaceAll(url.QueryEscape(s), "~", "%7E") }

// pathOf reads a path as RowKey writes it; what cannot be read is no row's.
func pathOf(key string) (out []string) {
	if key == "" {
		return nil
	}
	for _, k := range strings.Split(key, "~") {
		name, err := url.QueryUnescape(k)
		if err != nil {
			name = k
		}
		out = append(out, name)
	}
	return out
}

// turn adds a key to a list with commas, or takes it out.
func turn(list, key string) string {
	var out []string
	found := false
	for _, k := range strings.Split(list, ",") {
		if k == key {
			found = true
		} else if k != "" {
			out = append(out, k)
		}
	}
	if !found {
		out = append(out, key)
	}
	return strings.Join(out, ",")
}

// Find gives the row of a path as RowKey writes it, "" being all; nil where
// there is none.
func (t *Table) Find(key string) *costs.Row {
	r := t.Root
	if key == "" {
		return r
	}
	for _, name := range pathOf(key) {
		i := slices.IndexFunc(r.Below, func(c *costs.Row) bool { return c.Key == name })
		if i < 0 {
			return nil
		}
		r = r.Below[i]
	}
	return r
}

// Curve gives the money of a row over all its time, cumulative: plan, what
// is spent through the moment's period, and what is stated to come.
func (o Room) Curve(ctx context.Context, a right.Actor, m *office.Moment, ask Ask, key string) (*tell.Curve, error) {
	ask.Per, ask.Span, ask.Sum, ask.Beside, ask.Fold = "", "all", "cumulative", "", ""
	m = m.Alone()
	t, err := o.Table(ctx, a, m, ask)
	if err != nil {
		return nil, err
	}
	row := t.Find(key)
	if row == nil {
		return nil, office.Refusef("There is no such row in this table; go back to it.")
	}
	c := &tell.Curve{}
	for i, x := range t.Columns[:len(t.Columns)-1] {
		c.Periods = append(c.Periods, t.versions[0].inputs.Office.Periods.Name(x.To))
		plan, _ := t.Value(row, 0, costs.Planned, i)
		spent, _ := t.Value(row, 0, costs.Spent, i)
		running, _ := t.Value(row, 0, costs.Running, i)
		c.Plan = append(c.Plan, plan)
		if x.To <= t.period {
			c.Now, c.Actual = i, append(c.Actual, spent)
		}
		if x.To >= t.period {
			c.Stated = append(c.Stated, running)
		}
	}
	return c, nil
}
