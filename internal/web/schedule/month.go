package schedule

import (
	"fmt"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/gofiber/fiber/v3"

	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// mostShown is how many events a day of a month shows before it says how many more there are.
const mostShown = 3

// mostOfDay is how many the list of a day tells.
const mostOfDay = 100

// Month is the page of a month.
type Month struct {
	Dates
	Found        *schedule.Month
	Heads        []string
	Weeks        [][]Day
	Earlier      string
	Later        string
	Kinds, Whose []Tab
	File         string
	Sunday       bool
	Turned       string // the address with the week beginning on another day
	Raised       bool
	RaisedTurned string
	Made         string // the address that was just made
	Subscribed   []Subscription
	Days         []Day // those with events, as a list
}

// Day is a day as the page shows it.
type Day struct {
	Number, Name, Holiday string
	Inside, Off, Today    bool
	Events                []Event
	More                  int
	Link                  string // to the list of that day
	All                   []Event
	Left                  int // events beyond those
}

// Event is one event.
type Event struct {
	Code, Name, What, Class, Link, Title string
}

// asked reads what an address asks of a calendar.
func asked(s shell.State) schedule.EventAsk {
	ask := schedule.EventAsk{Month: s.Get("month"), Kind: s.Get("cause"), Who: s.Get("by"), First: time.Monday, Only: s.Get("only")}
	if s.Get("per") == "sunday" {
		ask.First = time.Sunday
	}
	return ask
}

// GetMonth answers /calendar.
func GetMonth(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		d, err := frame(c, site, "Calendar")
		if err != nil {
			return err
		}
		p := &Month{Dates: d}
		ask := asked(d.State)
		if p.Found, err = schedule.In(site.Office).Month(c.Context(), p.Actor, p.Moment, ask); err != nil {
			return err
		}
		if p.Found.Asked != "" {
			p.Moment.Notes = append(p.Moment.Notes, p.Found.Asked)
		}
		if !p.Moment.Empty {
			p.fill(ask)
		}
		p.Made = fiber.Locals[string](c, tokenKey{})
		if err := p.subscriptions(c, site); err != nil {
			return err
		}
		return shell.Render(c, MonthTemplate, p)
	}
}

func (p *Month) fill(ask schedule.EventAsk) {
	m := p.Found
	at := func(month int) string {
		t := time.Date(m.Year, time.Month(month), 1, 0, 0, 0, 0, time.UTC)
		return p.Turn("month", t.Format("2006-01"))
	}
	p.Earlier, p.Later = at(m.Number-1), at(m.Number+1)
	p.Sunday = ask.First == time.Sunday
	p.Turned = p.Turn("per", map[bool]string{false: "sunday", true: ""}[p.Sunday])
	p.Raised = ask.Only == "raised"
	p.RaisedTurned = p.Turn("only", map[bool]string{false: "raised", true: ""}[p.Raised])
	p.File = "/calendar.ics?" + p.State.With("trail", "").With("month", "").Query()
	for k := range 7 {
		p.Heads = append(p.Heads, time.Weekday((int(ask.First) + k) % 7).String()[:3])
	}
	p.speak()
	p.Kinds = append(p.Kinds, Tab{"Everything", p.Turn("cause", ""), ask.Kind == ""})
	for _, k := range schedule.What {
		p.Kinds = append(p.Kinds, Tab{tell.Capital(k), p.Turn("cause", k), ask.Kind == k})
	}
	people := make(map[string]bool)
	for _, week := range m.Weeks {
		var row []Day
		for _, d := range week {
			x := p.day(d)
			row = append(row, x)
			if len(x.All) > 0 && x.Inside {
				if over := len(x.All) - mostOfDay; over > 0 {
					x.All, x.Left = x.All[:mostOfDay], over
				}
				p.Days = append(p.Days, x)
			}
			for _, e := range d.Events {
				people[e.Who()] = true
			}
		}
		p.Weeks = append(p.Weeks, row)
	}
	p.Whose = append(p.Whose, Tab{"Everybody", p.Turn("by", ""), ask.Who == ""})
	for _, who := range sorted(people) {
		p.Whose = append(p.Whose, Tab{who, p.Turn("by", who), ask.Who == who})
	}
}

