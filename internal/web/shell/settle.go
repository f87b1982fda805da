package shell

import (
	"errors"
	"log/slog"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
)

// Settle answers a form: where what it asks was refused the form is shown
// again with the reason, else the browser goes on to an address.
func Settle(c fiber.Ctx, err error, again fiber.Handler, to string) error {
	if errors.Is(err, office.ErrRefused) {
		if office.IsConflict(err) {
			fiber.Locals(c, shownKey, true)
		}
		var misfit *office.Misfit
		if errors.As(err, &misfit) {
			fiber.Locals(c, wrongAtKey, misfit.Column)
		}
		Refuse(c, err.Error())
		return again(c)
	}
	if fault := office.Fault(err); fault != "" {
		slog.Error("the disk refused", "path", c.Path(), "err", err)
		Refuse(c, fault)
		return again(c)
	}
	if err != nil {
		return err
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}

// Mark is the revision that a form was shown at, so that what another person
// changed since is not overwritten unseen; zero, which has seen nothing, where it
// does not say.
func Mark(c fiber.Ctx) int64 {
	mark, err := strconv.ParseInt(c.FormValue("mark"), 10, 64)
	if err != nil {
		return 0
	}
	return mark
}

// WithDone adds to an address what was done there, which its page tells once.
func WithDone(to, done string) string { return Adding(to, "done", done) }

// Adding adds a part to an address.
func Adding(to, name, value string) string {
	sep := "?"
	if strings.Contains(to, "?") {
		sep = "&"
	}
	return to + sep + name + "=" + url.QueryEscape(value)
}

// Refused tells whether an error is a refusal, whose sentence a page can say.
func Refused(err error) bool { return errors.Is(err, office.ErrRefused) }

// Unclear is the error of a form that does not say what to do.
func Unclear() error {
	return office.Refusef("The form did not say what to do; nothing was changed.")
}

// GoOn sends to another address what asks whether a work is done: the whole page where it is
// one that asks, so that its address is that of what it shows.
func GoOn(c fiber.Ctx, to string) error {
	if c.Get("HX-Request") != "" && c.Get("HX-Boosted") == "" {
		c.Set("HX-Redirect", to)
		return c.SendStatus(fiber.StatusNoContent)
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(to)
}
