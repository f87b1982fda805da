package amounts

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/record"
	"turret/internal/store"
)

// stand lists the versions that the table can stand beside, those that were kept by hand last,
// and takes the one that is asked for: of a plan usually the one in force, of what is stated
// what was stated before.
func (t *Table) stand(asked string) {
	p := t.subject.view.Project
	named := t.names()
	offer := func(code, title, key string) {
		if name := named[key]; name != "" {
			title = name + ", " + title
		}
		t.Besides = append(t.Besides, Beside{code, title})
	}
	for i := range p.Plan {
		if n := p.Plan[i].Number; t.subject.Part != portfolio.PlanPart || n != t.Baseline {
			offer(fmt.Sprintf("plan-%d", n), fmt.Sprintf("Plan, baseline %d", n), fmt.Sprintf("baseline~%d~%d", p.ID, n))
		}
	}
	stated := func(name, title string, list []portfolio.Version) {
		for i := range list {
			q := calendar.Period(list[i].Number)
			if q < t.subject.at || q == t.subject.at && t.subject.Name != name {
				offer(name+"-"+t.periods.Code(q), title+" of "+t.periods.Name(q), "statement~0~"+t.periods.Code(q))
			}
		}
	}
	stated("forecast", "Forecast", p.Forecast)
	stated("commitment", "Orders", p.Commitment)
	usual := ""
	for _, b := range t.Besides {
		if strings.HasPrefix(b.Code, t.subject.Name+"-") {
			usual = b.Code // the last of its kind
		}
	}
	for i := range t.subject.snap.History {
		if c := &t.subject.snap.History[i]; c.Kind == store.HandCut {
			offer(fmt.Sprintf("cut-%d", c.ID), fmt.Sprintf("Kept: %s, %s", c.Name, t.periods.Name(calendar.Period(c.Period))), fmt.Sprintf("cut~0~%d", c.ID))
		}
	}
	t.Beside = usual
	if slices.ContainsFunc(t.Besides, func(b Beside) bool { return b.Code == asked }) {
		t.Beside = asked
	}
}

// names are those that the office gave to versions, by kind, project and version.
func (t *Table) names() map[string]string {
	k, out := record.Versions, make(map[string]string)
	rows := t.subject.snap.Records.Of(k.Kind)
	for i := range rows {
		r := &rows[i]
		out[fmt.Sprintf("%s~%d~%s", k.KindCol.Of(r), k.Project.ID(r), k.VersionCol.Of(r))] = k.NameCol.Of(r)
	}
	return out
}

// besideLines reads the lines of the version beside, with the codes of its office: of a cut
// those that held of the table's kind when it was made.
func (o Room) besideLines(ctx context.Context, t *Table) error {
	s, p := t.subject, t.subject.view.Project
	t.codes = s.snap.Office.Codes
	kind, code, _ := strings.Cut(t.Beside, "-")
	switch kind {
	case "cut":
		id, err := strconv.ParseInt(code, 10, 64)
		if err != nil {
			return err
		}
		in, err := o.Book().InputsOf(ctx, s.snap, id)
		if err != nil {
			return err
		}
		if _, err := in.Filled(ctx); err != nil {
			return err
		}
		at := s.snap.History[slices.IndexFunc(s.snap.History, func(c store.Cut) bool { return c.ID == id })].Period
		v, err := in.View(ctx, s.project.Code, calendar.Period(at), portfolio.Latest)
		if err != nil || v == nil { // it was not there yet
			return err
		}
		then := &subject{Kind: s.Kind, snap: in, project: v.Project, view: v, at: calendar.Period(at)}
		t.codes, t.beside = in.Office.Codes, then.lines(t.Baseline)
	default:
		list := map[string][]portfolio.Version{"plan": p.Plan, "forecast": p.Forecast, "commitment": p.Commitment}[kind]
		for i := range list {
			if kind == "plan" && fmt.Sprint(list[i].Number) == code || kind != "plan" && t.periods.Code(calendar.Period(list[i].Number)) == code {
				t.beside = list[i].Lines
			}
		}
	}
	return nil
}

// compare writes beside each cell what the version beside says: of the same line, or, where
// that has none, of all lines of its cost code and flow, if the table has one alone.
func (t *Table) compare() {
	type loose struct {
		code, flow string
		currency   money.Currency
	}
	exact, all := make(map[string]map[calendar.Period]int64), make(map[loose]map[calendar.Period]int64)
	looseOf := func(key string) loose {
		x := partsOf(key)
		return loose{x[0], x[1], money.Currency(x[5])}
	}
	for _, l := range t.beside {
		key := keyIn(t.codes, &l)
		if exact[key] == nil {
			exact[key] = make(map[calendar.Period]int64)
		}
		if all[looseOf(key)] == nil {
			all[looseOf(key)] = make(map[calendar.Period]int64)
		}
		for _, c := range l.Cells {
			exact[key][c.Period] += c.Amount
			all[looseOf(key)][c.Period] += c.Amount
		}
	}
	lines := make(map[loose]int)
	for i := range t.Lines {
		lines[looseOf(t.Lines[i].Key)]++
	}
	for i := range t.Lines {
		l := &t.Lines[i]
		of, ok := exact[l.Key]
		if k := looseOf(l.Key); !ok && lines[k] == 1 {
			of = all[k]
		}
		for j := range l.Cells {
			if n, said := of[t.Columns[j].Period]; said {
				l.Cells[j].Beside = short(n, l.currency)
			}
		}
	}
}

