// Package planning has the pages on which a project is made by hand: begun, and its
// activities and plan typed or pasted.
package planning

import (
	"fmt"
	"net/url"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/planning"
	"turret/internal/web/shell"
)

// BeginTemplate is the form of a new project.
var BeginTemplate = shell.Parse(files, "begin.html")

// BeginPage is what it shows.
type BeginPage struct {
	shell.Page
	*planning.Choices
	States [3]State
}

// State is what a new project can be.
type State struct{ Code, Name string }

var states = [3]State{{"active", "runs"}, {"proposed", "is proposed"}, {"template", "is a template, and never runs"}}

// GetBegin answers /begin.
func GetBegin(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p := &BeginPage{Page: shell.NewPage(c, site, "New project"), States: states}
		p.Step = "setup"
		var err error
		if p.Choices, err = planning.In(site.Office).Choices(c.Context(), p.Actor); err != nil {
			return err
		}
		return shell.RenderPart(c, BeginTemplate, "plain", p)
	}
}

// PostBegin begins a project, and goes on to its activities.
func PostBegin(site *shell.Site) fiber.Handler {
	again := GetBegin(site)
	return func(c fiber.Ctx) error {
		b := planning.Beginning{
			Code: c.FormValue("project"), Name: c.FormValue("name"), Programme: c.FormValue("programme"), Lead: c.FormValue("lead"),
			Currency: c.FormValue("currency"), Calendar: c.FormValue("calendar"), Start: c.FormValue("start"),
			Template: c.FormValue("template"), State: c.FormValue("state"),
		}
		err := planning.In(site.Office).Begin(c.Context(), shell.Actor(c), b)
		to := "/plan/" + url.PathEscape(b.Code) + "/" + planning.Activities
		return shell.Settle(c, err, again, shell.WithDone(to, fmt.Sprintf("%s is begun.", b.Code)))
	}
}
