// Package views is the page of saved views: named states of the board, one's
// own and those that others share.
package views

import (
	"embed"
	"errors"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/web/shell"
)

//go:embed views.html
var files embed.FS

// Template is the page.
var Template = shell.Parse(files, "views.html")

// Page is what the template shows.
type Page struct {
	shell.Page
	Views []View
	Query string // of a board that waits for a name
	Other *View  // that the reader keeps under that name already
}

// View is a saved view with its address.
type View struct {
	account.View
	Own    bool
	Link   string
	Screen string // that it is of; "": the board
}

// Get lists the views.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p := &Page{Page: shell.NewPage(c, site, "Saved views"), Query: c.FormValue("query")}
		p.Step = "weigh"
		list, err := account.In(site.Office).Views(c.Context(), p.Actor)
		if err != nil {
			return err
		}
		for _, v := range list {
			x := View{View: v, Own: v.Account == p.Actor.Account, Link: Link(v)}
			if s, _ := parts(v); s != nil {
				x.Screen = s.title
			}
			if p.Query != "" && x.Own && v.Name == strings.TrimSpace(c.FormValue("name")) {
				p.Other = &x
			}
			p.Views = append(p.Views, x)
		}
		return shell.RenderPart(c, Template, "plain", p)
	}
}

// Post saves the board's state, removes a view, or makes one the default.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		a, ctx, to := shell.Actor(c), c.Context(), "/views"
		id, _ := strconv.ParseInt(c.FormValue("view"), 10, 64) // zero is no view's
		var err error
		switch c.FormValue("do") {
		case "save":
			state, page := shell.ParseState(c.FormValue("query")), of(c.FormValue("of"))
			query := ""
			if page != nil {
				for _, part := range page.passing {
					state = state.With(part, "")
				}
				query = "/" + page.name + "?"
			} else {
				state = state.List()
			}
			state = state.With("view", "")
			if c.FormValue("fixed") == "" { // as of whatever period is chosen
				state = state.With("at", "").With("vs", "")
			}
			id, err = account.In(site.Office).
				SaveView(ctx, a, c.FormValue("name"), query+state.Query(), c.FormValue("shared") != "", c.FormValue("seen"))
			if err == nil && page == nil && c.FormValue("first") != "" {
				err = account.In(site.Office).SetDefaultView(ctx, a, id)
			}
			kept := account.View{ID: id, Query: query + state.Query()}
			now := shell.ParseState(c.FormValue("query")).With("view", opened(kept))
			if to = now.Board(); page != nil {
				to = now.Page("/" + page.name)
			}
		case "drop":
			err = account.In(site.Office).DropView(ctx, a, id)
		case "default":
			err = account.In(site.Office).SetDefaultView(ctx, a, id)
		default:
			shell.Refuse(c, "The form did not say what to do; nothing was changed.")
			return again(c)
		}
		var denied *office.Denied
		if errors.Is(err, office.ErrRefused) || errors.As(err, &denied) || errors.As(err, new(*account.Kept)) {
			shell.Refuse(c, err.Error())
			return again(c)
		}
		if err != nil {
			return err
		}
		return c.Redirect().Status(fiber.StatusSeeOther).To(to)
	}
}

// Default gives the address that a bare board opens with; "" where the plain
// board is meant.
func Default(c fiber.Ctx, site *shell.Site) (string, error) {
	state := shell.StateOf(c)
	if state.Arranged() {
		return "", nil
	}
	a := shell.Actor(c)
	id, query, err := account.In(site.Office).DefaultView(c.Context(), a)
	if page, _ := cut(query); err != nil || id == 0 || page != nil {
		return "", err
	}
	out := shell.ParseState(query).With("view", opened(account.View{ID: id, Query: query}))
	for _, part := range [...]string{"at", "vs", "against", "in"} {
		if v := state.Get(part); v != "" {
			out = out.With(part, v)
		}
	}
	return out.Board(), nil
}
