// Package costs makes tables of money: every cell of what is planned, booked,
// ordered and still to come, converted by itself, summed by any rows and any
// columns. The same cells make the figures, so sums agree with them to the cent.
package costs

import (
	"cmp"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Kind is what a cell is.
type Kind uint8

// The kinds of cells. Accruals are taken back in the period after, so that
// actual and accrual cells through a period are the actual cost at its end.
const (
	Plan       Kind = iota // of the baseline in force, or spread from budgets
	Actual                 // totals and postings, through the period
	Accrual                // through the period, each taken back in the next
	Forecast               // after the period, of the statement in force
	Commitment             // of the statement in force, whatever its period
	Outlook                // what the computed outlook adds to what is spent, after the period
	kinds
)

func (k Kind) String() string {
	return [...]string{"plan", "actual", "accrual", "forecast", "commitment", "outlook"}[k]
}

// Key is what tells the lines of a project apart.
type Key struct {
	Flow     portfolio.Flow
	CodeID   int64
	Code     string // of the time; "": on no cost code
	Class    string
	Centre   string
	Activity string
}

// Line is what one line of a project states of one kind, in one currency.
type Line struct {
	Kind Kind
	Key
	again   bool // of the key of the line before
	Reserve bool // management reserve: its plan is in no BAC
	First   calendar.Period
	through []int64 // minor units from First through each period; while lines are collected, of each period

	Currency money.Currency // in which it was stated
	Own      []int64        // its amounts in it, by period from First on; nil where they need no conversion
}

// After is the first period that a line has no amount for any more.
func (l *Line) After() calendar.Period { return l.First + calendar.Period(len(l.through)) }

// Amount gives what a line states for a period, in minor units.
func (l *Line) Amount(p calendar.Period) int64 { return l.Sum(p, p) }

// Sum gives what a line states for the periods from one to another, both
// included.
func (l *Line) Sum(from, to calendar.Period) int64 {
	from, to = max(from, l.First), min(to, l.After()-1)
	switch {
	case from > to:
		return 0
	case from == l.First:
		return l.through[to-l.First]
	}
	return l.through[to-l.First] - l.through[from-1-l.First]
}

// seal adds up the amounts of a line. It gives the reason why it cannot, or "".
func (l *Line) seal() string {
	for i := 1; i < len(l.through); i++ {
		var ok bool
		if l.through[i], ok = money.Add(l.through[i-1], l.through[i]); !ok {
			return tooLarge
		}
	}
	return ""
}

// Project is all lines of a project at a period.
type Project struct {
	*portfolio.Project
	Currency money.Currency
	Lines    []Line
	Number   int    // of the baseline in force
	Why      string // why they are not known, or ""
	Stated   bool   // a forecast is in force
	Passed   bool   // its actual cost is in part its plan, as time passed
	Span     [2]calendar.Period
}

// Rates says at which rates cells are converted.
type Rates uint8

// Cells convert at the rates of their kind, which the figures use, or all of
// them at plan rates, so that no rate moves them.
const (
	Usual Rates = iota
	Constant
)

// Of gives all lines of a project at a view, in a currency.
func Of(p *earned.Progress, currency money.Currency, rates Rates) *Project {
	return collect(p, currency, rates, nil)
}

// Expect adds what the computed outlook says is still to come of a project at a
// period: spread evenly over the periods after it through the last, on no cost
// code, since an estimate of the whole has none. A last period that is not after
// it puts all into the next.
func (p *Project) Expect(at calendar.Period, toGo int64, last calendar.Period) {
	if toGo == 0 || p.Why != "" {
		return
	}
	weights := make([]int64, max(last-at, 1))
	for i := range weights {
		weights[i] = 1
	}
	l := Line{
		Kind:     Outlook,
		Key:      Key{Flow: portfolio.Cost},
		First:    at + 1,
		through:  money.Share(toGo, weights),
		Currency: p.Currency,
	}
	l.seal() // parts of one amount
	p.Lines = append(p.Lines, l)
	if p.Span[0] == 0 {
		p.Span[0] = at + 1
	}
	p.Span[1] = max(p.Span[1], at+calendar.Period(len(weights)))
}

// Cell is one cell behind the lines of a project: what was stated, and what it
// adds in the currency of the table.
type Cell struct {
	Kind   Kind
	Key    Key
	Period calendar.Period // in which it counts
	Back   bool            // an accrual that is taken back
	Posted bool            // a sum of postings
	Passed bool            // planned, and spent only because time passed
	Line   *portfolio.Line
	Stated *portfolio.Cell
	Amount int64
	Share  int64 // of the stated cell that this is, in millionths of a percent; zero: all of it
}

// Each hands over every cell that Of converts, in the order of its lines, and
// gives the reason why they are not known, or "".
func Each(p *earned.Progress, currency money.Currency, rates Rates, each func(*Cell)) string {
	return collect(p, currency, rates, each).Why
}

func collect(p *earned.Progress, currency money.Currency, rates Rates, each func(*Cell)) *Project {
	out := &Project{Project: p.Project, Currency: currency, Number: p.Number}
	c := &collector{
		to:    out,
		view:  p.View,
		rates: rates,
		each:  each,
		money: &earned.Money{Progress: p, Currency: currency},
	}
	forecast := portfolio.VersionAt(p.Project.Forecast, int(p.Period))
	out.Stated, out.Passed = forecast != nil, len(p.Elapsed) > 0
	through := func(q calendar.Period) bool { return q <= p.Period }
	c.lines(Plan, earned.PlanLines(p), money.PlanRates, false, nil)
	c.lines(Actual, p.Actual, money.PeriodRates, false, through)
	c.posted = true
	c.lines(Actual, p.Ledger, money.PeriodRates, false, through)
	c.posted, c.elapsed = false, true
	c.lines(Actual, p.Elapsed, money.PeriodRates, false, through)
	c.elapsed = false
	c.lines(Accrual, p.Accrual, money.PeriodRates, false, through)
	if forecast != nil {
		c.lines(Forecast, forecast.Lines, money.PeriodRates, true, func(q calendar.Period) bool { return q > p.Period })
	}
	if v := portfolio.VersionAt(p.Project.Commitment, int(p.Period)); v != nil {
		c.lines(Commitment, v.Lines, money.PeriodRates, true, nil)
	}
	for i := range out.Lines {
		out.Why = cmp.Or(out.Why, out.Lines[i].seal())
	}
	if out.Why != "" {
		out.Lines = nil
	}
	slices.SortStableFunc(out.Lines, func(a, b Line) int { return a.Key.compare(b.Key) }) // a row is looked for once
	for i := 1; i < len(out.Lines); i++ {
		out.Lines[i].again = out.Lines[i].Key == out.Lines[i-1].Key
	}
	return out
}

func (k Key) compare(l Key) int {
	return cmp.Or(
		cmp.Compare(k.CodeID, l.CodeID),
		cmp.Compare(k.Code, l.Code),
		cmp.Compare(k.Flow, l.Flow),
		cmp.Compare(k.Class, l.Class),
		cmp.Compare(k.Centre, l.Centre),
		cmp.Compare(k.Activity, l.Activity),
	)
}

// collector converts the lines of a project.
type collector struct {
	to    *Project
	view  *portfolio.View
	rates Rates
	money *earned.Money
	each  func(*Cell) // or nil

	posted  bool
	elapsed bool
	whole   [1]cellPart
}

func (c *collector) lines(
	kind Kind,
	lines []portfolio.Line,
	set money.Set,
	stated bool,
	keep func(calendar.Period) bool,
) {
	for i := range lines {
		if c.to.Why == "" {
			c.line(kind, &lines[i], set, stated, keep)
		}
	}
}

func (c *collector) line(kind Kind, l *portfolio.Line, set money.Set, stated bool, keep func(calendar.Period) bool) {
	cells := l.Cells // by period
	if keep != nil {
		from := slices.IndexFunc(cells, func(x portfolio.Cell) bool { return keep(x.Period) })
		if from < 0 {
			return
		}
		to := len(cells)
		for to > from && !keep(cells[to-1].Period) {
			to--
		}
		cells = cells[from:to]
	}
	if len(cells) == 0 {
		return
	}
	first, last := cells[0].Period, cells[len(cells)-1].Period
	if kind == Accrual && last < c.view.Period {
		last++ // where it is taken back
	}
	class, _ := c.view.Class(l)
	base := Line{
		Kind: kind, Key: Key{l.Flow, l.CodeID, l.Code, class, l.Centre, l.Activity},
		Reserve: kind == Plan &&
			c.view.Office.ManagementReserve(
				l.CodeID,
			), First: first, through: make([]int64, last-first+1), Currency: l.Currency,
	}
	own := l.Currency != c.to.Currency
	if own {
		base.Own = make([]int64, len(base.through))
	}
	to := []Line{base}
	for i := range cells {
		n, why := c.convert(l.Currency, set, stated, &cells[i])
		for _, part := range c.parts(l, &cells[i], n) {
			var out *Line
			if to, out = lineOf(to, part.centre); why == "" {
				why = out.add(cells[i].Period, part.amount)
			}
			back := kind == Accrual && cells[i].Period < c.view.Period
			if why == "" && back {
				why = out.add(cells[i].Period+1, -part.amount)
			}
			if own {
				out.Own[cells[i].Period-first] += part.own
				if back {
					out.Own[cells[i].Period+1-first] -= part.own
				}
			}
			if c.each != nil && why == "" {
				x := Cell{
					Kind:   kind,
					Key:    out.Key,
					Period: cells[i].Period,
					Posted: c.posted,
					Passed: c.elapsed,
					Line:   l,
					Stated: &cells[i],
					Amount: part.amount,
					Share:  part.share,
				}
				c.each(&x)
				if back {
					x.Period, x.Back, x.Amount = x.Period+1, true, -part.amount
					c.each(&x)
				}
			}
		}
		if why != "" {
			c.to.Why = why
			return
		}
	}
	if c.to.Span[0] == 0 || first < c.to.Span[0] {
		c.to.Span[0] = first
	}
	c.to.Span[1] = max(c.to.Span[1], last)
	if len(to) > 1 && !slices.ContainsFunc(to[0].through, func(n int64) bool { return n != 0 }) {
		to = to[1:] // all of it is shared out
	}
	c.to.Lines = append(c.to.Lines, to...)
}

// cellPart is what a cost centre has of a cell, in the table's currency and in
// its own; share is in millionths of a percent, zero of a whole cell.
type cellPart struct {
	centre             string
	amount, own, share int64
}

// parts shares a cell out to cost centres, where the project says so: whole
// minor units by largest remainder. A line that names a centre stays there.
func (c *collector) parts(l *portfolio.Line, cell *portfolio.Cell, n int64) []cellPart {
	c.whole[0] = cellPart{centre: l.Centre, amount: n, own: cell.Amount}
	if l.Centre != "" || len(c.view.Shares) == 0 {
		return c.whole[:]
	}
	s := c.view.Office.SharingAt(c.view.Project, l.CodeID, cell.Period)
	if s == nil {
		return c.whole[:]
	}
	amounts, owns := money.Share(n, s.Weights), money.Share(cell.Amount, s.Weights)
	out := make([]cellPart, len(s.Centres))
	for i, centre := range s.Centres {
		out[i] = cellPart{centre, amounts[i], owns[i], s.Weights[i]}
	}
	return out
}

// lineOf finds the line of a cost centre among those that a line is shared to,
// the first being its own; one that is not there yet is added.
func lineOf(list []Line, centre string) ([]Line, *Line) {
	for i := range list {
		if list[i].Centre == centre {
			return list, &list[i]
		}
	}
	x := list[0]
	x.Centre, x.through = centre, make([]int64, len(x.through))
	if x.Own != nil {
		x.Own = make([]int64, len(x.Own))
	}
	list = append(list, x)
	return list, &list[len(list)-1]
}

const tooLarge = "its sum is beyond 64 bits"

func (l *Line) add(p calendar.Period, n int64) string {
	t, ok := money.Add(l.through[p-l.First], n)
	if !ok {
		return tooLarge
	}
	l.through[p-l.First] = t
	return ""
}

// convert gives a cell in the project's table's currency, by itself.
func (c *collector) convert(from money.Currency, set money.Set, stated bool, cell *portfolio.Cell) (int64, string) {
	if from == c.to.Currency {
		return cell.Amount, ""
	}
	if c.rates == Constant {
		set, stated = money.PlanRates, false
	}
	conv, err := c.money.Converter(from, set, cell.Period, stated)
	if err != nil {
		return 0, err.Error()
	}
	n, err := conv.Convert(cell.Amount)
	if err != nil {
		return 0, tooLarge
	}
	return n, ""
}
