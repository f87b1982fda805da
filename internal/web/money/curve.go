package money

import (
	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/office/money"
	"turret/internal/web/shell"
)

// draw draws the curve of the row that is chosen: its plan, what is spent, and
// what is stated to come.
func (p *Page) draw(c fiber.Ctx, site *shell.Site) error {
	key := p.State.Get("row")
	if key == "" {
		return nil
	}
	if key == "all" {
		key = ""
	}
	row := p.Table.Find(key)
	if row == nil {
		p.Moment.Notes = append(p.Moment.Notes, "The row whose curve is asked for is not in this table.")
		return nil
	}
	p.CurveOf = row.Name
	if row.Parent == nil {
		p.CurveOf = p.all()
	}
	curve, err := money.In(site.Office).Curve(c.Context(), p.Actor, p.Moment, ask(p.State), key)
	if err != nil {
		return err
	}
	d := curve.Draw(p.Table.Currency, p.Moment.Period.Name, false, func(figure.ID) string { return "" })
	d.Title = "Money over time of " + p.CurveOf
	p.Curve = chart.Fit(650, d.Draw)
	return nil
}
