// Package taking writes a table of a page as a spreadsheet: as it is shown, with its numbers as
// numbers.
package taking

import (
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/export"
	"turret/internal/web/shell"
)

// Screen is the place of this in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{Routes: []shell.Route{{Of: shell.Anyone, Path: "/take", Get: Get, Post: Post(site)}}}
}

// longest is how many bytes a table has at most.
const longest = 4 << 20

// Get leads to the board: a table is taken from its page.
func Get(c fiber.Ctx) error { return c.Redirect().Status(fiber.StatusSeeOther).To("/board") }

// Post answers with the table that it is sent, as comma-separated text, as a spreadsheet.
func Post(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		name, text := c.FormValue("name"), c.FormValue("table")
		if text == "" || len(text) > longest {
			return fiber.NewError(fiber.StatusUnprocessableEntity, "There is no table to take, or it is too large; take it as CSV")
		}
		body, err := export.Taken(name, text, site.Office.Clock().UTC().Truncate(time.Second))
		if shell.Refused(err) {
			return fiber.NewError(fiber.StatusUnprocessableEntity, err.Error())
		}
		if err != nil {
			return err
		}
		return shell.Send(c, name+".xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", body)
	}
}
