// Package access has the page of the log of access, and notes there what is refused and taken.
package access

import (
	"embed"
	"errors"
	"net/url"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/access"
	"turret/internal/web/shell"
)

//go:embed access.html
var files embed.FS

// Template is the page.
var Template = shell.Parse(files, "access.html")

// Screen is its place in the application.
func Screen(site *shell.Site) shell.Screen {
	return shell.Screen{
		Routes: []shell.Route{{Path: path, Get: Get(site), Post: Post(site)}},
		Setup:  []shell.Entry{{Path: path, Name: "Access", Order: 101, May: office.MayAdmit}},
	}
}

const path = "/setup/access"

// Page is what the template shows.
type Page struct {
	shell.Page
	*access.Log
	Ask   access.Ask
	Kinds []string
}

// Get answers /setup/access.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p := &Page{Page: shell.NewPage(c, site, "Access"), Kinds: access.Kinds}
		p.Step = "setup"
		p.Ask = access.Ask{Text: c.Query("text"), What: c.Query("what"), From: c.Query("from"), Until: c.Query("until")}
		p.Ask.Before, _ = strconv.ParseInt(c.Query("before"), 10, 64) // none where it is no number
		var err error
		p.Log, err = access.In(site.Office).Log(c.Context(), p.Actor, p.Ask)
		var misfit *office.Misfit
		if errors.As(err, &misfit) {
			p.Wrong, p.WrongAt = misfit.Error(), misfit.Column
			c.Status(fiber.StatusUnprocessableEntity)
			err = nil
		}
		if err != nil {
			return err
		}
		return shell.RenderPart(c, Template, "plain", p)
	}
}

// Older is the address of the entries before those that are shown.
func (p *Page) Older() string {
	q := url.Values{"before": {strconv.FormatInt(p.More, 10)}}
	for name, text := range map[string]string{"text": p.Ask.Text, "what": p.Ask.What, "from": p.Ask.From, "until": p.Ask.Until} {
		if text != "" {
			q.Set(name, text)
		}
	}
	return path + "?" + q.Encode()
}

// Post sets how long the log is kept.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		err := access.In(site.Office).Keep(c.Context(), shell.Actor(c), shell.Mark(c), c.FormValue("days"))
		return shell.Settle(c, err, again, shell.WithDone(path, "It is kept how long the log is."))
	}
}

// Watch notes what is refused to who is signed in, and what they take as a file.
func Watch(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		err := c.Next()
		a, room := shell.Actor(c), access.In(site.Office)
		var fe *fiber.Error
		switch {
		case errors.As(err, new(*office.Denied)), errors.As(err, &fe) && fe.Code == fiber.StatusForbidden:
			room.Note(c.Context(), a, access.Forbidden, c.Method()+" "+c.OriginalURL())
		case err == nil && len(c.Response().Header.Peek(fiber.HeaderContentDisposition)) > 0 && c.Response().StatusCode() == fiber.StatusOK:
			room.Note(c.Context(), a, access.Took, c.OriginalURL())
		}
		return err
	}
}
