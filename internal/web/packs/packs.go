// Package packs has the page from which briefs are sent to their readers, and the one at which
// they open them.
package packs

import (
	"cmp"
	"context"
	"embed"
	"fmt"
	"strconv"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/pack"
	"turret/internal/office"
	"turret/internal/office/packs"
	"turret/internal/tell"
	"turret/internal/web/brief"
	"turret/internal/web/shell"
)

//go:embed packs.html shared.html
var files embed.FS

// Template is the page of packs.
var Template = shell.Parse(files, "packs.html")

// Page is what it shows.
type Page struct {
	shell.Frame
	Packs    []packs.Pack
	Begins   []packs.Pack // that can be set up as they come; none for who does not set packs up
	Sent     []packs.Sent
	Of       string // the pack whose sendings are listed, or ""
	Progress string
	Poll     string // address to look at again while something is being sent
}

// Get answers /packs.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Packs", "")
		if err != nil {
			return err
		}
		f.Step = "brief"
		p := &Page{Frame: f, Of: f.State.Get("of")}
		room := packs.In(site.Office)
		if p.Packs, err = room.List(c.Context(), p.Actor, p.Moment); err != nil {
			return err
		}
		if office.MayFound(p.Actor) {
			p.Begins = room.Beginning(p.Moment)
		}
		if p.Sent, err = room.Sent(c.Context(), p.Actor, p.Of); err != nil {
			return err
		}
		if key := c.Query("sending"); key != "" {
			if to, done := p.sending(site, key); done {
				return c.Redirect().Status(fiber.StatusSeeOther).To(to)
			}
		}
		return shell.Render(c, Template, p)
	}
}

// sending looks at a pack that is being sent.
func (p *Page) sending(site *shell.Site, key string) (to string, done bool) {
	here := p.With(p.State)
	job := site.Jobs.Find("send " + key)
	if job == nil {
		return here, true
	}
	if !job.Wait(shell.Patience) {
		p.Progress, p.Poll = job.Text(), shell.Adding(here, "sending", key)
		return "", false
	}
	site.Jobs.Drop("send " + key)
	if job.Err != nil {
		p.Wrong = "Nothing was sent. " + job.Err.Error()
		return "", false
	}
	r := job.Value.(*packs.Result)
	said := fmt.Sprintf("%s to %s.", tell.Plural(r.Briefs, "brief is on its way", "briefs are on their way"), tell.Plural(r.Readers, "reader", "readers"))
	if len(r.Left) > 0 {
		said += " Left out: " + strings.Join(tell.Few(r.Left), "; ") + "."
	}
	return shell.WithDone(here, said), true
}

// Post sends a pack, sends one link anew, or revokes one.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		ctx, a, s := c.Context(), shell.Actor(c), shell.StateOf(c)
		room, to := packs.In(site.Office), s.Page("/packs")
		id, _ := strconv.ParseInt(c.FormValue("id"), 10, 64) // zero is nothing that was sent
		addresses := packs.Addresses{Addresses: site.Post.Addresses, Shared: func(token string) string {
			return cmp.Or(site.Origin, c.BaseURL()) + "/shared/" + token
		}}
		var err error
		switch c.FormValue("do") {
		case "send":
			if err = site.Office.MayBrief(a); err != nil {
				break
			}
			code, at := c.FormValue("pack"), c.FormValue("at")
			key := fmt.Sprintf("%d-%s-%s", a.Account, code, at)
			base := addresses.Shared("")
			addresses.Shared = func(token string) string { return base + token } // the request is over by then
			site.Jobs.Deed(ctx, a.Account, "send "+key, func(ctx context.Context, j *shell.Job) (any, error) {
				return room.Send(ctx, a, code, at, addresses, j.Tell)
			})
			to = shell.Adding(to, "sending", key)
		case "set":
			err = room.Set(ctx, a, c.FormValue("pack"))
			to = shell.WithDone(to, "The pack is set up with you as its reader; say under Setup who else gets it, and when.")
		case "again":
			err = room.Again(ctx, a, id, addresses)
			to = shell.WithDone(to, "It is sent again; the link of before opens nothing any more.")
		case "revoke":
			err = room.Revoke(ctx, a, id)
			to = shell.WithDone(to, "The link is revoked: it opens nothing any more.")
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, to)
	}
}

