// Package periods are the pages of Setup about what goes by the period: the
// office's reporting periods with the days by which statements are due, its work
// calendars, and its rates.
package periods

import (
	"embed"
	"fmt"
	"strconv"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/office/period"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed periods.html calendars.html rates.html periods.css
var files embed.FS

// Templates of the screens.
var (
	Template          = shell.Parse(files, "periods.html")
	CalendarsTemplate = shell.Parse(files, "calendars.html")
	RatesTemplate     = shell.Parse(files, "rates.html")
)

// Style is the style sheet of all three.
var Style = shell.File(files, "periods.css")

// Page shows the reporting calendar.
type Page struct {
	shell.Frame
	*period.ReportingCalendar
	Rows     []period.PeriodRow
	Drawn    bool // the rows are not kept yet
	Months12 []Month
	HasDue   bool
}

// Month is a month of a choice.
type Month struct {
	Number string
	Name   string
}

// Get answers /setup/periods.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error { return show(c, site, "") }
}

// show renders the page; with lines of periods it shows those, before they are
// kept.
func show(c fiber.Ctx, site *shell.Site, drawn string) error {
	f, err := shell.NewFrame(c, site, "Periods", "")
	if err != nil {
		return err
	}
	f.Step = "setup"
	p := &Page{Frame: f}
	if p.ReportingCalendar, err = period.In(site.Office).ReportingCalendar(c.Context(), p.Actor); err != nil {
		return err
	}
	p.Rows = p.Periods
	if drawn != "" {
		rows, err := period.In(site.Office).PeriodsAs(c.Context(), p.Actor, drawn)
		switch {
		case shell.Refused(err):
			p.Wrong = err.Error()
		case err != nil:
			return err
		default:
			p.Rows, p.Drawn = rows, true
		}
		p.Kept.Set("list", drawn)
	}
	for m := time.January; m <= time.December; m++ {
		p.Months12 = append(p.Months12, Month{strconv.Itoa(int(m)), m.String()})
	}
	for _, k := range p.DueKinds {
		p.HasDue = p.HasDue || k.Days != ""
	}
	return shell.Render(c, Template, p)
}

// May tells whether the actor draws periods.
func (p *Page) May() bool { return office.MayDraw(p.Actor) }

// Say tells what the office's periods are, and what of them can change.
func (p *Page) Say() string {
	out := fmt.Sprintf("Reporting periods are calendar months; fiscal years begin in %s.", time.Month(p.FiscalStart))
	if !p.ReportingCalendar.Months {
		out = fmt.Sprintf(
			"The office has %s of its own, %s to %s.",
			tell.Plural(len(p.Periods), "period", "periods"),
			p.Periods[0].Code,
			p.Periods[len(p.Periods)-1].Code,
		)
	}
	switch {
	case p.Named == "":
		return out + " Nothing names a period yet, so they can be drawn anew."
	case p.ReportingCalendar.Months:
		return out + fmt.Sprintf(" %s name periods up to %s, so they stay months.", tell.Capital(p.By), p.Named)
	}
	return out + fmt.Sprintf(
		" %s name periods up to %s, which keep their days; later ones can change.",
		tell.Capital(p.By),
		p.Named,
	)
}

// Coded tells whether periods have codes of their own beside their names.
func (p *Page) Coded() bool { return p.Drawn || !p.ReportingCalendar.Months }

// Day writes a day: with that of the week where periods are of weeks.
func (p *Page) Day(d calendar.Date) string {
	if p.Coded() {
		return d.Time().Format("Mon 2 Jan 2006")
	}
	return d.Time().Format("2 Jan 2006")
}

// Short writes a day without its year.
func (p *Page) Short(d calendar.Date) string {
	if d == 0 {
		return ""
	}
	return d.Time().Format("2 Jan")
}

// Length writes the length of a period: in weeks where it has whole ones.
func (p *Page) Length(r period.PeriodRow) string {
	if p.Coded() && r.Days%7 == 0 {
		return tell.Plural(r.Days/7, "week", "weeks")
	}
	return tell.Plural(r.Days, "day", "days")
}

// Patterns are the patterns of weeks.
func (p *Page) Patterns() any { return period.Patterns }

// Leaps are the rules of a 53rd week.
func (p *Page) Leaps() [][2]string {
	return [][2]string{
		{string(calendar.Nearest), "to end nearest the month's end"},
		{string(calendar.Within), "to end last within the month"},
		{string(calendar.Never), "never"},
	}
}

// Lines are the lines of the list: those typed, else the periods in force.
func (p *Page) Lines() string { return p.Field("list", p.List) }

// Post draws periods, keeps them, or sets the days by which statements are due.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		ctx, a := c.Context(), shell.Actor(c)
		mark, done := shell.Mark(c), ""
		var err error
		switch c.FormValue("do") {
		case "draw":
			text, err := period.In(site.Office).DrawPeriods(ctx, a, period.Drawing{
				Pattern: c.FormValue(
					"pattern",
				), First: c.FormValue("first"), Year: c.FormValue("year"), Years: c.FormValue("years"), Leap: c.FormValue("leap"), Names: c.FormValue("names"),
			})
			if err != nil {
				return shell.Settle(c, err, again, "")
			}
			shell.Keep(c)
			return show(c, site, text)
		case "look":
			shell.Keep(c)
			return show(c, site, c.FormValue("list")+"\n")
		case "keep":
			err = period.In(site.Office).KeepPeriods(ctx, a, mark, c.FormValue("list"))
			done = "The periods are kept."
		case "months":
			err = period.In(site.Office).KeepMonths(ctx, a, mark, c.FormValue("month"))
			done = "Periods are calendar months."
		case "due":
			days := make(map[string]string)
			for _, k := range period.DueStatements {
				days[k] = c.FormValue("due." + k)
			}
			err = period.In(site.Office).SetDue(ctx, a, mark, days)
			done = "The days are kept."
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, shell.WithDone("/setup/periods", done))
	}
}
