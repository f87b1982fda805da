// Package maps is the screen of Weigh that sets projects out by two figures, to
// find those that lie apart.
package maps

import (
	"cmp"
	"embed"
	"fmt"
	"html/template"
	"math"
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/office/weigh"
	"turret/internal/tell"
	"turret/internal/web/shell"
	"turret/internal/web/trail"
	"turret/internal/web/views"
)

//go:embed map.html map.css map.js
var files embed.FS

// Template of the screen.
var Template = trail.Parse(files, "map.html")

// Style is its style sheet.
var Style = shell.File(files, "map.css")

// Scripts are its modules, by name.
var Scripts = map[string]string{"map.js": shell.File(files, "map.js")}

// Page shows the map.
type Page struct {
	trail.Frame
	Saved    views.Saved
	Map      *weigh.Map
	Sentence []shell.Phrase
	Picture  template.HTML
	Plot     chart.Plot
	Width    float64
	Height   float64
	Chips    []Chip
	Choices  []Choice
	Legend   []Shade
	Heads    []Head
	Rows     []trail.Listed
	Left     int
	Box      [4]string // as people type it
}

// Chip is a part of the map with the number of projects in it.
type Chip struct {
	Text, Link string
	On         bool
}

// Choice is a figure that the map shows somewhere, among all that it could.
type Choice struct {
	Part, Title string
	Now         figure.ID
	Unit        string
}

// Shade is a step of shade with the values it stands for.
type Shade struct {
	Class, Text string
}

// Head is a column's head.
type Head struct{ Title, Unit string }

// The size of the map, and how many projects are listed below it.
const (
	width, height = 1216.0, 520.0
	most          = 40
)

// Get answers /map.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, answered, err := trail.Open(c, site, Template, "Map", "")
		if err != nil || answered {
			return err
		}
		p := &Page{Frame: f, Width: width, Height: height}
		if p.Saved, err = views.On(c, f.Frame, "map"); err != nil {
			return err
		}
		s := p.State
		if p.Map, err = weigh.In(site.Office).Map(c.Context(), p.Actor, f.Moment, weigh.MapAsk{X: s.Get("x"), Y: s.Get("y"), Size: s.Get("size"), Shade: s.Get("shade"), Box: s.Get("box"), Of: s.Get("of")}); err != nil {
			return err
		}
		p.Moment.Notes = append(p.Moment.Notes, p.Map.Asked...)
		if !p.Moment.Empty {
			p.fill()
		}
		return shell.Render(c, Template, p)
	}
}

// ids are the figures that the map shows: X, Y, size and shade.
func (p *Page) ids() [4]figure.ID {
	return [...]figure.ID{p.Map.X, p.Map.Y, p.Map.Size, p.Map.Shade}
}

func (p *Page) axis(id figure.ID) tell.Axis {
	return tell.Axis{ID: id, Currency: p.Moment.Reporting}
}

func (p *Page) fill() {
	p.draw()
	x, y := p.axis(p.Map.X), p.axis(p.Map.Y)
	if b := p.Map.Box; b != nil {
		p.Box = [4]string{x.Text(b[0]), x.Text(b[1]), y.Text(b[2]), y.Text(b[3])}
	}
	for _, r := range p.Map.Regions() {
		box := strings.Join([]string{x.Text(r.Box[0]), x.Text(r.Box[1]), y.Text(r.Box[2]), y.Text(r.Box[3])}, ",")
		p.Chips = append(
			p.Chips,
			Chip{
				fmt.Sprintf("%s %d", r.Name, r.Count),
				p.With(p.State.With("box", box).With("of", "").With("show", "")) + "#rows",
				p.State.Get("box") == box,
			},
		)
	}
	for i, part := range [...][2]string{{"x", "Along"}, {"y", "Upwards"}, {"size", "Size"}, {"shade", "Shade"}} {
		id := p.ids()[i]
		p.Choices = append(p.Choices, Choice{part[0], part[1], id, p.axis(id).Unit()})
		p.Heads = append(p.Heads, Head{figure.Get(id).Title, tell.Unit(figure.Get(id).Unit, p.Moment.Reporting)})
	}
	list := p.Map.Rows()
	if p.State.Get("show") != "all" && len(list) > most {
		p.Left, list = len(list)-most, list[:most]
	}
	for _, k := range list {
		ids := p.ids()
		p.Rows = append(p.Rows, p.List(k.Reading, ids[:]...))
	}
	p.legend()
	p.Sentence = p.say()
}

func (p *Page) draw() {
	m := p.Map
	draw := chart.Map{
		Title: "Map",
		Box:   m.Box,
		Desc: fmt.Sprintf(
			"%d projects by %s and %s",
			len(m.Marks),
			tell.Lower(figure.Get(m.X).Title),
			tell.Lower(figure.Get(m.Y).Title),
		),
	}
	axis := func(id figure.ID, bounds []weigh.MapBound) chart.MapAxis {
		a := chart.MapAxis{Title: figure.Get(id).Title, Write: p.axis(id).Write}
		for _, b := range bounds {
			a.Bounds = append(a.Bounds, chart.Bound{At: b.At, Class: b.Standing.Code(), Name: b.Standing.String()})
		}
		return a
	}
	draw.X, draw.Y = axis(m.X, m.Bounds[0]), axis(m.Y, m.Bounds[1])
	for i := range m.Marks {
		k := &m.Marks[i]
		mark := chart.MapMark{
			Label:  k.Code,
			X:      k.X,
			Y:      k.Y,
			Size:   k.Size,
			Shade:  k.Class,
			Chosen: k.Inside && (m.Box != nil || m.Picked != ""),
		}
		var said []string
		for _, id := range p.ids() {
			said = append(said, figure.Get(id).Symbol+" "+tell.Figure(id, k.Value(id), k.Currency, false).Text)
		}
		mark.Title = k.Code + " " + k.Name + ": " + strings.Join(said, ", ")
		mark.Link = p.With(p.State.With("of", k.Code).With("box", "").With("show", "")) + "#rows"
		if math.IsNaN(mark.Size) {
			mark.Size = 0
		}
		draw.Marks = append(draw.Marks, mark)
	}
	d, plot := draw.Draw(width, height)
	p.Picture, p.Plot = d.SVG(), plot
}

