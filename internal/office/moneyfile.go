package office

import (
	"bytes"
	"context"
	"encoding/csv"
	"strconv"
	"strings"

	"turret/internal/brief"
	"turret/internal/core/costs"
	"turret/internal/core/money"
	"turret/internal/right"
)

// MoneyFile writes the money table as it is seen, to the cent: as a spreadsheet,
// "xlsx", whose sums are formulas, as "csv", or as "tsv", which spreadsheets paste.
func (o *Office) MoneyFile(ctx context.Context, a right.Actor, m *Moment, ask MoneyAsk, form string) ([]byte, error) {
	t, err := o.MoneyTable(ctx, a, m, ask)
	if err != nil {
		return nil, err
	}
	table := t.sheet()
	switch form {
	case "csv":
		return table.csv(',')
	case "tsv":
		return table.csv('\t')
	}
	b := brief.Table{Name: "Money", Notes: append([]string{m.Name + ", " + m.Period.Name + ". In " + string(t.Currency) + "."}, t.Notes...), Total: "All", Columns: []brief.Column{{Head: "Code"}, {Head: "Name", Width: 34}}}
	for _, h := range table.heads {
		b.Columns = append(b.Columns, brief.Column{Head: h.name, Width: 14, Sum: !h.share})
	}
	for i, r := range table.rows {
		cells := []brief.Cell{{Text: r.code}, {Text: strings.Repeat("  ", r.depth) + r.name}}
		for k, v := range r.values {
			kind := brief.Money
			if table.heads[k].share {
				kind = brief.Share
			}
			cells = append(cells, brief.Cell{Type: kind, Number: v})
		}
		b.Rows, b.Below = append(b.Rows, cells), append(b.Below, table.below[i])
	}
	return brief.Workbook("Money, "+m.Period.Name, o.clock(), []brief.Table{b})
}

// moneySheet is a money table as files have it: exact amounts as text.
type moneySheet struct {
	heads []moneyHead
	rows  []moneyLine
	below []int // of each row, how many of the next ones it sums
}

type moneyHead struct {
	name  string
	share bool
}

type moneyLine struct {
	code, name string
	depth      int
	values     []string
}

// sheet writes the rows that are seen. What a row holds beside those seen below
// it, its own cells or rows that are left out, follows as a row of its own, so
// that sums add up.
func (t *MoneyTable) sheet() *moneySheet {
	s := &moneySheet{}
	versions := 1
	if t.Compared() {
		versions = 2
	}
	for _, c := range t.Columns {
		for _, m := range t.Measures {
			for v := range versions {
				name := c.Name
				if len(t.Measures) > 1 {
					name += ", " + m.Title()
				}
				if v == 1 {
					name += ", " + t.Version
				}
				s.heads = append(s.heads, moneyHead{name, m == costs.InPercent})
			}
		}
	}
	amounts := func(r *costs.Row) (out []int64) {
		for i := range t.Columns {
			for _, m := range t.Measures {
				for v := range versions {
					n, _ := t.Value(r, v, m, i) // zero in columns of percent, which are written apart
					out = append(out, n)
				}
			}
		}
		return out
	}
	write := func(r *costs.Row, list []int64) (out []string) {
		at := 0
		for i := range t.Columns {
			for _, m := range t.Measures {
				for v := range versions {
					text := money.Format(list[at], t.Currency)
					if m == costs.InPercent {
						text = ""
						if r != nil {
							if part, whole, ok := t.Percent(r, v, i); ok {
								text = strconv.FormatFloat(float64(part)/float64(whole), 'f', 6, 64)
							}
						}
					}
					out, at = append(out, text), at+1
				}
			}
		}
		return out
	}
	var walk func(from, depth int) int
	walk = func(from, depth int) int {
		i := from
		for i < len(t.Rows) && t.Rows[i].Depth == depth {
			x := t.Rows[i]
			own := amounts(x.Row)
			line := moneyLine{code: x.Row.Key, name: x.Name, depth: depth - 1, values: write(x.Row, own)}
			place := len(s.rows)
			s.rows, s.below = append(s.rows, line), append(s.below, 0)
			next := i + 1
			if next < len(t.Rows) && t.Rows[next].Depth > depth {
				next = walk(next, depth+1)
				rest, any := append([]int64(nil), own...), false
				for _, c := range x.Below {
					if seen(t.Rows[i+1:next], c) {
						for k, n := range amounts(c) {
							rest[k] -= n
						}
					}
				}
				for _, n := range rest {
					any = any || n != 0
				}
				if any {
					s.rows, s.below = append(s.rows, moneyLine{name: x.Name + ", not listed below", depth: depth, values: write(nil, rest)}), append(s.below, 0)
				}
				s.below[place] = len(s.rows) - place - 1
			}
			i = next
		}
		return i
	}
	walk(0, 1)
	return s
}

// seen tells whether a row is among those that are listed.
func seen(list []MoneyRow, r *costs.Row) bool {
	for i := range list {
		if list[i].Row == r {
			return true
		}
	}
	return false
}

func (s *moneySheet) csv(comma rune) ([]byte, error) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	w.Comma = comma
	head := []string{"level", "code", "name"}
	for _, h := range s.heads {
		head = append(head, h.name)
	}
	if err := w.Write(head); err != nil {
		return nil, err
	}
	for _, r := range s.rows {
		if err := w.Write(append([]string{strconv.Itoa(r.depth + 1), Neutral(r.code), Neutral(r.name)}, r.values...)); err != nil {
			return nil, err
		}
	}
	w.Flush()
	return b.Bytes(), w.Error()
}
