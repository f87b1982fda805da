// Package forecasts is the screen of Weigh that tells whose forecasts of cost
// have been wrong, and by how much, by how far ahead they were said.
package forecasts

import (
	"cmp"
	"embed"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/forecast"
	"turret/internal/core/money"
	"turret/internal/office/weigh"
	"turret/internal/tell"
	"turret/internal/web/shell"
	"turret/internal/web/views"
)

//go:embed forecasts.html
var files embed.FS

// Template of the screen.
var Template = shell.Parse(files, "forecasts.html")

// Page shows forecast errors.
type Page struct {
	shell.Frame
	Saved    views.Saved
	Found    *weigh.Forecasts
	Sentence []shell.Phrase
	Heads    []Head
	Rows     []Row
	All      *Row
	Pairs    []Pair
	Final    []Pair
	Finishes []Finish
	Finished string // how many projects tell them
	ByLead   bool   // several lead them
}

// Finish is a way to tell a finish, with how far it was off by lead.
type Finish struct {
	Name  string
	Cells []Cell
	By    []Finish // the same by who leads the projects; none where one does
}

// Head is the column of a lead.
type Head struct {
	Text, Link string
	On         bool
}

// Row is a person or a project with errors by lead.
type Row struct {
	Name, Code, Link string
	Person           bool
	Cells            []Cell
	Picture          template.HTML
}

// Cell is the errors at one lead.
type Cell struct {
	Mean, Absolute, Title, Class, Link string
}

// Pair is what one statement said and what came.
type Pair struct {
	Made, Through     string
	Said, Came, Share string
	Class             string
}

// Get answers /forecasts.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Forecasts", "")
		if err != nil {
			return err
		}
		p := &Page{Frame: f}
		if p.Saved, err = views.On(c, f, "forecasts"); err != nil {
			return err
		}
		ahead, err := strconv.Atoi(cmp.Or(p.State.Get("ahead"), "3"))
		if err != nil {
			ahead = 0
		}
		if p.Found, err = weigh.In(site.Office).Forecasts(c.Context(), p.Actor, f.Moment, p.State.Get("of"), ahead); err != nil {
			return err
		}
		if p.Found.Ahead != ahead {
			p.Found.Asked = append(
				p.Found.Asked,
				fmt.Sprintf("Errors are told of 1, 3, 6 and 12 periods ahead, not of %q.", p.State.Get("ahead")),
			)
		}
		if p.State.Get("of") != "" && p.Found.Of == nil {
			c.Status(http.StatusNotFound)
		}
		p.Moment.Notes = append(p.Moment.Notes, p.Found.Asked...)
		if !p.Moment.Empty {
			p.fill()
			if err := p.finishes(c, site); err != nil {
				return err
			}
		}
		return shell.Render(c, Template, p)
	}
}

func (p *Page) fill() {
	for _, x := range p.Found.Say() {
		ph := shell.Phrase{Text: x.Text, Tone: x.Tone}
		if x.To != "" {
			ph.Link = p.With(p.State.With("lead", x.To).With("of", ""))
		}
		p.Sentence = append(p.Sentence, ph)
	}
	most := 0.2
	at := 0
	for k, n := range weigh.Leads {
		on := n == p.Found.Ahead
		if on {
			at = k
		}
		p.Heads = append(p.Heads, Head{fmt.Sprintf("%d ahead", n), p.Turn("ahead", strconv.Itoa(n)), on})
	}
	for _, person := range p.Found.By {
		for _, t := range append(person.Projects, person) {
			e := t.Errors[at]
			most = max(most, e.Absolute+e.Spread)
		}
	}
	most = min(most, 1)
	for _, person := range p.Found.By {
		r := p.row(&person, at, most)
		r.Name, r.Person, r.Link = cmp.Or(
			person.Name,
			"No lead",
		), true, p.With(
			p.State.With("lead", cmp.Or(person.Name, "-")).With("of", ""),
		)
		p.Rows = append(p.Rows, r)
		for i := range person.Projects {
			t := &person.Projects[i]
			r := p.row(t, at, most)
			r.Code, r.Name, r.Link = t.Of.Code, t.Of.Name, p.State.Project(t.Of.Code)+"#measures"
			for k := range r.Cells {
				if r.Cells[k].Mean != tell.Dash {
					r.Cells[k].Link = p.With(p.State.With("of", t.Of.Code).With("ahead", strconv.Itoa(weigh.Leads[k]))) + "#pairs"
				}
			}
			p.Rows = append(p.Rows, r)
		}
	}
	if len(p.Found.By) > 1 {
		r := p.row(&weigh.ForecastTrack{Errors: p.Found.All}, at, most)
		r.Name = "All of them"
		p.All = &r
	}
	if p.Found.Of != nil {
		own := p.Moment.OwnCurrency(p.Found.Of.Code)
		p.Pairs, p.Final = pairs(p.Found.Pairs, own), pairs(p.Found.Final, own)
	}
}

