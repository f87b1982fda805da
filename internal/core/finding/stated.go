package finding

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// statedChecks look at forecasts, orders and what leads state.
var statedChecks = []Check{
	{
		Code:  "statement-stale",
		Title: "Statement stale",
		Limit: "1",
		Unit:  "periods old",
		About: "Progress or a forecast that is owed for the period and was last stated in an earlier one.",
		run:   (*run).stale,
	},
	{
		Code:  "no-forecast-left",
		Title: "Work left and no forecast left",
		About: "A forecast without amounts after the period, while work is left.",
		run:   (*run).noForecastLeft,
	},
	{
		Code:     "forecast-in-past",
		Title:    "Forecast in closed periods",
		Severity: Note,
		About:    "Forecast amounts for periods that were over when it was stated; they do not count.",
		run:      (*run).forecastInPast,
	},
	{
		Code:  "forecast-under-orders",
		Title: "Forecast under commitments",
		About: "Less is forecast than is on order already.",
		run:   (*run).underOrders,
	},
	{
		Code:  "orders-not-running",
		Title: "Orders of what is not running",
		About: "Something is on order for a project that is proposed, on hold, finished or cancelled; it counts as on order.",
		run:   (*run).ordersNotRunning,
	},
	{
		Code:     "orders-overdue",
		Title:    "Orders long overdue",
		Severity: Note,
		Limit:    "3",
		Unit:     "periods past",
		About:    "Orders of a running project whose invoices were expected so long ago; they still count as on order.",
		run:      (*run).ordersOverdue,
	},
	{
		Code:  "forecast-not-credible",
		Title: "Stated forecast not credible",
		Limit: "0.10",
		Unit:  "distance of TCPI(EAC) from CPI",
		About: "The stated forecast asks for an efficiency far from the one achieved.",
		run:   (*run).notCredible,
	},
	{
		Code:     "budget-up-forecast-not",
		Title:    "Budget up and forecast not",
		Severity: Note,
		About:    "A new baseline raised the plan, and the stated outlook did not move.",
		run:      (*run).budgetUp,
	},
	{
		Code:  "stated-better",
		Title: "Stated standing better than computed",
		About: "The lead states a better standing than the rules compute.",
		run:   (*run).statedBetter,
	},
}

// share writes a fraction for sentences: 37.5%.
func share(r exact.Ratio) string {
	return trim(figure.Decimals(r.Mul(exact.Whole(100)), 1)) + "%"
}

func trim(s string) string { return figure.TrimDecimals(s) }

// owed are the words for what is stale, by kind of statement.
var owed = map[portfolio.PartKind]string{
	portfolio.ProgressPart: "progress was", portfolio.ForecastPart: "forecast was", portfolio.CommitmentPart: "orders were",
	portfolio.RiskPart: "risks were", portfolio.NarrativePart: "words were",
}

func (r *run) stale() {
	for _, kind := range portfolio.OwedKinds {
		d := r.Debt(kind)
		if !d.Owed || !d.Known || d.Behind < int(r.periods()) {
			continue
		}
		f := Finding{Record: kind.String()}
		if d.Last != 0 {
			ago := plural(calendar.Period(d.Behind), "period", "periods")
			f.Values = "last stated " + r.period(d.Last)
			f.Text = fmt.Sprintf("Its %s last stated for %s, %s ago; ask %s for %s.",
				owed[kind], r.period(d.Last), ago, lead(r.Project.Project), r.period(r.at))
		} else {
			start, _ := r.BaselineSpan()
			f.Values = "never stated"
			f.Text = fmt.Sprintf("Its %s never stated, and the project began in %s; ask %s for %s.",
				owed[kind], r.period(r.Office.Periods.Near(start)), lead(r.Project.Project), r.period(r.at))
		}
		r.add(f)
	}
}

func lead(p *portfolio.Project) string {
	if p.Lead == "" {
		return "its lead"
	}
	return p.Lead
}

// left gives the share of the work that is left; none where it is not known.
func (r *run) left() exact.Ratio {
	f, _ := r.Share(r.at)
	if !f.Is() {
		return f
	}
	return exact.Whole(1).Sub(f)
}

