// Package accounts is the page of Setup on which an administrator invites
// people and says what they may do.
package accounts

import (
	"embed"
	"errors"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/web/shell"
)

//go:embed accounts.html
var files embed.FS

// Template is the page.
var Template = shell.Parse(files, "accounts.html")

// Page is what the template shows.
type Page struct {
	shell.Page
	Roles    []office.Role
	Accounts []account.Account
	Events   []Event
	Asked    []string // roles that are asked for a second factor
	Revision int64
	Link     string // one-time link that was just made
	For      string
}

// Event is something done to an account.
type Event struct{ At, Actor, Account, What string }

// Get lists the accounts.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error { return show(c, site, "", "") }
}

func show(c fiber.Ctx, site *shell.Site, link, whose string) error {
	p := &Page{Page: shell.NewPage(c, site, "Accounts"), Roles: office.Roles, Link: link, For: whose}
	p.Step = "setup"
	list, events, err := account.In(site.Office).Accounts(c.Context(), p.Actor)
	if err != nil {
		return err
	}
	p.Accounts = list
	if p.Asked, p.Revision, err = account.In(site.Office).Required(c.Context()); err != nil {
		return err
	}
	for _, e := range events {
		p.Events = append(
			p.Events,
			Event{time.UnixMilli(e.At).UTC().Format("2 Jan 2006 15:04"), e.Actor, e.Account, e.What},
		)
	}
	return shell.RenderPart(c, Template, "plain", p)
}

// Asks tells whether a role is asked for a second factor.
func (p *Page) Asks(role office.Role) bool { return slices.Contains(p.Asked, string(role)) }

// Post does one thing to one account. One-time links are shown once, in the
// answer itself.
func Post(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		a, ctx := shell.Actor(c), c.Context()
		id, _ := strconv.ParseInt(c.FormValue("account"), 10, 64) // zero is no account's
		projects := strings.FieldsFunc(
			c.FormValue("projects"),
			func(r rune) bool { return r == ',' || r == ' ' || r == ';' },
		)
		role := office.Role(c.FormValue("role"))
		code, whose := "", c.FormValue("login")
		var err error
		switch c.FormValue("do") {
		case "invite":
			code, err = account.In(site.Office).
				Invite(ctx, a, account.Account{Login: c.FormValue("login"), Name: c.FormValue("name"), Role: role, Projects: projects})
		case "reset":
			code, err = account.In(site.Office).ResetPassword(ctx, a, id)
		case "disable", "enable":
			err = account.In(site.Office).Disable(ctx, a, id, c.FormValue("do") == "disable")
		case "role":
			err = account.In(site.Office).SetRole(ctx, a, id, role, projects)
		case "second":
			var roles []string
			for _, r := range c.Request().PostArgs().PeekMulti("asked") {
				roles = append(roles, string(r))
			}
			err = account.In(site.Office).Require(ctx, a, shell.Mark(c), roles)
		default:
			shell.Refuse(c, "The form did not say what to do; nothing was changed.")
			return show(c, site, "", "")
		}
		switch {
		case errors.Is(err, office.ErrRefused):
			shell.Refuse(c, err.Error())
			return show(c, site, "", "")
		case err != nil:
			return err
		case code != "":
			origin := site.Origin
			if origin == "" {
				origin = c.BaseURL()
			}
			return show(c, site, origin+"/welcome/"+code, whose)
		}
		return c.Redirect().Status(fiber.StatusSeeOther).To("/setup/accounts?done=" + c.FormValue("do"))
	}
}
