package planning

import (
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/planning"
	"turret/internal/web/shell"
)

// Template is the page of a part of a plan.
var Template = shell.Parse(files, "sheet.html")

// Page is what it shows. Sheet is nil where there is no such project or part.
type Page struct {
	shell.Page
	Sheet  *planning.Sheet
	Part   string
	Codes  []planning.Choice
	Faults map[string]string // by field
}

// faultsKey is of the faults that a form was refused for.
type faultsKey struct{}

// Get answers /plan/{project}/{part}.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		project, part := shell.Param(c, "project"), shell.Param(c, "part")
		p := &Page{Page: shell.NewPage(c, site, "Plan of "+project), Part: part}
		p.Step = "setup"
		p.Faults = fiber.Locals[map[string]string](c, faultsKey{})
		ctx, room := c.Context(), planning.In(site.Office)
		var err error
		if p.Sheet, err = room.Sheet(ctx, p.Actor, project, part, c.Query("until")); err != nil {
			return err
		}
		if p.Sheet == nil {
			c.Status(fiber.StatusNotFound)
		} else if part == planning.Money {
			if p.Codes, err = room.Codes(ctx, p.Actor); err != nil {
				return err
			}
		}
		return shell.RenderPart(c, Template, "plain", p)
	}
}

// TooMany is the number of rows, where they are more than one page can be typed on; else zero.
func (p *Page) TooMany() int {
	if n := len(p.Sheet.Rows); n > shell.MostTyped {
		return n
	}
	return 0
}

// Link is the address of a part.
func (p *Page) Link(part string) string {
	if part == planning.Money && !p.Sheet.Template {
		return "/amounts/" + url.PathEscape(p.Sheet.Code) + "/plan"
	}
	return "/plan/" + url.PathEscape(p.Sheet.Code) + "/" + part
}

// A row is named by its key behind an equals sign, a new one by its place among the new ones
// behind a plus, so that a field is of the same row when others have come before it.
const (
	known = "="
	fresh = "+"
)

// Name is the name of a field, with a letter that tells what it is of.
func (p *Page) Name(of string, row int, column string) string {
	at := known + p.Sheet.Rows[row].Key
	if at == known {
		first := slices.IndexFunc(p.Sheet.Rows, func(r planning.Row) bool { return r.Key == "" })
		at = fresh + strconv.Itoa(row-first)
	}
	return strings.Join([]string{of, at, column}, ":")
}

// Value is what a cell shows: what was typed where the form is shown again.
func (p *Page) Value(row, column int) string {
	return p.Field(p.Name("f", row, p.Sheet.Columns[column].Name), p.Sheet.Rows[row].Cells[column])
}

// Fault tells why a cell was refused, or "".
func (p *Page) Fault(row int, column string) string { return p.Faults[p.Name("f", row, column)] }

// Mark is the revision that the form was shown at.
func (p *Page) Mark() string { return p.Field("mark", strconv.FormatInt(p.Sheet.Revision, 10)) }

// Post keeps what was typed.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		project, part := shell.Param(c, "project"), shell.Param(c, "part")
		typed, places := typedOf(c)
		faults, err := planning.In(site.Office).Save(c.Context(), shell.Actor(c), shell.Mark(c), project, part, typed)
		if len(faults) > 0 {
			by := make(map[string]string)
			for _, f := range faults {
				by[strings.Join([]string{"f", places[f.Row], column(part, f.Column, &typed[f.Row])}, ":")] = f.Why
			}
			fiber.Locals(c, faultsKey{}, by)
		}
		to := shell.WithDone("/plan/"+url.PathEscape(project)+"/"+part, "It is kept, as one change.")
		if until := c.Query("until"); until != "" {
			to = shell.Adding(to, "until", until)
		}
		return shell.Settle(c, err, again, to)
	}
}

// column is the one of the grid that a fault belongs to: of an amount its period, where
// that can be told.
func column(part, at string, t *planning.Typed) string {
	if part != planning.Money || at == "cost_code" {
		return at
	}
	for c, x := range t.Cells {
		if c != "cost_code" && x.Text != x.Was {
			return c
		}
	}
	return "cost_code"
}

// typedOf reads the rows of a form, and their names on the page.
func typedOf(c fiber.Ctx) (rows []planning.Typed, names []string) {
	at := make(map[string]int)
	for k, v := range c.Request().PostArgs().All() {
		of, rest, _ := strings.Cut(string(k), ":")
		last := strings.LastIndex(rest, ":")
		if of != "f" || last < 0 {
			continue
		}
		row, column := rest[:last], rest[last+1:]
		i, there := at[row]
		if !there {
			i = len(rows)
			at[row] = i
			names = append(names, row)
			key, ok := strings.CutPrefix(row, known)
			if !ok {
				key = "" // it is new
			}
			rows = append(rows, planning.Typed{Key: key, Cells: make(map[string]planning.Cell)})
		}
		rows[i].Cells[column] = planning.Cell{Was: c.FormValue("w:" + rest), Text: string(v)}
	}
	return rows, names
}
