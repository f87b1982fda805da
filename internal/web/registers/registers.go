// Package registers has the pages of records that are kept by a form made from the
// declaration of their kind.
package registers

import (
	"embed"
	"net/url"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/structure"
	"turret/internal/record"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed registers.html
var files embed.FS

// Template is the page.
var Template = shell.Parse(files, "registers.html")

// Page lists the records of a kind, beside a form for one of them.
type Page struct {
	shell.Frame
	*structure.Register
	Of map[string]string // cells of the record that the form is about
}

// Beside is where records of the kind are made with more than a form; nil where they are
// not.
func (p *Page) Beside() *shell.Entry {
	if p.Kind == record.Projects.Kind && p.May {
		return &shell.Entry{Path: "/begin", Name: "Begin a project, empty or from a template"}
	}
	return nil
}

// Inside is where more of a record is typed than its form has; nil for nowhere.
func (p *Page) Inside(r structure.RegisterRow) *shell.Entry {
	if p.Kind == record.Projects.Kind && p.May {
		return &shell.Entry{Path: "/plan/" + url.PathEscape(r.Cells["project"]) + "/activities", Name: "plan"}
	}
	return nil
}

// Get answers a register.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		table := shell.Param(c, "table")
		f, err := shell.NewFrame(c, site, "", "")
		if err != nil {
			return err
		}
		f.Step = "setup"
		p := &Page{Frame: f}
		if p.Register, err = structure.In(site.Office).Register(c.Context(), p.Actor, table); shell.Refused(err) {
			return fiber.NewError(fiber.StatusNotFound)
		} else if err != nil {
			return err
		}
		p.Title = p.Form.Title
		for _, r := range p.Rows {
			if p.Key(r) == f.State.Get("of") {
				p.Of = r.Cells
			}
		}
		return shell.Render(c, Template, p)
	}
}

// Key joins what tells a record from others.
func (p *Page) Key(r structure.RegisterRow) string {
	var out []string
	for _, c := range p.Columns {
		if c.Key {
			out = append(out, r.Cells[c.Name])
		}
	}
	return strings.Join(out, "~")
}

// Edit is the address of this page with its form about a record.
func (p *Page) Edit(r structure.RegisterRow) string { return p.Turn("of", p.Key(r)) + "#form" }

// Fields are the fields of the form. Where one refers to other records, those that there
// are stand beside it.
func (p *Page) Fields() []shell.Field {
	fields := p.FieldsOf(p.Kind, p.Of)
	for i := range p.Kind.Columns {
		fields[i].Among = p.Among[p.Kind.Columns[i].Name]
	}
	return fields
}

// mostColumns is how many columns the list shows: the form has all.
const mostColumns = 7

// Shown are the columns of the list: of those that any record fills, the first.
func (p *Page) Shown() (out []record.Column) {
	for _, c := range p.Kind.Columns {
		filled := c.Key || slices.ContainsFunc(p.Rows, func(r structure.RegisterRow) bool { return r.Cells[c.Name] != "" })
		if filled && len(out) < mostColumns {
			out = append(out, c)
		}
	}
	return out
}

// Head is what the page calls a column.
func (p *Page) Head(c record.Column) string {
	return tell.Capital(strings.ReplaceAll(c.Name, "_", " "))
}

// Say tells what there is.
func (p *Page) Say() string {
	if len(p.Rows) == 0 {
		return "There is no " + p.One + " yet. " + p.Form.Says
	}
	return tell.Capital(tell.Plural(len(p.Rows), p.One, p.Name)) + ". " + p.Form.Says
}

// Post keeps a record.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		table := shell.Param(c, "table")
		err := structure.In(site.Office).SaveRecord(c.Context(), shell.Actor(c), shell.Mark(c), table, shell.Cells(c))
		return shell.Settle(c, err, again, shell.WithDone("/setup/records/"+table, "It is kept."))
	}
}
