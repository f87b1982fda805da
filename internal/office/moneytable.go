package office

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// MoneyAsk is what an address asks of the money table, as text. Empty parts take
// their default.
type MoneyAsk struct {
	Project  string // of one project; else of the moment's scope
	Rows     string // dimensions with commas
	Level    string // of cost codes and programmes that rows go down to
	Per      string // how the span is cut
	Span     string // FY27, a period, or two with .. between; "all"
	Show     string // measures with commas
	Sum      string // cumulative
	Beside   string // a second version: original, or cut and its id
	Rates    string // plan: constant rates
	Flow     string // cost unless said; all
	Class    string
	Code     string // a cost code: it and those below it
	Unfolded string // levels of rows that are shown
	Fold     string // rows that are folded otherwise than the levels say
	Only     string // differs: rows that do not are left out; empty: rows without amounts stay
}

// MoneyTable is money by rows and columns, with what stands beside it.
type MoneyTable struct {
	*costs.Table
	Project  *Reading // whose money it is, or nil
	Currency money.Currency
	Measures []costs.Measure
	Rows     []MoneyRow
	Now      int // the column that ends with the moment's period, or −1
	Past     int // columns before the first that lies wholly after the period
	Span     string
	Per      costs.Per
	Summed   bool   // cumulative
	Version  string // what stands beside, in words; ""
	Effect   *costs.Table
	Unfolded int
	Asked    []string // what was asked for and is not there
	Notes    []string // what the sums leave out
	Depth    int      // of the deepest row
	Years    []string
	Codes    [][2]string // cost codes that a filter can name
	Classes  []string
	Dims     []costs.Dimension

	period, first, last calendar.Period
	versions            []moneyVersion
	rates               costs.Rates
	inOwn               bool
}

// moneyVersion is what one version of a table is made of.
type moneyVersion struct {
	inputs  *book.Snapshot
	codes   []string // of the projects that count
	period  calendar.Period
	against portfolio.Against
	name    string
}

// MoneyRow is a row as it is listed.
type MoneyRow struct {
	*costs.Row
	Key    string // the row's path, for addresses
	Folded bool
	Fold   string // the fold part of an address that turns it
	Depth  int
}

// MoneyTable sums a moment's money. What an address asks for and does not exist
// is replaced by the default, with a note.
func (o *Office) MoneyTable(ctx context.Context, a right.Actor, m *Moment, ask MoneyAsk) (*MoneyTable, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	b := &moneyBuilder{o: o, ctx: ctx, m: m, ask: ask, out: &MoneyTable{period: m.Period.period, Currency: m.Reporting}}
	if err := b.choose(); err != nil {
		return nil, err
	}
	if err := b.build(); err != nil {
		return nil, err
	}
	return b.out, nil
}

type moneyBuilder struct {
	o        *Office
	ctx      context.Context
	m        *Moment
	ask      MoneyAsk
	out      *MoneyTable
	query    costs.Query
	inputs   *book.Snapshot
	projects []*costs.Project
}

func (b *moneyBuilder) note(format string, args ...any) {
	b.out.Asked = append(b.out.Asked, fmt.Sprintf(format, args...))
}

