package amounts

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/spread"
	"turret/internal/office"
	"turret/internal/right"
)

// Change is what is to be done with the cells that are chosen: some lines, from one period
// through another.
type Change struct {
	Do       string   // one of Changes
	Lines    []string // keys; none: all
	From, To string   // codes of periods; "": the first, the last
	Total    string   // to be spread, or scaled to
	Percent  string   // to scale by, or to part out
	How      string   // to spread: even, days, plan or curve
	Steep    int      // of a curve
	By       int      // periods to shift by
	Years    int      // to repeat into
	Rest     string   // of what did not come: move, spread or drop
	Line     Added    // that a part or a copy goes to
}

// Changes are what can be done, in the order in which they are offered.
var Changes = [][2]string{
	{"spread", "Spread a total"},
	{"scale", "Scale by a percent"},
	{"total", "Scale to a total"},
	{"shift", "Shift by periods"},
	{"repeat", "Repeat into the next years"},
	{"carry", "Carry on what did not come"},
	{"part", "Part in two"},
	{"copy", "Copy to another line"},
	{"clear", "Empty"},
}

// Ways are how a total can be spread.
var Ways = [][2]string{{"even", "evenly"}, {"days", "by working days"}, {"plan", "along the plan"}, {"curve", "along an S-curve"}}

// Step is a cell that a change would make another.
type Step struct {
	Line, Title, Period string
	Was, Is             string
	field               string
}

// Preview is what a change would do, before it is kept.
type Preview struct {
	Change
	Steps    []Step
	Sums     [][3]string // by line: its title, the sum before and after
	NewLine  string      // key of a line that it adds
	Seen     string      // tells the steps: the change is kept only as it was shown
	Currency money.Currency
}

// mostYears is how many years amounts are repeated into at most.
const mostYears = 10

// Preview works out what a change would do to what is typed.
func (o Room) Preview(ctx context.Context, a right.Actor, m *office.Moment, project, kind string, c Change) (*Preview, error) {
	t, err := o.Table(ctx, a, m, project, kind, "")
	if err != nil {
		return nil, err
	}
	return t.preview(c)
}

// Apply keeps a change in the draft, where it does what was shown: seen tells that.
func (o Room) Apply(ctx context.Context, a right.Actor, m *office.Moment, project, kind string, c Change, seen string) (*Preview, error) {
	t, err := o.Table(ctx, a, m, project, kind, "")
	if err != nil {
		return nil, err
	}
	p, err := t.preview(c)
	if err != nil {
		return nil, err
	}
	if p.Seen != seen {
		return nil, office.Refusef("What is typed has changed since this was shown, so it would do something else; look at it again.")
	}
	return p, o.change(ctx, a, t.subject, func(kept map[string]Typed) error {
		for name, typed := range t.typed {
			if kept[name] != typed {
				return office.Refusef("What is typed has changed since this was shown, so it would do something else; look at it again.")
			}
		}
		if p.NewLine != "" {
			kept[fieldOf(p.NewLine, "")] = Typed{Text: added}
		}
		for _, x := range p.Steps {
			shown := ""
			if _, c := t.Cell(x.field); c != nil {
				shown = c.Shown()
			}
			put(kept, x.field, Typed{Was: shown, Text: x.Is})
		}
		return nil
	})
}

// block is what a change works on: amounts of lines by period.
type block struct {
	t        *Table
	lines    []*Line
	from, to calendar.Period
	is       map[string]map[calendar.Period]int64 // what the change makes them
}

func (t *Table) preview(c Change) (*Preview, error) {
	if t.Shut != "" {
		return nil, office.Refusef("%s", t.Shut)
	}
	b, err := t.block(c)
	if err != nil {
		return nil, err
	}
	p := &Preview{Change: c, Currency: t.Currency}
	switch c.Do {
	case "spread":
		err = b.spread(c)
	case "scale":
		err = b.scale(c)
	case "total":
		err = b.toTotal(c)
	case "shift":
		err = b.shift(c.By)
	case "repeat":
		err = b.repeat(c.Years)
	case "carry":
		err = b.carry(c.Rest)
	case "part", "copy":
		p.NewLine, err = b.toLine(c)
	case "clear":
		err = b.each(func(l *Line, q calendar.Period) error { b.set(l.Key, q, 0); return nil })
	default:
		err = &office.Misfit{Column: "what", Why: "choose what is to be done with the cells"}
	}
	if err != nil {
		return nil, err
	}
	if err := b.steps(p); err != nil {
		return nil, err
	}
	if len(p.Steps) == 0 {
		return nil, office.Refusef("It would change no cell.")
	}
	return p, nil
}

