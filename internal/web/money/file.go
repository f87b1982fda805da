package money

import (
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/money"
	"turret/internal/web/shell"
)

// forms are the files that the table is written as.
var forms = map[string]string{
	"xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
	"csv":  "text/csv; charset=utf-8",
	"tsv":  "text/tab-separated-values; charset=utf-8",
}

// File answers /money.xlsx and /money.csv: the table as it is seen.
func File(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		a, s := shell.Actor(c), shell.StateOf(c)
		form := shell.Param(c, "form")
		m, err := site.Office.Moment(c.Context(), a, s.Ask())
		if err != nil {
			return err
		}
		if m.Empty || forms[form] == "" {
			return fiber.NewError(fiber.StatusNotFound)
		}
		body, err := money.In(site.Office).File(c.Context(), a, m, ask(s), form)
		if shell.Refused(err) {
			return fiber.NewError(fiber.StatusNotFound, strings.TrimSuffix(err.Error(), "."))
		}
		if err != nil {
			return err
		}
		return shell.Send(c, "Money "+m.Period.Code+"."+form, forms[form], body)
	}
}
