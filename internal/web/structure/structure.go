// Package structure has the pages of Setup about how money is structured: the
// trees of cost codes and cost centres, and the shares that lead from projects to
// centres.
package structure

import (
	"embed"
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/structure"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed structure.html founding.html
var files embed.FS

// Template is the page of each of them.
var Template = shell.Parse(files, "structure.html")

// The pages, by their path.
const (
	codesPath   = "/setup/codes"
	centresPath = "/setup/centres"
	sharesPath  = "/setup/shares"
)

// Paths are the addresses of the pages.
var Paths = []string{codesPath, centresPath, sharesPath}

// Page shows one tree, or the shares.
type Page struct {
	shell.Frame
	*structure.Structure
	Nodes    []structure.Node // of the tree that is shown
	Node     structure.Node   // that the form is about
	What     string           // cost code, cost centre
	From     []office.PeriodInfo
	Projects [][2]string
	Set      structure.ShareSet // that the form is about
}

// Get answers the three pages.
func Get(site *shell.Site, path string) fiber.Handler {
	title := map[string]string{codesPath: "Cost codes", centresPath: "Cost centres", sharesPath: "Shares"}[path]
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, title, "")
		if err != nil {
			return err
		}
		f.Step = "setup"
		p := &Page{Frame: f}
		if p.Structure, err = structure.In(site.Office).Structure(c.Context(), p.Actor); err != nil {
			return err
		}
		of := f.State.Get("of")
		switch path {
		case codesPath:
			p.Nodes, p.What = p.Codes, "cost code"
		case centresPath:
			p.Nodes, p.What = p.Centres, "cost centre"
		default:
			if !f.Moment.Empty {
				p.From, p.Projects = f.Moment.Open(), f.Moment.ProjectNames()
			}
			for _, x := range p.Shares {
				if strings.Join([]string{x.Project, x.Code, x.FromCode}, "~") == of {
					p.Set = x
				}
			}
		}
		for _, n := range p.Nodes {
			if n.Code == of {
				p.Node = n
			}
		}
		return shell.Render(c, Template, p)
	}
}

// May tells whether the actor changes the structure.
func (p *Page) May() bool { return office.MayGather(p.Actor) }

// Say tells what there is.
func (p *Page) Say() string {
	switch {
	case p.What == "":
		if len(p.Shares) == 0 {
			return "No project is shared out: its money stands under the cost centres that its lines name."
		}
		return fmt.Sprintf(
			"%s out to cost centres.",
			tell.Capital(tell.Plural(len(p.Shares), "set shares money", "sets share money")),
		)
	case len(p.Nodes) == 0:
		return fmt.Sprintf("There is no %s yet; add the first, or gather them.", p.What)
	}
	deepest := 0
	for _, n := range p.Nodes {
		deepest = max(deepest, n.Depth+1)
	}
	return fmt.Sprintf(
		"%s in %s.",
		tell.Capital(tell.Plural(len(p.Nodes), p.What, p.What+"s")),
		tell.Plural(deepest, "level", "levels"),
	)
}

// LevelOf is the level that a role reads, as a form has it.
func (p *Page) LevelOf(role office.Role) string {
	if n := p.Levels[role]; n > 0 {
		return fmt.Sprint(n)
	}
	return ""
}

// Roles are the roles that have a level.
func (p *Page) Roles() []office.Role { return office.Roles }

// Edit is the address of this page with its form about a node.
func (p *Page) Edit(code string) string { return p.Turn("of", code) + "#form" }

// EditSet is the address of the shares with the form about a set.
func (p *Page) EditSet(x structure.ShareSet) string {
	return p.Edit(strings.Join([]string{x.Project, x.Code, x.FromCode}, "~"))
}

// Lines are the shares of the set in the form, one a line.
func (p *Page) Lines() string {
	var out []string
	for _, x := range p.Set.Shares {
		out = append(out, x.Centre+" "+x.Percent)
	}
	return strings.Join(out, "\n")
}

// Post changes the structure.
func Post(site *shell.Site, path string) fiber.Handler {
	again := Get(site, path)
	return func(c fiber.Ctx) error {
		ctx, a, mark := c.Context(), shell.Actor(c), shell.Mark(c)
		n := structure.Node{
			Code:    c.FormValue("code"),
			Name:    c.FormValue("name"),
			Parent:  c.FormValue("parent"),
			Reserve: c.FormValue("reserve"),
		}
		var err error
		done := fmt.Sprintf("%s is kept.", n.Code)
		switch do := c.FormValue("do"); {
		case do == "levels" && path == codesPath:
			levels := make(map[office.Role]string)
			for _, r := range office.Roles {
				levels[r] = c.FormValue("level." + string(r))
			}
			err, done = structure.In(site.Office).
				SaveLevels(ctx, a, mark, levels),
				"The levels are kept; money tables by cost code open at them."
		case do != "save":
			err = shell.Unclear()
		case path == codesPath:
			err = structure.In(site.Office).SaveCode(ctx, a, mark, n)
		case path == centresPath:
			err = structure.In(site.Office).SaveCentre(ctx, a, mark, n)
		default:
			err, done = structure.In(site.Office).
				SaveShares(ctx, a, mark, c.FormValue("project"), c.FormValue("code"), c.FormValue("from"), c.FormValue("shares")),
				"The shares are kept; rows by cost centre follow them."
		}
		return shell.Settle(c, err, again, shell.WithDone(path, done))
	}
}
