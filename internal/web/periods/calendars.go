package periods

import (
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/period"
	"turret/internal/web/shell"
)

// CalendarsPage shows the work calendars.
type CalendarsPage struct {
	shell.Frame
	Calendars []period.WorkCalendar
	Editing   period.WorkCalendar // or a new one, without a code
	Projects  [][2]string
}

// GetCalendars answers /setup/calendars.
func GetCalendars(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Calendars", "")
		if err != nil {
			return err
		}
		f.Step = "setup"
		p := &CalendarsPage{Frame: f}
		if p.Calendars, err = period.In(site.Office).WorkCalendars(c.Context(), p.Actor); err != nil {
			return err
		}
		if p.Projects, err = period.In(site.Office).ProjectList(c.Context(), p.Actor); err != nil {
			return err
		}
		p.Editing.Week = period.NewWeek()
		for _, x := range p.Calendars {
			if x.Code == p.State.Get("of") {
				p.Editing = x
			}
		}
		return shell.Render(c, CalendarsTemplate, p)
	}
}

// May tells whether the actor draws calendars.
func (p *CalendarsPage) May() bool { return office.MayDraw(p.Actor) }

// Week writes a work week: Monday to Friday.
func (p *CalendarsPage) Week(c period.WorkCalendar) string {
	var runs []string
	for i := 0; i < len(c.Week); i++ {
		if !c.Week[i].Works {
			continue
		}
		j := i
		for j+1 < len(c.Week) && c.Week[j+1].Works {
			j++
		}
		switch {
		case j > i+1:
			runs = append(runs, c.Week[i].Name+" to "+c.Week[j].Name)
		case j > i:
			runs = append(runs, c.Week[i].Name, c.Week[j].Name)
		default:
			runs = append(runs, c.Week[i].Name)
		}
		i = j
	}
	return strings.Join(runs, ", ")
}

// Works tells whether a day of the form's week is chosen.
func (p *CalendarsPage) Works(d period.WeekDay) bool {
	if p.Kept == nil || !p.Kept.Has("holidays") {
		return d.Works
	}
	for _, x := range p.Kept["week"] {
		if x == d.Code {
			return true
		}
	}
	return false
}

// PostCalendars keeps a calendar, or lets a project follow one.
func PostCalendars(site *shell.Site) fiber.Handler {
	again := GetCalendars(site)
	return func(c fiber.Ctx) error {
		ctx, a := c.Context(), shell.Actor(c)
		done := ""
		var err error
		switch c.FormValue("do") {
		case "keep":
			var week []string
			for k, v := range c.Request().PostArgs().All() {
				if string(k) == "week" {
					week = append(week, string(v))
				}
			}
			err = period.In(site.Office).
				SaveCalendar(ctx, a, shell.Mark(c), c.FormValue("calendar"), week, c.FormValue("holidays"))
			done = "The calendar is kept; open periods are counted by it."
		case "follow":
			err = period.In(site.Office).
				FollowCalendar(ctx, a, shell.Mark(c), c.FormValue("project"), c.FormValue("follows"))
			done = "It is kept; open periods are counted by it."
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, shell.WithDone("/setup/calendars", done))
	}
}
