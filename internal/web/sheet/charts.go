package sheet

import (
	"math"
	"time"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/dates"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/web/shell"
)

// pairWidth is the width of a chart that stands beside another.
const pairWidth = 486

// curve draws money over time, cumulative or by period.
func (p *Page) curve() Chart {
	c, n := p.Sheet.Curve, p.Sheet.Now
	out := Chart{Unit: shell.MillionUnit(n.Currency)}
	if len(c.Periods) == 0 {
		return out
	}
	scale := func(v int64) float64 {
		f, _ := shell.InMillions(figure.Whole(figure.Money, v), n.Currency)
		return f
	}
	byPeriod := p.Curved()
	series := func(name, class string, id figure.ID, first int, list []int64, known []bool, before bool) chart.Series {
		s := chart.Series{Name: name, Class: class, First: first, Before: before, Link: p.Figure(p.Code, figure.Get(id).Name)}
		for i, v := range list {
			x := scale(v)
			if byPeriod && i > 0 {
				x = scale(v - list[i-1])
			}
			if known != nil && !known[i] || byPeriod && i == 0 && first > 0 {
				x = math.NaN()
			}
			s.Values = append(s.Values, x)
		}
		if k := len(s.Values); k > 0 && !math.IsNaN(s.Values[k-1]) {
			s.End = written(s.Values[k-1])
		}
		return s
	}
	var list []chart.Series
	if c.Original != nil {
		list = append(list, series("original", "plan original", figure.BAC, 0, c.Original, nil, false))
	}
	if c.Plan != nil {
		list = append(list, series("plan", "plan", figure.BAC, 0, c.Plan, nil, false))
	}
	if c.Stated != nil && c.Now+1 < len(c.Periods) {
		list = append(list, series("stated", "stated", figure.EACStated, c.Now, c.Stated, nil, false))
	}
	if c.Finish > c.Now && !byPeriod {
		s := chart.Series{Name: "computed", Class: "computed", First: c.Now, Link: p.Figure(p.Code, figure.Get(figure.EACComputed).Name), End: written(scale(c.Computed))}
		from, to, steps := scale(c.Actual[len(c.Actual)-1]), scale(c.Computed), float64(c.Finish-c.Now)
		for i := 0.0; i <= steps; i++ {
			s.Values = append(s.Values, from+(to-from)*i/steps)
		}
		list = append(list, s)
	}
	if c.Actual != nil {
		list = append(list, series("spent", "actual", figure.AC, 0, c.Actual, nil, true))
	}
	list = append(list, series("earned", "earned", figure.EV, 0, c.Earned, c.Known, false))
	x := chart.Curve{
		Title: "Money over time", Desc: "plan, earned, spent and outlooks in " + out.Unit, Periods: c.Periods, Now: c.Now, NowName: p.Moment.Period.Name,
		Series: list, Write: written,
	}
	out.Picture = chart.Fit(pairWidth, x.Draw)
	out.Head = append(out.Head, "Period")
	for _, s := range list {
		out.Head = append(out.Head, shell.Capital(s.Name))
	}
	for i, name := range c.Periods {
		row := []string{name}
		for _, s := range list {
			text := shell.Dash
			if k := i - s.First; k >= 0 && k < len(s.Values) && !math.IsNaN(s.Values[k]) {
				text = shell.Amount(decimal(s.Values[k], 3), 3)
			}
			row = append(row, text)
		}
		out.Rows = append(out.Rows, row)
	}
	return out
}

// written writes millions as an axis has them: no more decimals than it needs.
func written(v float64) string {
	switch a := math.Abs(v); {
	case a != 0 && a < 1:
		return shell.Amount(decimal(v, 2), 2)
	case a < 100 && math.Abs(v-math.Round(v)) > 0.04:
		return shell.Amount(decimal(v, 1), 1)
	}
	return shell.Amount(decimal(v, 0), 0)
}

func decimal(v float64, digits int) string {
	scale := math.Pow(10, float64(digits))
	return money.FormatScaled(int64(math.RoundToEven(v*scale)), digits)
}

// dateLines draws where the dates of raised milestones have gone.
func (p *Page) dateLines() Chart {
	s := p.Sheet
	var out Chart
	c := chart.DateLines{Title: "Where the dates have gone", Desc: "the date stated of each raised milestone, period by period", Periods: s.Dated, Ticks: roundDays, Write: func(d int) string { return calendar.Date(d).Time().Format("Jan 06") }}
	out.Head = []string{"Period"}
	var stated [][]calendar.Date
	for _, m := range s.Milestones {
		if !m.Raised {
			continue
		}
		line := chart.DateLine{Name: m.Name, Slip: shell.Signed(m.Slip) + " d", Link: "#milestones", Class: map[dates.State]string{dates.Missed: "act", dates.Slipping: "watch"}[m.State]}
		if line.Class == "" {
			line.Class = "steady"
		}
		any := false
		for _, d := range m.Stated {
			line.Days = append(line.Days, int(d))
			any = any || d != 0
		}
		if !any {
			continue
		}
		c.Lines = append(c.Lines, line)
		stated = append(stated, m.Stated)
		out.Head = append(out.Head, m.Name)
	}
	if len(c.Lines) == 0 {
		return Chart{}
	}
	out.Picture = chart.Fit(pairWidth, c.Draw)
	for i, name := range s.Dated {
		row := []string{name}
		for _, list := range stated {
			row = append(row, shell.Date(list[i]))
		}
		out.Rows = append(out.Rows, row)
	}
	return out
}

// roundDays gives first days of months, quarters, half-years or years around
// the days, about five.
func roundDays(low, high int) []int {
	a, b := calendar.Date(low).Time(), calendar.Date(high).Time()
	months := (b.Year()-a.Year())*12 + int(b.Month()-a.Month()) + 1
	step := 1
	for _, s := range [...]int{1, 2, 3, 6, 12, 24, 60} {
		if step = s; months/s <= 5 {
			break
		}
	}
	at := time.Date(a.Year(), a.Month(), 1, 0, 0, 0, 0, time.UTC)
	for (at.Year()*12+int(at.Month())-1)%step != 0 {
		at = at.AddDate(0, -1, 0)
	}
	var out []int
	for {
		y, m, d := at.Date()
		out = append(out, int(calendar.DateOf(y, int(m), d)))
		if int(calendar.DateOf(y, int(m), d)) >= high {
			return out
		}
		at = at.AddDate(0, step, 0)
	}
}
