// Package typing keeps what people type into forms as they type it, gives it back with the
// page, and forgets it once it is sent.
package typing

import (
	"encoding/json"
	"net/url"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/typing"
	"turret/internal/web/shell"
)

// Screen is the place of it in the application. It has no page of its own: what waits is
// listed with the account.
func Screen(site *shell.Site) shell.Screen {
	list := func(c fiber.Ctx) error { return c.Redirect().Status(fiber.StatusSeeOther).To("/account") }
	return shell.Screen{Routes: []shell.Route{{Of: shell.Anyone, Path: "/typed", Get: list, Post: Post(site)}}}
}

// Post keeps what a page sends of a form.
func Post(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		at, err := url.Parse(c.FormValue("at"))
		if err != nil || !strings.HasPrefix(at.Path, "/") {
			return fiber.ErrBadRequest
		}
		err = typing.In(site.Office).Keep(c.Context(), shell.Actor(c), typing.Form{
			Place: shell.PlaceOf(at), Form: c.FormValue("form"), Title: c.FormValue("title"), Fields: json.RawMessage(c.FormValue("fields")),
		})
		if shell.Refused(err) {
			return c.Status(fiber.StatusUnprocessableEntity).SendString(err.Error())
		}
		if err != nil {
			return err
		}
		if back := c.FormValue("back"); slices.Contains(lists, back) {
			return c.Redirect().Status(fiber.StatusSeeOther).To(shell.WithDone(back, "What was typed there is dropped."))
		}
		return c.SendStatus(fiber.StatusNoContent)
	}
}

// lists are the pages that list what waits, with a way to drop it.
var lists = []string{"/desk", "/account"}

// sent is the field of a form that tells what is kept of it: its page and itself.
const sent = "_draft"

// Watch gives each page what was typed on it before, and forgets what is sent, unless its
// form is shown again with it.
func Watch(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		ctx, a, room := c.Context(), shell.Actor(c), typing.In(site.Office)
		if c.Method() != fiber.MethodPost {
			at, err := url.Parse(c.OriginalURL())
			if err != nil {
				return c.Next()
			}
			list, err := room.On(ctx, a, shell.PlaceOf(at))
			if err != nil {
				return err
			}
			shell.SetTyped(c, list)
			return c.Next()
		}
		if err := c.Next(); err != nil || c.Response().StatusCode() >= fiber.StatusBadRequest || shell.Again(c) {
			return err
		}
		if !strings.HasPrefix(c.Get(fiber.HeaderContentType), fiber.MIMEApplicationForm) {
			return nil
		}
		place, form, ok := strings.Cut(c.FormValue(sent), " ")
		at, err := url.Parse(place)
		if !ok || err != nil {
			return nil
		}
		return room.Drop(ctx, a, shell.PlaceOf(at), form)
	}
}