// choose reads what is asked for.
func (b *moneyBuilder) choose() error {
	t := b.out
	if b.ask.Project != "" {
		if t.Project = b.m.now.Project(b.ask.Project); t.Project == nil {
			return refuse("There is no project %q in %s.", b.ask.Project, b.m.Period.Name)
		}
		if t.inOwn = b.m.InProject; t.inOwn {
			t.Currency = t.Project.Currency
		}
	}
	for _, name := range strings.Split(b.ask.Rows, ",") {
		d := costs.Dimension(name)
		switch {
		case name == "":
		case !slices.Contains(costs.Dimensions, d):
			b.note("Rows cannot go by %q; there are programme, project, code, class, flow, centre and activity.", name)
		case !slices.Contains(b.query.Rows, d) && (t.Project == nil || d != costs.ByProgramme && d != costs.ByProject):
			b.query.Rows = append(b.query.Rows, d)
		}
	}
	if len(b.query.Rows) == 0 {
		b.query.Rows = []costs.Dimension{costs.ByProgramme, costs.ByProject}
		if t.Project != nil {
			b.query.Rows = []costs.Dimension{costs.ByCode}
		}
	}
	t.Dims = b.query.Rows
	b.query.Level = b.number("level", b.ask.Level, 0)
	for _, name := range strings.Split(b.ask.Show, ",") {
		x := costs.Measure(name)
		switch {
		case name == "":
		case !slices.Contains(costs.Measures, x):
			b.note("There is no amount called %q to show.", name)
		case !slices.Contains(t.Measures, x):
			t.Measures = append(t.Measures, x)
		}
	}
	if len(t.Measures) == 0 {
		t.Measures = []costs.Measure{costs.Running}
	}
	t.Per = costs.PerPeriod
	if x := costs.Per(b.ask.Per); slices.Contains(costs.Cuts, x) {
		t.Per = x
	} else if b.ask.Per != "" {
		b.note("Columns cannot go by %q; there are period, quarter, year and completion.", b.ask.Per)
	}
	t.Summed = b.ask.Sum == "cumulative"
	b.query.Flow = portfolio.Cost
	switch f := portfolio.Flow(b.ask.Flow); f {
	case "", portfolio.Cost:
	case portfolio.Income, portfolio.Benefit:
		b.query.Flow = f
	case "all":
		b.query.Flow = ""
	default:
		b.note("There is no flow %q; there are cost, income, benefit and all.", f)
	}
	b.query.Class, b.query.Code = b.ask.Class, b.ask.Code
	if b.ask.Rates == "plan" {
		t.rates = costs.Constant
	}
	return nil
}

func (b *moneyBuilder) number(what, text string, other int) int {
	n, err := strconv.Atoi(text)
	if text == "" || err != nil || n < 0 {
		if text != "" {
			b.note("%q is no %s; it is a number.", text, what)
		}
		return other
	}
	return n
}

// summed lists the projects that a moment's groups add up, in scope: those are
// the ones whose plan and cost are known and that are neither proposed nor
// cancelled.
func summed(rs *book.Readings, wanted func(*Reading) bool) (codes []string) {
	for _, r := range rs.Rows {
		if r.Group || !wanted(r) || r.State == portfolio.Cancelled || r.State == portfolio.Proposed || !r.Value(figure.BAC).Known || !r.Value(figure.AC).Known {
			continue
		}
		codes = append(codes, r.Code)
	}
	return codes
}

func (b *moneyBuilder) wanted(rs *book.Readings) func(*Reading) bool {
	m := b.m
	return func(r *Reading) bool {
		if b.out.Project != nil {
			return r.Code == b.out.Project.Code
		}
		return (m.Scope.Code == "" || within(rs, r, m.Scope.Code)) && m.Filter.wants(r)
	}
}

// version says what a version is made of.
func (b *moneyBuilder) version(s *book.Snapshot, rs *book.Readings, p calendar.Period, against portfolio.Against, name string) moneyVersion {
	v := moneyVersion{s, summed(rs, b.wanted(rs)), p, against, name}
	if b.out.Project != nil {
		v.codes = []string{b.out.Project.Code}
	}
	return v
}

// of gives the money of a version's projects.
func (b *moneyBuilder) of(v moneyVersion, rates costs.Rates) ([]*costs.Project, error) {
	return v.inputs.Costs(b.ctx, v.codes, v.period, v.against, !b.out.inOwn, rates)
}

// reporting gives the readings of a period in the reporting currency, by which
// it is known what counts.
func (b *moneyBuilder) reporting(p calendar.Period) (*book.Readings, error) {
	return b.o.book.Readings(b.ctx, b.m.snap, p, b.m.Against, true)
}

