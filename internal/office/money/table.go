package money

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
	"turret/internal/tell"
)

// Table is money by rows and columns, with what stands beside it.
type Table struct {
	*costs.Table
	Project  *office.Reading // whose money it is, or nil
	Currency money.Currency
	Measures []costs.Measure
	Ends     *costs.Ends // how the fiscal year of rows ends, where it is asked for; or nil
	Year     string      // of the moment's period

	Currencies []string // others that have rates
	Rows       []Row
	Now        int // the column that ends with the moment's period, or −1
	Past       int // columns before the first that lies wholly after the period
	Span       string
	Per        costs.Per
	Summed     bool         // cumulative
	Version    string       // what stands beside, in words; ""
	usual      *costs.Table // the same at period rates, where this is at constant ones
	Unfolded   int
	Asked      []string // what was asked for and is not there
	Notes      []string // what the sums leave out
	Depth      int      // of the deepest row
	Years      []string
	Codes      [][2]string // cost codes that a filter can name
	Centres    [][2]string // cost centres that a filter can name
	Activities [][2]string // activities that lines name
	Classes    []string
	Dims       []costs.Dimension

	Baselines []int // of the project, where it has several

	period, first, last calendar.Period
	versions            []moneyVersion
	rates               costs.Rates
	in                  money.Currency // "": the project's own
}

// Row is a row as it is listed.
type Row struct {
	*costs.Row
	Folded bool
	Fold   string // the fold part of an address that turns it
	Depth  int
}

// Table sums a moment's money. What an address asks for and does not exist
// is replaced by the default, with a note.
func (o Room) Table(ctx context.Context, a right.Actor, m *office.Moment, ask Ask) (*Table, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	b := &moneyBuilder{
		o:    o,
		m:    m,
		ask:  ask,
		role: a.Role,
		out:  &Table{period: m.Period.Number, Currency: m.Reporting, in: m.Reporting},
	}
	if err := b.choose(); err != nil {
		return nil, err
	}
	if focus := ask.focus; focus != nil {
		b.query.Path, b.query.Only = pathOf(focus.key), focus.measure
		if len(b.query.Path) == 0 {
			b.query.Rows = nil
		}
	}
	if err := b.build(ctx); err != nil {
		return nil, err
	}
	return b.out, nil
}

type moneyBuilder struct {
	o        Room
	m        *office.Moment
	ask      Ask
	role     right.Role // whose level of cost codes holds where none is asked for
	out      *Table
	query    costs.Query
	inputs   *book.Snapshot
	projects []*costs.Project
}

func (b *moneyBuilder) note(format string, args ...any) {
	b.out.Asked = append(b.out.Asked, fmt.Sprintf(format, args...))
}

func (b *moneyBuilder) build(ctx context.Context) error {
	t, m := b.out, b.m
	var err error
	if b.inputs, err = b.o.Book().InputsAt(ctx, m.Snapshot(), m.Period.Number); err != nil {
		return err
	}
	now := m.Readings()
	if m.InProject {
		if now, err = b.reporting(ctx, m.Period.Number); err != nil {
			return err
		}
	}
	against, name := m.Against, m.Period.Name
	if n, ok := b.baseline(b.ask.Plan); ok {
		against, name = portfolio.Against(n), fmt.Sprintf("baseline %d", n)
	}
	first := b.version(b.inputs, now, m.Period.Number, against, name)
	t.versions = append(t.versions, first)
	if b.projects, err = b.of(ctx, first, t.rates); err != nil {
		return err
	}
	for _, p := range b.projects {
		if p.Span[0] != 0 && (t.first == 0 || p.Span[0] < t.first) {
			t.first = p.Span[0]
		}
		t.last = max(t.last, p.Span[1])
	}
	t.first, t.last = min(m.Period.Number, max(t.first, 1)), max(t.last, m.Period.Number)
	b.columns()
	if err := b.bounds(); err != nil {
		return err
	}
	other, others, err := b.beside(ctx, now)
	if err != nil {
		return err
	}
	if other == nil {
		t.Table = costs.New(b.query, b.inputs.Office, b.projects)
	} else {
		t.Table = costs.Compare(b.query, b.inputs.Office, b.projects, other, others)
	}
	if t.rates == costs.Constant {
		usual, err := b.of(ctx, first, costs.Usual)
		if err != nil {
			return err
		}
		t.usual = costs.New(b.query, b.inputs.Office, usual)
	}
	t.Year = fmt.Sprintf("FY%02d", b.inputs.Office.Periods.FiscalYear(t.period)%100)
	if b.ask.Ends == "year" && b.ask.focus == nil {
		t.Ends = costs.EndsOf(b.query, b.inputs.Office, b.projects, t.period, t.first, t.last, func(p *costs.Project) bool {
			r := now.Project(p.Code)
			return r != nil && (r.State == portfolio.Finished || whole(r.Value(figure.EarnedShare)))
		})
	}
	if t.TooLarge || t.Ends != nil && t.Ends.TooLarge() {
		return office.Refusef(
			"A sum of this table is beyond 64 bits of minor units; choose fewer rows or a shorter span.",
		)
	}
	b.tell()
	if b.ask.focus == nil {
		b.filters()
	}
	b.list()
	return nil
}

