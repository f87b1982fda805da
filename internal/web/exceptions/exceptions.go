// Package exceptions is the screen of Weigh that finds the projects which deserve
// a meeting, each with its reasons in words.
package exceptions

import (
	"embed"
	"fmt"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/exception"
	"turret/internal/core/figure"
	"turret/internal/core/standing"
	"turret/internal/office/brief"
	"turret/internal/office/weigh"
	"turret/internal/tell"
	"turret/internal/web/shell"
	"turret/internal/web/trail"
	"turret/internal/web/views"
)

//go:embed exceptions.html exceptions.css
var files embed.FS

// Template of the screen.
var Template = trail.Parse(files, "exceptions.html")

// Style is its style sheet.
var Style = shell.File(files, "exceptions.css")

// Page shows the exceptions.
type Page struct {
	trail.Frame
	Saved    views.Saved
	Found    *weigh.Exceptions
	Sentence []shell.Phrase
	Chips    []Chip
	Rows     []Row
	Limits   []Limit
	Looks    string // of the kind that is shown
	Left     int    // projects that are not listed
}

// Chip is a kind with the number of projects that it finds.
type Chip struct {
	Text, Hint, Link string
	On               bool
}

// Row is a project with why it is found.
type Row struct {
	trail.Listed
	Stated  *chart.Glyph
	Reasons []Reason
	Open    bool // its words show: a figure of it has its trail beside
}

// Reason is one of them, in words.
type Reason struct {
	Kind, Link string
	Words      []shell.Phrase
}

// Limit is a limit as the form asks for it.
type Limit struct {
	exception.Limit
	Value string
	Off   bool // it does not belong to the kind that is shown
}

// most projects that the page lists, unless all are asked for.
const most = 60

// ask reads what the address asks for.
func ask(s shell.State) weigh.ExceptionAsk {
	a := weigh.ExceptionAsk{Kind: s.Get("cause"), Share: s.Get("by") == "share", Limits: make(map[string]string)}
	for _, x := range exception.AllLimits {
		a.Limits[x.Name] = s.Get(x.Name)
	}
	return a
}

// Get answers /exceptions.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, answered, err := trail.Open(c, site, Template, "Exceptions", "")
		if err != nil || answered {
			return err
		}
		p := &Page{Frame: f}
		if p.Saved, err = views.On(c, f.Frame, "exceptions"); err != nil {
			return err
		}
		if p.Found, err = weigh.In(site.Office).Exceptions(c.Context(), p.Actor, f.Moment, ask(p.State)); err != nil {
			return err
		}
		p.Moment.Notes = append(p.Moment.Notes, p.Found.Asked...)
		if !p.Moment.Empty {
			p.fill()
		}
		return shell.Render(c, Template, p)
	}
}

func (p *Page) fill() {
	p.chips()
	for _, x := range p.Found.Say() {
		ph := shell.Phrase{Text: x.Text, Tone: x.Tone}
		if x.To != "" {
			ph.Link = p.State.Project(x.To)
		}
		p.Sentence = append(p.Sentence, ph)
	}
	list := p.Found.Projects
	if p.State.Get("show") != "all" && len(list) > most {
		p.Left, list = len(list)-most, list[:most]
	}
	for i := range list {
		p.Rows = append(p.Rows, p.row(&list[i]))
	}
	own, _ := exception.Of(p.Found.Kind)
	for _, x := range exception.AllLimits {
		p.Limits = append(
			p.Limits,
			Limit{
				x,
				tell.LimitText(p.Found.Limits[x.Name]),
				p.Found.Kind != "" && !slices.Contains(own.Limits, x.Name),
			},
		)
	}
}

func (p *Page) chips() {
	all := Chip{Text: "All", Link: p.Turn("cause", ""), On: p.Found.Kind == ""}
	p.Chips = append(p.Chips, all)
	for _, k := range p.Found.Kinds {
		on := k.Kind == p.Found.Kind
		p.Chips = append(
			p.Chips,
			Chip{fmt.Sprintf("%s %d", k.Title, k.Count), k.Looks, p.Turn("cause", string(k.Kind)), on},
		)
		if on {
			p.Looks = k.Looks
		}
	}
}

func (p *Page) row(x *weigh.ExceptionProject) Row {
	r := Row{Listed: p.List(x.Reading, figure.ComputedOver, figure.AtStake)}
	if x.HasSaid && x.Stated != x.Standing[standing.Overall] {
		r.Stated = &chart.Glyph{Standing: x.Stated, Small: true, What: "Stated"}
	}
	r.Open = strings.HasPrefix(p.State.Get("trail"), x.Code+"/")
	for _, c := range x.Cases {
		rule, _ := exception.Of(c.Kind)
		reason := Reason{Kind: rule.Title, Link: p.Turn("cause", string(c.Kind))}
		for _, w := range c.Words() {
			ph := shell.Phrase{Text: w.Text, Tone: w.Tone}
			switch {
			case w.States:
				ph.Link = p.Figure(x.Code, figure.Get(w.Figure).Name)
			case w.To == "standing":
				ph.Link = r.Link + "#standing"
			}
			reason.Words = append(reason.Words, ph)
		}
		r.Reasons = append(r.Reasons, reason)
	}
	return r
}

// One tells whether one kind is shown.
func (p *Page) One() bool { return p.Found.Kind != "" }

// Sized tells whether the kind that is shown goes by money or percent.
func (p *Page) Sized() bool { return p.Found.Kind == exception.Over || p.Found.Kind == exception.Under }

// ByShare tells whether it goes by percent.
func (p *Page) ByShare() bool { return p.State.Get("by") == "share" }

// Short says that fewer periods are known than the limits look at.
func (p *Page) Short() string {
	if p.Found.Short < 0 {
		return ""
	}
	return fmt.Sprintf(
		"Only %s before %s known, so what goes over more is not found.",
		tell.Plural(p.Found.Short, "period", "periods"),
		map[bool]string{true: "is", false: "are"}[p.Found.Short == 1],
	)
}

// Limited are the names of the limits.
func limited() (out []string) {
	for _, x := range exception.AllLimits {
		out = append(out, x.Name)
	}
	return out
}

// Carried are the parts of the address that the form of limits carries.
func (p *Page) Carried() [][2]string { return p.Hidden(p.State, append(limited(), "show", "trail")...) }

// Usual is the address of this page with the usual limits.
func (p *Page) Usual() string {
	s := p.State
	for _, name := range limited() {
		s = s.With(name, "")
	}
	return p.With(s)
}

// InProject tells that the address asks for projects' own currencies, which
// exceptions are not read in.
func (p *Page) InProject() bool { return p.Moment.InProject }

// Unit is what money columns are in.
func (p *Page) Unit() string { return tell.Unit(figure.Money, p.Moment.Reporting) }

// Take is the address of the brief with this list in it.
func (p *Page) Take() string {
	s := p.State
	asked := map[string]string{"cause": string(p.Found.Kind), "scope": s.Get("scope"), "against": s.Get("against")}
	for _, name := range []string{"standing", "disagree", "lead", "stage", "state", "q"} {
		asked[name] = s.Get(name)
	}
	if p.ByShare() {
		asked["sort"] = "share"
	}
	for _, x := range exception.AllLimits {
		asked[x.Name] = strings.TrimSpace(s.Get(x.Name))
	}
	return p.IntoBrief(brief.ExceptionsPart(asked), "")
}
