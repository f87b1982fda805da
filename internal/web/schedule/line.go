package schedule

import (
	"cmp"
	"fmt"
	"html/template"
	"slices"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// lineWidth is the width that timelines are drawn in.
const lineWidth = 1216

// mostRows is how many rows a window of the timeline has.
const mostRows = 400

// mostShaded is how many days are shown where those without work are shaded.
const mostShaded = 120

// halfWidth is that of a drawing with something beside it.
const halfWidth = 610

// Line is the page of the timeline.
type Line struct {
	Dates
	Found   *schedule.Line
	Picture template.HTML
	Rows    []LineRow
	Zooms   []Zoom
	Earlier, Later,
	In, Out string
	Folds  []Fold
	Shown  string // the days that are shown
	Pages  []Tab
	Of     *One
	Aside  int  // activities that are not drawn, as they lie outside the days that are shown
	Drawn  int  // days that the drawing has
	Ties   bool // the reader may link what is shown
	Window Window
}

// LineRow is an activity in the table that says the same.
type LineRow struct {
	Code, Name, Link        string
	Depth                   int
	Project                 bool
	Planned, Current, Was   string
	Slip, Float, Held, Done string
	Class                   string
}

// Zoom is how much time is shown.
type Zoom struct {
	Name, Link string
	On         bool
}

// Window is the part of the rows that is drawn, where there are more than one picture has.
type Window struct {
	Says         string // "" where all are drawn
	Above, Below string // the windows before and after; "" where there is none
}

// windowOf gives the window that begins at a row of all, counted from 0.
func (p *Line) windowOf(first, all int) (w Window) {
	if all <= mostRows {
		return w
	}
	w.Says = fmt.Sprintf("Rows %d to %d of %d", first+1, min(first+mostRows, all), all)
	at := func(row int) string {
		if row <= 0 {
			return p.Turn("top", "")
		}
		return p.Turn("top", strconv.Itoa(row+1))
	}
	if first > 0 {
		w.Above = at(first - mostRows)
	}
	if first+mostRows < all {
		w.Below = at(first + mostRows)
	}
	return w
}

// top is the row that the window begins at: the one that is asked for, or where there are not
// so many that of the last window.
func (p *Line) top(all int) int {
	text := p.State.Get("top")
	if text == "" {
		return 0
	}
	row, err := strconv.Atoi(text)
	if err != nil || row < 1 {
		p.Moment.Notes = append(p.Moment.Notes, fmt.Sprintf("%q is no row; these are the first.", text))
		return 0
	}
	if row > all {
		return max(0, all-1) / mostRows * mostRows
	}
	return row - 1
}

// Fold unfolds a project, or folds it.
type Fold struct {
	Code, Name, Link string
	Open             bool
}

// zooms are how many days are shown, from the whole to weeks.
var zooms = []struct {
	key, name string
	days      int
}{{"", "All", 0}, {"years", "Two years", 731}, {"quarters", "Three quarters", 274}, {"months", "Quarter", 92}, {"weeks", "Month", 31}, {"days", "Two weeks", 14}}

// GetLine answers /timeline.
func GetLine(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		d, err := frame(c, site, "Timeline")
		if err != nil {
			return err
		}
		p := &Line{Dates: d}
		page, err := strconv.Atoi(cmp.Or(p.State.Get("leaf"), "1"))
		if err != nil || page < 1 {
			page = 1
			p.Moment.Notes = append(p.Moment.Notes, fmt.Sprintf("There is no page %q; this is the first.", p.State.Get("leaf")))
		}
		if p.Found, err = schedule.In(site.Office).Timeline(c.Context(), p.Actor, p.Moment, p.State.Names("open"), page-1); err != nil {
			return err
		}
		if !p.Moment.Empty {
			p.fill()
			p.Ties = len(p.Found.Open) > 0 && office.MayFound(p.Actor)
			if err := p.one(c, site); err != nil {
				return err
			}
		}
		return shell.Render(c, LineTemplate, p)
	}
}

// window gives the days that are shown, and how far they are zoomed.
func (p *Line) window() (from, to calendar.Date, zoom int) {
	span := p.Found.Span()
	zoom = max(0, slices.IndexFunc(zooms, func(z struct {
		key, name string
		days      int
	},
	) bool {
		return z.key == p.State.Get("per")
	}))
	days := calendar.Date(zooms[zoom].days)
	if days == 0 {
		return span[0], span[1], zoom
	}
	from = p.Found.AsOf - days/4
	if text := p.State.Get("from"); text != "" {
		d, err := calendar.ParseDate(text)
		if err != nil {
			p.Moment.Notes = append(p.Moment.Notes, fmt.Sprintf("%q is no day such as 2026-12-01; the line begins before the period's end.", text))
		} else {
			from = d
		}
	}
	return from, from + days - 1, zoom
}