func (r *run) noForecastLeft() {
	left := r.left()
	if !r.active() || r.Forecast == nil || !left.Is() || left.Sign() <= 0 || r.HasToGo && r.ToGo != 0 ||
		r.ToGoWhy != "" {
		return
	}
	bac, ev := r.e.Get(figure.BAC), r.e.Get(figure.EV)
	f := Finding{
		Record: "forecast",
		Values: fmt.Sprintf("%s left", share(left)),
		Source: firstSource(r.Forecast.Lines),
		Place:  r.forecastPlace(),
	}
	if bac.Known && ev.Known {
		f.Money = bac.N - ev.N
	}
	f.Text = fmt.Sprintf(
		"%s of the work is left and the forecast stated in %s has nothing after %s; state what is still to come, or the work as done.",
		share(left),
		r.period(calendar.Period(r.Forecast.Number)),
		r.period(r.at),
	)
	r.add(f)
}

// forecastPlace is where a forecast of the next period is stated: on the cost
// code that the last statement, or the plan, names first.
func (r *run) forecastPlace() Place {
	var code, class string
	for _, v := range [...]*portfolio.Version{r.Forecast, r.View.Plan} {
		if v != nil && len(v.Lines) > 0 && code == "" {
			code, class = v.Lines[0].Code, v.Lines[0].Class
		}
	}
	if code == "" {
		return Place{}
	}
	return Place{
		Table: "costs",
		Key: []Cell{
			{"cost_code", code},
			{"kind", "forecast"},
			{"flow", "cost"},
			{"class", class},
			{"period", r.code(r.at + 1)},
			{"version", r.code(r.at)},
		},
		Columns: []string{"amount"},
	}
}

func (r *run) forecastInPast() {
	if r.Forecast == nil {
		return
	}
	n := 0
	var last calendar.Period
	var src portfolio.Source
	for i := range r.Forecast.Lines {
		for _, c := range r.Forecast.Lines[i].Cells {
			if c.Period <= calendar.Period(r.Forecast.Number) && c.Amount != 0 {
				n, last, src = n+1, max(last, c.Period), c.Source
			}
		}
	}
	if n > 0 {
		r.add(Finding{
			Record: "forecast", Values: r.period(calendar.Period(r.Forecast.Number)) + ", " + plural(n, "amount", "amounts"), Source: src,
			Text: fmt.Sprintf(
				"The forecast stated in %s has %s up to %s, which was over by then; they do not count. Leave them out, or state them as accruals.",
				r.period(calendar.Period(r.Forecast.Number)),
				plural(n, "amount", "amounts"),
				r.period(last),
			),
		})
	}
}

func (r *run) underOrders() {
	by := r.e.Get(figure.BeyondOrders)
	etc, orders := r.e.Get(figure.ETCStated), r.e.Get(figure.OnOrder)
	if !r.active() || !by.Known || by.N >= 0 {
		return
	}
	r.add(Finding{
		Record: "forecast", Money: by.N, Values: amount(etc.N, r.own()) + " and " + amount(orders.N, r.own()), Source: firstSource(r.Forecast.Lines), Against: firstSource(r.Commitment.Lines), Place: r.forecastPlace(),
		Text: fmt.Sprintf(
			"%s is forecast to come and %s is on order already; state what is missing, or which orders are cancelled.",
			amount(etc.N, r.own()),
			amount(orders.N, r.own()),
		),
	})
}

func (r *run) ordersNotRunning() {
	orders := r.e.Get(figure.OnOrder)
	if r.active() || !orders.Known || orders.N <= 0 {
		return
	}
	how := string(r.state)
	if r.Since != 0 {
		how += " since " + on(r.Since)
	}
	r.add(Finding{
		Record: "orders",
		Money:  orders.N,
		Values: string(r.state) + ", " + amount(orders.N, r.own()),
		Source: firstSource(r.Commitment.Lines),
		Text: fmt.Sprintf(
			"%s is on order for a project that is %s; cancel the orders and state what is left of them, or correct the project's state.",
			amount(orders.N, r.own()),
			how,
		),
	})
}

func (r *run) ordersOverdue() {
	orders := r.e.Get(figure.OnOrder)
	if !r.active() || !orders.Known || r.Commitment == nil {
		return // of what is not running all are found
	}
	first, last := calendar.Period(0), r.at-r.periods()
	var sum int64
	var src portfolio.Source
	for i := range r.Commitment.Lines {
		l := &r.Commitment.Lines[i]
		if l.Flow != portfolio.Cost {
			continue
		}
		for _, c := range l.Cells {
			if c.Period > last || c.Amount == 0 {
				continue
			}
			conv, err := r.Converter(l.Currency, money.PeriodRates, c.Period, true)
			if err != nil {
				return // a rate is missing, which another check tells
			}
			n, _ := conv.Convert(c.Amount)
			sum += n
			if first == 0 || c.Period < first {
				first, src = c.Period, c.Source
			}
		}
	}
	if sum <= 0 {
		return
	}
	r.add(Finding{
		Record: "orders",
		Money:  sum,
		Values: "from " + r.period(first) + ", " + amount(sum, r.own()),
		Source: src,
		Text: fmt.Sprintf(
			"Of what is on order, %s was expected %s or more ago, the first of it in %s; ask whether the invoices are missing, or the orders are closed.",
			amount(sum, r.own()),
			plural(r.periods(), "period", "periods"),
			r.period(first),
		),
	})
}

