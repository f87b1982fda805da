package finding

import (
	"fmt"
	"math/big"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/network"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

var (
	months = calendar.Months(1)
	jan    = months.Of(calendar.DateOf(2026, 1, 1))
)

// bench is a sound project of ten months from January 2026 with plan 100.00 a
// month, two tasks of five months, one milestone, and every period stated as
// planned through May, the fifth.
type bench struct {
	others  []*portfolio.Project
	office  *portfolio.Office
	p       *portfolio.Project
	at      calendar.Period
	outside Outside
	checks  []Setting
	own     []Own
}

func says(n int64) portfolio.Mark { return portfolio.Mark{Said: portfolio.Value, Int: n} }

func on26(month, day int) calendar.Date { return calendar.DateOf(2026, month, day) }

func cells(from calendar.Period, amounts ...int64) (out []portfolio.Cell) {
	for i, n := range amounts {
		out = append(
			out,
			portfolio.Cell{
				Period: from + calendar.Period(i),
				Amount: n,
				Source: portfolio.Source{File: 1, Row: int32(i + 2)},
			},
		)
	}
	return out
}

func cost(list []portfolio.Cell) portfolio.Line {
	return portfolio.Line{CodeID: 1, Code: "10", Flow: portfolio.Cost, Class: "opex", Currency: "EUR", Cells: list}
}

func sound() *bench {
	o := &portfolio.Office{
		Reporting: "EUR",
		Periods:   months,
		Rates:     money.NewRates("EUR"),
		Codes:     map[int64]portfolio.CostCode{1: {Code: "10", Name: "Works"}},
	}
	o.Settle()
	p := &portfolio.Project{
		ID:       7,
		Code:     "K1",
		Name:     "Quay",
		Lead:     "Ada",
		Currency: "EUR",
		State:    portfolio.Active,
		TooEarly: -1,
	}
	p.Activities = []portfolio.Activity{
		{ID: 1, Code: "A", Name: "Piles", Kind: portfolio.Task, Rule: "stated", Parent: -1, Leaf: true},
		{ID: 2, Code: "B", Name: "Deck", Kind: portfolio.Task, Rule: "stated", Parent: -1, Leaf: true},
		{ID: 3, Code: "M", Name: "Open", Kind: portfolio.Milestone, Level: "portfolio", Parent: -1},
	}
	p.Baselines = []portfolio.Baseline{{Number: 1, Rows: []portfolio.BaselineRow{
		{
			Activity: 0,
			Start:    on26(1, 1),
			Finish:   on26(5, 29),
		}, {Activity: 1, Start: on26(6, 1), Finish: on26(10, 30)}, {Activity: 2, Start: on26(10, 30), Finish: on26(10, 30)},
	}}}
	p.Plan = []portfolio.Version{
		{
			Number: 1,
			Lines: []portfolio.Line{
				cost(cells(jan, 10000, 10000, 10000, 10000, 10000, 10000, 10000, 10000, 10000, 10000)),
			},
		},
	}
	p.Actual = []portfolio.Line{cost(cells(jan, 10000, 10000, 10000, 10000, 10000))}
	for i := range 5 {
		row := portfolio.ProgressRow{
			Activity: 0,
			Percent:  says(int64(20*(i+1)) * portfolio.Quantity),
			Start:    says(int64(on26(1, 1))),
			Finish:   says(int64(on26(5, 29))),
			Began:    says(int64(on26(1, 1))),
		}
		if i == 4 {
			row.Done = says(int64(on26(5, 29)))
		}
		p.Progress = append(
			p.Progress,
			portfolio.Progress{Period: jan + calendar.Period(i), Rows: []portfolio.ProgressRow{
				row,
				{Activity: 1, Start: says(int64(on26(6, 1))), Finish: says(int64(on26(10, 30)))},
				{Activity: 2, Start: says(int64(on26(10, 30))), Finish: says(int64(on26(10, 30)))},
			}},
		)
		p.Forecast = append(
			p.Forecast,
			portfolio.Version{
				Number: int(jan) + i,
				Lines:  []portfolio.Line{cost(cells(jan+calendar.Period(i)+1, slices.Repeat([]int64{10000}, 9-i)...))},
			},
		)
	}
	return &bench{office: o, p: p, at: jan + 4}
}

// row is what was said of an activity in the last period.
func (b *bench) row(i int) *portfolio.ProgressRow { return &b.p.Progress[4].Rows[i] }

func (b *bench) found() []Finding {
	v := portfolio.At(b.office, b.p, b.at, portfolio.Latest)
	e := figure.OfProject(earned.NewProgress(v))
	e.All()
	views := []*portfolio.View{v} // those of others come after K1
	for _, p := range b.others {
		views = append(views, portfolio.At(b.office, p, b.at, portfolio.Latest))
	}
	net := network.Of(views)
	b.outside.Web = &figure.Web{Net: func() *network.Portfolio { return net }}
	return Run(e, (&standing.Book{}).At(b.at), b.checks, b.own, b.outside)
}

// other is a project Z9 with one task X of given dates.
func other(start, finish calendar.Date) *portfolio.Project {
	return &portfolio.Project{
		ID: 9, Code: "Z9", State: portfolio.Active,
		Activities: []portfolio.Activity{{ID: 5, Code: "X", Kind: portfolio.Task, Parent: -1, Leaf: true, Start: start, Finish: finish}},
	}
}

func codes(list []Finding) (out []string) {
	for i := range list {
		out = append(out, list[i].Check)
	}
	return out
}

func TestSoundProject(t *testing.T) {
	require.Empty(t, sound().found())
}

// TestChecks: one fault at a time in a sound project; the first finding of the
// check, its money, and words that its sentence must have.
func TestChecks(t *testing.T) {
	covered := map[string]bool{"no-rate": true, "no-plan-rate": true} // below
	for _, c := range []struct {
		name, check string
		money       int64
		words       string
		fault       func(*bench)
	}{
		{"no baseline dates", "baseline-missing", 0, "state the baseline", func(b *bench) { b.p.Baselines = nil }},
		{"no plan", "baseline-missing", 0, "neither plan amounts nor budgets", func(b *bench) { b.p.Plan = nil }},
		{"task outside the baseline", "outside-baseline", 0, "B Deck is not in baseline 1", func(b *bench) {
			b.p.Baselines[0].Rows = slices.Delete(b.p.Baselines[0].Rows, 1, 2)
		}},
		{"no dates at all", "no-weight", 0, "B Deck has no dates", func(b *bench) {
			b.p.Baselines[0].Rows[1].Start, b.p.Baselines[0].Rows[1].Finish = 0, 0
			for i := range b.p.Progress {
				b.p.Progress[i].Rows[1] = portfolio.ProgressRow{Activity: 1}
			}
		}},
		{"budget without dates", "budget-without-dates", 5000, "a budget of 50 EUR", func(b *bench) {
			r := &b.p.Baselines[0].Rows[1]
			r.HasBudget, r.Budget, r.Start, r.Finish = true, 5000, 0, 0
		}},
		{"budgets of 90.00 against a plan of 1,000.00", "budgets-not-bac", 91000, "sum to 90 EUR and the plan to 1,000 EUR, 910 EUR apart", func(b *bench) {
			r := b.p.Baselines[0].Rows
			r[0].HasBudget, r[0].Budget, r[1].HasBudget, r[1].Budget = true, 4000, true, 5000
		}},
		{"plan raised by 50.00 in place", "plan-changed", 5000, "changed in sum by 50 EUR", func(b *bench) {
			was := cost(cells(jan, 10000, 10000, 10000, 10000, 10000, 10000, 10000, 10000, 10000, 5000))
			b.outside.PlanWas = []portfolio.Version{{Number: 1, Lines: []portfolio.Line{was}}}
		}},
		{"plan moved in place", "plan-changed", 0, "in its months or lines, not in sum", func(b *bench) {
			b.outside.PlanWas = []portfolio.Version{{Number: 1, Lines: []portfolio.Line{cost(cells(jan, 100000))}}}
		}},
		{"baseline dates moved in place", "plan-changed", 0, "of 1 activity changed under baseline 1", func(b *bench) {
			was := slices.Clone(b.p.Baselines[0].Rows)
			was[1].Finish = on26(9, 30)
			b.outside.BaselineWas = []portfolio.Baseline{{Number: 1, Rows: was}}
		}},
		{"no items", "no-items", 0, "B Deck earns by items and has none", func(b *bench) { b.p.Activities[1].Rule = "items" }},
		{"start on the day of the finish before it", "link-broken", 0, "B Deck has its start on 29 May 2026, and A Piles its finish on 29 May 2026: the link (FS) misses 1 working day", func(b *bench) {
			b.p.Links = []portfolio.Link{{From: 0, To: 1, Type: "FS"}}
			b.row(1).Start = says(int64(on26(5, 29)))
		}},
		{"lag of two days not kept", "link-broken", 0, "(FS, lag 2 working days) misses 2 working days", func(b *bench) { b.p.Links = []portfolio.Link{{From: 0, To: 1, Type: "FS", Lag: 2}} }},
		{"another project ends after this one starts", "link-broken", 0, "and X of Z9 its finish on 10 Jun 2026: the link (FS) misses 8 working days", func(b *bench) {
			b.p.Across = []portfolio.Across{{Here: 1, Other: "Z9", Code: "X", Activity: 5, Into: true, Type: "FS"}}
			b.others = []*portfolio.Project{other(on26(6, 1), on26(6, 10))}
		}},
		{"another project starts before this one ends", "link-broken", 0, "X of Z9 has its start on 20 May 2026", func(b *bench) {
			b.p.Across = []portfolio.Across{{Here: 0, Other: "Z9", Code: "X", Activity: 5, Type: "FS"}}
			b.others = []*portfolio.Project{other(on26(5, 20), on26(6, 10))}
		}},
		{"started before the other ends", "link-overtaken", 0, "B Deck was started on 25 May 2026, 12 working days before its link (FS) to X of Z9 allows", func(b *bench) {
			b.p.Across = []portfolio.Across{{Here: 1, Other: "Z9", Code: "X", Activity: 5, Into: true, Type: "FS"}}
			b.others = []*portfolio.Project{other(on26(6, 1), on26(6, 9))}
			b.row(1).Began = says(int64(on26(5, 25)))
		}},
		{"a link to what is gone", "link-idle", 0, "The link from Z9/X to B holds nothing: Z9/X is not there any more", func(b *bench) {
			b.p.Across = []portfolio.Across{{Here: 1, Other: "Z9", Code: "X", Activity: 6, Into: true, Type: "FS"}}
			b.others = []*portfolio.Project{other(on26(6, 1), on26(6, 9))}
		}},
		{"a link to what is cancelled", "link-idle", 0, "Z9/X is of a project that is cancelled", func(b *bench) {
			b.p.Across = []portfolio.Across{{Here: 1, Other: "Z9", Code: "X", Activity: 5, Into: true, Type: "FS"}}
			b.others = []*portfolio.Project{other(on26(6, 1), on26(6, 9))}
			b.others[0].State = portfolio.Cancelled
		}},
		{"a link of a summary", "link-idle", 0, "B is a summary", func(b *bench) {
			b.p.Links = []portfolio.Link{{From: 0, To: 1, Type: "FS"}}
			b.p.Activities[1].Leaf = false
		}},
		{"a loop over two projects", "loop", 0, "2 activities wait for themselves, so none of them has dates in the network: K1/B → Z9/X → K1/B.", func(b *bench) {
			b.p.Across = []portfolio.Across{
				{Here: 1, Other: "Z9", Code: "X", Activity: 5, Into: true, Type: "FS"},
				{Here: 1, Other: "Z9", Code: "X", Activity: 5, Type: "SS"},
			}
			b.others = []*portfolio.Project{other(on26(6, 1), on26(6, 9))}
		}},
		{"no date in the network", "outside-network", 0, "B Deck has no date", func(b *bench) {
			b.p.Baselines[0].Rows[1].Start, b.p.Baselines[0].Rows[1].Finish = 0, 0
			for i := range b.p.Progress {
				b.p.Progress[i].Rows[1] = portfolio.ProgressRow{Activity: 1}
			}
		}},
		{"a calendar without a working day", "outside-network", 0, "The calendar of the project (never) has no working day", func(b *bench) {
			b.office.Calendars = map[string]*calendar.Calendar{"never": calendar.New("never", calendar.Week{}, nil)}
			b.office.Settle()
			b.p.Calendar = "never"
		}},
		{"later than it may end", "constraint-broken", 0, "B Deck is to end no later than 28 Oct 2026 (The fair), and ends 2 working days later", func(b *bench) {
			b.p.Activities[1].Bound = &portfolio.Bound{Constraint: "not after", Day: on26(10, 28), Reason: "The fair"}
		}},
		{"on a day that links do not allow", "constraint-broken", 0, "B Deck is bound to 8 Jun 2026, and what it depends on holds it 2 working days later", func(b *bench) {
			b.p.Activities[1].Bound = &portfolio.Bound{Constraint: "on", Day: on26(6, 8)}
			b.p.Across = []portfolio.Across{{Here: 1, Other: "Z9", Code: "X", Activity: 5, Into: true, Type: "FS"}}
			b.others = []*portfolio.Project{other(on26(6, 1), on26(6, 9))}
		}},
		{"a constraint without its day", "constraint-incomplete", 0, "has the constraint “not after” and no day", func(b *bench) {
			b.p.Activities[1].Bound = &portfolio.Bound{Constraint: "not after"}
		}},
		{"a day without its constraint", "constraint-incomplete", 0, "has a day for a constraint (8 Jun 2026)", func(b *bench) {
			b.p.Activities[1].Bound = &portfolio.Bound{Day: on26(6, 8)}
		}},
		{"a milestone with two dates", "two-dates", 0, "Milestone M Open has its start on 28 Oct 2026 and its finish on 30 Oct 2026", func(b *bench) { b.row(2).Start = says(int64(on26(10, 28))) }},
		{"a year in the last century", "date-impossible", 0, "more than 25 years from May 2026", func(b *bench) { b.row(1).Finish = says(int64(calendar.DateOf(1926, 10, 30))) }},
		{"finish before start", "finish-before-start", 0, "has its current finish on 1 May 2026, before its start on 1 Jun 2026", func(b *bench) { b.row(1).Finish = says(int64(on26(5, 1))) }},
		{"actual finish before actual start", "finish-before-start", 0, "its actual finish on 5 Dec 2025", func(b *bench) { b.row(0).Done = says(int64(calendar.DateOf(2025, 12, 5))) }},
		{"actual start in June", "actual-ahead", 0, "its actual start on 2 Jun 2026, after the last day of May 2026", func(b *bench) { b.row(1).Began = says(int64(on26(6, 2))) }},
		{"120%", "progress-range", 0, "said to be 120% done", func(b *bench) { b.row(0).Percent = says(120 * portfolio.Quantity) }},
		{"11 of 10 units", "progress-range", 0, "11 units done and 10 in all", func(b *bench) {
			b.p.Activities[0].Rule, b.p.Activities[0].Units = "units", 10*portfolio.Quantity
			b.row(0).Units = says(11 * portfolio.Quantity)
		}},
		{"100% and open", "done-without-finish", 0, "100% done and has no actual finish", func(b *bench) { b.row(0).Done = portfolio.Mark{} }},
		{"finished at 90%", "done-without-finish", 0, "finished on 29 May 2026 and is said to be 90% done", func(b *bench) { b.row(0).Percent = says(90 * portfolio.Quantity) }},
		{"finished on the last day at 90%", "done-without-finish", 0, "finished on 31 May 2026 and is said to be 90% done", func(b *bench) {
			b.row(0).Percent, b.row(0).Done = says(90*portfolio.Quantity), says(int64(on26(5, 31)))
		}},
		{"from 80% to 75%", "progress-back", 0, "went back from 80% done in Apr 2026 to 75%", func(b *bench) { b.row(0).Percent, b.row(0).Done = says(75*portfolio.Quantity), portfolio.Mark{} }},
		{"finish taken back", "progress-back", 0, "was finished on 30 Apr 2026, and that is taken back", func(b *bench) {
			b.p.Progress[3].Rows[0].Done = says(int64(on26(4, 30)))
			b.row(0).Done = portfolio.Mark{Said: portfolio.None}
		}},
		{"started, nothing said", "progress-not-said", 0, "B Deck started on 20 May 2026", func(b *bench) { b.row(1).Began = says(int64(on26(5, 20))) }},
		{"milestone gone by", "milestone-past-due", 0, "planned for 15 May 2026 (expected on 20 May 2026)", func(b *bench) {
			b.p.Baselines[0].Rows[2].Finish = on26(5, 15)
			b.row(2).Finish = says(int64(on26(5, 20)))
		}},
		{"on hold, and 100.00 booked", "cost-not-running", 10000, "100 EUR was booked in May 2026 on a project that is on hold since 1 Mar 2026", func(b *bench) { b.p.State, b.p.Since = portfolio.OnHold, on26(3, 1) }},
		{"cost on what has not started", "cost-not-running", 700, "activity B Deck, which has not started", func(b *bench) {
			l := cost(cells(b.at, 700))
			l.ActivityID, l.Activity = 2, "B"
			b.p.Ledger = []portfolio.Line{l}
		}},
		{"nothing has started", "cost-not-running", 10000, "no activity has started", func(b *bench) {
			for i := range b.p.Progress {
				b.p.Progress[i].Rows[0] = portfolio.ProgressRow{Activity: 0}
			}
		}},
		{"two months of cost at 60%", "cost-without-progress", 20000, "200 EUR was spent in 2 periods and nothing was earned: the project stays at 30%", func(b *bench) {
			// Piles weigh half, give or take a day: 60% of it by March
			b.p.Activities[1].Rule, b.p.Baselines[0].Rows[1].Finish = "stated", on26(10, 30)
			b.p.Progress[3].Rows[0].Percent = says(60 * portfolio.Quantity)
			b.row(0).Percent, b.row(0).Done = says(60*portfolio.Quantity), portfolio.Mark{}
			b.p.Baselines[0].Rows[1].Start, b.p.Baselines[0].Rows[1].Finish = on26(1, 1), on26(5, 29) // the same weight
		}},
		{"two months of progress without cost", "progress-without-cost", 0, "in 2 periods and no cost was booked", func(b *bench) { b.p.Actual = []portfolio.Line{cost(cells(jan, 10000, 10000, 10000))} }},
		{"1,200.00 spent of 1,000.00", "ac-above-bac", 20000, "1,200 EUR is spent, 200 EUR more than the whole plan of 1,000 EUR", func(b *bench) { b.p.Actual = []portfolio.Line{cost(cells(jan, 120000))} }},
		{"forecast takes cost back", "ac-above-eac", 5000, "500 EUR is spent and the stated outlook is 450 EUR", func(b *bench) { b.p.Forecast[4].Lines = []portfolio.Line{cost(cells(b.at+1, -5000))} }},
		{"a credit on a code of its own", "negative-actuals", 3000, "actual cost of −30 EUR", func(b *bench) {
			l := cost(cells(b.at, -3000))
			l.CodeID, l.Code = 2, "20"
			b.p.Actual = append(b.p.Actual, l)
		}},
		{"total and postings", "booked-twice", 10000, "both a monthly total of 100 EUR and postings in May 2026", func(b *bench) { b.p.Ledger = []portfolio.Line{cost(cells(b.at, 9000))} }},
		{"a total without a class, which is the plan's, and postings", "booked-twice", 10000, "both a monthly total of 100 EUR and postings in May 2026", func(b *bench) {
			b.p.Ledger, b.p.Actual[0].Class = []portfolio.Line{cost(cells(b.at, 9000))}, ""
		}},
		{"totals of 100.00, ledger 90.00", "totals-differ", 1000, "In 1 period with both, the lead's totals say 100 EUR and the ledger 90 EUR, 10 EUR apart", func(b *bench) { b.p.Ledger = []portfolio.Line{cost(cells(b.at, 9000))} }},
		{"nothing booked of two months", "cost-from-time", 20000, "200 EUR of its actual cost is its plan, as 2 periods passed", func(b *bench) {
			b.p.FromTime, b.p.Actual[0].Cells = true, b.p.Actual[0].Cells[:3]
		}},
		{"more booked than its plan has", "booked-beside-time", 2000, "Of Feb 2026 120 EUR is booked, and takes the place of the 100 EUR that its plan has: 20 EUR apart", func(b *bench) {
			b.p.FromTime, b.p.Actual[0].Cells[1].Amount = true, 12000
		}},
		{"two invoices alike", "posted-twice", 1234, "Posting L2 of 12.34 EUR on cost code 10 says the same as L1", func(b *bench) {
			b.outside.Twice = []Twice{{First: "L1", Posting: "L2", Code: "10", Amount: 1234, Currency: "EUR"}}
		}},
		{"forecast of two months ago", "statement-stale", 0, "forecast was last stated for Mar 2026, 2 periods ago; ask Ada", func(b *bench) { b.p.Forecast = b.p.Forecast[:3] }},
		{"risks that a rule asks for", "statement-stale", 0, "Its risks were never stated, and the project began in Jan 2026; ask Ada", func(b *bench) {
			b.office.Owing = []portfolio.Owing{{Scope: portfolio.Everywhere, Kind: portfolio.RiskPart, From: b.at, Owed: true}}
		}},
		{"never a forecast", "statement-stale", 0, "was never stated, and the project began in Jan 2026", func(b *bench) { b.p.Forecast = nil }},
		{"nothing left to come", "no-forecast-left", 50691, "has nothing after May 2026", func(b *bench) { b.p.Forecast[4].Lines = nil }}, // 1000.00 − EV; piles have 107 of 217 days: 1000 × 110 ÷ 217
		{"amounts of the past", "forecast-in-past", 0, "has 2 amounts up to May 2026", func(b *bench) {
			b.p.Forecast[4].Lines = append(b.p.Forecast[4].Lines, cost(cells(jan+3, 1, 1)))
		}},
		{"one amount of the past", "forecast-in-past", 0, "has 1 amount up to Apr 2026", func(b *bench) {
			b.p.Forecast[4].Lines = append(b.p.Forecast[4].Lines, cost(cells(jan+3, 1)))
		}},
		{"600.00 on order, 500.00 to come", "forecast-under-orders", 10000, "500 EUR is forecast to come and 600 EUR is on order", func(b *bench) {
			b.p.Commitment = []portfolio.Version{{Number: int(b.at), Lines: []portfolio.Line{cost(cells(b.at+2, 60000))}}}
		}},
		{"600.00 on order, and on hold", "orders-not-running", 60000, "600 EUR is on order for a project that is on hold since 1 Mar 2026", func(b *bench) {
			b.p.State, b.p.Since = portfolio.OnHold, on26(3, 1)
			b.p.Commitment = []portfolio.Version{{Number: int(b.at), Lines: []portfolio.Line{cost(cells(b.at+2, 60000))}}}
		}},
		{"600.00 on order, and finished", "orders-not-running", 60000, "600 EUR is on order for a project that is finished;", func(b *bench) {
			b.p.State = portfolio.Finished
			b.p.Commitment = []portfolio.Version{{Number: int(b.at), Lines: []portfolio.Line{cost(cells(b.at+2, 60000))}}}
		}},
		{"100.00 and 50.00 on order of three and four periods ago", "orders-overdue", 15000, "150 EUR was expected 3 periods or more ago, the first of it in Jan 2026", func(b *bench) {
			b.p.Commitment = []portfolio.Version{{Number: int(b.at), Lines: []portfolio.Line{cost(cells(b.at-4, 10000, 5000, 2500))}}}
		}},
		{"two bookings without a class, which the plan has none of", "class-not-stated", 20000, "No class is stated for 200 EUR booked on 20, and the plan states none there; it counts as opex", func(b *bench) {
			l := cost(cells(jan+1, 5000, 15000))
			l.CodeID, l.Code, l.Class = 2, "20", ""
			b.p.Actual = append(b.p.Actual, l)
		}},
		{"a booking and a forecast without a class, of which the plan has both", "class-not-stated", 5000, "for 50 EUR booked and 70 EUR forecast on 10, and the plan has both opex and capex there", func(b *bench) {
			capex, booked, left := cost(cells(jan, 1)), cost(cells(jan+4, 5000, 100)), cost(cells(jan+4, 300, 7000))
			capex.Class, booked.Class, left.Class = "capex", "", "" // of what is booked later, and forecast for what is over, nothing counts
			b.p.Plan[0].Lines = append(b.p.Plan[0].Lines, capex)
			b.p.Ledger = append(b.p.Ledger, booked)
			b.p.Forecast[4].Lines = append(b.p.Forecast[4].Lines, left)
		}},
		{"nothing states a class", "class-not-stated", 50000, "Nothing of the project states a class: all of it, 500 EUR booked, 500 EUR forecast and 1,000 EUR planned, counts as opex", func(b *bench) {
			b.p.Plan[0].Lines[0].Class, b.p.Actual[0].Class, b.p.Forecast[4].Lines[0].Class = "", "", ""
		}},
		{"accrued and on order without a class", "class-not-stated", 300, "for 3 EUR accrued and 4 EUR on order on 20, and the plan states none", func(b *bench) {
			accrued, ordered := cost(cells(jan+3, 900, 300)), cost(cells(jan+5, 400))
			accrued.CodeID, accrued.Code, accrued.Class = 2, "20", ""
			ordered.CodeID, ordered.Code, ordered.Class = 2, "20", ""
			b.p.Accrual = append(b.p.Accrual, accrued)
			b.p.Commitment = []portfolio.Version{{Number: int(b.at), Lines: []portfolio.Line{ordered}}}
		}},
		{"the rest for half", "forecast-not-credible", 0, "each unit of money still to be spent must earn", func(b *bench) { b.p.Forecast[4].Lines = []portfolio.Line{cost(cells(b.at+1, 25000))} }},
		{"baseline 2 adds 100.00, outlook the same", "budget-up-forecast-not", 10000, "raised the plan from 1,000 EUR to 1,100 EUR, and the stated outlook went from 1,000 EUR to 1,000 EUR", func(b *bench) {
			b.p.Plan = append(b.p.Plan, portfolio.Version{Number: 2, Lines: []portfolio.Line{cost(cells(jan, 110000))}})
			b.p.Baselines = append(b.p.Baselines, portfolio.Baseline{Number: 2, Approved: on26(5, 10)})
		}},
		{"steady, says the lead", "stated-better", 0, "Ada states Steady and the figures say", func(b *bench) {
			b.row(1).Finish = says(int64(on26(12, 30)))
			b.p.Narratives = []portfolio.Narrative{{Period: b.at, Section: "summary", Stated: "steady"}}
		}},
	} {
		b := sound()
		c.fault(b)
		list := b.found()
		i := slices.IndexFunc(
			list,
			func(f Finding) bool { return f.Check == c.check && strings.Contains(f.Text, c.words) },
		)
		require.GreaterOrEqual(t, i, 0, "%s: %s with %q is not in %v", c.name, c.check, c.words, texts(list))
		f := list[i]
		if c.money != 0 || c.check != "stated-better" && c.check != "forecast-not-credible" {
			require.Equal(t, c.money, f.Money, c.name)
		}
		require.Equal(t, Get(c.check).Severity, f.Severity)
		require.NotEmpty(t, f.Values, c.name)
		require.Regexp(t, `^[A-Z0-9].*[.]$`, f.Text, "a sentence")
		covered[c.check] = true
	}
	for _, c := range Checks {
		require.True(t, covered[c.Code], "%s is tested nowhere", c.Code)
	}
}

// TestWhereTheLeadSaysIt: the source is the summary of the period in which the standing was
// stated, and no other text.
func TestWhereTheLeadSaysIt(t *testing.T) {
	b := sound()
	b.row(1).Finish = says(int64(on26(12, 30)))
	for i, n := range []portfolio.Narrative{
		{Period: b.at - 1, Section: "summary", Stated: "steady"},
		{Period: b.at, Section: "summary", Stated: "steady"},
		{Period: b.at, Section: "next", Text: "the deck"},
	} {
		n.Source = portfolio.Source{Row: int32(i + 1)}
		b.p.Narratives = append(b.p.Narratives, n)
	}
	list := b.found()
	i := slices.IndexFunc(list, func(f Finding) bool { return f.Check == "stated-better" })
	require.GreaterOrEqual(t, i, 0)
	require.Equal(t, int32(2), list[i].Source.Row)
}

// What states no class takes that of the plan; nothing is found then.
func TestClassOfThePlanIsNoFinding(t *testing.T) {
	b := sound()
	b.p.Actual[0].Class, b.p.Forecast[4].Lines[0].Class = "", ""
	require.NotContains(t, codes(b.found()), "class-not-stated")
	income := cost(cells(jan, 100))
	income.Flow, income.Class, income.CodeID = portfolio.Income, "", 2
	b.p.Actual = append(b.p.Actual, income)
	require.NotContains(t, codes(b.found()), "class-not-stated", "income has no class")
}

func texts(list []Finding) (out []string) {
	for i := range list {
		out = append(out, list[i].Check+": "+list[i].Text)
	}
	return out
}

func TestRates(t *testing.T) {
	b := sound()
	for i := range b.p.Plan[0].Lines {
		b.p.Plan[0].Lines[i].Currency = "NOK"
	}
	require.Contains(t, codes(b.found()), "no-rate")
	b.office.Rates.Put("NOK", money.PeriodRates, int(jan), money.Rate{Coef: 1, Scale: 1})
	list := b.found()
	require.NotContains(t, codes(list), "no-rate")
	i := slices.Index(codes(list), "no-plan-rate")
	require.GreaterOrEqual(t, i, 0)
	require.Equal(t, Note, list[i].Severity)
}

// TestSettings: severity and limit hold from a period on; off looks for
// nothing; a project may be left out for a while.
func TestSettings(t *testing.T) {
	b := sound()
	b.p.Forecast = b.p.Forecast[:3] // two periods old
	one := func() string {
		list := b.found()
		if len(list) == 0 {
			return "nothing"
		}
		return string(list[0].Severity)
	}
	require.Equal(t, "warning", one())
	b.checks = []Setting{{Check: "statement-stale", From: b.at, Severity: Error}}
	require.Equal(t, "error", one())
	b.checks = append(b.checks, Setting{Check: "statement-stale", From: b.at + 1, Severity: Off})
	require.Equal(t, "error", one(), "what begins later does not hold yet")
	b.checks[1].From = b.at
	require.Equal(t, "nothing", one(), "of two from one period the later said holds")
	b.checks = []Setting{{Check: "statement-stale", From: jan, Limit: big.NewRat(3, 1)}}
	require.Equal(t, "nothing", one(), "two periods are not three")
	b.checks = nil
	for _, c := range []struct {
		from, until calendar.Period
		want        string
	}{{jan, 0, "nothing"}, {jan, b.at, "nothing"}, {jan, b.at - 1, "warning"}, {b.at + 1, 0, "warning"}} {
		b.p.Unchecked = []portfolio.Unchecked{{Check: "statement-stale", From: c.from, Until: c.until, Reason: "r"}}
		require.Equal(t, c.want, one())
	}
}

// TestAtTheLimit: what is left asks for about twice what was achieved; where the limit is
// exactly how far that is apart, it passes.
func TestAtTheLimit(t *testing.T) {
	b := sound()
	b.p.Forecast[4].Lines = []portfolio.Line{cost(cells(b.at+1, 25000))}
	gap := figure.OfProject(earned.NewProgress(portfolio.At(b.office, b.p, b.at, portfolio.Latest))).Get(figure.CredibilityGap).Rat()
	for _, limit := range []*big.Rat{gap, new(big.Rat).Sub(gap, big.NewRat(1, 1000))} {
		b.checks = []Setting{{Check: "forecast-not-credible", From: jan, Limit: limit}}
		require.Equal(t, limit != gap, slices.Contains(codes(b.found()), "forecast-not-credible"))
	}
}

// TestWhereItWasBooked: a finding about cost shows the last cell that holds any, though it
// is a single cent, and not one of a later period.
func TestWhereItWasBooked(t *testing.T) {
	b := sound()
	b.p.State, b.p.Since = portfolio.OnHold, on26(3, 1)
	b.p.Actual = []portfolio.Line{cost(cells(jan, 10000, 10000, 10000, 10000, 1, 10000))}
	list := b.found()
	i := slices.IndexFunc(list, func(f Finding) bool { return f.Check == "cost-not-running" })
	require.GreaterOrEqual(t, i, 0)
	require.Equal(t, int32(6), list[i].Source.Row, "the fifth cell")
}

// TestWhatBegan: a percent or units tell that work has begun, though nobody says when.
func TestWhatBegan(t *testing.T) {
	for _, c := range []struct {
		row   portfolio.ProgressRow
		found bool
	}{
		{portfolio.ProgressRow{}, true},
		{portfolio.ProgressRow{Percent: says(portfolio.Quantity)}, false},
		{portfolio.ProgressRow{Units: says(portfolio.Quantity)}, false},
		{portfolio.ProgressRow{Percent: says(0), Units: says(0)}, true},
	} {
		b := sound()
		for i := range b.p.Progress {
			b.p.Progress[i].Rows = []portfolio.ProgressRow{c.row}
		}
		require.Equal(t, c.found, slices.Contains(codes(b.found()), "cost-not-running"), "%+v", c.row)
	}
}

// TestAnswers: accepted findings do not count, until they end or their values
// change.
func TestAnswers(t *testing.T) {
	b := sound()
	b.p.Forecast = b.p.Forecast[:3]
	first := b.found()[0]
	require.Equal(t, Open, first.State)
	answer := portfolio.Answer{
		Check:    first.Check,
		Record:   first.Record,
		From:     b.at,
		Until:    b.at + 2,
		Accepted: true,
		Reason:   "r",
		Values:   first.Values,
	}
	for _, c := range []struct {
		name   string
		change func(*portfolio.Answer)
		state  State
		counts bool
	}{
		{"accepted", func(*portfolio.Answer) {}, Accepted, false},
		{"with other values", func(a *portfolio.Answer) { a.Values = "last stated Feb 2026" }, Back, true},
		{"over", func(a *portfolio.Answer) { a.From, a.Until = jan, b.at-1 }, Open, true},
		{"to come", func(a *portfolio.Answer) { a.From = b.at + 1 }, Open, true},
		{"of another record", func(a *portfolio.Answer) { a.Record = "progress" }, Open, true},
		{"sent back", func(a *portfolio.Answer) { a.Accepted, a.Until = false, 0 }, SentBack, true},
		{"withdrawn", func(a *portfolio.Answer) { a.Accepted, a.Withdrawn = false, true }, Open, true},
	} {
		a := answer
		c.change(&a)
		b.p.Answers = []portfolio.Answer{a}
		f := b.found()[0]
		require.Equal(t, c.state, f.State, c.name)
		require.Equal(t, c.counts, f.Counts(), c.name)
	}
	later := answer
	later.From, later.Accepted, later.Until = b.at, false, 0
	earlier := answer
	earlier.From = jan
	b.p.Answers = []portfolio.Answer{later, earlier}
	require.Equal(t, SentBack, b.found()[0].State, "the answer said last counts")
}

// TestFound: errors first, notes and what is accepted left out.
func TestFound(t *testing.T) {
	list := []Finding{
		{Severity: Warning, Text: "w"},
		{Severity: Error, Text: "e"},
		{Severity: Note},
		{Severity: Error, State: Accepted},
		{Severity: Warning, State: SentBack, Text: "v"},
	}
	f := Found(list)
	require.Equal(t, [2]int64{1, 2}, [2]int64{f.Errors, f.Warnings})
	require.Equal(t, []string{"e", "w", "v"}, []string{f.Facts[0].What, f.Facts[1].What, f.Facts[2].What})
}

// TestWorth: money touched is told in the reporting currency too.
func TestWorth(t *testing.T) {
	b := sound()
	b.p.Currency = "NOK"
	b.office.Rates.Put("NOK", money.PeriodRates, int(jan), money.Rate{Coef: 1, Scale: 1}) // 0.1
	b.office.Rates.Put("NOK", money.PlanRates, int(jan), money.Rate{Coef: 1, Scale: 1})
	for _, l := range [][]portfolio.Line{b.p.Plan[0].Lines, b.p.Actual} {
		l[0].Currency = "NOK"
	}
	b.p.Actual[0].Cells = cells(jan, 120000)
	list := b.found()
	i := slices.Index(codes(list), "ac-above-bac")
	require.Equal(t, [2]int64{20000, 2000}, [2]int64{list[i].Money, list[i].Worth})
}

// TestOwnChecks: over each kind of record, with the values in the sentence.
func TestOwnChecks(t *testing.T) {
	b := sound()
	b.p.Risks = []portfolio.RiskStatement{
		{
			Period:     jan,
			Risk:       "R1",
			Likelihood: portfolio.Field{Said: portfolio.Value, Int: 4},
			Impact:     portfolio.Field{Said: portfolio.Value, Int: 4},
			Title:      portfolio.Field{Said: portfolio.Value, Text: "Ice"},
		},
	}
	own := func(over, source, text string) Own {
		x, err := ParseOwn(over, source)
		require.NoError(t, err, source)
		require.NoError(t, CheckSays(over, text))
		return Own{Code: "ours", Title: "Ours", Over: over, Expr: x, Says: text}
	}
	for _, c := range []struct {
		over, source, says string
		records            []string
		text               string
	}{
		{"project", "ac > 400 and lead == \"Ada\"", "{ac} is spent by {lead}.", []string{""}, "500 EUR is spent by Ada."},
		{"project", "cpi < 0.5", "never", nil, ""},
		{"activity", "percent >= 100 and kind == \"task\"", "{activity} is at {percent}, planned for {baseline_finish}.", []string{"activity A"}, "A is at 100, planned for 29 May 2026."},
		{"activity", "slip == 0 and not late", "it keeps its date", []string{"activity A", "activity B", "activity M"}, ""},
		{"risk", "likelihood * impact >= 16 and risk_owner == \"\"", "{title} has no owner.", []string{"risk R1"}, "Risk R1: Ice has no owner."},
		{"cost code", "spent > plan * 0.4 and cost_code == \"10\"", "{spent} of {plan} is spent on {cost_code}.", []string{"cost code 10"}, "500 EUR of 1,000 EUR is spent on 10."},
		{"project", "eac_cpi3 > 5 or tcpi_bac > 100", "x", []string{""}, ""},
	} {
		b.own = []Own{own(c.over, c.source, c.says)}
		var records []string
		for _, f := range b.found() {
			require.Equal(t, "ours", f.Check)
			require.Equal(t, Warning, f.Severity)
			records = append(records, f.Record)
			if c.text != "" {
				require.Equal(t, c.text, f.Text)
			}
		}
		require.Equal(t, c.records, records, c.source)
	}
	b.own[0].From = b.at + 1
	require.Empty(t, b.found(), "it is not in force yet")
	for source, want := range map[string]string{"cpi": "compare it with something", "errors > 1": "is not known", "percent > 1": "is not known", "bac > finish_slip": "compares money with working days"} {
		_, err := ParseOwn("project", source)
		require.ErrorContains(t, err, want)
	}
	require.ErrorContains(t, CheckSays("project", "{percent} done"), "{percent}")
	require.ErrorContains(t, CheckSays("project", " "), "needs a sentence")
}

func TestAmount(t *testing.T) {
	for n, want := range map[int64]string{0: "0 EUR", 5: "0.05 EUR", 100: "1 EUR", -123456789: "−1,234,567.89 EUR", 99999: "999.99 EUR", 100000000: "1,000,000 EUR"} {
		require.Equal(t, want, amount(n, "EUR"))
	}
	require.Equal(t, "1,234 JPY", amount(1234, "JPY"))
}

// TestCodes: codes and titles tell checks apart, and each says what it looks
// for.
func TestCodes(t *testing.T) {
	seen := make(map[string]bool)
	for _, c := range Checks {
		require.False(t, seen[c.Code] || seen[c.Title], c.Code)
		seen[c.Code], seen[c.Title] = true, true
		require.Regexp(t, `^[A-Z].*\.$`, c.About)
		_, err := standing.ParseLimit(c.Limit)
		require.NoError(t, err)
		require.Equal(t, c.Limit == "", c.Unit == "", fmt.Sprint(c.Code))
	}
	require.Nil(t, Get("none"))
}

// TestNegativeActualsAreThoseSoFar: what is booked after the period neither makes a
// code negative nor mends it; postings and totals count together.
func TestNegativeActualsAreThoseSoFar(t *testing.T) {
	for _, c := range []struct {
		name           string
		actual, ledger []int64 // of code 20, from the period before on
		money          int64   // below zero; zero: nothing is found
	}{
		{"a credit of the period", []int64{0, -3000}, nil, 3000},
		{"a credit of the month after", []int64{0, 0, -3000}, nil, 0},
		{"a credit that the month after mends", []int64{0, -3000, 5000}, nil, 3000},
		{"a credit of before", []int64{-3000, 1000}, nil, 2000},
		{"a credit that is covered", []int64{3000, -3000}, nil, 0},
		{"a total that postings take back", []int64{1000}, []int64{0, -2500}, 1500},
		{"postings of the month after", []int64{1000}, []int64{0, 0, -2500}, 0},
	} {
		b := sound()
		for i, amounts := range [][]int64{c.actual, c.ledger} {
			l := cost(cells(b.at-1, amounts...))
			l.CodeID, l.Code = 2, "20"
			if i == 0 {
				b.p.Actual = append(b.p.Actual, l)
			} else if amounts != nil {
				b.p.Ledger = append(b.p.Ledger, l)
			}
		}
		list := b.found()
		i := slices.IndexFunc(list, func(f Finding) bool { return f.Check == "negative-actuals" })
		require.Equal(t, c.money != 0, i >= 0, "%s: %v", c.name, texts(list))
		if i >= 0 {
			require.Equal(t, c.money, list[i].Money, c.name)
		}
	}
}

// TestOrdersThatAreAsTheyShould: of what runs, of what is not, without orders, of orders
// that were taken back, and of those that are not yet long past.
func TestOrdersThatAreAsTheyShould(t *testing.T) {
	for name, fault := range map[string]func(*bench){
		"running, and to come": func(b *bench) {
			b.p.Commitment = []portfolio.Version{{Number: int(b.at), Lines: []portfolio.Line{cost(cells(b.at+2, 100))}}}
		},
		"on hold, without orders": func(b *bench) { b.p.State = portfolio.OnHold },
		"on hold, all taken back": func(b *bench) {
			b.p.State = portfolio.OnHold
			b.p.Commitment = []portfolio.Version{{Number: int(b.at), Lines: []portfolio.Line{cost(cells(b.at, 100, -100))}}}
		},
		"two periods past": func(b *bench) {
			b.p.Commitment = []portfolio.Version{{Number: int(b.at), Lines: []portfolio.Line{cost(cells(b.at-2, 100))}}}
		},
		"long past, and taken back": func(b *bench) {
			b.p.Commitment = []portfolio.Version{{Number: int(b.at), Lines: []portfolio.Line{cost(cells(b.at-4, 100, -100))}}}
		},
		"income long past": func(b *bench) {
			l := cost(cells(b.at-4, 100))
			l.Flow = portfolio.Income
			b.p.Commitment = []portfolio.Version{{Number: int(b.at), Lines: []portfolio.Line{l}}}
		},
	} {
		b := sound()
		fault(b)
		for _, f := range b.found() {
			require.NotContains(t, []string{"orders-not-running", "orders-overdue"}, f.Check, name)
		}
	}
}

// TestOrdersAreFoundOnce: long past orders of a project on hold are of what is not running.
func TestOrdersAreFoundOnce(t *testing.T) {
	b := sound()
	b.p.State = portfolio.OnHold
	b.p.Commitment = []portfolio.Version{{Number: int(b.at), Lines: []portfolio.Line{cost(cells(b.at-4, 100))}}}
	var found []string
	for _, f := range b.found() {
		if strings.HasPrefix(f.Check, "orders-") {
			found = append(found, f.Check)
		}
	}
	require.Equal(t, []string{"orders-not-running"}, found)
}
