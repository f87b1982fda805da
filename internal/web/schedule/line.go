package schedule

import (
	"cmp"
	"fmt"
	"html/template"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/network"
	"turret/internal/office"
	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// lineWidth is the width that timelines are drawn in.
const lineWidth = 1216

// mostRows is how many rows are drawn.
const mostRows = 400

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
	Aside  int // activities that are not drawn, as they lie outside the days that are shown
	Drawn  int // days that the drawing has
	Beyond int // activities that are not shown, as there are too many
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

// Fold unfolds a project, or folds it.
type Fold struct {
	Code, Name, Link string
	Open             bool
}

// One is the activity that is looked at, with why it is when it is.
type One struct {
	*schedule.Activity
	Link   string // of its project
	Close  string
	Steps  []Why
	Facts  [][2]string
	Moves  bool      // other dates can be tried
	Starts bool      // its start is still to come
	Above  string    // the level above its own; "" at the top, and where the reader may not raise it
	Below  string    // the level below, the same
	Now    [2]string // its stated dates
}

// Why is a step on the way back to what drives an activity.
type Why struct{ Name, Link, When, Says string }

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
		From: float64(from), To: float64(to), Now: float64(s.AsOf), Ticks: ticks(from, to),
	}
	if to-from < 120 {
		x.Off = s.DaysOff(from, to)
	}
	at := make(map[string]int)
	for _, r := range s.Projects {
		p.Folds = append(p.Folds, Fold{r.Code, r.Name, p.Toggle("open", r.Code), s.Open[r.Code]})
		x.Rows = append(x.Rows, p.project(r.Code, r.Name))
		if !s.Open[r.Code] {
			continue
		}
		list := s.By[r.Code]
		for i := range list {
			if len(x.Rows) >= mostRows {
				p.Beyond++
				continue
			}
			p.Rows = append(p.Rows, p.said(&list[i]))
			if zoom > 0 && !within(&list[i], from, to) {
				p.Aside++
				continue
			}
			at[r.Code+"/"+list[i].Code] = len(x.Rows)
			x.Rows = append(x.Rows, p.row(&list[i]))
		}
	}
	p.ties(&x, at)
	width := float64(lineWidth)
	if p.State.Get("of") != "" { // something is told beside it
		width -= 320
	}
	p.Picture = chart.Fit(width, x.Draw)
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

// ghost is the span that stands above a bar: as stated in the compared period, else the
// baseline.
func (p *Line) ghost(planned, was [2]calendar.Date) (g []chart.TimeBar) {
	x, name := planned, "Baseline "
	if p.Moment.Vs.Code != "" {
		x, name = was, "As stated in "+p.Moment.Vs.Name+" "
	}
	if b, ok := bar(x); ok {
		b.Title = name + pair(x)
		g = append(g, b)
	}
	return g
}

// project is a project as a row: its phases as bars, its raised milestones as marks.
func (p *Line) project(code, name string) chart.TimeRow {
	planned, current, was := p.Found.Whole(code)
	r := chart.TimeRow{Label: code + " " + name, Head: true, Link: p.Toggle("open", code), Title: name + ": " + pair(current), Ghosts: p.ghost(planned, was)}
	list := p.Found.By[code]
	phases := 0
	for i := range list {
		a := &list[i]
		if a.Depth == 0 && a.Summary() {
			if b, ok := bar(a.Current); ok {
				b.Class, b.Title = []string{"phase", "phase odd"}[phases%2], a.Name+": "+pair(a.Current)
				r.Bars = append(r.Bars, b)
			}
			phases++
		}
		if a.Milestone() && a.Raised() && a.Current[1] != 0 {
			r.Marks = append(r.Marks, mark(a))
		}
	}
	if b, ok := bar(current); ok && phases == 0 {
		b.Class = "phase"
		r.Bars = append(r.Bars, b)
	}
	p.Rows = append(p.Rows, LineRow{
		Code: code, Name: name, Project: true, Link: p.State.Project(code), Planned: pair(planned), Current: pair(current), Was: pair(was),
	})
	return r
}

// mark is a milestone on a row.
func mark(a *schedule.Activity) chart.TimeMark {
	class := "steady"
	slip, known := a.Slip()
	switch {
	case a.Done != 0:
		class = "met"
	case known && slip > 20:
		class = "act"
	case known && slip > 0:
		class = "watch"
	}
	title := a.Name + ", " + tell.Date(a.Current[1])
	if known && slip != 0 {
		title += ", " + days(slip)
	}
	return chart.TimeMark{Day: float64(a.Current[1]), Class: class, Title: title}
}

