package money

import (
	"bytes"
	"context"
	"encoding/csv"
	"strconv"
	"strings"

	"turret/internal/brief"
	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/tell"
)

// File writes the money table as it is seen, to the cent: as a spreadsheet,
// "xlsx", whose sums are formulas, as "csv", or as "tsv", which spreadsheets paste.
func (o Room) File(ctx context.Context, a right.Actor, m *office.Moment, ask Ask, form string) ([]byte, error) {
	t, err := o.Table(ctx, a, m, ask)
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
	notes := append([]string{m.Name + ", " + m.Period.Name + ". In " + string(t.Currency) + "."}, t.Notes...)
	if hides := m.Hides(); hides != "" {
		notes = append(notes, hides)
	}
	b := brief.Table{
		Name:    "Money",
		Notes:   notes,
		Total:   "All",
		Columns: []brief.Column{{Head: "Code"}, {Head: "Name", Width: 34}},
	}
	for _, h := range table.heads {
		b.Columns = append(b.Columns, brief.Column{Head: h.name, Width: 14, Sum: !h.share})
	}
	for i, r := range table.rows {
		cells := []brief.Cell{{Text: r.code}, {Text: strings.Repeat("  ", r.depth) + r.name}}
		for k, v := range r.values {
			kind := brief.Money
			switch {
			case table.heads[k].plain:
				kind = brief.Ratio
			case table.heads[k].share:
				kind = brief.Share
			}
			cells = append(cells, brief.Cell{Type: kind, Number: v})
		}
		b.Rows, b.Below = append(b.Rows, cells), append(b.Below, table.below[i])
	}
	return brief.Workbook("Money, "+m.Period.Name, o.Clock(), []brief.Table{b})
}

// moneySheet is a money table as files have it: exact amounts as text.
type moneySheet struct {
	heads []moneyHead
	rows  []moneyLine
	below []int // of each row, how many of the next ones it sums
}

// moneyHead is a column of a file: of amounts, or of shares and other numbers, which add up to
// nothing.
type moneyHead struct {
	name   string
	share  bool
	plain  bool                    // a share that is not told in percent
	amount func(*costs.Row) int64  // zero of a share
	part   func(*costs.Row) string // of a share
}

type moneyLine struct {
	code, name string
	depth      int
	values     []string
}

// sheet writes the rows that are seen. What a row holds beside those seen below
// it, its own cells or rows that are left out, follows as a row of its own, so
// that sums add up.
func (t *Table) sheet() *moneySheet {
	s := &moneySheet{heads: t.heads()}
	amounts := func(r *costs.Row) (out []int64) {
		for _, h := range s.heads {
			out = append(out, h.amount(r))
		}
		return out
	}
	write := func(r *costs.Row, list []int64) (out []string) {
		for k, h := range s.heads {
			switch {
			case !h.share:
				out = append(out, money.Format(list[k], t.Currency))
			case r == nil:
				out = append(out, "")
			default:
				out = append(out, h.part(r))
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
					s.rows, s.below = append(
						s.rows,
						moneyLine{name: x.Name + ", not listed below", depth: depth, values: write(nil, rest)},
					), append(
						s.below,
						0,
					)
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

// heads are the columns of a file: each amount of each column, in one version or
// two, and the currency effect at constant rates.
func (t *Table) heads() (out []moneyHead) {
	versions := 1
	if t.Compared() {
		versions = 2
	}
	named := func(name string, m costs.Measure) string {
		if len(t.Measures) > 1 {
			name += ", " + m.Title()
		}
		return name
	}
	for i, c := range t.Columns {
		for _, m := range t.Measures {
			for v := range versions {
				h := moneyHead{name: named(c.Name, m), share: m == costs.InPercent}
				if v == 1 {
					h.name += ", " + t.Version
				}
				h.amount = func(r *costs.Row) int64 {
					n, _ := t.Value(r, v, m, i)
					return n
				}
				h.part = func(r *costs.Row) string {
					part, whole, ok := t.Percent(r, v, i)
					if !ok {
						return ""
					}
					return strconv.FormatFloat(float64(part)/float64(whole), 'f', 6, 64)
				}
				out = append(out, h)
			}
		}
	}
	for _, m := range t.Measures {
		if t.HasEffect(m) {
			out = append(
				out,
				moneyHead{
					name:   named("Currency effect", m),
					amount: func(r *costs.Row) int64 { return t.CurrencyEffect(r, m) },
				},
			)
		}
	}
	if t.Ends != nil {
		amount := func(of func(costs.End) int64) func(*costs.Row) int64 {
			return func(r *costs.Row) int64 { return of(t.Ends.Of(r)) }
		}
		left := func(r *costs.Row) string {
			end := t.Ends.Of(r)
			if end.Why != "" {
				return ""
			}
			return figure.Decimals(end.Left, 6)
		}
		out = append(out,
			moneyHead{name: "Outlook " + t.Year, amount: amount(func(e costs.End) int64 { return e.Outlook })},
			moneyHead{name: "Carried over", amount: amount(func(e costs.End) int64 { return e.Carried })},
			moneyHead{
				name: "Periods left", share: true, plain: true, part: left,
				amount: func(*costs.Row) int64 { return 0 },
			},
		)
	}
	return out
}

// seen tells whether a row is among those that are listed.
func seen(list []Row, r *costs.Row) bool {
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
		if err := w.Write(append([]string{strconv.Itoa(r.depth + 1), tell.Neutral(r.code), tell.Neutral(r.name)}, r.values...)); err != nil {
			return nil, err
		}
	}
	w.Flush()
	return b.Bytes(), w.Error()
}
