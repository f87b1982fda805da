package schedule

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// Link is the page of what a link that is put in, or taken out, would do.
type Link struct {
	Push
	Linking
	Drop bool // it is taken out
}

// Linking is what the fields of a link say.
type Linking struct{ Way, Other, Tie, Lag string }

// Kinds are those of links.
func (Linking) Kinds() []string { return []string{"FS", "SS", "FF", "SF"} }

// linkingOf reads an address, or a form.
func linkingOf(get func(string) string) Linking {
	return Linking{Way: cmp.Or(get("way"), "after"), Other: get("other"), Tie: cmp.Or(get("tie"), "FS"), Lag: get("lag")}
}

// bind is the link between an activity and the other; drop is the project that states it,
// where it is taken out.
func (l Linking) bind(of, drop string) schedule.Bind {
	b := schedule.Bind{Project: drop, From: l.Other, To: of, Type: l.Tie, Lag: l.Lag, Out: drop != ""}
	if l.Way == "before" {
		b.From, b.To = b.To, b.From
	}
	return b
}

// Says are the fields that the form of the page carries on.
func (p *Link) Says() [][2]string {
	return [][2]string{{"way", p.Way}, {"other", p.Other}, {"tie", p.Tie}, {"lag", p.Linking.Lag}, {"drop", p.State.Get("drop")}}
}

// GetLink answers /timeline/link.
func GetLink(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		d, err := frame(c, site, "Link")
		if err != nil {
			return err
		}
		back := d.State
		for _, name := range [...]string{"way", "other", "tie", "lag", "drop", "trail"} {
			back = back.With(name, "")
		}
		p := &Link{Push: Push{Dates: d, Of: d.State.Get("of"), Back: "/timeline?" + back.Query()}, Drop: d.State.Get("drop") != ""}
		p.Linking = linkingOf(func(name string) string { return p.Field(name, p.State.Get(name)) })
		if p.Moment.Empty || p.Of == "" || p.Other == "" && p.Kept == nil {
			return shell.Render(c, LinkTemplate, p)
		}
		bind := p.bind(p.Of, p.State.Get("drop"))
		p.Found, err = schedule.In(site.Office).Bind(c.Context(), p.Actor, p.Moment, bind)
		var wrong *office.Misfit
		switch {
		case errors.As(err, &wrong):
			p.Wrong = cmp.Or(p.Wrong, tell.Capital(wrong.Error()))
			c.Status(fiber.StatusUnprocessableEntity)
			return shell.Render(c, LinkTemplate, p)
		case err != nil:
			return err
		}
		all := p.list()
		p.speakLink(bind)
		if p.Found.Nobody == "" {
			report, err := schedule.In(site.Office).KeepBind(c.Context(), p.Actor, p.Moment, bind, all, p.Moment.Revision(), true)
			if err != nil && !errors.Is(err, office.ErrRefused) {
				return err
			}
			if err != nil {
				p.Wrong = cmp.Or(p.Wrong, err.Error())
			} else {
				p.effects(report)
			}
		}
		return shell.Render(c, LinkTemplate, p)
	}
}

// speakLink says what the link pushes, where, and by how much.
func (p *Link) speakLink(b schedule.Bind) {
	tie := cmp.Or(b.Type, "FS")
	if n, err := strconv.Atoi(strings.TrimSpace(b.Lag)); err == nil && n != 0 {
		tie += " " + days(n)
	}
	verb := "With " + b.To + " after " + b.From + ", " + tie + ", "
	if b.Out {
		verb = "Without the link from " + b.From + " to " + b.To + ", "
	}
	p.say("%s", verb)
	if len(p.Found.Rows) == 0 {
		p.say("no date moves.")
		return
	}
	p.pushes(p.Found.Rows, "")
}

// PostLink states a link, with what is taken of what it pushes.
func PostLink(site *shell.Site) fiber.Handler {
	again := GetLink(site)
	return func(c fiber.Ctx) error {
		d, err := frame(c, site, "Link")
		if err != nil {
			return err
		}
		of := d.State.Get("of")
		bind := linkingOf(func(name string) string { return c.FormValue(name) }).bind(of, c.FormValue("drop"))
		var taken []string
		for _, b := range c.Request().PostArgs().PeekMulti("take") {
			taken = append(taken, string(b))
		}
		if c.FormValue("do") == "only" {
			taken = nil
		}
		_, err = schedule.In(site.Office).KeepBind(c.Context(), d.Actor, d.Moment, bind, taken, shell.Mark(c), false)
		said := fmt.Sprintf("%s is linked with %s", bind.To, bind.From)
		if bind.Out {
			said = fmt.Sprintf("%s is no longer linked with %s", bind.To, bind.From)
		}
		if n := len(taken); n > 0 {
			said += "; " + tell.Plural(n, "activity has other dates", "activities have other dates")
		}
		return shell.Settle(c, err, again, shell.WithDone("/timeline?"+d.State.Moment().With("of", of).With("open", opened(of, taken)).Query(), said+"."))
	}
}

// opened are the projects that are unfolded once something of an activity was stated.
func opened(of string, taken []string) string {
	open := make(map[string]bool)
	for _, k := range append(slices.Clone(taken), of) {
		project, _, _ := strings.Cut(strings.ReplaceAll(k, "|", "/"), "/")
		open[project] = true
	}
	return strings.Join(sorted(open), ",")
}
