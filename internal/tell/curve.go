package tell

import (
	"math"
	"time"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/dates"
	"turret/internal/core/figure"
	"turret/internal/core/money"
)

// Curve is money over time, cumulative in minor units; what is not known is
// absent.
type Curve struct {
	Periods  []string // names, from the first on
	Now      int      // place of the moment's period among them; may lie beyond
	Plan     []int64
	Original []int64 // nil where it is the plan
	Earned   []int64 // through Now
	Known    []bool  // of Earned
	Actual   []int64 // through Now
	Stated   []int64 // from Now on
	Computed int64   // at Finish
	Finish   int     // place of the computed finish; zero: not known
}

// Draw draws money over time in millions, cumulative or by period; link gives
// the address of a figure's trail.
func (c *Curve) Draw(cur money.Currency, now string, byPeriod bool, link func(figure.ID) string) chart.Curve {
	scale := func(v int64) float64 {
		f, _ := InMillions(figure.Whole(figure.Money, v), cur)
		return f
	}
	series := func(name, class string, id figure.ID, first int, list []int64, known []bool, before bool) chart.Series {
		s := chart.Series{Name: name, Class: class, First: first, Before: before, Link: link(id)}
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
			s.End = Written(s.Values[k-1])
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
		s := chart.Series{
			Name:  "computed",
			Class: "computed",
			First: c.Now,
			Link:  link(figure.EACComputed),
			End:   Written(scale(c.Computed)),
		}
		from, to, steps := scale(c.Actual[len(c.Actual)-1]), scale(c.Computed), float64(c.Finish-c.Now)
		for i := 0.0; i <= steps; i++ {
			s.Values = append(s.Values, from+(to-from)*i/steps)
		}
		list = append(list, s)
	}
	if c.Actual != nil {
		list = append(list, series("spent", "actual", figure.AC, 0, c.Actual, nil, true))
	}
	if c.Earned != nil {
		list = append(list, series("earned", "earned", figure.EV, 0, c.Earned, c.Known, false))
	}
	return chart.Curve{
		Title: "Money over time", Desc: "plan, earned, spent and outlooks in " + MillionUnit(cur), Periods: c.Periods, Now: c.Now, NowName: now,
		Series: list, Write: Written,
	}
}

// Written writes millions as an axis has them: no more decimals than it needs.
func Written(v float64) string {
	switch a := math.Abs(v); {
	case a != 0 && a < 1:
		return Amount(Thousandths(v, 2), 2)
	case a < 100 && math.Abs(v-math.Round(v)) > 0.04:
		return Amount(Thousandths(v, 1), 1)
	}
	return Amount(Thousandths(v, 0), 0)
}

// Thousandths writes a number with some decimals, rounded half to even.
func Thousandths(v float64, digits int) string {
	scale := math.Pow(10, float64(digits))
	return money.FormatScaled(int64(math.RoundToEven(v*scale)), digits)
}

// DatedMilestone is a raised milestone with the dates stated of it.
type DatedMilestone struct {
	Name   string
	Slip   int
	State  dates.State
	Stated []calendar.Date // by period; zero: not stated
}

// DateLines draws where the dates of raised milestones have gone, those that
// were ever dated.
func DateLines(periods []string, list []DatedMilestone, link string) chart.DateLines {
	c := chart.DateLines{
		Title:   "Where the dates have gone",
		Desc:    "the date stated of each raised milestone, period by period",
		Periods: periods,
		Ticks:   roundDays,
		Write:   func(d int) string { return calendar.Date(d).Time().Format("Jan 06") },
	}
	for _, m := range list {
		line := chart.DateLine{
			Name:  m.Name,
			Slip:  Signed(m.Slip) + " d",
			Link:  link,
			Class: map[dates.State]string{dates.Missed: "act", dates.Slipping: "watch"}[m.State],
		}
		if line.Class == "" {
			line.Class = "steady"
		}
		any := false
		for _, d := range m.Stated {
			line.Days = append(line.Days, int(d))
			any = any || d != 0
		}
		if any {
			c.Lines = append(c.Lines, line)
		}
	}
	return c
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
