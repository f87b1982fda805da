// Package explain is the step of the month in which figures get their words: whose are wanted,
// those that moved most first, and each beside what the figures say and what was said last.
package explain

import (
	"fmt"
	"html/template"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/standing"
	"turret/internal/office/explain"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// List is the page of the texts of a period.
type List struct {
	shell.Frame
	Found    *explain.Texts
	Sentence []shell.Phrase
	Rows     []Row
}

// Row is a project whose words are wanted or stated.
type Row struct {
	Code, Name, Lead, Link string
	Was, Is                template.HTML
	Moved                  []string
	Outlook                tell.Cell
	State, Class           string
}

// GetList answers /explain.
func GetList(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Explain", "")
		if err != nil {
			return err
		}
		p := &List{Frame: f}
		p.Step = "explain"
		if p.Found, err = explain.In(site.Office).Texts(c.Context(), p.Actor, f.Moment); err != nil {
			return err
		}
		for i := range p.Found.List {
			p.Rows = append(p.Rows, p.row(&p.Found.List[i]))
		}
		p.speak()
		return shell.Render(c, ListTemplate, p)
	}
}

func (p *List) row(x *explain.Text) Row {
	r := Row{Code: x.Code, Name: x.Name, Lead: x.Lead, Link: oneOf(p.State, x.Code), State: string(x.State)}
	overall := x.Standing[standing.Overall]
	r.Is = chart.Glyph{Standing: overall, Overall: true, What: "Overall"}.SVG()
	if x.Was != overall {
		r.Was = chart.Glyph{Standing: x.Was, Overall: true, What: "Overall then"}.SVG()
	}
	for _, c := range x.Moved {
		if c.Dimension != standing.Overall {
			r.Moved = append(r.Moved, fmt.Sprintf("%s %s → %s", tell.Capital(c.Name), c.Was, c.Is))
		}
	}
	r.Outlook = moved(x.Outlook, x.Currency)
	if x.State == explain.Wanted {
		r.Class = "due"
	}
	return r
}

// oneOf is the page of a project's words.
func oneOf(s shell.State, code string) string {
	return s.Scoped("/explain/" + url.PathEscape(code))
}

func (p *List) speak() {
	say := func(tone, format string, args ...any) {
		p.Sentence = append(p.Sentence, shell.Phrase{Text: fmt.Sprintf(format, args...), Tone: tone})
	}
	n := p.Found
	switch {
	case p.Moment.Empty:
		return
	case len(n.List) == 0:
		say("", "No words are wanted for %s: nothing stands at Watch or Act, and no standing moved.", p.Moment.Asked.Name)
		return
	case n.Wanted == 0:
		say("steady", "All that is wanted for %s is written", p.Moment.Asked.Name)
		if n.Drafted > 0 {
			say("", "; %s not sent yet", tell.Plural(n.Drafted, "draft is", "drafts are"))
		}
		say("", ".")
		return
	}
	say("watch", "%s", tell.Plural(n.Wanted, "project waits", "projects wait"))
	say("", " for words on %s", p.Moment.Asked.Name)
	if n.Drafted > 0 {
		say("", ", %s begun", tell.Plural(n.Drafted, "is", "are"))
	}
	if n.Ready > 0 {
		say("", ", %s written", tell.Plural(n.Ready, "is", "are"))
	}
	say("", ". Those that moved most")
	if s := p.Moment.Since.Name; s != "" {
		say("", " since %s", s)
	}
	say("", " come first.")
}

// moved writes an amount with its sign.
func moved(v figure.Value, c money.Currency) tell.Cell {
	x := tell.Format(v, c, false)
	if x.Sign > 0 && strings.Trim(x.Text, "0.,") != "" {
		x.Text = "+" + x.Text
	}
	return x
}

// figureOf names a figure with its value, as words beside a text have it.
func figureOf(id figure.ID, v figure.Value, r *explain.One) string {
	text := tell.Figure(id, v, r.Now.Currency, false).Text
	if v.Known && figure.Get(id).Unit == figure.Money {
		text += " " + tell.Unit(figure.Money, r.Now.Currency)
	}
	return text
}