func (p *Line) fill() {
	s := p.Found
	from, to, zoom := p.window()
	if from == 0 {
		p.say("No activity here has a date.")
		return
	}
	p.speak()
	for i, z := range zooms {
		at := p.State.With("per", z.key)
		if z.key == "" {
			at = at.With("from", "")
		}
		p.Zooms = append(p.Zooms, Zoom{z.name, p.With(at), i == zoom})
	}
	if zoom > 0 {
		p.Out = p.Zooms[zoom-1].Link
		step := (to - from + 1) * 3 / 4
		p.Earlier, p.Later = p.Turn("from", (from-step).String()), p.Turn("from", (from+step).String())
	}
	if zoom < len(zooms)-1 {
		p.In = p.Zooms[zoom+1].Link
	}
	p.Drawn = int(to-from) + 1
	p.Shown = tell.Date(from) + " to " + tell.Date(to)
	for k := 1; s.Pages > 1 && k <= s.Pages; k++ {
		p.Pages = append(p.Pages, Tab{strconv.Itoa(k), p.Turn("leaf", strconv.Itoa(k)), k == s.Page+1})
	}
	x := chart.Timeline{
		Title: "Timeline", Desc: "activities of projects over time, the baseline above each",
		From: float64(from), To: float64(to), Now: float64(s.AsOf), Ticks: schedule.Ticks(from, to),
	}
	if to-from < mostShaded {
		x.Off = s.DaysOff(from, to)
	}
	rows := p.lines(from, to, zoom > 0)
	first := p.top(len(rows))
	p.Window = p.windowOf(first, len(rows))
	at := make(map[string]int)
	for _, l := range rows[first:min(first+mostRows, len(rows))] {
		if l.a == nil {
			x.Rows = append(x.Rows, p.project(l.of.Code, l.of.Name))
			continue
		}
		p.Rows = append(p.Rows, p.said(l.a))
		at[l.of.Code+"/"+l.a.Code] = len(x.Rows)
		x.Rows = append(x.Rows, p.row(l.a))
	}
	p.ties(&x, at)
	width := float64(lineWidth)
	if p.State.Get("of") != "" { // something is told beside it
		width -= 320
	}
	p.Picture = chart.Fit(width, x.Draw)
}

// lineOf is a row to be drawn: an activity, or its project where there is none.
type lineOf struct {
	of *office.Reading
	a  *schedule.Activity
}

// lines are the rows that there are, in all windows: projects, and of those that are unfolded
// the activities; where only some days are shown, those that lie in them.
func (p *Line) lines(from, to calendar.Date, some bool) (out []lineOf) {
	s := p.Found
	for _, r := range s.Projects {
		p.Folds = append(p.Folds, Fold{r.Code, r.Name, p.Toggle("open", r.Code), s.Open[r.Code]})
		out = append(out, lineOf{of: r})
		if !s.Open[r.Code] {
			continue
		}
		list := s.By[r.Code]
		for i := range list {
			if some && !within(&list[i], from, to) {
				p.Aside++
				continue
			}
			out = append(out, lineOf{r, &list[i]})
		}
	}
	return out
}

// within tells whether something of an activity lies within days.
func within(a *schedule.Activity, from, to calendar.Date) bool {
	for _, x := range [...][2]calendar.Date{a.Current, a.Planned, a.Was} {
		if x[1] != 0 && max(x[0], from) <= min(x[1], to) {
			return true
		}
	}
	return false
}

// speak says what the timeline shows.
func (p *Line) speak() {
	s := p.Found
	late, critical, near := 0, 0, 0
	s.Each(func(a *schedule.Activity) {
		if a.Late && a.Done == 0 {
			late++
		}
		if a.Critical {
			critical++
		}
		if a.Near {
			near++
		}
	})
	p.say("%s%s on the line", asOf(s.Schedule, p.Moment.Period.Name), tell.Plural(s.All, "project", "projects"))
	if late > 0 {
		p.say("; ")
		p.tone("watch", p.State.List().Page("/dates"), "%s late", tell.Plural(late, "activity is", "activities are"))
	}
	p.say("; %s critical", tell.Plural(critical, "is", "are"))
	if near > 0 {
		p.say(" and %d within %s of it", near, tell.Plural(p.Near(), "working day", "working days"))
	}
	p.say(".")
}

// Near is the office's limit of near-critical.
func (p *Line) Near() int { return p.Found.Near }
