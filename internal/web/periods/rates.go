package periods

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/period"
	"turret/internal/web/shell"
)

// RatesPage shows the rates of currencies.
type RatesPage struct {
	shell.Frame
	Book *period.RateBook
	From []office.PeriodInfo
}

// GetRates answers /setup/rates.
func GetRates(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Rates", "")
		if err != nil {
			return err
		}
		f.Step = "setup"
		p := &RatesPage{Frame: f}
		if f.Moment.Empty {
			return shell.Render(c, RatesTemplate, p)
		}
		if p.Book, err = period.In(site.Office).Rates(c.Context(), p.Actor, f.Moment); err != nil {
			return err
		}
		p.From = f.Moment.Open()
		return shell.Render(c, RatesTemplate, p)
	}
}

// May tells whether the actor states rates.
func (p *RatesPage) May() bool { return office.MayGather(p.Actor) }

// Cell is a rate with the address of the row that states it.
type Cell struct{ Rate, Link string }

// Cell gives a rate as written.
func (p *RatesPage) Cell(c period.RateCell) Cell {
	x := Cell{Rate: c.Rate}
	if c.Stated && c.Source.File != 0 {
		x.Link = p.State.Moment().Trail("row", fmt.Sprintf("%d.%d", c.Source.File, c.Source.Row))
	}
	return x
}

// PostRates states a rate.
func PostRates(site *shell.Site) fiber.Handler {
	again := GetRates(site)
	return func(c fiber.Ctx) error {
		err := period.In(site.Office).
			SetRate(c.Context(), shell.Actor(c), shell.Mark(c), c.FormValue("currency"), c.FormValue("from"), c.FormValue("set"), c.FormValue("rate"))
		return shell.Settle(
			c,
			err,
			again,
			shell.WithDone("/setup/rates", "The rate is kept; open periods convert by it."),
		)
	}
}
