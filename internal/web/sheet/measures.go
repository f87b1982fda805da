package sheet

import (
	"cmp"
	"fmt"
	"html/template"
	"math"
	"math/big"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/forecast"
	"turret/internal/core/standing"
	"turret/internal/office/weigh"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// Measures are the estimates side by side, performance over time and how far the
// project's forecasts can be trusted, as the sheet shows them.
type Measures struct {
	Sentence  []shell.Phrase
	Estimates []Estimate
	Left      []Needed
	Finishes  []Finish
	Indices   template.HTML
	Burn      template.HTML
	BurnWords []shell.Phrase
	Codes     []CodeCurve
	Leads     []string
	Errors    []Errors
	ErrorWhy  string
	Forecasts string // address of the forecasts of its lead
}

// Estimate is one way to say what it will cost.
type Estimate struct {
	Title, Link string
	Value       tell.Cell
	Over        string
	Picture     template.HTML
	Taken       bool
}

// Finish is one way to say when it will be done.
type Finish struct {
	Title, Link, Late, Class, Why string
	Value                         tell.Cell
}

// finishes are the ways side by side, each against the plan; one that is silent says why.
func (p *Page) finishes() (out []Finish) {
	n := p.Sheet.Now
	planned := n.Value(figure.FinishPlanned)
	for _, id := range append([]figure.ID{figure.FinishPlanned}, weigh.Finishes...) {
		v := n.Value(id)
		f := Finish{Title: figure.Get(id).Title, Late: tell.Dash, Why: v.Why}
		if id == figure.FinishPace && v.Why == figure.NoItems {
			continue
		}
		f.Value, f.Link = p.write(id, n, true)
		if v.Known && planned.Known && id != figure.FinishPlanned {
			days := p.Sheet.Slip(calendar.Date(planned.N), calendar.Date(v.N))
			if f.Late = tell.Signed(days) + " d"; days > 0 {
				f.Class = "watch"
			}
		}
		out = append(out, f)
	}
	return out
}

// Needed is at what price what is left is done, or must be.
type Needed struct {
	Title, Link string
	Value       tell.Cell
}

// CodeCurve is the money of a cost code over time, with the address of its table.
type CodeCurve struct {
	Name, Link, Words string
	Picture           template.HTML
}

// Errors are the forecast errors of the project or of its lead, by how far ahead.
type Errors struct {
	Name  string
	Cells []Cell
}

// Cell is one of them.
type Cell struct{ Mean, Absolute, Title, Class, Link string }

func (p *Page) measures() Measures {
	s := p.Sheet
	m := Measures{Sentence: p.measured(), Indices: p.indices(), Finishes: p.finishes(), ErrorWhy: s.Measures.ErrorWhy}
	bac := s.Now.Value(figure.BAC)
	low, high := tell.Float(s.Now.Value(figure.EACLow)), tell.Float(s.Now.Value(figure.EACHigh))
	if bac.Known && !math.IsNaN(low) {
		low, high = min(low, tell.Float(bac)), max(high, tell.Float(bac))
	}
	for _, id := range figure.Estimates {
		v := s.Now.Value(id)
		e := Estimate{
			Title: figure.Get(id).Title,
			Taken: s.Measures.HasTaken && id == s.Measures.Taken,
			Over:  tell.Dash,
		}
		if e.Value, e.Link = p.write(id, s.Now, true); v.Known && bac.Known {
			e.Over = tell.Share(v.N-bac.N, bac.N, true)
			class := ""
			if e.Taken {
				class = "taken"
			}
			e.Picture = chart.Range(e.Over+" over plan", tell.Float(v), 0, low, high, tell.Float(bac), class).SVG()
		}
		m.Estimates = append(m.Estimates, e)
	}
	for _, x := range [...]struct {
		title string
		id    figure.ID
	}{{"Achieved so far (CPI)", figure.CPI}, {"Achieved in three periods (CPI 3)", figure.CPI3}, {"Needed to end at plan (TCPI)", figure.TCPIBAC}, {"Needed to end as stated (TCPI)", figure.TCPIEAC}} {
		n := Needed{Title: x.title}
		n.Value, n.Link = p.write(x.id, s.Now, false)
		m.Left = append(m.Left, n)
	}
	m.Burn, m.BurnWords = p.burn()
	p.codeCurves(&m)
	p.errors(&m)
	return m
}

// measured says how far the estimates lie apart, which is taken and why, and
// whether the stated one is credible.
func (p *Page) measured() (out []shell.Phrase) {
	n, x := p.Sheet.Now, p.Sheet.Measures
	text := func(format string, args ...any) {
		out = append(out, shell.Phrase{Text: fmt.Sprintf(format, args...)})
	}
	link := func(id figure.ID, words, tone string) {
		out = append(out, shell.Phrase{Text: words, Link: p.Figure(p.Code, figure.Get(id).Name), Tone: tone})
	}
	low, high, spread := n.Value(figure.EACLow), n.Value(figure.EACHigh), n.Value(figure.EACSpread)
	write := func(v figure.Value) string { return tell.Millions(v, n.Currency) }
	if write(low) == write(high) { // they differ by less than is said
		a := tell.Axis{ID: figure.EACLow, Currency: n.Currency}
		write = func(v figure.Value) string { return a.Write(a.Value(v)) }
	}
	switch {
	case !low.Known:
		text("No estimate of its cost is known.")
	case low.N == high.N:
		text("Every estimate that is known says ")
		link(figure.EACLow, tell.Millions(low, n.Currency), "")
		text(".")
	default:
		text("Estimates lie between ")
		link(figure.EACLow, write(low), "")
		text(" and ")
		link(figure.EACHigh, write(high), "")
		if spread.Known {
			text(", ")
			link(figure.EACSpread, tell.Figure(figure.EACSpread, spread, n.Currency, false).Text, "")
			text(" of the plan apart")
		}
		text(".")
	}
	if x.HasTaken {
		text(" Taken is %s: %s.", tell.Lower(figure.Get(x.Taken).Title), x.Why)
	} else {
		text(" %s.", tell.Capital(x.Why))
	}
	gap, need := n.Value(figure.CredibilityGap), n.Value(figure.TCPIEAC)
	if gap.Known && need.Known {
		word, tone := "credible", "steady"
		if !figure.Credible(gap) {
			word, tone = "not credible", "act"
		}
		text(" The stated one is ")
		link(figure.CredibilityGap, word, tone)
		text(": it needs ")
		link(figure.TCPIEAC, tell.Figure(figure.TCPIEAC, need, n.Currency, false).Text, "")
		text(", after %s.", tell.Figure(figure.CPI, n.Value(figure.CPI), n.Currency, false).Text)
	}
	return out
}

// indices draws CPI, SPI and SPI(t) as they were read in each period.
func (p *Page) indices() template.HTML {
	x := p.Sheet.Measures
	c := chart.Curve{
		Title:   "Indices over time",
		Desc:    "CPI, SPI and SPI(t), as read in each period",
		Periods: x.Periods,
		Now:     -1,
		Write:   func(v float64) string { return tell.Thousandths(v, 2) },
	}
	any := false
	for _, line := range [...]struct {
		id    figure.ID
		class string
	}{{figure.CPI, "actual"}, {figure.SPI, "earned"}, {figure.SPIT, "computed"}} {
		s := chart.Series{
			Class: line.class,
			Name:  figure.Get(line.id).Symbol,
			Link:  p.Figure(p.Code, figure.Get(line.id).Name),
		}
		for _, r := range x.Readings {
			v := tell.Float(r.Value(line.id))
			if v > 2 { // in the first periods next to nothing is divided by less
				v = math.NaN()
			}
			s.Values = append(s.Values, v)
		}
		if k := len(s.Values); k > 0 && !math.IsNaN(s.Values[k-1]) {
			s.End = tell.Thousandths(s.Values[k-1], 2)
			any = true
		}
		c.Series = append(c.Series, s)
	}
	if !any {
		return ""
	}
	c.Bounds = []chart.Bound{{At: 1, Class: "even"}}
	for _, r := range p.Sheet.Now.Reasons { // the limits that it is rated by
		if r.Reading != figure.CPI {
			continue
		}
		for _, x := range [...]struct {
			at    standing.Standing
			limit string
		}{{standing.Watch, r.Watch}, {standing.Act, r.Act}} {
			if n, ok := new(big.Rat).SetString(x.limit); ok {
				f, _ := n.Float64()
				c.Bounds = append(c.Bounds, chart.Bound{At: f, Class: x.at.Code(), Name: tell.Capital(x.at.Code())})
			}
		}
	}
	return chart.Fit(pairWidth, c.Draw)
}

// mostBurn is the number of periods whose spending is drawn.
const mostBurn = 18

// burn draws what was spent by period, and says how long the money left lasts.
func (p *Page) burn() (template.HTML, []shell.Phrase) {
	c, n := p.Sheet.Curve, p.Sheet.Now
	by := func(list []int64, through int) (out []float64) {
		for i := range list[:min(len(list), through)] {
			v := list[i]
			if i > 0 {
				v -= list[i-1]
			}
			f, _ := tell.InMillions(figure.Whole(figure.Money, v), n.Currency)
			out = append(out, f)
		}
		return out
	}
	spent := by(c.Actual, len(c.Actual))
	if len(spent) == 0 {
		return "", nil
	}
	from := max(len(spent)-mostBurn, 0)
	b := chart.Burn{
		Title:   "Spending by period",
		Desc:    tell.MillionUnit(n.Currency),
		Periods: c.Periods[from:len(spent)],
		Spent:   spent[from:],
		Write:   tell.Written,
		Mean:    math.NaN(),
	}
	if plan := by(c.Plan, len(spent)); len(plan) == len(spent) {
		b.Plan = plan[from:]
	}
	burn, left := n.Value(figure.Burn), n.Value(figure.MonthsLeft)
	if f, ok := tell.InMillions(burn, n.Currency); ok {
		b.Mean = f
	}
	var words []shell.Phrase
	if burn.Known {
		words = append(
			words,
			shell.Phrase{Text: tell.Millions(burn, n.Currency), Link: p.Figure(p.Code, figure.Get(figure.Burn).Name)},
			shell.Phrase{Text: " a period in the last three; "},
		)
		if left.Known {
			words = append(
				words,
				shell.Phrase{Text: "what is left of the plan lasts "},
				shell.Phrase{
					Text: tell.Figure(figure.MonthsLeft, left, n.Currency, false).Text + " periods",
					Link: p.Figure(p.Code, figure.Get(figure.MonthsLeft).Name),
				},
				shell.Phrase{Text: "."},
			)
		} else {
			words = append(words, shell.Phrase{Text: left.Why + "."})
		}
	}
	return chart.Fit(pairWidth, b.Draw), words
}

// codeCurves draws plan, spent and stated by cost code over time.
func (p *Page) codeCurves(m *Measures) {
	n := p.Sheet.Now
	float := func(list []int64) (out []float64) {
		for _, v := range list {
			f, _ := tell.InMillions(figure.Whole(figure.Money, v), n.Currency)
			out = append(out, f)
		}
		return out
	}
	for _, c := range p.Sheet.Measures.Codes {
		x := CodeCurve{
			Name: c.Code + " " + c.Name,
			Link: p.State.Moment().
				With("of", n.Code).
				With("code", c.Code).
				With("per", "quarter").
				With("span", "all").
				With("amounts", "plan,running").
				With("row", "all").
				MoneyPage(),
		}
		plan, running := last(c.Plan), last(c.Running)
		x.Words = tell.Millions(figure.Whole(figure.Money, running), n.Currency) + " stated, " + tell.Share(
			running-plan,
			plan,
			true,
		)
		if plan == 0 {
			x.Words = tell.Millions(figure.Whole(figure.Money, running), n.Currency) + " stated, nothing planned"
		}
		x.Picture = chart.Small(x.Name+": plan, spent, stated", float(c.Plan), float(c.Spent), float(c.Running)).SVG()
		m.Codes = append(m.Codes, x)
	}
}

func last(list []int64) int64 {
	if len(list) == 0 {
		return 0
	}
	return list[len(list)-1]
}

// errors writes the forecast errors of the project and of its lead.
func (p *Page) errors(m *Measures) {
	s := p.Sheet
	for _, n := range weigh.Leads {
		m.Leads = append(m.Leads, fmt.Sprintf("%d ahead", n))
	}
	m.Forecasts = p.State.Forecasts(s.Now.Code, weigh.ErrorAhead)
	row := func(name string, list []forecast.Summary, own bool) {
		r := Errors{Name: name}
		for i, e := range list {
			c := Cell{Mean: tell.Dash, Title: "No forecast is old enough, or nothing was spent", Class: "quiet"}
			if e.Count > 0 {
				c.Mean, c.Absolute, c.Class = tell.Ratio(
					e.Mean,
					true,
				), tell.Ratio(
					e.Absolute,
					false,
				), (&weigh.ForecastTrack{Errors: list}).Tone(
					i,
				)
				c.Title = fmt.Sprintf(
					"%s: standard deviation %s",
					tell.Plural(e.Count, "statement", "statements"),
					tell.Ratio(e.Spread, false),
				)
				if own {
					c.Link = p.State.Forecasts(s.Now.Code, weigh.Leads[i])
				}
			}
			r.Cells = append(r.Cells, c)
		}
		m.Errors = append(m.Errors, r)
	}
	if len(s.Measures.Project) > 0 {
		row(s.Now.Code, s.Measures.Project, true)
	}
	if s.Now.Lead != "" && len(s.Measures.Lead) > 0 {
		row(cmp.Or(s.Now.Lead, "No lead"), s.Measures.Lead, false)
	}
}