func (b *moneyBuilder) build() error {
	t, m := b.out, b.m
	var err error
	if b.inputs, err = b.o.book.InputsAt(b.ctx, m.snap, m.Period.period); err != nil {
		return err
	}
	now := m.now
	if m.InProject {
		if now, err = b.reporting(m.Period.period); err != nil {
			return err
		}
	}
	first := b.version(b.inputs, now, m.Period.period, m.Against, m.Period.Name)
	t.versions = append(t.versions, first)
	if b.projects, err = b.of(first, t.rates); err != nil {
		return err
	}
	for _, p := range b.projects {
		if p.Span[0] != 0 && (t.first == 0 || p.Span[0] < t.first) {
			t.first = p.Span[0]
		}
		t.last = max(t.last, p.Span[1])
	}
	t.first, t.last = min(m.Period.period, max(t.first, 1)), max(t.last, m.Period.period)
	b.columns()
	if err := b.bounds(); err != nil {
		return err
	}
	other, others, err := b.beside(now)
	if err != nil {
		return err
	}
	if other == nil {
		t.Table = costs.New(b.query, b.inputs.Office, b.projects)
	} else {
		t.Table = costs.Compare(b.query, b.inputs.Office, b.projects, other, others)
	}
	if t.rates == costs.Constant {
		usual, err := b.of(first, costs.Usual)
		if err != nil {
			return err
		}
		t.Effect = costs.New(b.query, b.inputs.Office, usual)
	}
	if t.TooLarge {
		return refuse("A sum of this table is beyond 64 bits of minor units; choose fewer rows or a shorter span.")
	}
	b.tell()
	b.filters()
	b.list()
	return nil
}

// columns reads the span, and cuts it.
func (b *moneyBuilder) columns() {
	t, ps := b.out, b.inputs.Office.Periods
	from, to := costs.Year(ps, ps.FiscalYear(t.period))
	for y := ps.FiscalYear(t.first); y <= ps.FiscalYear(t.last); y++ {
		t.Years = append(t.Years, fmt.Sprintf("FY%02d", y%100))
	}
	switch one, two, pair := strings.Cut(b.ask.Span, ".."); {
	case b.ask.Span == "" && t.Per == costs.PerYear, b.ask.Span == "all":
		from, to = t.first, t.last
	case b.ask.Span == "":
	case pair:
		p, err1 := ps.Parse(one)
		q, err2 := ps.Parse(two)
		if err1 != nil || err2 != nil || q < p {
			b.note("The span %q is none; write two periods with .. between, the earlier first.", b.ask.Span)
			break
		}
		from, to = p, q
	default:
		if y := slices.Index(t.Years, strings.ToUpper(b.ask.Span)); y >= 0 {
			from, to = costs.Year(ps, ps.FiscalYear(t.first)+y)
		} else if p, err := ps.Parse(b.ask.Span); err == nil {
			from, to = p, p
		} else {
			b.note("The span %q is none; there are fiscal years, a period, or two with .. between.", b.ask.Span)
		}
	}
	t.Span = costs.SpanName(ps, from, to)
	if t.Per == costs.ToDate {
		t.Span = "everything"
	}
	b.query.Columns = costs.Columns(ps, t.Per, from, to, t.period, t.first, t.last, t.Summed)
	t.Now = -1
	for i, c := range b.query.Columns[:len(b.query.Columns)-1] {
		if begins := b.begins(i); begins <= t.period && t.period <= c.To && t.Per != costs.ToDate {
			t.Now = i
		}
		if c.To <= t.period {
			t.Past = i + 1
		}
	}
}

// begins is the period with which a column begins that is not cumulative.
func (b *moneyBuilder) begins(i int) calendar.Period {
	if b.out.Summed && i > 0 {
		return b.query.Columns[i-1].To + 1
	}
	return b.query.Columns[i].From
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
		return refuse("This table would have some %s cells; take fewer columns: quarters, years, or a shorter span.", tell.Amount(strconv.Itoa(n), 0))
	}
	return nil
}

