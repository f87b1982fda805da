// Package feedback has the page of what readers say of pages and briefs, and of what the office
// answers.
package feedback

import (
	"embed"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/office/feedback"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed feedback.html
var files embed.FS

// Template of the page.
var Template = shell.Parse(files, "feedback.html")

// Page is what it shows.
type Page struct {
	shell.Frame
	Items   []feedback.Item
	About   string // the page that something is said of; "" where none is named
	Open    int
	Answers bool
}

// Get answers /feedback.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Feedback", "")
		if err != nil {
			return err
		}
		f.Step = "questions"
		p := &Page{Frame: f, About: place(c.Query("about")), Answers: office.MayAnswer(f.Actor)}
		if p.Items, err = feedback.In(site.Office).List(c.Context(), p.Actor); err != nil {
			return err
		}
		for _, x := range p.Items {
			if x.Answer == "" {
				p.Open++
			}
		}
		return shell.Render(c, Template, p)
	}
}

// place is an address of this application; "" for any other.
func place(about string) string {
	if !strings.HasPrefix(about, "/") || strings.HasPrefix(about, "//") || strings.ContainsAny(about, "\\\n\r") {
		return ""
	}
	return about
}

// Post says something of a page, or answers.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		ctx, a, room := c.Context(), shell.Actor(c), feedback.In(site.Office)
		to := "/feedback"
		var err error
		switch c.FormValue("do") {
		case "give":
			err = room.Give(ctx, a, place(c.FormValue("about")), c.FormValue("text"))
			to = shell.WithDone(to, "The office has it; its answer comes here.")
		case "answer":
			err = room.Answer(ctx, a, c.FormValue("code"), c.FormValue("answer"))
			to = shell.WithDone(to, "It is answered.")
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, to)
	}
}

// Link is where a piece of feedback leads; "" where it is about no page.
func (*Page) Link(about string) string { return place(about) }

// On writes a day.
func (*Page) On(d calendar.Date) string {
	if d == 0 {
		return ""
	}
	return tell.Date(d)
}
