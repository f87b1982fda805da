package schedule

import (
	"embed"
	"fmt"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/calendar"
	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed *.html
var files embed.FS

// Templates of the screens.
var (
	LineTemplate       = shell.Parse(files, "tabs.html", "line.html")
	RoadmapTemplate    = shell.Parse(files, "tabs.html", "roadmap.html")
	MonthTemplate      = shell.Parse(files, "tabs.html", "month.html")
	ListsTemplate      = shell.Parse(files, "tabs.html", "lists.html")
	InterfacesTemplate = shell.Parse(files, "tabs.html", "interfaces.html")
	WentTemplate       = shell.Parse(files, "tabs.html", "went.html")
	PushTemplate       = shell.Parse(files, "tabs.html", "push.html")
	LinkTemplate       = shell.Parse(files, "tabs.html", "link.html")
	BacklogTemplate    = shell.Parse(files, "tabs.html", "backlog.html")
)

// Dates is the frame of a page about dates.
type Dates struct {
	shell.Frame
	Sentence []shell.Phrase
}

// Tab is one of the pages about dates.
type Tab struct {
	Name, Link string
	On         bool
}

var tabs = [][2]string{
	{"/timeline", "Timeline"},
	{"/roadmap", "Roadmap"},
	{"/calendar", "Calendar"},
	{"/dates", "What is due"},
	{"/interfaces", "Interfaces"},
	{"/dates/gone", "Where dates have gone"},
	{"/backlog", "Backlogs"},
}

// paths are those of the pages about dates.
func paths() (out []string) {
	for _, t := range tabs {
		out = append(out, t[0])
	}
	return append(out, "/timeline/push", "/timeline/link")
}

func frame(c fiber.Ctx, site *shell.Site, title string) (Dates, error) {
	f, err := shell.NewFrame(c, site, title, "")
	if err != nil || !f.Moment.Empty {
		return Dates{Frame: f}, err
	}
	ask := f.State.Ask() // schedules tell dates before anything is stated for a period
	ask.Own = true
	m, err := site.Office.Moment(c.Context(), f.Actor, ask)
	if err == nil && !m.Empty {
		f.Moment = m
	}
	return Dates{Frame: f}, err
}

// Tabs are the pages about dates, of the same moment and list.
func (d *Dates) Tabs() (out []Tab) {
	list := d.State.List()
	for _, t := range tabs {
		out = append(out, Tab{t[1], list.Page(t[0]), d.Path == t[0]})
	}
	return out
}

// Mark is the revision that the page was shown at, for its forms.
func (d *Dates) Mark() string {
	return d.Field("mark", strconv.FormatInt(d.Moment.Revision(), 10))
}

// against is the name of the compared period, or "".
func (d *Dates) against() string {
	if d.Moment.Vs.Code == "" {
		return ""
	}
	return d.Moment.Vs.Name
}

// say adds a stretch of the sentence.
func (d *Dates) say(format string, args ...any) {
	d.Sentence = append(d.Sentence, shell.Phrase{Text: fmt.Sprintf(format, args...)})
}

// tone adds one with the tone of a standing, and a link.
func (d *Dates) tone(tone, link, format string, args ...any) {
	d.Sentence = append(d.Sentence, shell.Phrase{Text: fmt.Sprintf(format, args...), Tone: tone, Link: link})
}

// asOf says which day counts where the period has not ended.
func asOf(s *schedule.Schedule, period string) string { return s.Today(period) }

// pair writes a span of days.
func pair(x [2]calendar.Date) string { return schedule.Pair(x) }

// days writes working days with their sign: +5 d.
func days(n int) string { return tell.Signed(n) + " d" }

// and lists words in a sentence: a, b and c.
func and(list []string) string {
	if n := len(list) - 1; n > 0 {
		return strings.Join(list[:n], ", ") + " and " + list[n]
	}
	return strings.Join(list, "")
}