func (r *run) notCredible() {
	gap, tcpi, cpi := r.e.Get(figure.CredibilityGap), r.e.Get(figure.TCPIEAC), r.e.Get(figure.CPI)
	if !r.active() || !gap.Known || r.limit == nil || gap.Rat().Cmp(r.limit) <= 0 {
		return
	}
	eac, computed := r.e.Get(figure.EACStated), r.e.Get(figure.EACComputed)
	f := Finding{
		Record: "forecast",
		Values: "TCPI(EAC) " + figure.Decimals(tcpi.R, 2) + ", CPI " + figure.Decimals(cpi.R, 2),
	}
	if r.Forecast != nil {
		f.Source = firstSource(r.Forecast.Lines)
	}
	if eac.Known && computed.Known {
		f.Money = computed.N - eac.N
	}
	f.Text = fmt.Sprintf(
		"To finish at the stated %s each unit of money still to be spent must earn %s, and so far it earned %s; ask what will change, or state a forecast that follows.",
		amount(eac.N, r.own()),
		figure.Decimals(tcpi.R, 2),
		figure.Decimals(cpi.R, 2),
	)
	r.add(f)
}

// budgetUp compares with the plan that was in force a period before.
func (r *run) budgetUp() {
	was := portfolio.At(r.Office, r.Project.Project, r.at-1, portfolio.Latest)
	bac := r.e.Get(figure.BAC)
	if was.Number >= r.Number || was.Plan == nil || r.View.Plan == nil || !bac.Known || r.Forecast == nil {
		return
	}
	before, err := r.sum(was.Plan.Lines)
	if err != nil || before >= bac.N {
		return
	}
	old := portfolio.VersionAt(r.Project.Project.Forecast, int(r.at-1))
	if old == nil || old.Pending != 0 {
		return
	}
	then, now := r.AC(r.at-1), r.AC(r.at)
	for _, x := range [...]struct {
		v  *portfolio.Version
		to *int64
		q  calendar.Period
	}{{old, &then, r.at - 1}, {r.Forecast, &now, r.at}} {
		for i := range x.v.Lines {
			l := &x.v.Lines[i]
			if l.Flow != portfolio.Cost {
				continue
			}
			for _, c := range l.Cells {
				if conv, err := r.Converter(l.Currency, money.PeriodRates, c.Period, true); err == nil &&
					c.Period > x.q {
					n, _ := conv.Convert(c.Amount)
					*x.to += n
				}
			}
		}
	}
	if now <= then {
		r.add(Finding{
			Record: "forecast", Money: bac.N - before, Values: amount(before, r.own()) + " to " + amount(bac.N, r.own()) + ", outlook " + amount(now, r.own()), Source: firstSource(r.Forecast.Lines), Against: firstSource(r.View.Plan.Lines),
			Text: fmt.Sprintf(
				"Baseline %d raised the plan from %s to %s, and the stated outlook went from %s to %s; state the forecast anew, or say what the money is for.",
				r.Number,
				amount(before, r.own()),
				amount(bac.N, r.own()),
				amount(then, r.own()),
				amount(now, r.own()),
			),
		})
	}
}

// statedBetter rates the project by the rules that do not count findings.
func (r *run) statedBetter() {
	if !slices.ContainsFunc(
		r.Narratives,
		func(n portfolio.Narrative) bool { return n.Stated != "" && n.Period <= r.at },
	) {
		return // rating takes time, and there is nothing to set beside it
	}
	res := r.rules.WithoutData().Rate(r.e)
	if !res.Disagrees() {
		return
	}
	is, says := res.Computed[standing.Overall], res.Stated
	f := Finding{Record: "stated standing", Values: says.String() + ", " + is.String()}
	for i := range r.Narratives {
		if n := &r.Narratives[i]; n.Period == res.StatedIn && n.Section == "summary" {
			f.Source = n.Source
		}
	}
	if v := r.e.Get(figure.AtStake); v.Known {
		f.Money = v.N
	}
	f.Text = fmt.Sprintf(
		"%s states %s and the figures say %s; ask what they see that the figures do not, or override the standing with a reason.",
		capital(lead(r.Project.Project)),
		says,
		is,
	)
	r.add(f)
}

func capital(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}
