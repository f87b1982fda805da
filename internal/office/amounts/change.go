package amounts

import (
	"cmp"
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"math/big"
	"slices"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
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

// oneCurrency refuses lines of several currencies, of which a total would be of none.
func (b *block) oneCurrency() (money.Currency, error) {
	c := b.lines[0].currency
	for _, l := range b.lines {
		if l.currency != c {
			return "", &office.Misfit{Column: "total", Why: "the lines are in several currencies, so a total would be of none; choose those of one"}
		}
	}
	return c, nil
}

// total reads the total that someone typed.
func (b *block) total(text string) (int64, error) {
	c, err := b.oneCurrency()
	if err != nil {
		return 0, err
	}
	text = strings.TrimSpace(text)
	var n int64
	if formula, ok := strings.CutPrefix(text, "="); ok {
		n, err = Compute(formula, c)
	} else {
		n, err = money.Parse(plain(text), c)
	}
	if err != nil {
		return 0, &office.Misfit{Column: "total", Why: err.Error()}
	}
	return n, nil
}

// spread lays a total over the block: over its lines by what they hold, or alike, and over the
// periods of each in the way that is chosen.
func (b *block) spread(c Change) error {
	total, err := b.total(c.Total)
	if err != nil {
		return err
	}
	holds := make([]int64, len(b.lines))
	for i, l := range b.lines {
		_, amounts := b.cells(l)
		var ok bool
		if holds[i], ok = spread.Sum(amounts); !ok {
			return office.Refusef("What the lines hold is more than 64 bits of minor units.")
		}
	}
	parts, err := spread.By(total, holds)
	if errors.Is(err, spread.ErrNothing) {
		parts, err = spread.By(total, spread.Even(len(b.lines)))
	}
	if err != nil {
		return &office.Misfit{Column: "total", Why: err.Error()}
	}
	for i, l := range b.lines {
		at, _ := b.cells(l)
		if len(at) == 0 {
			continue
		}
		weights, err := b.weights(c, l, at)
		if err != nil {
			return err
		}
		amounts, err := spread.By(parts[i], weights)
		if err != nil {
			return &office.Misfit{Column: "how", Why: fmt.Sprintf("%s: %s", l.Title(), err)}
		}
		for k, q := range at {
			b.set(l.Key, q, amounts[k])
		}
	}
	return nil
}

// weights weigh the periods of a line for what is spread over them.
func (b *block) weights(c Change, l *Line, at []calendar.Period) ([]int64, error) {
	s := b.t.subject
	switch c.How {
	case "", "even":
		return spread.Even(len(at)), nil
	case "curve":
		return spread.Curve(len(at), cmp.Or(c.Steep, 2)), nil
	case "days":
		out := make([]int64, len(at))
		for i, q := range at {
			out[i] = spread.WorkingDays(s.view.Cal, b.t.periods, q, 1)[0]
		}
		return out, nil
	case "plan":
		return b.planned(l, at), nil
	}
	return nil, &office.Misfit{Column: "how", Why: fmt.Sprintf("%q is no way to spread", c.How)}
}

// planned is what the plan in force says of a line's cost code and flow in some periods.
func (b *block) planned(l *Line, at []calendar.Period) []int64 {
	out := make([]int64, len(at))
	v := b.t.subject.view
	if v.Plan == nil {
		return out
	}
	for i := range v.Plan.Lines {
		x := &v.Plan.Lines[i]
		if b.t.subject.snap.Office.Codes[x.CodeID].Code != l.Code || string(x.Flow) != l.Flow {
			continue
		}
		for _, c := range x.Cells {
			if k := slices.Index(at, c.Period); k >= 0 {
				out[k] += c.Amount
			}
		}
	}
	return out
}

// percent reads a percentage in hundredths of a percent.
func percent(text string) (int64, error) {
	text = strings.TrimSuffix(strings.TrimSpace(text), "%")
	n, err := money.ParseScaled(plain(text), 2)
	if err != nil {
		return 0, &office.Misfit{Column: "percent", Why: fmt.Sprintf("%q is no percentage with at most two decimals", text)}
	}
	return n, nil
}

// scale makes the block a percentage of what it is, each line to the minor unit.
func (b *block) scale(c Change) error {
	n, err := percent(c.Percent)
	if err != nil {
		return err
	}
	for _, l := range b.lines {
		at, amounts := b.cells(l)
		made, err := spread.Scale(amounts, n)
		if err != nil {
			return &office.Misfit{Column: "percent", Why: err.Error()}
		}
		for k, q := range at {
			b.set(l.Key, q, made[k])
		}
	}
	return nil
}

// toTotal scales the block so that it adds up to a total.
func (b *block) toTotal(c Change) error {
	total, err := b.total(c.Total)
	if err != nil {
		return err
	}
	var all []int64
	for _, l := range b.lines {
		_, amounts := b.cells(l)
		all = append(all, amounts...)
	}
	made, err := spread.By(total, all)
	if errors.Is(err, spread.ErrNothing) {
		return &office.Misfit{Column: "total", Why: "the cells add up to nothing, so there is nothing to scale; spread the total instead"}
	}
	if err != nil {
		return &office.Misfit{Column: "total", Why: err.Error()}
	}
	k := 0
	for _, l := range b.lines {
		at, _ := b.cells(l)
		for _, q := range at {
			b.set(l.Key, q, made[k])
			k++
		}
	}
	return nil
}

// shift moves the amounts of the block; what they land on is added to.
func (b *block) shift(by int) error {
	if by == 0 {
		return &office.Misfit{Column: "by", Why: "say by how many periods; below zero is earlier"}
	}
	for _, l := range b.lines {
		at, amounts := b.cells(l)
		moved := make(map[calendar.Period]int64)
		for k, q := range at {
			moved[q] += 0
			if amounts[k] == 0 {
				continue
			}
			to := q + calendar.Period(by)
			if !b.open(l, to) {
				return &office.Misfit{Column: "by", Why: fmt.Sprintf("%s of %s would move to %s, where nothing can be typed", short(amounts[k], l.currency), l.Title(), cmp.Or(b.t.periods.Name(to), "no period"))}
			}
			moved[to] += amounts[k]
		}
		for q, n := range moved {
			if q < b.from || q > b.to {
				var ok bool
				if n, ok = money.Add(n, b.now(l, q)); !ok {
					return office.Refusef("It is more than 64 bits of minor units hold.")
				}
			}
			b.set(l.Key, q, n)
		}
	}
	return nil
}

// repeat writes the amounts of the block into the same periods of the next fiscal years.
func (b *block) repeat(years int) error {
	if years < 1 || years > mostYears {
		return &office.Misfit{Column: "years", Why: fmt.Sprintf("say into how many years, 1 to %d", mostYears)}
	}
	ps := b.t.periods
	if ps.FiscalYear(b.from) != ps.FiscalYear(b.to) {
		return &office.Misfit{Column: "to", Why: "choose periods of one fiscal year, so that the next ones can be told from it"}
	}
	return b.each(func(l *Line, q calendar.Period) error {
		for y := 1; y <= years; y++ {
			to := ps.InYear(ps.FiscalYear(q)+y, ps.Number(q))
			if to == 0 || !b.open(l, to) {
				return &office.Misfit{Column: "years", Why: fmt.Sprintf("%s has no such period %d years on; draw the periods first", ps.Name(q), y)}
			}
			b.set(l.Key, to, b.now(l, q))
		}
		return nil
	})
}

// carry moves on, spreads or drops what was forecast for the period and did not come.
func (b *block) carry(rest string) error {
	if b.t.subject.Part != portfolio.ForecastPart {
		return office.Refusef("Only a forecast carries on what did not come.")
	}
	if !slices.Contains([]string{"move", "spread", "drop"}, rest) {
		return &office.Misfit{Column: "rest", Why: "say whether it moves on, is spread, or is dropped"}
	}
	left := b.t.didNotCome()
	any := false
	for _, l := range b.lines {
		n := left[l.Key]
		at, amounts := b.cells(l)
		if n == 0 || len(at) == 0 {
			continue
		}
		any = true
		switch rest {
		case "move":
			first, ok := money.Add(amounts[0], n)
			if !ok {
				return office.Refusef("%s: %s.", l.Title(), spread.ErrRange)
			}
			b.set(l.Key, at[0], first)
		case "spread":
			parts, err := spread.By(n, amounts)
			if err != nil {
				parts, err = spread.By(n, spread.Even(len(at)))
			}
			if err != nil {
				return office.Refusef("%s: %s.", l.Title(), err)
			}
			for k, q := range at {
				more, ok := money.Add(amounts[k], parts[k])
				if !ok {
					return office.Refusef("%s: %s.", l.Title(), spread.ErrRange)
				}
				b.set(l.Key, q, more)
			}
		}
	}
	if !any {
		return office.Refusef("All that was forecast for %s came on these lines, and no more.", b.t.periods.Name(b.t.subject.at))
	}
	if rest == "drop" {
		return office.Refusef("It is dropped by leaving the later periods as they are: nothing has to be changed.")
	}
	return nil
}

// didNotCome is, by line, what was forecast for the period last time, less what came.
func (t *Table) didNotCome() map[string]int64 {
	out := make(map[string]int64)
	s := t.subject
	before := portfolio.VersionAt(s.view.Project.Forecast, int(s.at)-1)
	if before == nil {
		return out
	}
	at := func(l *portfolio.Line) (sum int64) {
		for _, c := range l.Cells {
			if c.Period == s.at {
				sum += c.Amount
			}
		}
		return sum
	}
	type on struct{ code, flow, currency string }
	came, lines := make(map[on]int64), make(map[on]int)
	onOf := func(key string) on {
		x := partsOf(key)
		return on{x[0], x[1], x[5]}
	}
	booked := s.view.Ledger
	if len(booked) == 0 {
		booked = s.view.Actual
	}
	for i := range booked {
		came[onOf(t.keyOf(&booked[i]))] += at(&booked[i])
	}
	for i := range before.Lines {
		if at(&before.Lines[i]) != 0 {
			lines[onOf(t.keyOf(&before.Lines[i]))]++
		}
	}
	for i := range before.Lines {
		l := &before.Lines[i]
		key := t.keyOf(l)
		said := at(l)
		if said == 0 {
			continue
		}
		// What came on a code is taken off its first line: the ledger does not tell lines apart.
		k := onOf(key)
		out[key] = said
		if lines[k] == 1 {
			out[key] = said - came[k]
		} else {
			take := min(max(came[k], 0), said)
			out[key] = said - take
			came[k] -= take
		}
	}
	return out
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

// steps writes what the block has become, as cells that change and as sums of lines.
func (b *block) steps(p *Preview) error {
	var keys []string
	for key := range b.is {
		keys = append(keys, key)
	}
	slices.Sort(keys)
	h := sha256.New()
	for _, key := range keys {
		l := b.line(key)
		before, after := new(big.Int), new(big.Int)
		var at []calendar.Period
		for q := range b.is[key] {
			at = append(at, q)
		}
		slices.Sort(at)
		changed := false
		for _, q := range at {
			was, is := b.now(l, q), b.is[key][q]
			before.Add(before, big.NewInt(was))
			after.Add(after, big.NewInt(is))
			if was == is {
				continue
			}
			changed = true
			x := Step{Line: key, Title: l.Title(), Period: b.t.periods.Name(q), field: fieldOf(key, b.t.periods.Code(q))}
			if was != 0 {
				x.Was = short(was, l.currency)
			}
			x.Is = short(is, l.currency)
			if is == 0 && (p.Do == "clear" || b.blank(l, q)) {
				x.Is = ""
			}
			p.Steps = append(p.Steps, x)
			fmt.Fprintf(h, "%s=%s>%s\n", x.field, x.Was, x.Is)
		}
		if changed {
			p.Sums = append(p.Sums, [3]string{l.Title(), amountText(before, l.currency), amountText(after, l.currency)})
		}
	}
	p.Seen = fmt.Sprintf("%x", h.Sum(nil))[:16]
	return nil
}

// blank tells that nothing at all holds in a cell, so that emptying it says nothing either.
func (b *block) blank(l *Line, q calendar.Period) bool {
	if k := int(q - b.t.first()); k >= 0 && k < len(l.Cells) {
		return l.Cells[k].Is == ""
	}
	return true
}

// line is the line of a key, an empty one where it is new.
func (b *block) line(key string) *Line {
	for i := range b.t.Lines {
		if b.t.Lines[i].Key == key {
			return &b.t.Lines[i]
		}
	}
	l := b.t.line(key)
	return &l
}

func amountText(n *big.Int, c money.Currency) string {
	if !n.IsInt64() {
		return "more than 64 bits hold"
	}
	return short(n.Int64(), c)
}

// Number reads a whole number of a form; zero where it is none.
func Number(text string) int {
	n, err := strconv.Atoi(strings.TrimSpace(text))
	if err != nil {
		return 0
	}
	return n
}
