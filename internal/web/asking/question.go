package asking

import (
	"net/url"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/asking"
	"turret/internal/web/shell"
)

// OneTemplate is a question with its answers.
var OneTemplate = shell.Parse(files, "question.html")

// OnePage is what it shows. Thread is nil where there is no such question.
type OnePage struct {
	shell.Frame
	Thread *asking.Thread
	Place  string // address of what it is about
}

// GetOne answers /question/{project}/{question}.
func GetOne(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Question", "")
		if err != nil {
			return err
		}
		p := &OnePage{Frame: f}
		p.Step = "questions"
		p.Thread, err = asking.In(site.Office).Thread(c.Context(), p.Actor, shell.Param(c, "project"), shell.Param(c, "question"))
		if err != nil {
			return err
		}
		if p.Thread == nil {
			c.Status(fiber.StatusNotFound)
		} else {
			p.Title = p.Thread.Question + " on " + p.Thread.Project
			p.Place = placeOf(p.State, p.Thread)
		}
		return shell.Render(c, OneTemplate, p)
	}
}

// placeOf is the address of what a question is about, at its month.
func placeOf(s shell.State, t *asking.Thread) string {
	sheet := "/project/" + url.PathEscape(t.Project)
	at := func(part string) string { return s.To(sheet) + part }
	a := t.About
	if t.States {
		return s.To("/state/" + url.PathEscape(t.Project) + "/" + a.Place)
	}
	switch a.Place {
	case "forecast", "commitment":
		return at("#codes")
	case "narratives":
		return at("#story")
	case "figure":
		return s.Trail(t.Project, url.PathEscape(a.Name))
	case "finding":
		return s.Finding(t.Project, a.Check(), a.Record())
	case "activity", "progress":
		return at("#activities")
	case "risk", "risks":
		return at("#risks")
	}
	return at("")
}

// Long tells for how long it waits.
func (p *OnePage) Long() string { return waited(today(p.Site), p.Thread.Since) }

// PostOne says something to a question, closes it or opens it again.
func PostOne(site *shell.Site) fiber.Handler {
	again := GetOne(site)
	return func(c fiber.Ctx) error {
		ctx, a, s := c.Context(), shell.Actor(c), shell.StateOf(c)
		room, project, question := asking.In(site.Office), shell.Param(c, "project"), shell.Param(c, "question")
		text, to := c.FormValue("text"), s.Question(project, question)
		var err error
		switch c.FormValue("do") {
		case "answer":
			err = room.Answer(ctx, a, project, question, text)
			to = shell.WithDone(to, "It is said, and kept in the project's history.")
		case "close":
			err = room.Settle(ctx, a, project, question, text, true)
			to = shell.WithDone(to, "The question is closed.")
		case "open":
			err = room.Settle(ctx, a, project, question, text, false)
			to = shell.WithDone(to, "The question is open again.")
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, to)
	}
}