// When tells when a pack is sent by itself.
func (p *Page) When(w pack.When) string { return cmp.Or(w.String(), "by hand") }

// Scopes names what a pack is of.
func (p *Page) Scopes(list []string) string {
	out := make([]string, len(list))
	for i, s := range list {
		switch s {
		case pack.Everything:
			out[i] = "the whole portfolio"
		case pack.Programmes:
			out[i] = "each programme"
		case pack.Projects:
			out[i] = "each project that runs"
		default:
			out[i] = s
		}
	}
	return strings.Join(out, ", ")
}

// Readers names whom it goes to.
func (p *Page) Readers(list []string) string { return strings.Join(list, ", ") }

// At writes a moment, in milliseconds.
func (p *Page) At(ms int64) string { return time.UnixMilli(ms).UTC().Format("2 Jan 15:04") }

// Why tells on which occasion something was sent; what tells it from others like it is left out.
func (p *Page) Why(occasion string) string {
	said, _, _ := strings.Cut(occasion, ", cut ")
	for _, plain := range []string{"by hand", "again"} {
		if strings.HasPrefix(said, plain+" ") {
			return plain
		}
	}
	return said
}

// Preview is the address of a pack's brief, of its first scope.
func (p *Page) Preview(x packs.Pack) string {
	s := p.State.With("of", "")
	for _, scope := range x.Scopes {
		if scope != pack.Everything && scope != pack.Programmes && scope != pack.Projects {
			s = s.With("of", scope)
			break
		}
	}
	return s.With("pages", strings.Join(x.Pages, ",")).Page("/brief")
}

// SharedTemplate is the page of a brief that is read by its link.
var SharedTemplate = shell.Parse(files, "shared.html")

// SharedPage is what it shows; Shared is nil where the link opens nothing.
type SharedPage struct {
	shell.Page
	Shared *packs.Shared
	Path   string
}

// GetShared answers /shared/TOKEN, to whoever has the link.
func GetShared(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		token := shell.Param(c, "token")
		s, err := packs.In(site.Office).Open(c.Context(), token)
		if err != nil {
			return err
		}
		p := &SharedPage{Page: shell.NewPage(c, site, "A brief"), Shared: s, Path: "/shared/" + token}
		if s == nil {
			c.Status(fiber.StatusNotFound)
		}
		return shell.RenderPart(c, SharedTemplate, "shared", p)
	}
}

// PostShared takes what a reader says of a brief.
func PostShared(site *shell.Site) fiber.Handler {
	again := GetShared(site)
	return func(c fiber.Ctx) error {
		token := shell.Param(c, "token")
		done, err := packs.In(site.Office).Comment(c.Context(), token, c.FormValue("project"), c.FormValue("figure"), c.FormValue("text"))
		if err == nil && done == "" {
			return again(c)
		}
		return shell.Settle(c, err, again, shell.WithDone("/shared/"+token, done))
	}
}

// GetSharedForm answers /shared/TOKEN/FORM: the brief in a form.
func GetSharedForm(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		form := shell.Param(c, "form")
		title, body, err := packs.In(site.Office).Form(c.Context(), shell.Param(c, "token"), form)
		if err != nil {
			return err
		}
		if body == nil {
			return fiber.NewError(fiber.StatusNotFound, "This link opens nothing; it may have ended, or been revoked")
		}
		return shell.Send(c, title+"."+form, brief.Types[form], body)
	}
}

// FormName is what a form is called.
func (p *SharedPage) FormName(form string) string { return brief.FormName(form) }
