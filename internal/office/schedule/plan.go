package schedule

import (
	"math"

	"turret/internal/chart"
	"turret/internal/tell"
)

// Plan draws a project's plan on a page: its phases, and below each its raised milestones with
// their days; vs is the name of the compared period, or "". No more than most rows are drawn, and
// left is how many more there are; it has no rows where nothing has a date.
func (s *Schedule) Plan(code, vs string, most int) (x chart.Timeline, left int) {
	span := s.Span()
	span[1] += (span[1] - span[0]) / 50 // a milestone on the last day is seen whole
	x = chart.Timeline{
		Title: "Plan of " + code, Desc: "phases and raised milestones over time", From: float64(span[0]), To: float64(span[1]),
		Now: float64(s.AsOf), Ticks: Ticks(span[0], span[1]),
	}
	list := s.By[code]
	for i := range list {
		a := &list[i]
		r := chart.TimeRow{Label: a.Name, Depth: min(a.Depth, 1)}
		switch b, ok := Bar(a.Current); {
		case a.Milestone() && a.Raised() && a.Current[1] != 0:
			r.Marks = []chart.TimeMark{Mark(a)}
			r.Label += ", " + tell.Date(a.Current[1])
			if slip, known := a.Slip(); known && slip != 0 {
				r.Label += ", " + tell.Signed(slip) + " d"
			}
		case a.Depth == 0 && !a.Milestone() && ok:
			b.Class = "phase"
			if !math.IsNaN(a.Percent) {
				b.Done = a.Percent / 100
			}
			r.Bars, r.Ghosts = []chart.TimeBar{b}, Ghost(vs, a.Planned, a.Was)
		default:
			continue
		}
		if len(x.Rows) == most {
			left++
			continue
		}
		x.Rows = append(x.Rows, r)
	}
	return x, left
}
