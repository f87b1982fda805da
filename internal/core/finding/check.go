package finding

import (
	"fmt"
	"math/big"
	"slices"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// Check is a rule that looks for one kind of finding.
type Check struct {
	Code     string
	Title    string // the cause, as screens call it
	Severity Severity
	Limit    string // a decimal number, or "" where it has none
	Unit     string // of the limit, in words
	About    string // what it looks for, in a sentence
	run      func(*run)
}

// Setting changes a check from a period on.
type Setting struct {
	Check    string
	From     calendar.Period
	Severity Severity // "": the check's own
	Limit    *big.Rat // nil: the check's own
}

// Checks are the checks that the office begins with, by code.
var Checks = func() []Check {
	all := slices.Concat(basisChecks, wovenChecks, saidChecks, bookedChecks, passedChecks, classChecks, statedChecks)
	for i := range all {
		if all[i].Severity == "" {
			all[i].Severity = Warning
		}
	}
	return all
}()

// Get gives a check by code, or nil.
func Get(code string) *Check {
	for i := range Checks {
		if Checks[i].Code == code {
			return &Checks[i]
		}
	}
	return nil
}

// Outside is what checks need and the project does not hold.
type Outside struct {
	PlanWas     []portfolio.Version  // plans as the last closed period had them, where they are others now
	BaselineWas []portfolio.Baseline // the same of baseline dates and budgets
	Twice       []Twice              // postings of the period that say the same
	Web         *figure.Web          // what the network tells of the project; nil: it was not computed
}

// Twice is a posting that repeats another.
type Twice struct {
	First, Posting string // their numbers
	CodeID         int64  // cost code
	Code           string
	Amount         int64
	Currency       money.Currency
	Source         portfolio.Source // of the posting
	Against        portfolio.Source // of the first
}

// run is one project being checked at one period.
type run struct {
	*figure.Project
	e       *figure.Eval
	at      calendar.Period
	state   portfolio.State
	outside Outside
	rules   *standing.Set
	check   Check    // being run
	limit   *big.Rat // of it
	out     []Finding
}

// now gives what is in force of an activity.
func (r *run) now(activity int) *portfolio.Status { return r.Status(activity, r.at) }

// Run checks a project in its own currency, by the settings of the office and
// what was said about its findings. Since is set to the period; who knows of
// earlier ones sets it.
func Run(e *figure.Eval, rules *standing.Set, settings []Setting, own []Own, outside Outside) []Finding {
	p := e.Subject.(*figure.Project)
	r := &run{
		Project: p,
		e:       e,
		at:      e.Period,
		state:   p.StateAt(p.Day),
		outside: outside,
		rules:   rules,
	}
	for i := range Checks {
		if r.begin(Checks[i], settings) {
			Checks[i].run(r)
		}
	}
	for i := range own {
		if r.begin(own[i].check(), settings) {
			own[i].run(r)
		}
	}
	slices.SortStableFunc(r.out, func(a, b Finding) int { return a.Severity.Rank() - b.Severity.Rank() })
	return r.out
}

// begin takes the severity and limit in force of a check; false where it is
// off.
func (r *run) begin(c Check, settings []Setting) bool {
	r.check = c
	usual := usualLimit(c)
	r.limit = usual
	var from calendar.Period = -1
	for _, s := range settings {
		if s.Check != c.Code || s.From > r.at || s.From < from {
			continue
		}
		from = s.From
		r.check.Severity, r.limit = c.Severity, nil
		if s.Severity != "" {
			r.check.Severity = s.Severity
		}
		if r.limit = s.Limit; s.Limit == nil {
			r.limit = usual
		}
	}
	for _, u := range r.Unchecked {
		if u.Check == c.Code && u.From <= r.at && (u.Until == 0 || r.at <= u.Until) {
			return false
		}
	}
	return r.check.Severity != Off
}

// usualLimits are the limits that the checks of the house have unless an office
// sets another, by code.
var usualLimits = sync.OnceValue(func() map[string]*big.Rat {
	out := make(map[string]*big.Rat, len(Checks))
	for i := range Checks {
		out[Checks[i].Code], _ = standing.ParseLimit(Checks[i].Limit)
	}
	return out
})

// usualLimit is the limit of a check unless the office sets another; nil for none.
func usualLimit(c Check) *big.Rat {
	if c.Limit == "" {
		return nil
	}
	return usualLimits()[c.Code]
}

// add notes a finding of the check being run. Money is taken without its sign.
func (r *run) add(f Finding) {
	f.Check, f.Severity, f.Since = r.check.Code, r.check.Severity, r.at
	if f.Values == "" {
		f.Values = f.Text
	}
	if f.Money < 0 {
		f.Money = -f.Money
	}
	if f.Money != 0 {
		if conv, err := r.Office.Rates.Between(r.Project.Project.Currency, r.Office.Reporting, money.PeriodRates, int(r.at), int(r.at)); err == nil {
			f.Worth, _ = conv.Convert(f.Money) // beyond 64 bits it is not worth telling
		}
	}
	f.answered(r.Answers, r.at)
	r.out = append(r.out, f)
}

// Found counts what is open for the figures, errors first.
func Found(list []Finding) figure.Found {
	var out figure.Found
	for _, s := range [...]Severity{Error, Warning} {
		for i := range list {
			f := &list[i]
			if f.Severity != s || !f.Counts() {
				continue
			}
			if s == Error {
				out.Errors++
			} else {
				out.Warnings++
			}
			out.Facts = append(
				out.Facts,
				figure.Fact{
					What:   f.Text,
					Detail: string(f.State),
					Period: f.Since,
					Source: f.Source,
					Value:  figure.Whole(figure.Count, 1),
				},
			)
		}
	}
	return out
}

func (r *run) own() money.Currency { return r.Project.Project.Currency }

func (r *run) name(i int) string { return r.Activities[i].Code + " " + r.Activities[i].Name }

// activity is the record of an activity.
func (r *run) activity(i int) string { return "activity " + r.Activities[i].Code }

// progress is where the progress of an activity is stated.
func (r *run) progress(i int, columns ...string) Place {
	return Place{
		Table:   "progress",
		Key:     []Cell{{"activity", r.Activities[i].Code}, {"period", r.code(r.at)}},
		Columns: columns,
	}
}

// baseline is where the baseline dates of an activity are stated.
func (r *run) baseline(i int, columns ...string) Place {
	return Place{
		Table:   "activities",
		Key:     []Cell{{"activity", r.Activities[i].Code}, {"baseline", fmt.Sprint(max(r.BaselineNumber(), 1))}},
		Columns: columns,
	}
}

func (r *run) code(p calendar.Period) string   { return r.Office.Periods.Code(p) }
func (r *run) period(p calendar.Period) string { return r.Office.Periods.Name(p) }

func (r *run) active() bool { return r.state == portfolio.Active }

// done tells that a status has an actual finish that has come.
func (r *run) done(s *portfolio.Status) bool { return s.Done != 0 && s.Done <= r.Day }

func (r *run) began(s *portfolio.Status) bool { return s.Began != 0 && s.Began <= r.Day }

// periods gives the limit as a whole number, at least 1.
func (r *run) periods() calendar.Period {
	if r.limit == nil || !r.limit.IsInt() {
		return 1
	}
	return max(calendar.Period(r.limit.Num().Int64()), 1)
}

// percent writes a quantity in millionths: 37.5%.
func percent(n int64) string {
	return figure.TrimDecimals(money.FormatScaled(n, portfolio.QuantityScale)) + "%"
}

// plural counts things.
func plural[N ~int | ~int32 | ~int64](n N, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
