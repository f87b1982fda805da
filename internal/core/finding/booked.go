package finding

import (
	"cmp"
	"fmt"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// bookedChecks look at actual cost: that of the ledger, of totals and accruals.
var bookedChecks = []Check{
	{
		Code:  "cost-not-running",
		Title: "Cost on what is not running",
		About: "Cost booked in the period on a project that is proposed, on hold, finished or cancelled, or on an activity that has not started or was finished before.",
		run:   (*run).costNotRunning,
	},
	{
		Code:  "cost-without-progress",
		Title: "Cost without progress",
		Limit: "2",
		Unit:  "periods in a row",
		About: "Cost in each of the last periods, and nothing earned in them.",
		run:   (*run).costWithoutProgress,
	},
	{
		Code:  "progress-without-cost",
		Title: "Progress without cost",
		Limit: "2",
		Unit:  "periods in a row",
		About: "Work earned in each of the last periods, and no cost in them.",
		run:   (*run).progressWithoutCost,
	},
	{
		Code:  "ac-above-bac",
		Title: "Actual cost above the plan",
		About: "More is spent than the whole plan.",
		run:   (*run).aboveBAC,
	},
	{
		Code:     "ac-above-eac",
		Title:    "Actual cost above the stated outlook",
		Severity: Error,
		About:    "More is spent than the stated forecast says it will cost in all.",
		run:      (*run).aboveEAC,
	},
	{
		Code:  "negative-actuals",
		Title: "Negative actual cost",
		About: "A cost code whose actual cost so far is below zero.",
		run:   (*run).negativeActuals,
	},
	{
		Code:     "booked-twice",
		Title:    "Monthly total and postings on one line",
		Severity: Error,
		About:    "A monthly total and postings on the same line and period: both count.",
		run:      (*run).bookedTwice,
	},
	{
		Code:  "totals-differ",
		Title: "Lead's totals and ledger differ",
		About: "Where a lead's totals and postings stand side by side, they say different sums.",
		run:   (*run).totalsDiffer,
	},
	{
		Code:  "posted-twice",
		Title: "Posting twice",
		About: "Two postings of the period with the same day, cost code, amount, supplier and text.",
		run:   (*run).postedTwice,
	},
}

// booked gives what was booked in a period alone, accruals left out.
func (r *run) booked(q calendar.Period) int64 {
	now, _ := r.ACParts(q)
	before, _ := r.ACParts(q - 1)
	return now - before
}

func (r *run) costNotRunning() {
	n := r.booked(r.at)
	begin := r.Office.Periods.First(r.at)
	since := r.Since
	switch {
	case r.ActualWhy != "" || n == 0:
	case !r.active() && since < begin:
		how := string(r.state)
		if since != 0 {
			how += " since " + on(since)
		}
		r.add(Finding{
			Record: "cost of " + r.code(
				r.at,
			), Money: n, Values: string(r.state) + ", " + amount(n, r.own()), Source: r.lastBooked(nil),
			Text: fmt.Sprintf(
				"%s was booked in %s on a project that is %s; have it moved, or correct the project's state.",
				amount(n, r.own()),
				r.period(r.at),
				how,
			),
		})
	case r.active() && len(r.Leaves) > 0 && !r.anythingBegan():
		r.add(Finding{
			Record: "cost of " + r.code(
				r.at,
			), Money: n, Values: "not started, " + amount(n, r.own()), Source: r.lastBooked(nil),
			Text: fmt.Sprintf(
				"%s was booked in %s, and no activity has started; state what has, or have the cost moved.",
				amount(n, r.own()),
				r.period(r.at),
			),
		})
	}
	r.costOnActivities(begin)
}

// anythingBegan tells whether anything was done of any activity.
func (r *run) anythingBegan() bool {
	for i := range r.Activities {
		if s := r.now(i); r.began(s) || r.done(s) || s.Percent > 0 || s.Units > 0 {
			return true
		}
	}
	return false
}

// costOnActivities looks at lines that name an activity.
func (r *run) costOnActivities(begin calendar.Date) {
	for _, lines := range [...][]portfolio.Line{r.Actual, r.Ledger} {
		for k := range lines {
			l := &lines[k]
			i := r.index(l.ActivityID)
			if i < 0 || l.Flow != portfolio.Cost {
				continue
			}
			s, how := r.now(i), ""
			switch {
			case r.done(s) && s.Done < begin:
				how = "was finished on " + on(s.Done)
			case !r.began(s) && !r.done(s):
				how = "has not started"
			default:
				continue
			}
			for _, c := range l.Cells {
				if c.Period != r.at || c.Amount == 0 {
					continue
				}
				f := Finding{
					Record:  fmt.Sprintf("%s, cost of %s on %s", r.activity(i), r.code(r.at), l.Code),
					Values:  how + ", " + amount(c.Amount, l.Currency),
					Source:  c.Source,
					Against: s.Source,
					Place:   r.progress(i, "actual_start", "actual_finish"),
				}
				if conv, err := r.Converter(l.Currency, money.PeriodRates, c.Period, false); err == nil {
					f.Money, _ = conv.Convert(c.Amount)
				}
				f.Text = fmt.Sprintf(
					"%s was booked in %s on activity %s, which %s; have it moved, or correct the activity.",
					amount(c.Amount, l.Currency),
					r.period(r.at),
					r.name(i),
					how,
				)
				r.add(f)
			}
		}
	}
}

func (r *run) index(activity int64) int {
	if activity == 0 {
		return -1
	}
	return slices.IndexFunc(r.Activities, func(a portfolio.Activity) bool { return a.ID == activity })
}

// lastBooked gives the source of a cost cell of the period, or of the last
// before it; of one cost code, or of any.
func (r *run) lastBooked(code *int64) portfolio.Source {
	var out portfolio.Source
	var last calendar.Period
	for _, lines := range [...][]portfolio.Line{r.Actual, r.Ledger} {
		for i := range lines {
			for _, c := range lines[i].Cells {
				if c.Period <= r.at && c.Period > last && c.Amount != 0 && (code == nil || lines[i].CodeID == *code) {
					out, last = c.Source, c.Period
				}
			}
		}
	}
	return out
}

// streak tells whether something held in each of the last periods, as many as
// the limit says.
func (r *run) streak(holds func(calendar.Period) bool) bool {
	for q := r.at; q > r.at-r.periods(); q-- {
		if !holds(q) {
			return false
		}
	}
	return true
}

func (r *run) costWithoutProgress() {
	n := r.periods()
	f, _ := r.Share(r.at)
	was, _ := r.Share(r.at - n)
	if !r.active() || !f.Is() || !was.Is() || f.IsInt() && f.Sign() > 0 || f.Cmp(was) != 0 || r.ActualWhy != "" {
		return
	}
	if !r.streak(func(q calendar.Period) bool { return r.booked(q) > 0 }) {
		return
	}
	by := r.AC(r.at) - r.AC(r.at-n)
	at := share(f)
	r.add(Finding{
		Record: "progress", Money: by, Values: at + ", " + amount(r.AC(r.at), r.own()), Source: r.lastBooked(nil),
		Text: fmt.Sprintf(
			"%s was spent in %s and nothing was earned: the project stays at %s. State its progress, or say what was paid for.",
			amount(by, r.own()),
			plural(n, "period", "periods"),
			at,
		),
	})
}

func (r *run) progressWithoutCost() {
	n := r.periods()
	f, _ := r.Share(r.at)
	was, _ := r.Share(r.at - n)
	if !r.active() || !f.Is() || !was.Is() || r.ActualWhy != "" || r.AC(r.at) != r.AC(r.at-n) {
		return
	}
	rises := r.streak(func(q calendar.Period) bool {
		a, _ := r.Share(q)
		b, _ := r.Share(q - 1)
		return a.Is() && b.Is() && a.Cmp(b) > 0
	})
	if !rises {
		return
	}
	r.add(Finding{
		Record: "cost", Values: share(f) + ", " + amount(r.AC(r.at), r.own()), Source: r.lastBooked(nil),
		Text: fmt.Sprintf(
			"The project went from %s to %s in %s and no cost was booked; look for what is not booked yet, or state an accrual.",
			share(was),
			share(f),
			plural(n, "period", "periods"),
		),
	})
}

func (r *run) aboveBAC() {
	ac, bac := r.e.Get(figure.AC), r.e.Get(figure.BAC)
	if ac.Known && bac.Known && bac.N > 0 && ac.N > bac.N {
		r.add(Finding{
			Record: "cost", Money: ac.N - bac.N, Values: amount(ac.N, r.own()) + " of " + amount(bac.N, r.own()), Source: r.lastBooked(nil),
			Text: fmt.Sprintf(
				"%s is spent, %s more than the whole plan of %s; have a new baseline approved, or the cost moved.",
				amount(ac.N, r.own()),
				amount(ac.N-bac.N, r.own()),
				amount(bac.N, r.own()),
			),
		})
	}
}

func (r *run) aboveEAC() {
	ac, eac := r.e.Get(figure.AC), r.e.Get(figure.EACStated)
	if ac.Known && eac.Known && ac.N > eac.N {
		r.add(Finding{
			Record: "forecast", Money: ac.N - eac.N, Values: amount(ac.N, r.own()) + " of " + amount(eac.N, r.own()), Source: r.lastBooked(nil),
			Text: fmt.Sprintf(
				"%s is spent and the stated outlook is %s in all: the forecast takes cost back. State it again.",
				amount(ac.N, r.own()),
				amount(eac.N, r.own()),
			),
		})
	}
}

// negativeActuals sums what was booked by cost code.
func (r *run) negativeActuals() {
	sums := make(map[int64]int64)
	names := make(map[int64]string)
	for _, lines := range [...][]portfolio.Line{r.Actual, r.Ledger} {
		for i := range lines {
			l := &lines[i]
			if l.Flow != portfolio.Cost {
				continue
			}
			names[l.CodeID] = l.Code
			for _, c := range l.Cells {
				if c.Period > r.at {
					continue
				}
				if conv, err := r.Converter(l.Currency, money.PeriodRates, c.Period, false); err == nil {
					n, _ := conv.Convert(c.Amount)
					sums[l.CodeID] += n
				}
			}
		}
	}
	for _, id := range sorted(sums, names) {
		if n := sums[id]; n < 0 {
			r.add(Finding{
				Record: "cost code " + names[id], Money: n, Values: amount(n, r.own()), Source: r.lastBooked(&id),
				Text: fmt.Sprintf(
					"Cost code %s has an actual cost of %s so far; look for a credit that belongs elsewhere.",
					names[id],
					amount(n, r.own()),
				),
			})
		}
	}
}

func sorted(sums map[int64]int64, names map[int64]string) []int64 {
	out := make([]int64, 0, len(sums))
	for id := range sums {
		out = append(out, id)
	}
	slices.SortFunc(out, func(a, b int64) int { return cmp.Or(cmp.Compare(names[a], names[b]), cmp.Compare(a, b)) })
	return out
}

// line is what a monthly total and postings can share.
type line struct {
	code, class, centre, activity string
	p                             calendar.Period
}

func (r *run) bookedTwice() {
	if len(r.Actual) == 0 || len(r.Ledger) == 0 {
		return
	}
	posted := make(map[line]portfolio.Source)
	for _, l := range r.Ledger {
		class, _ := r.Class(&l)
		for _, c := range l.Cells {
			if c.Period <= r.at {
				posted[line{l.Code, class, l.Centre, l.Activity, c.Period}] = c.Source
			}
		}
	}
	for _, l := range r.Actual {
		class, _ := r.Class(&l)
		for _, c := range l.Cells {
			against, both := posted[line{l.Code, class, l.Centre, l.Activity, c.Period}]
			if !both || c.Period > r.at || l.Flow != portfolio.Cost || c.Amount == 0 {
				continue
			}
			f := Finding{
				Record:  fmt.Sprintf("cost code %s, %s, %s", l.Code, class, r.code(c.Period)),
				Values:  amount(c.Amount, l.Currency),
				Source:  c.Source,
				Against: against,
			}
			if conv, err := r.Converter(l.Currency, money.PeriodRates, c.Period, false); err == nil {
				f.Money, _ = conv.Convert(c.Amount)
			}
			f.Place = Place{
				Table: "costs",
				Key: []Cell{
					{"cost_code", l.Code},
					{"kind", "actual"},
					{"flow", "cost"},
					{"class", l.Class},
					{"period", r.code(c.Period)},
					{"cost_centre", l.Centre},
					{"activity", l.Activity},
				},
				Columns: []string{"amount"},
			}
			f.Text = fmt.Sprintf(
				"Cost code %s has both a monthly total of %s and postings in %s; both count. Clear the one that repeats the other.",
				l.Code,
				amount(c.Amount, l.Currency),
				r.period(c.Period),
			)
			r.add(f)
		}
	}
}

// totalsDiffer compares totals and postings over the periods that have both.
func (r *run) totalsDiffer() {
	if len(r.Actual) == 0 || len(r.Ledger) == 0 {
		return
	}
	totals, ledger := r.byPeriod(money.PeriodRates, r.Actual), r.byPeriod(money.PeriodRates, r.Ledger)
	var a, b int64
	n := 0
	for p, x := range totals {
		if y, both := ledger[p]; both {
			a, b, n = a+x, b+y, n+1
		}
	}
	if a != b {
		r.add(Finding{
			Record: "totals", Money: a - b, Values: amount(a, r.own()) + " and " + amount(b, r.own()), Source: firstSource(r.Actual), Against: firstSource(r.Ledger),
			Text: fmt.Sprintf(
				"In %s with both, the lead's totals say %s and the ledger %s, %s apart; both count. Agree on one of them.",
				plural(n, "period", "periods"),
				amount(a, r.own()),
				amount(b, r.own()),
				amount(max(a-b, b-a), r.own()),
			),
		})
	}
}

func (r *run) postedTwice() {
	for _, t := range r.outside.Twice {
		f := Finding{
			Record:  "posting " + t.Posting,
			Values:  t.First + ", " + amount(t.Amount, t.Currency),
			Source:  t.Source,
			Against: t.Against,
			Place:   Place{Table: "postings", Key: []Cell{{"posting", t.Posting}}, Columns: []string{"amount"}},
		}
		if conv, err := r.Converter(t.Currency, money.PeriodRates, r.at, false); err == nil {
			f.Money, _ = conv.Convert(t.Amount)
		}
		f.Text = fmt.Sprintf(
			"Posting %s of %s on cost code %s says the same as %s: day, amount, supplier and text; if it is one invoice, have one of them reversed.",
			t.Posting,
			amount(t.Amount, t.Currency),
			t.Code,
			t.First,
		)
		r.add(f)
	}
}
