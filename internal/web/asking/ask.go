package asking

import (
	"github.com/gofiber/fiber/v3"

	"turret/internal/core/calendar"
	"turret/internal/office/asking"
	"turret/internal/web/shell"
)

// AskTemplate is the form of a question.
var AskTemplate = shell.Parse(files, "ask.html")

// AskPage is what it shows. Draft is nil where there is no such project.
type AskPage struct {
	shell.Frame
	Draft  *asking.Draft
	Listed bool // what it is about can be chosen anew
}

// GetAsk answers /ask/{project}.
func GetAsk(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Ask", "")
		if err != nil {
			return err
		}
		p := &AskPage{Frame: f}
		p.Step = "questions"
		about := p.Field("about", c.Query("about"))
		if p.Draft, err = asking.In(site.Office).Draft(c.Context(), p.Actor, shell.Param(c, "project"), about); err != nil {
			return err
		}
		if p.Draft == nil {
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, AskTemplate, p)
		}
		for _, g := range p.Draft.Askable {
			for _, x := range g.Of {
				p.Listed = p.Listed || x.Text == p.Draft.About.Text
			}
		}
		return shell.Render(c, AskTemplate, p)
	}
}

// PostAsk puts the question.
func PostAsk(site *shell.Site) fiber.Handler {
	again := GetAsk(site)
	return func(c fiber.Ctx) error {
		ctx, a, s := c.Context(), shell.Actor(c), shell.StateOf(c)
		m, err := site.Office.Moment(ctx, a, s.Ask())
		if err != nil {
			return err
		}
		project := shell.Param(c, "project")
		code, err := asking.In(site.Office).Ask(ctx, a, m, asking.Question{
			Project: project, About: c.FormValue("about"), To: c.FormValue("to"), Text: c.FormValue("text"),
		})
		return shell.Settle(c, err, again, shell.WithDone(s.Question(project, code), "It is asked. It waits until it is answered, and stays open until it is closed."))
	}
}

func today(site *shell.Site) calendar.Date { return calendar.DateIn(site.Office.Clock()) }
