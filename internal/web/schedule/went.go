package schedule

import (
	"fmt"
	"html/template"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/dates"
	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// Went is the page of where dates have gone.
type Went struct {
	Dates
	Found   *schedule.Went
	Picture template.HTML
	Rows    []Gone
	Steps   []Moved
	All     string // the address with all milestones; "" where they are shown
}

// Gone is a milestone whose date went somewhere.
type Gone struct {
	Project, Name, Link, First, Now, Moved, State, Class string
	On                                                   bool
	Turn                                                 string
}

// Moved is a period in which a date moved, with the words of the period.
type Moved struct{ Project, Name, Period, From, To, Days, Class, Words string }

// How many milestones the picture and the list begin with.
const (
	mostLines = 12
	mostMoved = 40
)

// GetWent answers /dates/gone.
func GetWent(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		d, err := frame(c, site, "Where dates have gone")
		if err != nil {
			return err
		}
		p := &Went{Dates: d}
		if p.Found, err = schedule.In(site.Office).Went(c.Context(), p.Actor, p.Moment); err != nil {
			return err
		}
		if !p.Moment.Empty {
			p.fill()
		}
		return shell.Render(c, WentTemplate, p)
	}
}

func (p *Went) fill() {
	list := p.Found.Milestones
	if len(list) == 0 {
		p.say("No milestone here is raised to its programme or the portfolio, so none is followed.")
		return
	}
	moved := len(list) - p.Found.Still
	p.say("Of %s ", tell.Plural(len(list), "raised milestone", "raised milestones"))
	if moved == 0 {
		p.say("none has moved.")
	} else {
		p.tone("watch", "", "%d moved", moved)
		w := list[0]
		if w.Moved > 0 {
			p.say("; the farthest is %s of %s, %s later than first stated.", w.Name, w.Of.Code, tell.Plural(w.Moved, "working day", "working days"))
		} else {
			p.say("; none is later than first stated.")
		}
	}
	of := p.State.Get("of")
	var drawn []tell.DatedMilestone
	for i := range list {
		g := &list[i]
		name := g.Of.Code + "/" + g.Code
		if of == "" && len(drawn) < mostLines && g.Done == 0 || of == name {
			drawn = append(drawn, tell.DatedMilestone{Name: g.Of.Code + " " + g.Name, Slip: g.Moved, State: g.State, Stated: g.Stated})
		}
		if p.State.Get("show") != "all" && len(p.Rows) == mostMoved {
			p.All = p.Turn("show", "all")
			continue
		}
		row := Gone{Project: g.Of.Code, Name: g.Name, Link: p.State.Project(g.Of.Code), Now: tell.Date(g.Current[1]), First: tell.Dash, Moved: days(g.Moved), State: string(g.State), On: of == name, Turn: p.Turn("of", name)}
		for _, d := range g.Stated {
			if d != 0 {
				row.First = tell.Date(d)
				break
			}
		}
		row.Class = map[dates.State]string{dates.Missed: "act", dates.Slipping: "watch"}[g.State]
		p.Rows = append(p.Rows, row)
		if of == "" && len(p.Steps) >= mostMoved || of != "" && of != name {
			continue
		}
		for k, s := range g.Steps {
			if of == "" && k == 1 { // the latest of each; all of one
				break
			}
			x := Moved{Project: g.Of.Code, Name: g.Name, Period: s.Period, From: tell.Date(s.From), To: tell.Date(s.To), Days: days(s.Days), Words: s.Words}
			if s.Days > 0 {
				x.Class = "watch"
			}
			p.Steps = append(p.Steps, x)
		}
	}
	x := tell.DateLines(p.Found.Periods, drawn, "")
	for _, d := range p.Found.Ends {
		x.Ends = append(x.Ends, int(d))
	}
	if len(x.Lines) > 0 {
		p.Picture = chart.Fit(halfWidth, x.Draw)
	}
	if of != "" && len(drawn) == 0 {
		p.Moment.Notes = append(p.Moment.Notes, fmt.Sprintf("No raised milestone here is called %q.", of))
	}
}
