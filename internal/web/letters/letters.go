// Package letters has the pages of letters: what was sent, when people are reminded, and,
// where a demonstration catches them, the letters themselves.
package letters

import (
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/letters"
	"turret/internal/post"
	"turret/internal/web/shell"
)

// Template is the page of what was sent.
var Template = shell.Parse(files, "letters.html")

// Page is what it shows.
type Page struct {
	shell.Page
	*letters.Log
	Wish letters.Wish // of who reads
}

// Get answers /setup/letters.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p := &Page{Page: shell.NewPage(c, site, "Letters")}
		p.Step = "setup"
		var err error
		if p.Log, err = letters.In(site.Office).Log(c.Context(), p.Actor); err != nil {
			return err
		}
		if p.Wish, err = letters.In(site.Office).WishOf(c.Context(), p.Actor); err != nil {
			return err
		}
		return shell.RenderPart(c, Template, "plain", p)
	}
}

// At writes a moment, in milliseconds; "" for none.
func (p *Page) At(ms int64) string {
	if ms == 0 {
		return ""
	}
	return time.UnixMilli(ms).UTC().Format("2 Jan 15:04")
}

// Post sets when people are reminded, tries letters again, or writes one to try.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		ctx, a, room := c.Context(), shell.Actor(c), letters.In(site.Office)
		var err error
		done := ""
		switch c.FormValue("do") {
		case "remind":
			err, done = room.Remind(ctx, a, shell.Mark(c), c.FormValue("before"), c.FormValue("after")), "The days are kept."
		case "retry":
			err, done = room.Retry(ctx, a), "Those that were given up are tried again."
		case "try":
			err, done = room.Try(ctx, a, site.Post.Addresses), "A letter to you is on its way; the list tells when it was taken."
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, shell.WithDone("/setup/letters", done))
	}
}

// CaughtTemplate is the page of letters that were caught.
var CaughtTemplate = shell.Parse(files, "caught.html")

// CaughtPage is what it shows.
type CaughtPage struct {
	shell.Page
	Letters []post.Caught
}

// GetCaught answers /letters, in demonstrations: nothing leaves them, so whoever tries one
// reads here what would have been sent.
func GetCaught(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		p := &CaughtPage{Page: shell.NewPage(c, site, "Letters that were caught"), Letters: site.Post.Caught()}
		p.Step = "setup"
		return shell.RenderPart(c, CaughtTemplate, "plain", p)
	}
}
