// Package account is the page of one's own account: the password, and where
// one is signed in.
package account

import (
	"embed"
	"errors"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/letters"
	"turret/internal/office/typing"
	"turret/internal/web/shell"
)

//go:embed account.html second.html
var files embed.FS

// Template is the page.
var Template = shell.Parse(files, "account.html")

// Page is what the template shows.
type Page struct {
	shell.Page
	Sessions []account.OpenSession
	Wish     letters.Wish
	Wishes   []string
	Second   account.Second
	Unsent   []typing.Form // that they typed into and did not send
}

// Get shows the account.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p := &Page{Page: shell.NewPage(c, site, "Account")}
		p.Step = "account"
		var err error
		if p.Sessions, err = account.In(site.Office).OpenSessions(c.Context(), p.Actor, shell.Session(c)); err != nil {
			return err
		}
		if p.Unsent, err = typing.In(site.Office).Of(c.Context(), p.Actor); err != nil {
			return err
		}
		if p.Second, err = account.In(site.Office).Second(c.Context(), p.Actor); err != nil {
			return err
		}
		p.Wishes = letters.Wishes
		if p.Wish, err = letters.In(site.Office).WishOf(c.Context(), p.Actor); err != nil {
			return err
		}
		return shell.RenderPart(c, Template, "plain", p)
	}
}

// Post changes the password, or ends sessions.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		a, done := shell.Actor(c), ""
		var err error
		switch c.FormValue("do") {
		case "password":
			if c.FormValue("password") != c.FormValue("password2") {
				shell.Refuse(c, "The two new passwords are not the same; type them again.")
				return again(c)
			}
			of := "\x00password of " + a.Login // who sits at another's session guesses no faster than at the door
			if !site.Door.May(c, of) {
				shell.Refuse(c, "That was too many attempts. Wait a minute and try again.")
				c.Status(fiber.StatusTooManyRequests)
				return again(c)
			}
			err, done = account.In(site.Office).
				ChangePassword(c.Context(), a, shell.Session(c), c.FormValue("password0"), c.FormValue("password")),
				"password"
			if err == nil {
				site.Door.Right(c, of)
			}
		case "letters":
			w := letters.Wish{Address: c.FormValue("address"), Letters: c.FormValue("letters")}
			err, done = letters.In(site.Office).SetWish(c.Context(), a, w), "letters"
		case "end":
			err, done = account.In(site.Office).EndSessions(c.Context(), a, c.FormValue("session")), "ended"
		case "everywhere":
			if err = account.In(site.Office).EndSessions(c.Context(), a, ""); err == nil {
				return c.Redirect().Status(fiber.StatusSeeOther).To("/sign-in")
			}
		default:
			shell.Refuse(c, "The form did not say what to do; nothing was changed.")
			return again(c)
		}
		if errors.Is(err, office.ErrRefused) {
			shell.Refuse(c, err.Error())
			return again(c)
		}
		if err != nil {
			return err
		}
		return c.Redirect().Status(fiber.StatusSeeOther).To("/account?done=" + done)
	}
}