// Codes are the cost codes of an office, with their names, in order.
func Codes(m *office.Moment) (out [][2]string) {
	for _, c := range m.Snapshot().Office.Codes {
		out = append(out, [2]string{c.Code, c.Name})
	}
	slices.SortFunc(out, func(a, b [2]string) int { return strings.Compare(a[0], b[0]) })
	return out
}

// Total is a figure of the table's project that follows what is typed: Value is what it comes
// to with it, Base what it is without the table's cells of its flow, from one column through
// another, in the project's currency and in minor units.
type Total struct {
	Title, Flow, From, To string
	Base, Value           int64
}

// Totals are those that follow a kind: of a plan all it comes to and each fiscal year, of a
// forecast the outlook, that of the year and what of the year's plan it leaves, of others
// their sum. Lines in another currency count as converted, cell by cell.
func (t *Table) Totals() (out []Total) {
	if len(t.Columns) == 0 {
		return nil
	}
	first, last := t.Columns[0], t.Columns[len(t.Columns)-1]
	add := func(title, flow string, from, to Column, base int64) {
		x := Total{Title: title, Flow: flow, From: from.Code, To: to.Code, Base: base, Value: base}
		for i := range t.Lines {
			if l := &t.Lines[i]; l.Flow == flow {
				for j, n := range l.amountsOf() {
					if p := t.Columns[j].Period; p >= from.Period && p <= to.Period && !(t.subject.Part == portfolio.ForecastPart && t.Columns[j].Locked) {
						x.Value += t.own(t.subject.Part, l.currency, p, n)
					}
				}
			}
		}
		out = append(out, x)
	}
	if t.subject.Part == portfolio.ForecastPart {
		t.outlooks(add)
	} else {
		add(t.Title+", cost", "cost", first, last, 0)
	}
	for _, flow := range [...]string{"income", "benefit"} {
		if slices.ContainsFunc(t.Lines, func(l Line) bool { return l.Flow == flow }) {
			add(t.Title+", "+flow, flow, first, last, 0)
		}
	}
	if t.subject.Part == portfolio.PlanPart {
		for from := 0; from < len(t.Columns); {
			to := from
			for to+1 < len(t.Columns) && t.Columns[to+1].Year == t.Columns[from].Year {
				to++
			}
			add(t.Columns[from].Year, "cost", t.Columns[from], t.Columns[to], 0)
			from = to + 1
		}
	}
	return out
}

// outlooks are the totals of a forecast.
func (t *Table) outlooks(add func(title, flow string, from, to Column, base int64)) {
	s, ps := t.subject, t.periods
	year := ps.FiscalYear(s.at)
	var booked, inYear, planned, plannedYear, before, none int64
	sum := func(part portfolio.PartKind, lines []portfolio.Line, from, upTo calendar.Period, all, ofYear *int64) {
		for i := range lines {
			if l := &lines[i]; l.Flow == portfolio.Cost {
				for _, c := range l.Cells {
					if c.Period < from || c.Period > upTo {
						continue
					}
					n := t.own(part, l.Currency, c.Period, c.Amount)
					*all += n
					if ps.FiscalYear(c.Period) == year {
						*ofYear += n
					}
				}
			}
		}
	}
	const ever = calendar.Period(1 << 30)
	for _, lines := range [...][]portfolio.Line{s.view.Actual, s.view.Ledger, s.view.Elapsed} {
		sum(portfolio.ActualPart, lines, 0, s.at, &booked, &inYear)
		sum(portfolio.ActualPart, lines, 0, s.at-1, &before, &none)
	}
	sum(portfolio.AccrualPart, s.view.Accrual, s.at, s.at, &booked, &inYear)
	sum(portfolio.AccrualPart, s.view.Accrual, s.at-1, s.at-1, &before, &none)
	last := portfolio.VersionAt(s.view.Project.Forecast, int(s.at)-1)
	sum(portfolio.ForecastPart, linesOf(last), s.at, ever, &before, &none)
	if p := s.view.Plan; p != nil {
		sum(portfolio.PlanPart, slices.DeleteFunc(slices.Clone(p.Lines), func(l portfolio.Line) bool { return s.snap.Office.ManagementReserve(l.CodeID) }), 0, ever, &planned, &plannedYear)
	}
	first, final := t.Columns[0], t.Columns[len(t.Columns)-1]
	end := first
	for _, c := range t.Columns {
		if ps.FiscalYear(c.Period) == year {
			end = c
		}
	}
	add("Still to come", "cost", first, final, 0)
	add("Outlook", "cost", first, final, booked)
	name := fmt.Sprintf("FY%02d", year%100)
	add("Outlook of "+name, "cost", first, end, inYear)
	if planned != 0 {
		add("Above plan", "cost", first, final, booked-planned)
		add(name+" above its plan", "cost", first, end, inYear-plannedYear)
	}
	if last != nil {
		add("Above the outlook of "+ps.Name(s.at-1), "cost", first, final, booked-before)
	}
}