func (p *Month) speak() {
	m := p.Found
	var said []string
	for _, k := range schedule.What {
		if n := m.Count[k]; n > 0 {
			words := map[string][2]string{
				"starts": {"activity starts", "activities start"}, "due": {"is due", "are due"}, "done": {"was finished", "were finished"},
				"met": {"milestone was met", "milestones were met"}, "missed": {"milestone was missed", "milestones were missed"},
			}[k]
			said = append(said, tell.Plural(n, words[0], words[1]))
		}
	}
	if len(said) == 0 {
		p.say("%sNothing is to come or came in %s.", asOf(m.Schedule, p.Moment.Period.Name), m.Name)
		return
	}
	p.say("%sIn %s %s.", asOf(m.Schedule, p.Moment.Period.Name), m.Name, and(said))
}

func (p *Month) day(d schedule.Day) Day {
	_, _, n := d.Date.Split()
	x := Day{Number: fmt.Sprint(n), Name: tell.Date(d.Date), Holiday: d.Holiday, Inside: d.Inside, Off: d.Off, Today: d.Date == p.Found.AsOf}
	for _, e := range d.Events {
		x.All = append(x.All, p.event(e))
	}
	x.Events = x.All
	if len(x.All) > mostShown {
		x.Events, x.More = x.All[:mostShown-1], len(x.All)-mostShown+1
		x.Link = "#d" + d.Date.String()
	}
	return x
}

func (p *Month) event(e schedule.Event) Event {
	class := map[string]string{"missed": "act", "met": "steady", "done": "steady", "due": "coming", "starts": "begins"}[e.What]
	if e.Raised() {
		class += " raised"
	}
	return Event{
		Code: e.Of.Code, Name: e.Name, What: e.What, Class: class,
		Link:  "/timeline?" + p.State.Moment().With("open", e.Of.Code).With("of", e.Of.Code+"/"+e.Activity.Code).Query(),
		Title: e.Of.Code + " " + e.Of.Name + ": " + e.Name + " " + e.What,
	}
}

// Anchor is where the list tells of a day.
func (d Day) Anchor() string { return "d" + strings.ReplaceAll(d.Name, " ", "") }

// GetFile answers /calendar.ics: all events of the moment's projects as a calendar file (RFC
// 5545), each an all-day event.
func GetFile(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		d, err := frame(c, site, "Calendar")
		if err != nil {
			return err
		}
		events, err := schedule.In(site.Office).Calendar(c.Context(), d.Actor, d.Moment, asked(d.State))
		if err != nil {
			return err
		}
		name := d.Moment.Name
		if d.Moment.Scope.Name != "" {
			name += ", " + d.Moment.Scope.Name
		}
		c.Set(fiber.HeaderContentType, "text/calendar; charset=utf-8")
		c.Set(fiber.HeaderContentDisposition, `attachment; filename="dates.ics"`)
		return c.SendString(Calendar(name, site.Office.Clock(), events))
	}
}

// Calendar writes events as a calendar file, at a moment.
func Calendar(name string, at time.Time, events []schedule.Event) string {
	cal := ics.NewCalendarFor("Turret")
	cal.SetMethod(ics.MethodPublish)
	cal.SetName(name)
	for _, e := range events {
		x := cal.AddEvent(strings.ToLower(fmt.Sprintf("%s-%s-%s@turret", plain(e.Of.Code), plain(e.Activity.Code), e.What)))
		x.SetDtStampTime(at)
		x.SetAllDayStartAt(e.Day.Time())
		x.SetAllDayEndAt((e.Day + 1).Time())
		x.SetSummary(fmt.Sprintf("%s %s: %s %s", e.Of.Code, e.Of.Name, e.Name, e.What))
		x.SetDescription(strings.TrimSuffix(strings.Join([]string{e.Activity.Code, e.Phase, e.Who()}, ", "), ", "))
		x.SetTimeTransparency(ics.TransparencyTransparent)
	}
	return cal.Serialize()
}

// plain writes a code so that an identifier can hold it.
func plain(code string) string {
	return strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || r >= '0' && r <= '9' || r == '-' || r == '.' {
			return r
		}
		return '_'
	}, code)
}
