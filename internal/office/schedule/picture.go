package schedule

import (
	"cmp"
	"fmt"
	"time"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/tell"
)

// Pair writes a span of days: 1 Mar 2027 to 4 Apr 2027, or its one day.
func Pair(x [2]calendar.Date) string {
	switch {
	case x[0] == 0 && x[1] == 0:
		return tell.Dash
	case x[0] == x[1] || x[0] == 0 || x[1] == 0:
		return tell.Date(max(x[0], x[1]))
	}
	return tell.Date(x[0]) + " to " + tell.Date(x[1])
}

// Bar is a span as a bar; ok is false where none of its days is known.
func Bar(x [2]calendar.Date) (b chart.TimeBar, ok bool) {
	if x[0] == 0 {
		x[0] = x[1]
	}
	if x[1] == 0 {
		x[1] = x[0]
	}
	return chart.TimeBar{From: float64(x[0]), To: float64(x[1])}, x[0] != 0
}

// farLate is by how many working days a milestone is so late that it is told as Act.
const farLate = 20

// Mark is a milestone on a row.
func Mark(a *Activity) chart.TimeMark {
	class := "steady"
	slip, known := a.Slip()
	switch {
	case a.Done != 0:
		class = "met"
	case known && slip > farLate:
		class = "act"
	case known && slip > 0:
		class = "watch"
	}
	title := a.Name + ", " + tell.Date(a.Current[1])
	if known && slip != 0 {
		title += ", " + tell.Signed(slip) + " d"
	}
	return chart.TimeMark{Day: float64(a.Current[1]), Class: class, Title: title}
}

// Ghost is the span that stands above a bar: as stated in the compared period, vs, else the
// baseline.
func Ghost(vs string, planned, was [2]calendar.Date) (g []chart.TimeBar) {
	x, name := planned, "Baseline "
	if vs != "" {
		x, name = was, "As stated in "+vs+" "
	}
	if b, ok := Bar(x); ok {
		b.Title = name + Pair(x)
		g = append(g, b)
	}
	return g
}

// Row is a project as a row: its phases as bars, its raised milestones as marks. Vs is the
// name of the compared period, or "".
func (s *Schedule) Row(code, name, vs string) chart.TimeRow {
	planned, current, was := s.Whole(code)
	r := chart.TimeRow{Label: code + " " + name, Title: name + ": " + Pair(current), Ghosts: Ghost(vs, planned, was)}
	list := s.By[code]
	phases := 0
	for i := range list {
		a := &list[i]
		if a.Depth == 0 && a.Summary() {
			if b, ok := Bar(a.Current); ok {
				b.Class, b.Title = []string{"phase", "phase odd"}[phases%2], a.Name+": "+Pair(a.Current)
				r.Bars = append(r.Bars, b)
			}
			phases++
		}
		if a.Milestone() && a.Raised() && a.Current[1] != 0 {
			r.Marks = append(r.Marks, Mark(a))
		}
	}
	if b, ok := Bar(current); ok && phases == 0 {
		b.Class = "phase"
		r.Bars = append(r.Bars, b)
	}
	return r
}

// Drawn says how a roadmap is drawn.
type Drawn struct {
	Grouped bool                           // heads stand above the groups
	Between bool                           // with lines from what is given to when it is needed
	Years   int                            // from the first day of the fiscal year; zero: all there is
	Vs      string                         // the compared period's name, or ""
	Link    func(r *office.Reading) string // where a row leads; or nil
}

// Timeline draws the roadmap.
func (r *Road) Timeline(d Drawn) chart.Timeline {
	span := r.Span()
	from, to := span[0], span[1]
	if d.Years > 0 {
		from = r.FirstOfYear()
		to = calendar.Date(int(from)+d.Years*365+d.Years/4) - 1
	}
	x := chart.Timeline{
		Title: "Roadmap", Desc: "phases and raised milestones of each project over time", From: float64(from), To: float64(to),
		Now: float64(r.AsOf), Ticks: Ticks(from, to),
	}
	at := make(map[string]int)
	for _, g := range r.Groups {
		if d.Grouped {
			x.Rows = append(x.Rows, chart.TimeRow{Label: cmp.Or(g.Name, "None"), Head: true})
		}
		for _, p := range g.Projects {
			at[p.Code] = len(x.Rows)
			row := r.Row(p.Code, p.Name, d.Vs)
			if d.Link != nil {
				row.Link = d.Link(p)
			}
			if d.Grouped {
				row.Depth = 1
			}
			x.Rows = append(x.Rows, row)
		}
	}
	for _, i := range r.Interfaces {
		a, known := at[i.Giver.Project]
		b, both := at[i.Taker.Project]
		if !d.Between || !known || !both || i.Promised == 0 || i.Over {
			continue
		}
		tie := chart.TimeTie{From: a, To: b, FromDay: float64(i.Promised + 1), ToDay: float64(cmp.Or(i.Needed, i.Promised) + 1), Class: "holds"}
		tie.Title = fmt.Sprintf("%s of %s for %s of %s", i.Giver.Activity, i.Giver.Project, i.Taker.Activity, i.Taker.Project)
		if i.Conflict > 0 {
			tie.Class = "broken"
			tie.Title += ", late by " + tell.Plural(i.Conflict, "working day", "working days")
		}
		x.Ties = append(x.Ties, tie)
	}
	return x
}

// Say says how many projects there are, what was missed and what comes next; period is the
// name of the moment's.
func (r *Road) Say(period string) []tell.Phrase {
	next, missed := r.Coming()
	text := r.Today(period) + tell.Plural(len(r.Projects), "project", "projects")
	out := []tell.Phrase{{Text: text}}
	if missed > 0 {
		out = append(out, tell.Phrase{Text: "; "}, tell.Phrase{Text: tell.Plural(missed, "raised milestone is", "raised milestones are") + " missed", Tone: "act"})
	}
	if next != nil {
		out = append(out, tell.Phrase{Text: "; next is " + next.Name + " of " + next.Of.Code + " on " + tell.Date(next.Current[1])})
	}
	return append(out, tell.Phrase{Text: "."})
}

// Today says which day counts where the period, by its name, has not ended; else "".
func (s *Schedule) Today(period string) string {
	if s.Before {
		return "As of today, " + tell.Date(s.AsOf) + ": " + period + " has not ended. "
	}
	return ""
}

// Ticks are the days that an axis names: years, quarters, months, weeks or days, as they
// fit.
func Ticks(from, to calendar.Date) (out []chart.TimeTick) {
	days := int(to - from)
	y, m, _ := from.Split()
	switch {
	case days > 1100:
		for ; calendar.DateOf(y, m, 1) <= to; m++ {
			d := calendar.DateOf(y, m, 1)
			if _, month, _ := d.Split(); month%3 == 1 {
				text := ""
				if month == 1 || month == 7 && days < 2600 {
					text = d.Time().Format("Jan 2006")
				}
				out = append(out, chart.TimeTick{Day: float64(d), Text: text, Strong: month == 1})
			}
		}
	case days > 70:
		for ; calendar.DateOf(y, m, 1) <= to; m++ {
			d := calendar.DateOf(y, m, 1)
			_, month, _ := d.Split()
			out = append(out, chart.TimeTick{Day: float64(d), Text: d.Time().Format("Jan 06"), Strong: month == 1})
		}
	default:
		for d := from; d <= to; d++ {
			monday := d.Time().Weekday() == time.Monday
			if days > 21 && !monday {
				continue
			}
			out = append(out, chart.TimeTick{Day: float64(d), Text: d.Time().Format("2 Jan"), Strong: monday})
		}
	}
	return out
}
