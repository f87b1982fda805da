// Package trail is the page that tells how a figure came about: its formula
// with the values in it, its inputs, and the files and rows they came from.
package trail

import (
	"embed"
	"fmt"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/web/shell"
)

//go:embed trail.html trail.css
var files embed.FS

// Template is the page.
var Template = shell.Parse(files, "trail.html")

// Style is the page's style sheet.
var Style = func() string {
	b, err := files.ReadFile("trail.css")
	if err != nil {
		panic(err) // it is embedded
	}
	return string(b)
}()

// Page is what the template shows. Now is nil where there is no such scope or
// figure.
type Page struct {
	shell.Frame
	Scope, Figure string
	Now, Before   *Panel
	Missing       string
}

// Panel is the trail at one period.
type Panel struct {
	Period   string
	Entry    *figure.Entry
	ScopeOf  string // in words
	Link     string // of the project's sheet, or of the board
	Value    shell.Cell
	Formula  []Piece
	With     []Piece
	Inputs   []Input
	Facts    []Fact
	Omitted  int
	Files    []office.SourceFile
	Baseline string
	Drift    string
	Currency string
}

// Piece is a stretch of the formula.
type Piece struct{ Text, Link, Title string }

// Input is an entry that the formula asked for.
type Input struct {
	Title, Symbol, Period, Link string
	Value                       shell.Cell
	Indent                      int
}

// Fact is a row behind a figure.
type Fact struct {
	What, Detail, Period, From, Place, Link string
	Value                                   shell.Cell
	Postings                                []office.Posting
}

// Get answers /trail/{scope}/{figure}.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		scope, name := shell.Param(c, "scope"), shell.Param(c, "figure")
		f, err := shell.NewFrame(c, site, "Trail")
		if err != nil {
			return err
		}
		p := &Page{Frame: f, Scope: scope, Figure: name}
		id, ok := figure.Lookup(name)
		switch {
		case f.Moment.Empty:
			p.Missing = "Nothing is stated yet, so there are no figures."
		case !ok:
			p.Missing = fmt.Sprintf("There is no figure %q.", name)
		default:
			err = p.read(c, site, id)
		}
		if err != nil {
			return err
		}
		if p.Missing != "" {
			c.Status(fiber.StatusNotFound)
		}
		return shell.Render(c, Template, p)
	}
}

func (p *Page) read(c fiber.Ctx, site *shell.Site, id figure.ID) error {
	now, err := site.Office.Trail(c.Context(), site.Actor, p.Moment, false, p.Scope, id)
	if err != nil {
		return err
	}
	if now == nil {
		p.Missing = fmt.Sprintf("There is no project or programme %q.", p.Scope)
		return nil
	}
	p.Title = now.Entry.Title
	p.Now = NewPanel(p.Frame, p.State, p.Moment.Period.Name, p.Scope, now)
	if p.Moment.Vs.Code == "" {
		return nil
	}
	before, err := site.Office.Trail(c.Context(), site.Actor, p.Moment, true, p.Scope, id)
	if err != nil || before == nil {
		return err
	}
	p.Before = NewPanel(p.Frame, p.State.With("at", p.Moment.Vs.Code).With("vs", p.Moment.Period.Code), p.Moment.Vs.Name, p.Scope, before)
	return nil
}

// NewPanel shows a trail.
func NewPanel(f shell.Frame, state shell.State, period, scope string, t *office.Trail) *Panel {
	p := &Panel{Period: period, Entry: t.Entry, Omitted: t.Omitted, Files: t.Files, Drift: t.Drift, Currency: string(t.Currency)}
	p.Value = shell.Format(t.Value, t.Currency, true)
	switch {
	case !t.Scope.Group:
		p.ScopeOf, p.Link = t.Scope.Code+" "+t.Scope.Name, state.Project(scope)
	case scope == "*":
		p.ScopeOf, p.Link = "the whole portfolio", state.Board()
	default:
		p.ScopeOf, p.Link = "programme "+t.Scope.Name, state.Board()
	}
	if t.Against > 0 {
		p.Baseline = fmt.Sprintf("against baseline %d", t.Against)
	} else if f.Moment.Against == portfolio.Original {
		p.Baseline = "against the original baselines"
	}
	pieces := func(list []office.Piece) (out []Piece) {
		for _, x := range list {
			y := Piece{Text: x.Text}
			if x.Entry != nil {
				cell := shell.Format(x.Value, t.Currency, true)
				y.Text, y.Title = cell.Text, x.Entry.Title
				if x.Back == 0 && x.Value.Known {
					y.Link = state.Trail(scope, x.Entry.Name)
				}
			}
			if x.Back > 0 && x.Entry == nil {
				y.Text += fmt.Sprintf(" (%d before)", x.Back)
			}
			out = append(out, y)
		}
		return out
	}
	p.Formula, p.With = pieces(t.Formula), pieces(t.With)
	for _, in := range t.Inputs {
		x := Input{Title: in.Entry.Title, Symbol: in.Entry.Symbol, Period: in.Period, Value: shell.Format(in.Value, t.Currency, true), Indent: in.Depth}
		if in.Own && in.Value.Known {
			x.Link = state.Trail(scope, in.Entry.Name)
		}
		p.Inputs = append(p.Inputs, x)
	}
	for _, x := range t.Facts {
		y := Fact{What: x.What, Detail: x.Detail, Period: x.Period, From: x.From, Place: x.Place, Value: shell.Format(x.Value, t.Currency, true), Postings: x.Postings}
		if x.Scope != "" && x.Value.Known {
			y.Link = state.Trail(x.Scope, t.Entry.Name)
		}
		p.Facts = append(p.Facts, y)
	}
	return p
}