func (p *Line) row(a *schedule.Activity) chart.TimeRow {
	r := chart.TimeRow{
		Label: a.Code + " " + a.Name, Depth: a.Depth + 1, Title: a.Name + ": " + pair(a.Current),
		Link: p.Turn("of", a.Of.Code+"/"+a.Code), Ghosts: p.ghost(a.Planned, a.Was),
	}
	if a.Milestone() {
		if a.Current[1] != 0 {
			m := mark(a)
			m.Link = r.Link
			r.Marks = append(r.Marks, m)
		}
		return r
	}
	b, ok := bar(a.Current)
	if !ok {
		return r
	}
	b.Title, b.Link, b.Class = r.Title, r.Link, class(a)
	if a.Summary() {
		b.Class, b.Link = "summary", ""
	}
	if !math.IsNaN(a.Percent) {
		b.Done = a.Percent / 100
	}
	r.Bars = append(r.Bars, b)
	if a.HasFloat && a.Float > 0 && a.Early[1] != 0 {
		r.Spare = [2]float64{float64(a.Early[1] + 1), float64(a.Latest())}
	}
	return r
}

// class says how an activity stands.
func class(a *schedule.Activity) string {
	switch {
	case a.Done != 0:
		return "finished"
	case a.Critical:
		return "critical"
	case a.Near:
		return "near"
	}
	return "current"
}

func (p *Line) said(a *schedule.Activity) LineRow {
	r := LineRow{
		Code: a.Code, Name: a.Name, Depth: a.Depth + 1, Link: p.Turn("of", a.Of.Code+"/"+a.Code),
		Planned: pair(a.Planned), Current: pair(a.Current), Was: pair(a.Was), Held: a.Held, Slip: tell.Dash, Float: tell.Dash, Done: tell.Dash,
	}
	if a.Summary() {
		r.Link = ""
	}
	if slip, ok := a.Slip(); ok {
		r.Slip = days(slip)
		if slip > 0 && a.Done == 0 {
			r.Class = "watch"
		}
	}
	if a.HasFloat {
		r.Float = fmt.Sprintf("%d d", a.Float)
	}
	switch {
	case a.Done != 0:
		r.Done = "done"
	case !math.IsNaN(a.Percent):
		r.Done = fmt.Sprintf("%.0f%%", a.Percent)
	}
	return r
}

// ties draws the links between rows that are there.
func (p *Line) ties(x *chart.Timeline, at map[string]int) {
	by := make(map[string]*schedule.Activity)
	p.Found.Each(func(a *schedule.Activity) { by[a.Of.Code+"/"+a.Code] = a })
	for _, l := range p.Found.Links {
		from, known := at[l.From]
		to, both := at[l.To]
		a, b := by[l.From], by[l.To]
		if !known || !both || a.Current[1] == 0 || b.Current[1] == 0 {
			continue
		}
		tie := chart.TimeTie{From: from, To: to, FromDay: float64(a.Current[1] + 1), ToDay: float64(b.Current[0]), Title: linkText(l)}
		if l.Type == network.StartStart || l.Type == network.StartFinish {
			tie.FromDay = float64(a.Current[0])
		}
		if l.Type == network.FinishFinish || l.Type == network.StartFinish {
			tie.ToDay = float64(b.Current[1] + 1)
		}
		switch {
		case l.Broken > 0:
			tie.Class = "broken"
		case l.Holds:
			tie.Class = "holds"
		}
		x.Ties = append(x.Ties, tie)
	}
}

func linkText(l schedule.Tie) string {
	text := l.From + " to " + l.To + ", " + l.Type.String()
	if l.Lag != 0 {
		text += fmt.Sprintf(" %s", days(l.Lag))
	}
	if l.Broken > 0 {
		text += ", broken by " + tell.Plural(l.Broken, "working day", "working days")
	}
	return text
}