// beside gives the second version: what the address names, else the compared
// period; nil for none.
func (b *moneyBuilder) beside(now *book.Readings) (*portfolio.Office, []*costs.Project, error) {
	t, m := b.out, b.m
	s, rs, p, against := b.inputs, now, m.Period.period, m.Against
	id, cut := strings.CutPrefix(b.ask.Beside, "cut")
	switch {
	case b.ask.Beside == "original" && m.Against == portfolio.Original, b.ask.Beside == "latest" && m.Against == portfolio.Latest:
		b.note("The plan is %s already, so nothing stands beside it.", b.ask.Beside)
		return nil, nil, nil
	case b.ask.Beside == "original":
		against, t.Version = portfolio.Original, "the original plan"
	case b.ask.Beside == "latest":
		against, t.Version = portfolio.Latest, "the latest plan"
	case cut:
		n, err := strconv.ParseInt(id, 10, 64)
		i := slices.IndexFunc(m.snap.History, func(c store.Cut) bool { return c.ID == n })
		if err != nil || i < 0 {
			b.note("There is no cut %q any more, so nothing stands beside.", id)
			return nil, nil, nil
		}
		c := m.snap.History[i]
		if s, err = b.o.book.CutInputs(b.ctx, n); err != nil {
			return nil, nil, err
		}
		if rs, err = b.o.book.CutReadings(b.ctx, n, true); err != nil {
			return nil, nil, err
		}
		p, t.Version = calendar.Period(c.Period), "the cut "+c.Name
	case b.ask.Beside != "" && b.ask.Beside != "period":
		b.note("There is no version %q: there are latest, original, a cut, and the period to compare with on the rail.", b.ask.Beside)
		return nil, nil, nil
	case m.Vs.Code != "":
		p, t.Version = m.Vs.period, m.Vs.Name
		var err error
		if s, err = b.o.book.InputsAt(b.ctx, m.snap, p); err != nil {
			return nil, nil, err
		}
		if rs, err = b.reporting(p); err != nil {
			return nil, nil, err
		}
	default:
		return nil, nil, nil
	}
	second := b.version(s, rs, p, against, t.Version)
	list, err := b.of(second, t.rates)
	if err != nil {
		return nil, nil, err
	}
	t.versions = append(t.versions, second)
	return s.Office, list, nil
}

// tell notes what the sums leave out.
func (b *moneyBuilder) tell() {
	t := b.out
	if t.Reserve != 0 {
		t.tell("Management reserve of %s %s is outside the plan.", tell.Amount(money.Format(t.Reserve, t.Currency), t.Currency.Exponent()), t.Currency)
	}
	if len(t.LeftOut) > 0 {
		var list []string
		for _, p := range t.LeftOut {
			list = append(list, p.Code+" ("+p.Why+")")
		}
		t.tell("Outside the sums: %s.", strings.Join(shorten(list), ", "))
	}
	if n := len(t.Unstated); n > 0 && slices.ContainsFunc(t.Measures, func(x costs.Measure) bool { return x == costs.Running || x == costs.ToGo }) {
		var list []string
		for _, p := range t.Unstated {
			list = append(list, p.Code)
		}
		t.tell("Without a stated forecast, so with nothing still to come: %s.", strings.Join(shorten(list), ", "))
	}
}

func (t *MoneyTable) tell(format string, args ...any) {
	t.Notes = append(t.Notes, fmt.Sprintf(format, args...))
}

// filters lists what the table's money could be narrowed to.
func (b *moneyBuilder) filters() {
	t := b.out
	for _, c := range b.inputs.Office.Codes {
		t.Codes = append(t.Codes, [2]string{c.Code, c.Name})
	}
	slices.SortFunc(t.Codes, func(a, c [2]string) int { return strings.Compare(a[0], c[0]) })
	for _, p := range b.projects {
		for i := range p.Lines {
			if x := p.Lines[i].Class; x != "" && !slices.Contains(t.Classes, x) {
				t.Classes = append(t.Classes, x)
			}
		}
	}
	slices.Sort(t.Classes)
}

// fewRows is how many rows a table shows whole when nothing is said.
// list flattens the rows that are shown.
// shown tells whether a row is wanted: one with amounts, and, where that is
// asked, one that differs.
// RowKey names a row by its path, for an address.
// turn adds a key to a list with commas, or takes it out.
// Find gives the row of a path as RowKey writes it, "" being all; nil where
// there is none.
// MoneyCurve gives the money of a row over all its time, cumulative: plan, what
// is spent through the moment's period, and what is stated to come.
// alone is the moment without the period it is compared with.
