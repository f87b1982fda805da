package stating

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"turret/internal/core/money"
	"turret/internal/office"
)

// What becomes of an amount that was forecast for the period and did not come: the total
// is kept, and it spreads over the periods to come as they lie; it moves on to the first
// of them; or it is dropped. An amount that came beyond the forecast is taken off alike.
const (
	restKept    = "keep"
	restMoved   = "move on"
	restDropped = "drop"
)

var rests = []string{restKept, restMoved, restDropped}

// amount tells that a column holds the amounts of a period to come.
func (c *Column) amount() bool { return !c.Locked && !c.Rest() }

// Rest tells that a column asks what becomes of what did not come.
func (c *Column) Rest() bool { return c.Name == restColumn }

// isRest tells a field that says what becomes of a rest.
func isRest(field string) bool { return strings.HasSuffix(field, "/"+restColumn) }

// ask lays a column beside what came, in which to say what becomes of what did not; none
// where all came.
func (g *Grid) ask() {
	at := slices.IndexFunc(g.Columns, func(c Column) bool { return !c.Locked })
	if at < 0 || !slices.ContainsFunc(g.Rows, func(r Row) bool { return r.rest != "" }) {
		return
	}
	g.Columns = slices.Insert(g.Columns, at, Column{Name: restColumn, Title: "What did not come", Choices: rests})
	for i := range g.Rows {
		r := &g.Rows[i]
		r.Cells = slices.Insert(r.Cells, at, Cell{Name: nameOf(r.Key, restColumn), Is: r.rest, Fixed: r.rest == ""})
	}
}

// Following are the cells whose amounts follow what is said of rests.
func (g *Grid) Following() (out []*Cell) {
	g.each(func(r *Row, j int, c *Cell) {
		if r.rest != "" && g.Columns[j].amount() {
			out = append(out, c)
		}
	})
	return out
}

// settling gives what settles the rests among fields that are typed; it does nothing
// where none is.
func (o Room) settling(ctx context.Context, s *subject, typed map[string]Typed) (func(before, kept map[string]Typed) error, error) {
	for field, t := range typed {
		if !isRest(field) {
			continue
		}
		if t.Text != "" && !slices.Contains(rests, t.Text) {
			return nil, office.Refusef("%q says nothing of what did not come; say %s.", t.Text, strings.Join(rests, ", "))
		}
		g, err := s.lay(ctx, s)
		if err != nil {
			return nil, err
		}
		return g.settle, nil
	}
	return func(_, _ map[string]Typed) error { return nil }, nil
}

// settle makes the amounts of a draft follow what was said of rests: what was said before
// is taken out of them, and what is said now put in.
func (g *Grid) settle(before, kept map[string]Typed) error {
	for i := range g.Rows {
		r := &g.Rows[i]
		field := nameOf(r.Key, restColumn)
		was, is := before[field], kept[field]
		if was == is || r.rest == "" {
			continue
		}
		if err := g.carry(r, kept, was, is); err != nil {
			return err
		}
	}
	return nil
}

func (g *Grid) carry(r *Row, kept map[string]Typed, was, is Typed) error {
	cur := money.Currency(r.keys["currency"])
	var cells []*Cell
	var holds []int64
	for j := range r.Cells {
		if !g.Columns[j].amount() {
			continue
		}
		n, err := parseCell(r.Cells[j].Is, cur)
		if err != nil {
			return err
		}
		cells, holds = append(cells, &r.Cells[j]), append(holds, n)
	}
	out, err := restShares(was, holds, cur)
	if err != nil {
		return err
	}
	in, err := restShares(is, holds, cur)
	if err != nil {
		return err
	}
	for j, c := range cells {
		if in[j] == out[j] {
			continue
		}
		t, typed := kept[c.Name]
		if !typed {
			t = Typed{Was: c.Is, Text: c.Is}
		}
		n, err := parseCell(t.Text, cur)
		if err != nil {
			return office.Refusef("%s %s: %s Mend it first; then say what becomes of what did not come.", r.Code, r.Title, err)
		}
		t.Text = short(n-out[j]+in[j], cur)
		if t.Text == cmp.Or(c.Is, "0") {
			delete(kept, c.Name)
		} else {
			kept[c.Name] = t
		}
	}
	return nil
}

// restShares is what each period to come takes of a rest, in minor units: Was is the
// rest, Text what is said of it.
func restShares(t Typed, holds []int64, cur money.Currency) ([]int64, error) {
	switch t.Text {
	case restKept, restMoved:
		rest, err := parseCell(t.Was, cur)
		if err != nil {
			return nil, err
		}
		if t.Text == restMoved {
			holds = make([]int64, len(holds)) // without weights the first takes all
		}
		return money.Share(rest, holds), nil
	default:
		return make([]int64, len(holds)), nil
	}
}

// parseCell reads an amount as it is typed, in minor units; none is zero.
func parseCell(text string, cur money.Currency) (int64, error) {
	return money.Parse(cmp.Or(plainAmount(text), "0"), cur)
}
