package gather

import (
	"fmt"
	"math/big"
	"path"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// What amounts of periods can be: each its period's own, or all up to it, from the
// start or from the beginning of the fiscal year.
const (
	Single     = "single"
	ToDate     = "to date"
	YearToDate = "year to date"
)

// runningWords say that amounts are all up to a period. They are looked for in
// titles and heads, between spaces.
var runningWords = map[string][]string{
	ToDate: {
		"cumulative", "cumulated", "cumul", "cumule", "cumulee", "cumules", "to date", "till date", "inception to date", "since start",
		"life to date", "kumuliert", "kumulierte", "kumulativ", "kumulerte", "kumulert", "aufgelaufen", "akkumulert", "akkumulerte",
		"hittil", "acumulado", "acumulada", "cumulato", "cumulata", "cumulatief", "running total", "seit beginn",
	},
	YearToDate: {"year to date", "ytd", "hittil i ar", "so far this year", "jahresbeginn"},
}

// runningIn tells what a title or a head says of its amounts; "" where it says
// nothing.
func runningIn(text string) string {
	const few = 12 // words of a title
	if len(strings.Fields(text)) > few {
		return ""
	}
	n := " " + Normal(strings.Map(apart, text)) + " "
	for _, how := range [...]string{YearToDate, ToDate} {
		for _, w := range runningWords[how] {
			if strings.Contains(n, " "+w+" ") && !strings.Contains(n, " up "+w+" ") {
				return how
			}
		}
	}
	return ""
}

// reportWords are of heads of cost reports that no row is kept by: sums at completion, what is
// to go, and how far one is from another.
var reportWords = phrases(`eac|etc|bac|cpi|spi|ctc|ftc|at completion|estimate at completion|forecast at completion|cost at completion|outturn|final cost|forecast final cost|
anticipated final cost|remaining|remaining budget|remaining cost|to complete|forecast to complete|estimate to complete|cost to complete|to go|cost to go|deviation|deviations|over under|under over|
endkosten|endkostenprognose|restkosten|abweichungen|sluttprognose|gjenstaende|rest|reste a faire|cout final|coste final|costo finale|eindkosten|slutprognos`)

// ofReport tells the head of such a column, of one that compares others, or of a sum so far.
func ofReport(head string) bool {
	n := Normal(head)
	return reportWords[n] || runningIn(head) != "" || differs(head)
}

// running asks how amounts are meant of which a title or a head says that they are
// all up to a period: added up as they stand they would count several times.
func (f *finder) running() {
	u := f.u
	if f.t.Name != "costs" || u.Skipped != "" {
		return
	}
	said, where := "", ""
	look := func(text string) {
		if how := runningIn(text); how != "" && said == "" {
			said, where = how, strings.TrimSpace(text)
		}
	}
	for i, x := range u.Uses {
		if x.As == AsMonth || x.As == "amount" || x.As == AsCredit {
			look(u.Columns[i].Head)
			for _, text := range f.high[i] {
				look(text)
			}
		}
	}
	for _, r := range f.rows[:f.at] {
		for i := range r.cells {
			look(r.cells[i].Text)
		}
	}
	look(f.s.title())
	look(strings.TrimSuffix(path.Base(f.s.File), path.Ext(f.s.File)))
	switch {
	case f.m.Running != "":
		u.Running = f.m.Running
		if u.Running != Single {
			u.note(
				"Amounts are taken as %s: each is lessened by what the row has in the period before, and the first of actual cost by what is known as spent before it.",
				u.Running,
			)
		}
	case said != "":
		u.ask(-1, "running", fmt.Sprintf(
			"%q says that amounts are all up to a period, which would count several times if each were taken as its period's own; say which they are",
			where,
		), said, Single)
	}
}

// Spent asks for the actual cost of a cost code of a project in the periods before one, from
// the first of its fiscal year where it is of the year alone. A class, where one is given,
// is asked for alone.
type Spent struct {
	Project, Code, Class string
	Before               calendar.Period
	OfYear               bool
}

// step is the last amount of a row that runs on.
type step struct {
	period calendar.Period
	amount *big.Rat
}

// lessen takes from an amount what its row had before, where amounts run on.
func (r *reader) lessen() (why string) {
	if r.Running == "" || r.Running == Single || r.t.Name != "costs" {
		return ""
	}
	at, period := r.t.Index("amount"), r.t.Index("period")
	f := &r.out.Fields[at]
	if f.Said != portfolio.Value {
		return ""
	}
	var key strings.Builder
	for i := range r.t.Columns {
		if r.t.Columns[i].Key && i != period {
			fmt.Fprintf(&key, "%s|%d|", strings.ToLower(r.out.Fields[i].Text), r.out.Fields[i].Int)
		}
	}
	p := calendar.Period(r.out.Fields[period].Int)
	now, ok := new(big.Rat).SetString(f.Text)
	if !ok {
		return ""
	}
	if r.steps == nil {
		r.steps = make(map[string]step)
	}
	was, before := r.steps[key.String()]
	if before && p <= was.period {
		return fmt.Sprintf(
			"its amount is all up to %s, and the row for %s stands before it; sort the rows by period",
			r.o.Periods.Name(p),
			r.o.Periods.Name(was.period),
		)
	}
	r.steps[key.String()] = step{p, now}
	if before && (r.Running == ToDate || r.o.Periods.FiscalYear(p) == r.o.Periods.FiscalYear(was.period)) {
		now = new(big.Rat).Sub(now, was.amount)
	} else if why := r.lessBooked(now, p); why != "" {
		return why
	}
	f.Text = r.o.keep(strings.TrimSuffix(strings.TrimRight(now.FloatString(4), "0"), "."))
	return ""
}

// lessBooked takes from the first actual amount of a row what is known as spent before.
func (r *reader) lessBooked(now *big.Rat, p calendar.Period) (why string) {
	text := func(name string) string { return r.out.Fields[r.t.Index(name)].Text }
	if r.o.Booked == nil || text("kind") != "actual" || text("flow") != "cost" {
		return ""
	}
	ask := Spent{Project: text("project"), Code: text("cost_code"), Before: p, OfYear: r.Running == YearToDate}
	if r.uses("class") || r.Classes || r.Fixed["class"] != "" {
		ask.Class = text("class")
	}
	known, err := r.o.Booked(ask)
	if err != nil {
		return fmt.Sprintf("what is spent before %s cannot be read (%v); nothing was taken of it", r.o.Periods.Name(p), err)
	}
	if before, ok := new(big.Rat).SetString(known); ok {
		now.Sub(now, before)
	}
	return ""
}

// inOrder sorts columns of months by their periods, so that amounts can run on.
func (r *reader) inOrder() {
	if r.Running == "" || r.Running == Single {
		return
	}
	slices.SortStableFunc(r.months, func(a, b int) int {
		return strings.Compare(r.Uses[a].Kind+r.Uses[a].Period, r.Uses[b].Kind+r.Uses[b].Period)
	})
}