func (p *Page) legend() {
	a := p.axis(p.Map.Shade)
	used := make([][]float64, 5)
	unknown := false
	for _, k := range p.Map.Marks {
		if k.Class < 0 {
			unknown = true
			continue
		}
		used[k.Class] = append(used[k.Class], k.Shade)
	}
	for i, list := range used {
		if len(list) == 0 {
			continue
		}
		low, high := slices.Min(list), slices.Max(list)
		text := a.Say(low)
		if a.Say(high) != text {
			text += " to " + a.Say(high)
		}
		p.Legend = append(p.Legend, Shade{fmt.Sprintf("s%d", i), text})
	}
	if unknown {
		p.Legend = append(p.Legend, Shade{"unknown", "not known"})
	}
}

// say says how many projects lie beyond the limits, and which farthest.
func (p *Page) say() (out []shell.Phrase) {
	m := p.Map
	if len(m.Marks) == 0 {
		return []shell.Phrase{{Text: "No project has both figures here."}}
	}
	both := 0
	var worst *weigh.MapMark
	for i := range m.Marks {
		if k := &m.Marks[i]; m.Beyond(0, k.X) && m.Beyond(1, k.Y) {
			if both++; worst == nil || k.Size > worst.Size {
				worst = k
			}
		}
	}
	x, y := tell.Lower(figure.Get(m.X).Title), tell.Lower(figure.Get(m.Y).Title)
	switch {
	case len(m.Bounds[0]) == 0 || len(m.Bounds[1]) == 0:
		return []shell.Phrase{
			{Text: fmt.Sprintf("%s by %s and %s.", tell.Plural(len(m.Marks), "project", "projects"), x, y)},
		}
	case both == 0:
		return []shell.Phrase{
			{
				Text: fmt.Sprintf(
					"Of %s none is beyond the limits of both %s and %s.",
					tell.Plural(len(m.Marks), "project", "projects"),
					x,
					y,
				),
			},
		}
	}
	out = append(
		out,
		shell.Phrase{Text: fmt.Sprintf("Of %s ", tell.Plural(len(m.Marks), "project", "projects"))},
		shell.Phrase{Text: tell.Plural(both, "is", "are"), Tone: "act", Link: p.Chips[0].Link},
	)
	out = append(
		out,
		shell.Phrase{Text: fmt.Sprintf(" beyond the limits of both %s and %s; the largest is ", x, y)},
		shell.Phrase{Text: worst.Name, Link: p.State.Project(worst.Code)},
		shell.Phrase{Text: "."},
	)
	return out
}

// Figures are all that a place of the map can show.
func (p *Page) Figures() (out [][2]string) {
	for i := range figure.Len() {
		e := figure.Get(figure.ID(i))
		out = append(out, [2]string{e.Name, e.Title})
	}
	slices.SortFunc(out, func(a, b [2]string) int { return cmp.Compare(a[1], b[1]) })
	return out
}

// Shows tells whether a place of the map shows a figure.
func (c Choice) Shows(name string) bool { return figure.Get(c.Now).Name == name }

// NowTitle is the figure that it shows.
func (c Choice) NowTitle() string { return figure.Get(c.Now).Title }

// Chosen tells whether a part of the map is picked.
func (p *Page) Chosen() bool { return p.Map.Box != nil || p.Map.Picked != "" }

// All is the address of the map with nothing picked.
func (p *Page) All() string { return p.With(p.State.With("box", "").With("of", "").With("show", "")) }

// Ends are the values at the ends of the plot, for the script that draws boxes.
func (p *Page) Ends() string {
	q := p.Plot
	return fmt.Sprintf("%g,%g,%g,%g", q.LowX, q.HighX, q.LowY, q.HighY)
}

// Edges are the edges of the plot in the picture.
func (p *Page) Edges() string {
	q := p.Plot
	return fmt.Sprintf("%g,%g,%g,%g", q.Left, q.Right, q.Top, q.Bottom)
}

// Dated are the axes whose values are days, for that script.
func (p *Page) Dated() string {
	out := ""
	for _, id := range [...]figure.ID{p.Map.X, p.Map.Y} {
		if figure.Get(id).Unit == figure.Day {
			out += "d"
		} else {
			out += "n"
		}
	}
	return out
}

// Off says which projects are not on the map.
func (p *Page) Off() string {
	if len(p.Map.Off) == 0 {
		return ""
	}
	var list []string
	for i, r := range p.Map.Off {
		if i == 8 {
			list = append(list, fmt.Sprintf("%d more", len(p.Map.Off)-i))
			break
		}
		v := r.Value(p.Map.X)
		if v.Known {
			v = r.Value(p.Map.Y)
		}
		list = append(list, r.Code+" ("+v.Why+")")
	}
	return "Not on the map: " + strings.Join(list, ", ") + "."
}

// Sizes says what the size of a mark is.
func (p *Page) Sizes() string { return tell.Lower(figure.Get(p.Map.Size).Title) }

// Shades says what the shade of a mark is.
func (p *Page) Shades() string { return figure.Get(p.Map.Shade).Title }
