// Package trend is the screen of one figure over the periods: how it moved, and from where each of
// its values came.
package trend

import (
	"cmp"
	"embed"
	"html/template"

	"github.com/gofiber/fiber/v3"

	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/office/board"
	"turret/internal/tell"
	"turret/internal/web/shell"
	"turret/internal/web/trail"
)

//go:embed trend.html
var files embed.FS

// Template of the screen.
var Template = trail.Parse(files, "trend.html")

// Page is what it shows.
type Page struct {
	trail.Frame
	Found   *board.Trend
	Entry   *figure.Entry
	Figures [][2]string // that can be chosen: name and title
	Of      [][2]string // scopes: code and name
	Wide    template.HTML
	Narrow  template.HTML // for phones
	Rows    []Row         // the latest first
	Now     Row
	Missing string
}

// Row is the figure at a period.
type Row struct {
	Period, Link string
	tell.Cell
	Moved string // since the value before that is known
}

// Get answers /trend.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, answered, err := trail.Open(c, site, Template, "Trend", "")
		if err != nil || answered {
			return err
		}
		f.Step = "weigh"
		p := &Page{Frame: f}
		if p.Moment.Empty {
			return shell.Render(c, Template, p)
		}
		name := cmp.Or(p.State.Get("figure"), figure.Get(figure.EACComputed).Name)
		id, ok := figure.Lookup(name)
		if !ok {
			p.Missing = "There is no figure " + name + "; choose one."
			id = figure.EACComputed
		}
		p.Entry = figure.Get(id)
		for i := range figure.Len() {
			e := figure.Get(figure.ID(i))
			p.Figures = append(p.Figures, [2]string{e.Name, e.Title})
		}
		p.Of = append(p.Of, [2]string{portfolio.Everywhere, p.Moment.Everything()})
		for _, r := range p.Moment.Readings().Rows {
			if r.Code != portfolio.Everywhere && p.Moment.InScope(r) {
				p.Of = append(p.Of, [2]string{r.Code, r.Code + " " + r.Name})
			}
		}
		scope := cmp.Or(p.State.Get("of"), p.Moment.Scope.Code, portfolio.Everywhere)
		m := p.Moment
		if m.Readings().Project(scope) != nil {
			if m, err = site.Office.OfOne(c.Context(), m); err != nil {
				return err
			}
		}
		if p.Found, err = board.In(site.Office).Trend(c.Context(), p.Actor, m, id, scope); err != nil {
			return err
		}
		if p.Found == nil {
			p.Missing = "There is no project or programme " + scope + " to read; choose one."
			c.Status(fiber.StatusNotFound)
			return shell.Render(c, Template, p)
		}
		p.lay(id)
		return shell.Render(c, Template, p)
	}
}

// lay lays out the line and the table beside it.
func (p *Page) lay(id figure.ID) {
	axis := tell.Axis{ID: id, Currency: p.Found.Currency}
	t := tell.Trend(p.Entry.Title+", "+p.Called(), axis, p.Found.Names(), p.Found.Values())
	const wide, narrow = 640, 300
	p.Wide, p.Narrow = t.Draw(wide).SVG(), t.Draw(narrow).SVG()
	var before *figure.Value
	for i := range p.Found.Points {
		x := &p.Found.Points[i]
		r := Row{
			Period: x.Period.Name, Cell: tell.Figure(id, x.Value, p.Found.Currency, false),
			Link: p.State.With("at", x.Period.Code).With("vs", "").Trail(p.Found.Code, p.Entry.Name),
		}
		if before != nil && x.Value.Known {
			r.Moved = tell.Moved(id, *before, x.Value, p.Found.Currency)
		}
		if x.Value.Known {
			before = &x.Value
		}
		p.Rows = append([]Row{r}, p.Rows...)
	}
	p.Now = p.Rows[0]
}

// Called is what the trend is of.
func (p *Page) Called() string {
	if p.Found.Code == portfolio.Everywhere {
		return p.Moment.Everything()
	}
	return p.Found.Name
}

// Unit is what the values are in; "" where they say it.
func (p *Page) Unit() string {
	if p.Entry.Unit == figure.Money {
		return tell.Unit(figure.Money, p.Found.Currency)
	}
	return ""
}

// Put is the address that puts the trend on a page.
func (p *Page) Put() string { return shell.Adding("/page", "add", "/trend?"+p.State.Query()) }

// Chosen is the code of the scope.
func (p *Page) Chosen() string { return p.Found.Code }
