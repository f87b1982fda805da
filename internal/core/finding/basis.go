package finding

import (
	"fmt"
	"maps"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// basisChecks look at what figures rest on: baselines, weights, rates.
var basisChecks = []Check{
	{
		Code:  "baseline-missing",
		Title: "Baseline missing",
		About: "An active project without baseline dates, or without plan amounts and budgets.",
		run:   (*run).baselineMissing,
	},
	{
		Code:  "outside-baseline",
		Title: "Activity outside the baseline",
		About: "An unfinished activity that the baseline in force does not name: it weighs nothing.",
		run:   (*run).outsideBaseline,
	},
	{
		Code:  "no-weight",
		Title: "Activity without weight",
		About: "An activity without budget and dates: it weighs nothing.",
		run:   (*run).noWeight,
	},
	{
		Code:  "budget-without-dates",
		Title: "Budget without baseline dates",
		About: "A budgeted activity without baseline dates: its budget is in no month of the plan.",
		run:   (*run).undatedBudget,
	},
	{
		Code:  "budgets-not-bac",
		Title: "Budgets differ from the plan",
		About: "The activities' budgets do not sum to the plan at completion.",
		run:   (*run).budgetsDiffer,
	},
	{
		Code:  "plan-changed",
		Title: "Plan changed without a baseline",
		About: "Plan amounts, baseline dates or budgets are others than when the last period was closed, under the same baseline number.",
		run:   (*run).planChanged,
	},
	{
		Code:  "no-items",
		Title: "No backlog items",
		About: "An activity that earns by backlog items and has none: it earns nothing.",
		run:   (*run).noItems,
	},
	{
		Code:     "no-rate",
		Title:    "No rate for a currency",
		Severity: Error,
		About:    "A currency without any rate: the project is left out of totals.",
		run:      (*run).noRate,
	},
	{
		Code:     "no-plan-rate",
		Title:    "No plan rates for a currency",
		Severity: Note,
		About:    "A currency with period rates only: its plan is converted at those.",
		run:      (*run).noPlanRate,
	},
}

func (r *run) baselineMissing() {
	if !r.active() {
		return
	}
	switch {
	case len(r.Activities) > 0 && r.BaselineNumber() == 0:
		r.add(
			Finding{
				Record: "baseline dates",
				Values: "none",
				Text:   "No activity has baseline dates, so no slip and no late share can be told; state the baseline.",
				Source: first(r.Sources),
			},
		)
	case r.PlanWhy != "" && r.View.Plan == nil && !r.ByBudget:
		r.add(
			Finding{
				Record: "plan",
				Values: "none",
				Text:   "There are neither plan amounts nor budgets, so nothing can be measured against a plan; state one of them.",
				Source: first(r.Sources),
			},
		)
	}
}

func first(list []portfolio.Source) portfolio.Source {
	if len(list) == 0 {
		return portfolio.Source{}
	}
	return list[0]
}

func (r *run) outsideBaseline() {
	for _, l := range r.Leaves {
		i := l.Activity
		if r.Row(i) == nil && r.BaselineNumber() > 0 && !r.done(r.now(i)) {
			r.add(Finding{
				Record: r.activity(
					i,
				), Values: fmt.Sprint("baseline ", r.BaselineNumber()), Source: r.Activities[i].Source, Place: r.baseline(i, "baseline_start", "baseline_finish", "budget"),
				Text: fmt.Sprintf(
					"Activity %s is not in baseline %d, so it weighs nothing; state its baseline dates there, or finish it.",
					r.name(i),
					r.BaselineNumber(),
				),
			})
		}
	}
}

func (r *run) noWeight() {
	for _, l := range r.Leaves {
		i := l.Activity
		if r.Row(i) != nil && !r.ByBudget && l.Weight == 0 {
			r.add(Finding{
				Record: r.activity(
					i,
				), Values: "no dates", Source: r.Activities[i].Source, Place: r.baseline(i, "baseline_start", "baseline_finish"),
				Text: fmt.Sprintf(
					"Activity %s has no dates, so it weighs nothing; state its baseline dates.",
					r.name(i),
				),
			})
		}
	}
}

func (r *run) undatedBudget() {
	for _, l := range r.Leaves {
		i := l.Activity
		if b := r.Row(i); r.ByBudget && b != nil && b.Budget > 0 && (b.Start == 0 || b.Finish == 0) {
			r.add(Finding{
				Record: r.activity(
					i,
				), Money: b.Budget, Values: amount(b.Budget, r.own()), Source: b.Source, Place: r.baseline(i, "baseline_start", "baseline_finish"),
				Text: fmt.Sprintf(
					"Activity %s has a budget of %s and no baseline dates, so it is in no month of the plan; state its baseline dates.",
					r.name(i),
					amount(b.Budget, r.own()),
				),
			})
		}
	}
}

func (r *run) budgetsDiffer() {
	bac := r.e.Get(figure.BAC)
	if r.View.Plan == nil || !r.ByBudget || !bac.Known {
		return
	}
	if by := bac.N - r.Total; by != 0 {
		r.add(Finding{
			Record: "plan", Money: by, Values: amount(r.Total, r.own()) + " and " + amount(bac.N, r.own()),
			Text: fmt.Sprintf(
				"The budgets of the activities sum to %s and the plan to %s, %s apart; correct one of them, or state both in a new baseline.",
				amount(r.Total, r.own()),
				amount(bac.N, r.own()),
				amount(max(by, -by), r.own()),
			),
		})
	}
}

// planChanged compares the plan with the one that the last closed period had
// under the same number.
func (r *run) planChanged() {
	for i := range r.outside.PlanWas {
		was := &r.outside.PlanWas[i]
		now := portfolio.VersionAt(r.Project.Project.Plan, was.Number)
		if now == nil || now.Number != was.Number || was.Number > r.Number {
			continue
		}
		if maps.Equal(amounts(was.Lines), amounts(now.Lines)) {
			continue // put back
		}
		a, err1 := r.sum(was.Lines)
		b, err2 := r.sum(now.Lines)
		if err1 != nil || err2 != nil {
			continue
		}
		how := "in sum by " + amount(b-a, r.own())
		if a == b {
			how = "in its months or lines, not in sum"
		}
		f := Finding{
			Record:  fmt.Sprintf("plan %d", was.Number),
			Money:   b - a,
			Values:  amount(a, r.own()) + " to " + amount(b, r.own()),
			Source:  firstSource(now.Lines),
			Against: firstSource(was.Lines),
		}
		f.Text = fmt.Sprintf(
			"The plan of baseline %d changed %s since the last period was closed, and no new baseline says why; state it as a new baseline, or put it back.",
			was.Number,
			how,
		)
		r.add(f)
	}
	for i := range r.outside.BaselineWas {
		was := &r.outside.BaselineWas[i]
		n := 0
		var src portfolio.Source
		for j := range r.Baselines {
			if r.Baselines[j].Number != was.Number || was.Number > r.Number {
				continue
			}
			old := make(map[int]portfolio.BaselineRow, len(was.Rows))
			for _, x := range was.Rows {
				old[x.Activity] = x
			}
			for _, x := range r.Baselines[j].Rows {
				if y, ok := old[x.Activity]; ok &&
					(x.Start != y.Start || x.Finish != y.Finish || x.Budget != y.Budget || x.HasBudget != y.HasBudget) {
					n, src = n+1, x.Source
				}
			}
		}
		if n > 0 {
			r.add(Finding{
				Record: fmt.Sprintf(
					"baseline %d",
					was.Number,
				), Values: plural(n, "activity", "activities"), Source: src,
				Text: fmt.Sprintf(
					"Baseline dates or budgets of %s changed under baseline %d since the last period was closed, and no new baseline says why; state them as a new baseline, or put them back.",
					plural(n, "activity", "activities"),
					was.Number,
				),
			})
		}
	}
}

// place is a cell of a plan.
type place struct {
	code, activity int64
	flow           portfolio.Flow
	class, centre  string
	currency       money.Currency
	p              calendar.Period
}

func amounts(lines []portfolio.Line) map[place]int64 {
	out := make(map[place]int64)
	for i := range lines {
		l := &lines[i]
		for _, c := range l.Cells {
			if c.Amount != 0 {
				out[place{l.CodeID, l.ActivityID, l.Flow, l.Class, l.Centre, l.Currency, c.Period}] = c.Amount
			}
		}
	}
	return out
}

// sum adds the cost cells of lines that count in the plan, at plan rates.
func (r *run) sum(lines []portfolio.Line) (int64, error) {
	var total int64
	for i := range lines {
		l := &lines[i]
		if !r.CountsInPlan(l) {
			continue
		}
		for _, c := range l.Cells {
			conv, err := r.Converter(l.Currency, money.PlanRates, c.Period, false)
			if err != nil {
				return 0, err
			}
			n, err := conv.Convert(c.Amount)
			if err != nil {
				return 0, err
			}
			total += n
		}
	}
	return total, nil
}

func firstSource(lines []portfolio.Line) portfolio.Source {
	for i := range lines {
		for _, c := range lines[i].Cells {
			return c.Source
		}
	}
	return portfolio.Source{}
}

func (r *run) noItems() {
	for _, l := range r.Leaves {
		if i := l.Activity; r.Activities[i].Rule == "items" && r.Backlog(i) == 0 {
			r.add(Finding{
				Record: r.activity(i), Values: "none", Source: r.Activities[i].Source,
				Text: fmt.Sprintf(
					"Activity %s earns by items and has none, so it earns 0; state its backlog.",
					r.name(i),
				),
			})
		}
	}
}

// currencies are those of the project and its plan.
func (r *run) currencies() []money.Currency {
	out := []money.Currency{r.own()}
	if r.View.Plan != nil {
		for i := range r.View.Plan.Lines {
			if c := r.View.Plan.Lines[i].Currency; !slices.Contains(out, c) {
				out = append(out, c)
			}
		}
	}
	slices.Sort(out)
	return out
}

func (r *run) noRate() {
	for _, c := range r.currencies() {
		if !r.Office.Rates.Known(c) {
			r.add(Finding{
				Record: "currency " + string(c), Values: "none", Money: r.Money.Plan.Total(),
				Text: fmt.Sprintf(
					"There is no rate for %s, so the project is left out of totals in %s; gather one.",
					c,
					r.Office.Reporting,
				),
			})
		}
	}
}

func (r *run) noPlanRate() {
	for _, c := range r.currencies() {
		if r.Office.Rates.Known(c) && !r.Office.Rates.HasPlan(c) {
			r.add(Finding{
				Record: "currency " + string(c), Values: "none",
				Text: fmt.Sprintf(
					"There are no plan rates for %s, so its plan is converted at period rates; gather plan rates.",
					c,
				),
			})
		}
	}
}
