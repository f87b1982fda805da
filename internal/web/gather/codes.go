package gather

import (
	"fmt"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/entry"
	"turret/internal/office/intake"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// CodesPage is the tray of codes that nothing matches.
type CodesPage struct {
	shell.Frame
	Waiting []entry.WaitingCode
	Codes   map[string][][2]string // of the office, by column
}

// TitleOf says a column in words.
func (p *CodesPage) TitleOf(column string) string {
	return map[string]string{"project": "Project", "cost_code": "Cost code"}[column]
}

// Sum groups the digits of a sum such as 1200.00 EUR.
func (p *CodesPage) Sum(text string) string {
	amount, currency, _ := strings.Cut(text, " ")
	return tell.Amount(amount, -1) + " " + currency
}

// GetCodes answers /gather/codes.
func GetCodes(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Codes", "")
		if err != nil {
			return err
		}
		f.Step = "gather"
		p := &CodesPage{Frame: f}
		if p.Waiting, p.Codes, err = entry.In(site.Office).WaitingCodes(c.Context(), p.Actor); err != nil {
			return err
		}
		return shell.Render(c, CodesTemplate, p)
	}
}

// PostCodes maps a code and reads again what waited for it.
func PostCodes(site *shell.Site) fiber.Handler {
	again := GetCodes(site)
	return func(c fiber.Ctx) error {
		to := c.FormValue("to")
		if to == "" && c.FormValue("known") == "" {
			shell.Refuse(c, "Choose the code that it stands for.")
			return again(c)
		}
		r, err := intake.In(site.Office).
			MapCode(c.Context(), shell.Actor(c), c.FormValue("column"), c.FormValue("code"), to)
		if err != nil {
			return shell.Settle(c, err, again, "")
		}
		done := fmt.Sprintf("%s read again and taken.", tell.Plural(r.Changes(), "row was", "rows were"))
		if n := len(r.Refusals); n > 0 {
			done += fmt.Sprintf(" %s refused for another reason.", tell.Plural(n, "is", "are"))
		}
		here := shell.StateOf(c).To("/gather/codes")
		return c.Redirect().Status(fiber.StatusSeeOther).To(here + sep(here) + "done=" + url.QueryEscape(done))
	}
}
