package money

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/record"
)

// Ask is what an address asks of the money table, as text. Empty parts take
// their default.
type Ask struct {
	Project  string // of one project; else of the moment's scope
	Rows     string // dimensions with commas
	Level    string // of cost codes and programmes that rows go down to
	Per      string // how the span is cut
	Span     string // FY27, a period, or two with .. between; "all"
	Show     string // measures with commas
	Sum      string // cumulative
	Plan     string // of a project: the number of the baseline to plan by, approved or not
	Beside   string // a second version: original, latest, baseline and its number, or cut and its id
	Ends     string // year: how the fiscal year of each row ends, and how long its money lasts
	Rates    string // plan: constant rates
	Currency string // one that has rates; empty: the reporting currency, or the project's own where the moment says so
	Flow     string // cost unless said; all
	Class    string
	Code     string // a cost code: it and those below it
	Centre   string // a cost centre: it and those below it
	Activity string
	Unfolded string // levels of rows that are shown
	Fold     string // rows that are folded otherwise than the levels say
	focus    *moneyFocus
	Only     string // differs: rows that do not are left out; empty: rows without amounts stay; largest: the largest few
}

// moneyFocus asks for one row and one amount of a table alone.
type moneyFocus struct {
	key     string
	measure costs.Measure
}

// choose reads what is asked for.
func (b *moneyBuilder) choose() error {
	t := b.out
	if b.ask.Project != "" {
		if t.Project = b.m.Readings().Project(b.ask.Project); t.Project == nil {
			return office.Refusef("There is no project %q in %s.", b.ask.Project, b.m.Period.Name)
		}
		if t.in = b.m.In(); t.in == "" {
			t.Currency = t.Project.Currency
		}
	}
	t.Currencies = ratedCurrencies(b.m)
	if c := strings.ToUpper(b.ask.Currency); slices.Contains(t.Currencies, c) {
		t.Currency, t.in = money.Currency(c), money.Currency(c)
	} else if c != "" && c != string(b.m.Reporting) {
		b.note("%q has no rates, so money shows in %s.", b.ask.Currency, t.Currency)
	}
	for _, name := range strings.Split(b.ask.Rows, ",") {
		d := costs.Dimension(name)
		switch {
		case name == "":
		case !slices.Contains(costs.Dimensions, d):
			b.note("Rows cannot go by %q; there are programme, project, code, class, flow, centre, activity and client.", name)
		case !slices.Contains(b.query.Rows, d) && (t.Project == nil || !d.OfProjects()):
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
	level := 0
	if !slices.Contains(b.query.Rows, costs.ByProgramme) { // which it would cut as well
		level = b.m.Snapshot().Office.CodeLevels[string(b.role)]
	}
	if b.ask.Level != "all" {
		b.query.Level = b.number("level", b.ask.Level, level)
	}
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
	b.query.Outlook = slices.Contains(t.Measures, costs.Expected) ||
		b.ask.focus != nil && b.ask.focus.measure == costs.Expected
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
	case portfolio.Income, portfolio.Benefit, costs.Margin:
		b.query.Flow = f
	case "all":
		b.query.Flow = ""
	default:
		b.note("There is no flow %q; there are cost, income, benefit, margin and all.", f)
	}
	b.query.Class, b.query.Code, b.query.Centre, b.query.Activity = b.ask.Class, b.ask.Code, b.ask.Centre, b.ask.Activity
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

// filters lists what the table's money could be narrowed to.
func (b *moneyBuilder) filters() {
	t := b.out
	for _, c := range b.inputs.Office.Codes {
		t.Codes = append(t.Codes, [2]string{c.Code, c.Name})
	}
	slices.SortFunc(t.Codes, func(a, c [2]string) int { return strings.Compare(a[0], c[0]) })
	centres, activities := make(map[string]bool), make(map[string]bool)
	for code := range b.inputs.Office.Centres {
		centres[code] = true
	}
	for _, p := range b.projects {
		for i := range p.Lines {
			if x := p.Lines[i].Activity; x != "" && !activities[x] {
				activities[x] = true
			}
			if i > 0 && p.Lines[i].Class == p.Lines[i-1].Class && p.Lines[i].Centre == p.Lines[i-1].Centre {
				continue
			}
			if x := p.Lines[i].Class; x != "" && !slices.Contains(t.Classes, x) {
				t.Classes = append(t.Classes, x)
			}
			if x := p.Lines[i].Centre; x != "" && !centres[x] {
				centres[x] = true
			}
		}
	}
	for _, code := range slices.Sorted(maps.Keys(centres)) {
		t.Centres = append(t.Centres, [2]string{code, b.inputs.Office.Centres[code].Name})
	}
	slices.Sort(t.Classes)
	names := make(map[string]string)
	var of *portfolio.Project
	if t.Project != nil {
		of = b.inputs.Project(t.Project.Code)
	}
	if of != nil {
		for _, a := range of.Activities {
			names[a.Code] = a.Name
		}
	}
	for _, code := range slices.Sorted(maps.Keys(activities)) {
		t.Activities = append(t.Activities, [2]string{code, names[code]})
	}
	if of != nil && len(of.Numbers()) > 1 {
		t.Baselines = of.Numbers()
	}
}

// ratedCurrencies lists the currencies that have rates, beside the reporting one.
func ratedCurrencies(m *office.Moment) (out []string) {
	rows := m.Snapshot().Records.Of(record.Rates.Kind)
	for i := range rows {
		if c := record.Rates.Currency.Of(&rows[i]); c != string(m.Reporting) && !slices.Contains(out, c) {
			out = append(out, c)
		}
	}
	slices.Sort(out)
	return out
}
