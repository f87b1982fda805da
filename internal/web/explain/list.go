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
	"turret/internal/core/portfolio"
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
	State, Class, By       string
	Missing                []string // sections
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
	r := Row{Code: x.Code, Name: x.Name, Lead: x.Lead, Link: oneOf(p.State, x), State: string(x.State)}
	if x.Group && x.Code == portfolio.Everywhere {
		r.Code, r.Name = "", p.Moment.Everything()
	}
	for _, s := range x.Words.Missing {
		if x.Words.Said {
			r.Missing = append(r.Missing, s.Title)
		}
	}
	if x.State == explain.Agreed {
		r.By = "by " + x.Words.Agreed
	}
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
	if x.Outlook.Known && x.Currency != p.Moment.Reporting {
		r.Outlook.Text += " " + string(x.Currency)
	}
	if x.State == explain.Wanted || x.State == explain.Back {
		r.Class = "due"
	}
	return r
}

// oneOf is the page of the words on a project or group.
func oneOf(s shell.State, x *explain.Text) string {
	if x.Group {
		return s.Scoped("/words/" + url.PathEscape(x.Code))
	}
	return s.Scoped("/explain/" + url.PathEscape(x.Code))
}

func (p *List) speak() {
	say := func(tone, format string, args ...any) {
		p.Sentence = append(p.Sentence, shell.Phrase{Text: fmt.Sprintf(format, args...), Tone: tone})
	}
	n := p.Found.Count
	rest := func() {
		for _, x := range [...]struct {
			state     explain.State
			one, many string
		}{
			{explain.Back, "is sent back to its lead", "are sent back to their leads"},
			{explain.Drafted, "is begun", "are begun"},
			{explain.Ready, "is written", "are written"},
			{explain.Agreed, "is agreed", "are agreed"},
		} {
			if n[x.state] > 0 {
				say("", ", %s", tell.Plural(n[x.state], x.one, x.many))
			}
		}
	}
	switch {
	case p.Moment.Empty:
		return
	case len(p.Found.List) == 0:
		say("", "No words are wanted for %s: nothing stands at Watch or Act, and no standing moved.", p.Moment.Asked.Name)
		return
	case n[explain.Wanted] == 0:
		say("steady", "Nothing waits for first words on %s", p.Moment.Asked.Name)
		rest()
		say("", ".")
		return
	}
	projects, groups := 0, 0
	for i := range p.Found.List {
		switch x := &p.Found.List[i]; {
		case x.State != explain.Wanted:
		case x.Group:
			groups++
		default:
			projects++
		}
	}
	var who []string
	if projects > 0 {
		who = append(who, tell.Plural(projects, "project", "projects"))
	}
	if groups > 0 {
		who = append(who, tell.Plural(groups, "group", "groups"))
	}
	waits := " waits"
	if projects+groups > 1 {
		waits = " wait"
	}
	say("watch", "%s", strings.Join(who, " and ")+waits)
	say("", " for words on %s", p.Moment.Asked.Name)
	rest()
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
func figureOf(id figure.ID, v figure.Value, in money.Currency) string {
	text := tell.Figure(id, v, in, false).Text
	if v.Known && figure.Get(id).Unit == figure.Money {
		text += " " + tell.Unit(figure.Money, in)
	}
	return text
}