// one reads the activity that is looked at.
func (p *Line) one(c fiber.Ctx, site *shell.Site) error {
	project, code, ok := strings.Cut(p.State.Get("of"), "/")
	if !ok {
		return nil
	}
	var found *schedule.Activity
	list := p.Found.By[project]
	for i := range list {
		if list[i].Code == code {
			found = &list[i]
		}
	}
	if found == nil {
		p.Moment.Notes = append(p.Moment.Notes, "There is no activity "+p.State.Get("of")+" here.")
		return nil
	}
	steps, err := schedule.In(site.Office).Why(c.Context(), p.Actor, p.Moment, project, code)
	if err != nil {
		return err
	}
	p.Of = &One{Activity: found, Link: p.State.Project(project), Close: p.Turn("of", "")}
	p.Of.Moves, p.Of.Starts = found.Done == 0 && !found.Summary(), found.Began == 0 && !found.Milestone()
	if at := slices.Index(schedule.Levels, cmp.Or(found.Level, schedule.Levels[0])); at >= 0 && office.MayFound(p.Actor) && !found.Summary() {
		if at < len(schedule.Levels)-1 {
			p.Of.Above = schedule.Levels[at+1]
		}
		if at > 0 {
			p.Of.Below = schedule.Levels[at-1]
		}
	}
	p.Of.Now = [2]string{found.Current[0].String(), found.Current[1].String()}
	fact := func(name, text string) { p.Of.Facts = append(p.Of.Facts, [2]string{name, text}) }
	fact("Baseline", pair(found.Planned))
	fact("Stated", pair(found.Current))
	if found.Early[1] != 0 && found.Early != found.Current {
		fact("By the network", pair(found.Early))
	}
	if found.HasFloat {
		text := tell.Plural(found.Float, "working day", "working days")
		if found.Critical {
			text += ", critical"
		} else if found.Near {
			text += ", near-critical"
		}
		fact("Float", text)
	}
	if found.Constraint != "" {
		fact("Constraint", strings.TrimSuffix(found.Constraint+", "+found.Because, ", "))
	}
	fact("Shows up to", found.Level)
	if found.Who() != "" {
		fact("Who", found.Who())
	}
	for i, s := range steps {
		p.Of.Steps = append(p.Of.Steps, p.step(s, i, steps))
	}
	return nil
}

// step says why an activity on the way is when it is.
func (p *Line) step(s schedule.WhyStep, i int, steps []schedule.WhyStep) Why {
	if s.Name == "" {
		return Why{Name: "An activity of a project that is not yours to read"}
	}
	w := Why{Name: s.Project + "/" + s.Code + " " + s.Activity, When: pair(s.Early), Link: p.With(p.State.With("of", s.Project+"/"+s.Code).With("open", openWith(p.State, s.Project)))}
	switch s.Cause {
	case network.ByLink:
		w.Says = "held by " + steps[min(i+1, len(steps)-1)].Project + "/" + steps[min(i+1, len(steps)-1)].Code + ", " + s.Type
		if s.Lag != 0 {
			w.Says += " " + days(s.Lag)
		}
	case network.ByFact:
		w.Says = "finished"
	case network.ByPeriod:
		w.Says = "goes on from the end of " + p.Moment.Period.Name
	case network.ByConstraint:
		w.Says = "its constraint"
	default:
		w.Says = "its stated dates"
	}
	return w
}

// openWith are the projects that are unfolded, with one more.
func openWith(s shell.State, code string) string {
	list := s.Names("open")
	if !slices.Contains(list, code) {
		list = append(list, code)
	}
	return strings.Join(list, ",")
}

// ticks are the days that an axis names: years, quarters, months, weeks or days, as they
// fit.
func ticks(from, to calendar.Date) (out []chart.TimeTick) {
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

// Mark is the revision that the page was shown at.
func (p *Line) Mark() string {
	return p.Field("mark", strconv.FormatInt(p.Moment.Revision(), 10))
}

// PostLine raises an activity to a level.
func PostLine(site *shell.Site) fiber.Handler {
	again := GetLine(site)
	return func(c fiber.Ctx) error {
		project, activity, _ := strings.Cut(c.FormValue("of"), "/")
		level := c.FormValue("level")
		err := schedule.In(site.Office).Raise(c.Context(), shell.Actor(c), shell.Mark(c), project, activity, level)
		return shell.Settle(c, err, again, shell.WithDone(shell.StateOf(c).Page("/timeline"), fmt.Sprintf("%s/%s shows up to the level of the %s.", project, activity, level)))
	}
}
