package explain

import (
	"context"
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/asking"
	"turret/internal/office/explain"
	"turret/internal/office/stating"
	"turret/internal/web/shell"
)

// pen is what the words of a page are written with.
type pen struct {
	page   func(fiber.Ctx, *shell.Site) (*One, error)
	keep   func(ctx context.Context, typed map[string]office.Typed) error
	drop   func(ctx context.Context) error
	choose func(ctx context.Context, field string, own bool) error
	send   func(ctx context.Context) (done string, err error)
}

// PostOne keeps what is typed on a project, begins a text from the figures, and sends it.
func PostOne(site *shell.Site) fiber.Handler {
	const section = "narratives"
	return func(c fiber.Ctx) error {
		a, s := shell.Actor(c), shell.StateOf(c)
		room, project := stating.In(site.Office), shell.Param(c, "project")
		m, err := site.Office.Moment(c.Context(), a, s.Ask())
		if err != nil {
			return err
		}
		return post(c, site, a, m, project, GetOne(site), pen{
			page: one,
			keep: func(ctx context.Context, typed map[string]office.Typed) error {
				return room.Keep(ctx, a, m, project, section, typed)
			},
			drop: func(ctx context.Context) error { return room.Drop(ctx, a, m, project, section) },
			choose: func(ctx context.Context, field string, own bool) error {
				return room.Choose(ctx, a, m, project, section, field, own)
			},
			send: func(ctx context.Context) (string, error) {
				if _, err := room.Send(ctx, a, m, project, section); err != nil {
					return "", err
				}
				done := "The words of " + project + " are stated."
				answered, err := asking.In(site.Office).Done(ctx, a, m, project, section, "The words are stated anew.")
				if err != nil {
					return "", fmt.Errorf("the words are stated, but the question about them is not answered: %w", err)
				}
				if len(answered) > 0 {
					verb := " is answered."
					if len(answered) > 1 {
						verb = " are answered."
					}
					done += " " + strings.Join(answered, ", ") + verb
				}
				return done, nil
			},
		})
	}
}

// PostGroup does so on a programme or the whole.
func PostGroup(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		a, s := shell.Actor(c), shell.StateOf(c)
		room := explain.In(site.Office)
		m, err := site.Office.Moment(c.Context(), a, groupAsk(c, s))
		if err != nil {
			return err
		}
		return post(c, site, a, m, explain.Of(m), GetGroup(site), pen{
			page: group,
			keep: func(ctx context.Context, typed map[string]office.Typed) error {
				return room.KeepGroup(ctx, a, m, typed)
			},
			drop: func(ctx context.Context) error { return room.DropGroup(ctx, a, m) },
			choose: func(ctx context.Context, field string, own bool) error {
				return room.ChooseGroup(ctx, a, m, field, own)
			},
			send: func(ctx context.Context) (string, error) {
				return "These words are said.", room.SendGroup(ctx, a, m)
			},
		})
	}
}

// post does what a button asks for.
func post(c fiber.Ctx, site *shell.Site, a office.Actor, m *office.Moment, code string, again fiber.Handler, x pen) error {
	ctx := c.Context()
	to := shell.StateOf(c).Page(c.Path())
	do, field, _ := strings.Cut(c.FormValue("do"), " ")
	var err error
	if do == "agree" || do == "disagree" {
		err = explain.In(site.Office).Agree(ctx, a, m, code, c.FormValue("digest"), do == "agree")
		return shell.Settle(c, err, again, to)
	}
	if do != "drop" {
		if err := x.keep(ctx, shell.Fields(c)); err != nil {
			return shell.Settle(c, err, again, to)
		}
	}
	switch do {
	case "keep":
		if shell.Wants(c, "effect") {
			p, err := x.page(c, site)
			if err != nil {
				return err
			}
			return shell.RenderPart(c, OneTemplate, "effect", p)
		}
	case "drop":
		err = x.drop(ctx)
		to = shell.WithDone(to, "What was typed here is dropped.")
	case "own", "theirs":
		err = x.choose(ctx, field, do == "own")
	case "first":
		if err = begin(c, site, x); err == nil {
			to = shell.WithDone(to, "A first text stands in the summary. It is made from the figures, and yours to change.")
		}
	case "send":
		p, wrong := x.page(c, site)
		if wrong != nil {
			return wrong
		}
		if p.First {
			err = office.Refusef("The summary is still the first text, as the figures made it. Say it in words of your own first.")
			break
		}
		var done string
		if done, err = x.send(ctx); err == nil {
			to = shell.WithDone(p.Then, done)
		}
	default:
		err = shell.Unclear()
	}
	return shell.Settle(c, err, again, to)
}

// begin puts a first text into an empty summary.
func begin(c fiber.Ctx, site *shell.Site, x pen) error {
	p, err := x.page(c, site)
	if err != nil {
		return err
	}
	if p.Found == nil {
		return shell.Unclear()
	}
	for _, s := range p.Pen {
		if s.Name != "summary" {
			continue
		}
		if s.Value != "" {
			return office.Refusef("The summary holds words already; a first text is for an empty one.")
		}
		return x.keep(c.Context(), map[string]office.Typed{s.Field: {Was: s.Shown, Text: p.Found.First()}})
	}
	return shell.Unclear()
}