// block finds the cells that are chosen.
func (t *Table) block(c Change) (*block, error) {
	b := &block{t: t, is: make(map[string]map[calendar.Period]int64)}
	if len(t.Columns) == 0 {
		return nil, office.Refusef("There are no periods to type in.")
	}
	b.from, b.to = t.Columns[0].Period, t.Columns[len(t.Columns)-1].Period
	for _, x := range [...]struct {
		column, text string
		to           *calendar.Period
	}{{"from", c.From, &b.from}, {"to", c.To, &b.to}} {
		if x.text == "" {
			continue
		}
		p, err := t.periods.Parse(x.text)
		if err != nil {
			return nil, &office.Misfit{Column: x.column, Why: err.Error()}
		}
		*x.to = p
	}
	if b.to < b.from {
		b.from, b.to = b.to, b.from
	}
	if b.to-b.from >= longest {
		return nil, &office.Misfit{Column: "to", Why: fmt.Sprintf("at most %d periods are changed at once", longest)}
	}
	for i := range t.Lines {
		if len(c.Lines) == 0 || slices.Contains(c.Lines, t.Lines[i].Key) {
			b.lines = append(b.lines, &t.Lines[i])
		}
	}
	if len(b.lines) == 0 {
		return nil, &office.Misfit{Column: "line", Why: "choose the lines that it is for"}
	}
	for _, l := range b.lines {
		if l.wrong() {
			return nil, office.Refusef("%s has a cell that is no amount; mend it first.", l.Title())
		}
	}
	return b, nil
}

// Title is what a line is called.
func (l *Line) Title() string {
	out := strings.TrimSpace(l.Code + " " + l.Name)
	for _, x := range [...]string{l.Class, l.Centre, l.Activity} {
		if x != "" {
			out += " · " + x
		}
	}
	if l.Flow != "cost" {
		out += " · " + l.Flow
	}
	return out
}

func (l *Line) wrong() bool {
	return slices.ContainsFunc(l.Cells, func(c Cell) bool { return c.Wrong != "" })
}

// open tells that a cell can be typed.
func (b *block) open(l *Line, q calendar.Period) bool {
	if k := int(q - b.t.first()); k >= 0 && k < len(l.Cells) {
		return !l.Cells[k].Locked
	}
	return b.t.periods.Exists(q) && !b.t.subject.locked(q)
}

// now gives the amount of a cell as it is typed.
func (b *block) now(l *Line, q calendar.Period) int64 {
	if k := int(q - b.t.first()); k >= 0 && k < len(l.Cells) {
		n, _ := money.Parse(cmp.Or(l.Cells[k].Value(), "0"), l.currency) // wrong ones are mended first
		return n
	}
	return 0
}

func (b *block) set(key string, q calendar.Period, n int64) {
	if b.is[key] == nil {
		b.is[key] = make(map[calendar.Period]int64)
	}
	b.is[key][q] = n
}

// each goes through the cells of the block that can be typed.
func (b *block) each(do func(*Line, calendar.Period) error) error {
	for _, l := range b.lines {
		for q := b.from; q <= b.to; q++ {
			if b.open(l, q) {
				if err := do(l, q); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// cells gives the open cells of a line in the block: their periods and amounts.
func (b *block) cells(l *Line) (at []calendar.Period, amounts []int64) {
	for q := b.from; q <= b.to; q++ {
		if b.open(l, q) {
			at, amounts = append(at, q), append(amounts, b.now(l, q))
		}
	}
	return at, amounts
}

// toLine copies the block to a line that is added, or parts a percentage of it out to one.
func (b *block) toLine(c Change) (key string, err error) {
	if len(b.lines) != 1 {
		return "", &office.Misfit{Column: "line", Why: "choose the one line that it is for"}
	}
	l := b.lines[0]
	x := c.Line
	if x.Currency == "" {
		x.Currency = l.Money
	}
	if x.Code == "" {
		x.Code = l.Code
	}
	if x.Flow == "" {
		x.Flow = l.Flow
	}
	if key, err = b.t.newLine(x); err != nil {
		return "", err
	}
	if !strings.HasSuffix(key, "~"+l.Money) {
		return "", &office.Misfit{Column: "currency", Why: "amounts stay in their currency; the other line has another"}
	}
	at, amounts := b.cells(l)
	if c.Do == "copy" {
		for k, q := range at {
			b.set(key, q, amounts[k])
		}
		return key, nil
	}
	n, err := percent(c.Percent)
	if err != nil {
		return "", err
	}
	if n <= 0 || n >= 100_00 {
		return "", &office.Misfit{Column: "percent", Why: "a part is more than 0% and less than 100%"}
	}
	taken, stays, err := spread.Part(amounts, n)
	if err != nil {
		return "", &office.Misfit{Column: "percent", Why: err.Error()}
	}
	for k, q := range at {
		b.set(key, q, taken[k])
		b.set(l.Key, q, stays[k])
	}
	return key, nil
}

// Number reads a whole number of a form; zero where it is none.
func Number(text string) int {
	n, err := strconv.Atoi(strings.TrimSpace(text))
	if err != nil {
		return 0
	}
	return n
}
