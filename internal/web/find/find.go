// Package find answers the find box: codes, names, people, milestones and
// figures.
package find

import (
	"embed"
	"net/url"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/board"
	"turret/internal/web/shell"
)

//go:embed find.html
var files embed.FS

// Template is the page; its block found is what the box takes.
var Template = shell.Parse(files, "find.html")

// Page is what the template shows.
type Page struct {
	shell.Page
	Query   string
	Results []Result
	More    int
}

// Result is something found, with where it leads.
type Result struct{ Kind, Name, Code, Detail, Link string }

// most is how many results are listed.
const most = 12

// Get answers /find. The address of the page that asks tells the period.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p := &Page{Page: shell.NewPage(c, site, "Find"), Query: c.Query("q")}
		p.State = p.State.With("q", "")
		if here, err := url.Parse(c.Get("HX-Current-URL")); err == nil && here.RawQuery != "" {
			p.State = shell.ParseState(here.RawQuery).Moment()
		}
		list, all, err := board.In(site.Office).Find(c.Context(), p.Actor, p.Query, most)
		if err != nil {
			return err
		}
		p.More = all - len(list)
		for _, f := range list {
			p.Results = append(
				p.Results,
				Result{Kind: f.Kind.String(), Name: f.Name, Code: f.Code, Detail: f.Detail, Link: link(p.State, f)},
			)
		}
		if shell.Wants(c, "found") {
			return shell.RenderPart(c, Template, "found", p)
		}
		return shell.RenderPart(c, Template, "plain", p)
	}
}

func link(s shell.State, f board.Found) string {
	switch f.Kind {
	case board.FoundProject:
		return s.Project(f.Code)
	case board.FoundProgramme:
		return s.With("scope", f.Code).Board()
	case board.FoundFigure:
		return s.Trail("*", f.Code)
	case board.FoundMilestone:
		return s.Project(f.Code) + "#milestones"
	}
	if f.Leads {
		return s.With("lead", f.Name).Board()
	}
	return s.With("q", f.Name).Board()
}