// mostCells bounds the cells of one table.
const mostCells = 4_000_000

// bounds refuses a table that would be too large to read.
func (b *moneyBuilder) bounds() error {
	lines := 0
	for _, p := range b.projects {
		lines += len(p.Lines)
	}
	if n := lines * len(b.query.Columns); n > mostCells && len(b.query.Columns) > 60 {
		return office.Refusef(
			"This table would have some %s cells; take fewer columns: quarters, years, or a shorter span.",
			tell.Amount(strconv.Itoa(n), 0),
		)
	}
	return nil
}

// tell notes what the sums leave out.
func (b *moneyBuilder) tell() {
	t := b.out
	if t.Reserve != 0 {
		t.tell(
			"Management reserve of %s %s is outside the plan.",
			tell.Amount(money.Format(t.Reserve, t.Currency), t.Currency.Exponent()),
			t.Currency,
		)
	}
	if t.Outlook {
		t.tell(
			"The computed outlook is of whole projects: what it adds to what is spent stands on no cost code, evenly to the computed finish.",
		)
	}
	if len(t.LeftOut) > 0 {
		var list []string
		for _, p := range t.LeftOut {
			list = append(list, p.Code+" ("+p.Why+")")
		}
		t.tell("Outside the sums: %s.", strings.Join(tell.Few(list), ", "))
	}
	if n := len(t.Unstated); n > 0 &&
		slices.ContainsFunc(t.Measures, func(x costs.Measure) bool { return x == costs.Running || x == costs.ToGo }) {
		var list []string
		for _, p := range t.Unstated {
			list = append(list, p.Code)
		}
		t.tell("Without a stated forecast, so with nothing still to come: %s.", strings.Join(tell.Few(list), ", "))
	}
	if len(t.Passed) > 0 {
		var list []string
		for _, p := range t.Passed {
			list = append(list, p.Code)
		}
		t.tell("With actual cost that is in part the plan, as time passed: %s.", strings.Join(tell.Few(list), ", "))
	}
}

// HasEffect tells whether period rates would show another amount: at constant
// rates, of amounts.
func (t *Table) HasEffect(m costs.Measure) bool {
	return t.usual != nil && m != costs.InPercent
}

// CurrencyEffect is what period rates add to an amount of a row, over all of the
// span: its cells at their period rates less the same cells at plan rates.
func (t *Table) CurrencyEffect(r *costs.Row, m costs.Measure) int64 {
	if !t.HasEffect(m) {
		return 0
	}
	last := len(t.Columns) - 1
	constant, _ := t.Value(r, 0, m, last)
	same := t.usual.Root
	for _, key := range r.Path() {
		i := slices.IndexFunc(same.Below, func(c *costs.Row) bool { return c.Key == key })
		if i < 0 {
			return -constant
		}
		same = same.Below[i]
	}
	usual, _ := t.usual.Value(same, 0, m, last)
	return usual - constant
}

func (t *Table) tell(format string, args ...any) {
	t.Notes = append(t.Notes, fmt.Sprintf(format, args...))
}

// whole tells whether a share is all of it.
func whole(v figure.Value) bool { return v.Known && v.R.Cmp(exact.Whole(1)) == 0 }