func pairs(list []weigh.ForecastPair, c money.Currency) (out []Pair) {
	for _, x := range list {
		y := Pair{
			Made:    x.Made,
			Through: x.Through,
			Said:    tell.Units.Write(x.Said, c),
			Came:    tell.Units.Write(x.Came, c),
			Share:   tell.Dash,
		}
		if share, ok := x.Error.Share(); ok {
			y.Share = tell.Ratio(share, true)
		}
		out = append(out, y)
	}
	return out
}

func (p *Page) row(t *weigh.ForecastTrack, at int, most float64) (r Row) {
	for i, e := range t.Errors {
		r.Cells = append(r.Cells, cell(e, t.Tone(i)))
	}
	if e := t.Errors[at]; e.Count > 0 {
		r.Picture = chart.Miss(e.Mean, e.Spread, most, t.Tone(at)).SVG()
	}
	return r
}

func cell(e forecast.Summary, tone string) Cell {
	if e.Count == 0 {
		return Cell{Mean: tell.Dash, Title: "No forecast is old enough, or nothing was spent", Class: "quiet"}
	}
	c := Cell{Mean: tell.Ratio(e.Mean, true), Absolute: tell.Ratio(e.Absolute, false), Class: tone}
	c.Title = fmt.Sprintf(
		"%s: mean %s, mean distance %s, standard deviation %s",
		tell.Plural(e.Count, "statement", "statements"),
		c.Mean,
		c.Absolute,
		tell.Ratio(e.Spread, false),
	)
	if e.Count < weigh.Few {
		c.Title = "Too few to say. " + c.Title
	}
	return c
}

// AheadText says the lead that is looked at.
func (p *Page) AheadText() string { return tell.Plural(p.Found.Ahead, "period", "periods") }

// Currency is the currency of the project whose statements are listed.
func (p *Page) Currency() string { return string(p.Moment.OwnCurrency(p.Found.Of.Code)) }

// finishes are the errors of what was told of finishes.
func (p *Page) finishes(c fiber.Ctx, site *shell.Site) error {
	list, n, err := weigh.In(site.Office).Finishes(c.Context(), p.Actor, p.Moment)
	if err != nil || n == 0 {
		return err
	}
	p.Finished = tell.Plural(n, "project that is finished", "projects that are finished")
	for _, f := range list {
		row := Finish{Name: figure.Get(f.ID).Title, Cells: finishCells(f.Errors)}
		for _, x := range f.By {
			row.By = append(row.By, Finish{Name: cmp.Or(x.Name, "Nobody"), Cells: finishCells(x.Errors)})
		}
		if len(row.By) < 2 { //nolint:mnd // one alone is all
			row.By = nil
		}
		p.ByLead = p.ByLead || row.By != nil
		p.Finishes = append(p.Finishes, row)
	}
	return nil
}

// finishCells writes errors in working days.
func finishCells(list []weigh.DayError) (out []Cell) {
	for _, e := range list {
		x := Cell{Mean: tell.Dash, Class: "quiet", Title: "It was not known then"}
		if e.Count > 0 {
			x = Cell{
				Mean: tell.Signed(int(math.Round(e.Mean))) + " d", Absolute: fmt.Sprintf("%.0f d", e.Absolute),
				Title: fmt.Sprintf("%s: mean %.1f, mean distance %.1f working days", tell.Plural(e.Count, "project", "projects"), e.Mean, e.Absolute),
			}
			if e.Count < weigh.Few {
				x.Title, x.Class = "Too few to say. "+x.Title, "quiet"
			}
		}
		out = append(out, x)
	}
	return out
}
