// Package asking has the pages of questions: all of them, one with its answers, and the
// form that asks one.
package asking

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/calendar"
	"turret/internal/office/asking"
	"turret/internal/office/feedback"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// Template is the list of questions.
var Template = shell.Parse(files, "questions.html")

// Page is what the list shows.
type Page struct {
	shell.Frame
	Threads []asking.Thread
	Of      string // the project that they are of; "": all
	Shows   string // mine, open or all
	Mine    int
	Open    int
	All     int
}

// Feedback tells the office how much of what readers said of pages and briefs is not answered.
func (p *Page) Feedback() string {
	if n := feedback.Waiting(p.Actor, p.Moment); n > 0 {
		return tell.Plural(n, "piece of feedback waits", "pieces of feedback wait") + " for an answer"
	}
	return ""
}

// Get answers /questions.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Questions", "")
		if err != nil {
			return err
		}
		p := &Page{Frame: f, Of: f.State.Get("of"), Shows: f.State.Get("show")}
		p.Step = "questions"
		list, err := asking.In(site.Office).Threads(c.Context(), p.Actor, asking.Which{Project: p.Of})
		if err != nil {
			return err
		}
		for i := range list {
			p.All++
			if !list[i].Closed {
				p.Open++
			}
			if list[i].Mine {
				p.Mine++
			}
		}
		if p.Shows != "all" && p.Shows != "mine" {
			p.Shows = "open"
		}
		for i := range list {
			if t := &list[i]; p.Shows == "all" || p.Shows == "open" && !t.Closed || p.Shows == "mine" && t.Mine {
				p.Threads = append(p.Threads, *t)
			}
		}
		return shell.Render(c, Template, p)
	}
}

// Long tells for how long a question waits.
func (p *Page) Long(since calendar.Date) string {
	return waited(today(p.Site), since)
}

// Answers counts what was said to a question.
func (p *Page) Answers(t asking.Thread) int { return len(t.Said) - 1 }

func waited(today, since calendar.Date) string {
	switch days := int(today - since); {
	case since == 0:
		return ""
	case days <= 0:
		return "since today"
	case days == 1:
		return "since yesterday"
	default:
		return fmt.Sprintf("for %s", tell.Plural(days, "day", "days"))
	}
}
