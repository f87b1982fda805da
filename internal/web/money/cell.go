package money

import (
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/costs"
	"turret/internal/office/money"
	"turret/internal/tell"
	"turret/internal/web/shell"
	"turret/internal/web/trail"
)

// CellPage shows what is behind a cell.
type CellPage struct {
	shell.Frame
	Missing  string
	Cell     *money.Cell
	Amount   string
	Currency string
	Back     string
	Smaller  int    // projects that are not listed
	Rest     string // what they add
	Parts    []Part
	Facts    []trail.Fact
	Sum      string // of what is listed
	Agrees   bool
}

// Part is a project that adds to a cell.
type Part struct{ Code, Name, Amount, Link string }

// GetCell answers /money/cell.
func GetCell(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "What is behind an amount", shell.StateOf(c).Get("of"))
		if err != nil {
			return err
		}
		f.Step = "weigh"
		s := f.State
		p := &CellPage{
			Frame: f,
			Back:  s.With("row", "").With("column", "").With("version", "").With("cause", "").MoneyPage(),
		}
		column, err1 := strconv.Atoi(s.Get("column"))
		version := 0
		if s.Get("version") == "1" {
			version = 1
		}
		if f.Moment.Empty || err1 != nil {
			p.Missing = "The address names no cell of the table."
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, CellTemplate, p)
		}
		p.Cell, err = money.In(site.Office).
			Cell(c.Context(), p.Actor, f.Moment, ask(s), s.Get("row"), column, costs.Measure(s.Get("cause")), version)
		if shell.Refused(err) {
			p.Missing = err.Error()
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, CellTemplate, p)
		}
		if err != nil {
			return err
		}
		write := func(n int64) string { return tell.Units.Write(n, p.Cell.Table.Currency) }
		p.Amount, p.Currency, p.Agrees = write(p.Cell.Amount), string(p.Cell.Table.Currency), p.Cell.Left == 0
		const most = 200 // projects that are listed unless all are asked for
		var rest int64
		for i, x := range p.Cell.Parts {
			if i >= most && s.Get("show") != "all" {
				p.Smaller, rest = p.Smaller+1, rest+x.Amount
				p.Rest = write(rest)
				continue
			}
			p.Parts = append(
				p.Parts,
				Part{
					x.Code,
					x.Name,
					write(x.Amount),
					s.With("of", x.Code).
						With("row", x.Key).
						With("rows", p.rowsOfProject()).
						With("fold", "").
						MoneyCell(),
				},
			)
		}
		if p.Cell.Trail != nil {
			p.Facts = trail.Facts(s, p.Cell.Trail)
		}
		return shell.Render(c, CellTemplate, p)
	}
}

// rowsOfProject are the rows of the table of one project that hold the same.
func (p *CellPage) rowsOfProject() string {
	out := ""
	for _, d := range p.Cell.Table.Dims {
		if d.OfProjects() {
			continue
		}
		if out != "" {
			out += ","
		}
		out += string(d)
	}
	return out
}
