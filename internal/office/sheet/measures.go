package sheet

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/core/forecast"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/weigh"
)

// Measures are what a sheet tells of a project's estimates, of how it performed
// over time, and of how far its forecasts can be trusted.
type Measures struct {
	Taken    figure.ID // the estimate that is the computed outlook
	HasTaken bool      // false where it is done, or none is known
	Why      string    // why that one is taken
	Periods  []string  // of the readings, the first one first
	Readings []*office.Reading
	Codes    []CodeCurve
	Project  []forecast.Summary // errors of its forecasts, by Leads
	Lead     []forecast.Summary // of all projects of its lead
	ErrorWhy string             // why they are not known, or ""
}

// CodeCurve is the money of a cost code of the top level over time, cumulative in
// minor units.
type CodeCurve struct {
	Code, Name string
	Plan       []int64 // by period, from the first of any code on
	Spent      []int64 // through the period
	Running    []int64 // spent, then forecast
}

// measured tells which estimate is taken, and why.
func measured(e *figure.Eval, p *figure.Project) *Measures {
	m := &Measures{}
	if p.Done(e) {
		m.Why = "it is done, so every estimate is what was spent"
		return m
	}
	if m.Taken, m.HasTaken = figure.Taken(e, p.Method); !m.HasTaken {
		m.Why = "no estimate is known: the larger of plan and spent counts"
		return m
	}
	chosen := figure.Chosen(e, p.Method)
	switch {
	case m.Taken != chosen:
		m.Why = fmt.Sprintf("%s would be taken and is not known: %s", figure.Get(chosen).Title, e.Get(chosen).Why)
	case p.Method != "":
		m.Why = "the project's own choice"
	case m.Taken == figure.EACCPI:
		m.Why = "15% or more is earned, so its performance so far says most"
	case m.Taken == figure.EACPlan:
		m.Why = "less than 15% is earned, which is too little to judge it by"
	default:
		m.Why = "earned value is not known, so what is stated counts"
	}
	return m
}

// mostMeasured is the number of periods that measures go back.
const mostMeasured = 24

// measure adds to a sheet's measures what lies outside its own period: readings
// of the periods before, errors of forecasts, and money by cost code.
func (o Room) measure(ctx context.Context, m *office.Moment, s *Sheet) error {
	x := s.Measures
	for p := m.Period.Number; len(x.Readings) < mostMeasured && p >= m.Snapshot().First(); p-- {
		r, err := o.Book().Reading(ctx, m.Snapshot(), s.Now.Code, p, m.Against, !m.InProject)
		if err != nil {
			return err
		}
		if r == nil {
			break
		}
		x.Readings, x.Periods = append(x.Readings, r), append(x.Periods, m.PeriodName(p))
	}
	slices.Reverse(x.Readings)
	slices.Reverse(x.Periods)
	inputs, err := o.Book().InputsAt(ctx, m.Snapshot(), m.Period.Number)
	if err != nil {
		return err
	}
	var codes []string
	for _, r := range m.Readings().Rows {
		if !r.Group && (r.Code == s.Now.Code || r.Lead == s.Now.Lead && r.Lead != "") {
			codes = append(codes, r.Code)
		}
	}
	records, err := inputs.Forecasts(ctx, codes, m.Period.Number)
	if err != nil {
		return err
	}
	for _, n := range weigh.Leads {
		var all []forecast.Error
		for i, rec := range records {
			if rec == nil || rec.Why != "" {
				if codes[i] == s.Now.Code && rec != nil {
					x.ErrorWhy = rec.Why
				}
				continue
			}
			errs := rec.Since(n)
			all = append(all, errs...)
			if codes[i] == s.Now.Code {
				x.Project = append(x.Project, forecast.Summarize(errs))
			}
		}
		x.Lead = append(x.Lead, forecast.Summarize(all))
	}
	list, err := inputs.Costs(ctx, []string{s.Now.Code}, m.Period.Number, m.Against, m.In(), costs.Usual, false)
	if err != nil || len(list) == 0 || list[0].Why != "" {
		return err
	}
	x.Codes = codeCurves(list[0], inputs.Office, m)
	return nil
}

// codeCurves sums a project's lines by the cost code at the top of their tree.
func codeCurves(p *costs.Project, o *portfolio.Office, m *office.Moment) (out []CodeCurve) {
	first, last := p.Span[0], p.Span[1]
	if first == 0 {
		return nil
	}
	at := make(map[string]int)
	n := int(last-first) + 1
	now := int(m.Period.Number-first) + 1
	for i := range p.Lines {
		l := &p.Lines[i]
		if l.Flow != portfolio.Cost || l.Reserve {
			continue
		}
		code, name := l.Code, "No cost code"
		for id := l.CodeID; id != 0; id = o.Codes[id].Parent {
			code, name = o.Codes[id].Code, o.Codes[id].Name
		}
		k, ok := at[code]
		if !ok {
			k, at[code] = len(out), len(out)
			out = append(
				out,
				CodeCurve{
					Code:    code,
					Name:    name,
					Plan:    make([]int64, n),
					Spent:   make([]int64, max(min(now, n), 0)),
					Running: make([]int64, n),
				},
			)
		}
		c := &out[k]
		_, spent := costs.Spent.Makes(l.Kind)
		_, running := costs.Running.Makes(l.Kind)
		for j := range n {
			sum := l.Sum(first, first+calendar.Period(j))
			switch {
			case l.Kind == costs.Plan:
				c.Plan[j] += sum
			case running:
				c.Running[j] += sum
				if spent && j < len(c.Spent) {
					c.Spent[j] += sum
				}
			}
		}
	}
	slices.SortFunc(out, func(a, b CodeCurve) int { return strings.Compare(a.Code, b.Code) })
	return out
}
