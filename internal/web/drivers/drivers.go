// Package drivers is the screen of Weigh that tells where overruns and slips
// gather: by which attributes of projects, and how sure that is.
package drivers

import (
	"embed"
	"fmt"
	"html/template"
	"math"
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/driver"
	"turret/internal/core/figure"
	"turret/internal/office/weigh"
	"turret/internal/tell"
	"turret/internal/web/shell"
	"turret/internal/web/trail"
	"turret/internal/web/views"
)

//go:embed drivers.html drivers.css
var files embed.FS

// Template of the screen.
var Template = trail.Parse(files, "drivers.html")

// Style is its style sheet.
var Style = shell.File(files, "drivers.css")

// Page shows drivers.
type Page struct {
	trail.Frame
	Saved    views.Saved
	Found    *weigh.Drivers
	Sentence []shell.Phrase
	Drivers  []Driver
	Values   []Value
	All      *Value
	Rows     []trail.Listed
}

// Driver is an attribute with what it explains.
type Driver struct {
	Title, Link string
	On          bool
	Said        [2]Said // of cost and of dates
}

// Said is what an attribute explains of an outcome, as far as can be said.
type Said struct {
	Share   string
	Picture template.HTML
	Words   string
	Quiet   bool
}

// Value is a value of the attribute with the outcomes of its projects.
type Value struct {
	Name, Link string
	On         bool
	Count      int
	Money      string
	Outcomes   [2]Outcome
}

// Outcome is the mean and the spread of one outcome.
type Outcome struct {
	Mean, Spread, Class string
	Picture             template.HTML
}

// Get answers /drivers.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, answered, err := trail.Open(c, site, Template, "Drivers", "")
		if err != nil || answered {
			return err
		}
		p := &Page{Frame: f}
		if p.Saved, err = views.On(c, f.Frame, "drivers"); err != nil {
			return err
		}
		if p.Found, err = weigh.In(site.Office).Drivers(c.Context(), p.Actor, f.Moment, weigh.DriversAsk{By: p.State.Get("by"), Value: p.State.Get("value")}); err != nil {
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
	for i := range p.Found.All {
		x := &p.Found.All[i]
		d := Driver{
			Title: x.Title,
			Link:  p.With(p.State.With("by", x.Name).With("value", "")),
			On:    x.Name == p.Found.Now.Name,
		}
		for k := range x.Results {
			d.Said[k] = said(&x.Results[k], x.Name == "code" && k == 1)
		}
		p.Drivers = append(p.Drivers, d)
	}
	p.values()
	p.rows()
	p.Sentence = p.say()
}

// said says what an attribute explains, as far as that can be said.
func said(r *driver.Result, none bool) Said {
	share := tell.Ratio(r.Explained, false)
	share = strings.Replace(share, ".0%", "%", 1)
	switch {
	case none:
		return Said{Share: tell.Dash, Words: "a cost code has no dates", Quiet: true}
	case r.Word == driver.Same:
		return Said{Share: tell.Dash, Words: "all have the same", Quiet: true}
	case r.Word == driver.Few:
		return Said{Share: tell.Dash, Words: "too few to say", Quiet: true}
	case r.Word == driver.Chance:
		return Said{
			Share:   share,
			Picture: chart.Explained(r.Explained, "quiet").SVG(),
			Words:   "may be chance",
			Quiet:   true,
		}
	}
	return Said{Share: share, Picture: chart.Explained(r.Explained, "").SVG(), Words: "hardly chance"}
}

// values writes the values of the attribute that is looked at.
func (p *Page) values() {
	d := p.Found.Now
	var low, high [2]float64
	for k := range low {
		low[k], high[k] = math.Inf(1), math.Inf(-1)
		for _, v := range d.Values {
			if g := v.Groups[k]; g != nil {
				low[k], high[k] = min(low[k], g.Mean-g.Spread), max(high[k], g.Mean+g.Spread)
			}
		}
	}
	for i := range d.Values {
		v := &d.Values[i]
		x := Value{
			Name:  v.Value,
			Link:  p.With(p.State.With("by", d.Name).With("value", v.Value)) + "#rows",
			On:    v.Value == p.Found.Value,
			Count: v.Count,
			Money: p.money(v.Money),
		}
		for k, g := range v.Groups {
			if g != nil {
				x.Outcomes[k] = outcome(k, g, d.Results[k].Mean, low[k], high[k])
			} else {
				x.Outcomes[k] = Outcome{Mean: tell.Dash}
			}
		}
		p.Values = append(p.Values, x)
	}
	all := Value{Name: "All", Count: d.Results[0].Count}
	var money int64
	for i := range d.Values {
		money += d.Values[i].Money
	}
	all.Money = p.money(money)
	for k, r := range d.Results {
		if all.Outcomes[k] = (Outcome{Mean: tell.Dash}); r.Count > 0 {
			all.Outcomes[k] = outcome(
				k,
				&driver.Group{Count: r.Count, Mean: r.Mean, Spread: r.Spread},
				r.Mean,
				low[k],
				high[k],
			)
		}
	}
	p.All = &all
}

func (p *Page) money(n int64) string {
	return tell.Thousands.Write(n, p.Moment.Reporting)
}

func outcome(k int, g *driver.Group, all, low, high float64) Outcome {
	class := ""
	if g.Count < weigh.Few {
		class = "quiet"
	}
	o := Outcome{Mean: write(k, g.Mean), Class: class}
	if g.Count > 1 {
		o.Spread = "± " + strings.TrimPrefix(write(k, g.Spread), "+")
	}
	o.Picture = chart.Range(strings.TrimSpace(o.Mean+" "+o.Spread), g.Mean, g.Spread, low, high, all, class).SVG()
	return o
}

// write writes an outcome: cost as a share, dates in working days.
func write(k int, v float64) string {
	if k == 0 {
		return tell.Ratio(v, true)
	}
	return tell.Signed(int(math.Round(v))) + " d"
}

// rows lists what has the value that is looked at.
func (p *Page) rows() {
	for _, r := range p.Found.Rows {
		p.Rows = append(p.Rows, p.List(r, figure.BAC, figure.ComputedOver, figure.FinishSlip))
	}
	code, _, _ := strings.Cut(p.Found.Value, " ")
	for _, x := range p.Found.Parts {
		row := p.List(x.Reading)
		table := p.State.Moment().
			With("of", x.Code).
			With("code", code).
			With("per", "completion").
			With("amounts", "running,plan").
			MoneyPage()
		for _, text := range []string{p.money(x.Plan), p.money(x.Outlook), tell.Share(x.Outlook-x.Plan, x.Plan, true)} {
			row.Figures = append(
				row.Figures,
				trail.LinkedCell{Cell: tell.Cell{Text: text, Known: true}, Link: table, Away: true},
			)
		}
		p.Rows = append(p.Rows, row)
	}
}

// OfCode tells whether the rows are parts of projects on a cost code.
func (p *Page) OfCode() bool { return p.Found.Now.Name == "code" }

// Unit is what money is in.
func (p *Page) Unit() string { return tell.Unit(figure.Money, p.Moment.Reporting) }

// What says what the rows are of.
func (p *Page) What() string {
	return strings.ToLower(p.Found.Now.Title) + " " + p.Found.Value
}

// weight orders what attributes explain, for a sentence: what is clear first, and
// of what may be chance only what would matter.
func weight(r driver.Result) float64 {
	switch {
	case r.Word == driver.Clear:
		return 1 + r.Explained
	case r.Word == driver.Chance && r.Explained >= 0.1:
		return r.Explained
	}
	return 0
}

// say says which attribute overruns go with most, and which slips do.
func (p *Page) say() (out []shell.Phrase) {
	text := func(format string, args ...any) {
		out = append(out, shell.Phrase{Text: fmt.Sprintf(format, args...)})
	}
	if p.Found.Projects == 0 {
		text("No project is like this.")
		return out
	}
	for k, what := range [...]string{"Overruns", "Slips"} {
		var best *weigh.Driver
		for i := range p.Found.All {
			x := &p.Found.All[i]
			if r := x.Results[k]; weight(r) > 0 && (best == nil || weight(r) > weight(best.Results[k])) {
				best = x
			}
		}
		if k > 0 {
			text(" ")
		}
		if best == nil {
			text(
				"%s go with nothing that stands out among %s.",
				what,
				tell.Plural(p.Found.Projects, "project", "projects"),
			)
			continue
		}
		r := best.Results[k]
		text("%s go most with ", what)
		out = append(
			out,
			shell.Phrase{
				Text: strings.ToLower(best.Title),
				Link: p.With(p.State.With("by", best.Name).With("value", "")),
			},
		)
		text(", which explains %s of their spread", strings.Replace(tell.Ratio(r.Explained, false), ".0%", "%", 1))
		if r.Word == driver.Chance {
			text(", though that may be chance.")
			continue
		}
		for _, g := range r.Groups {
			if g.Count >= weigh.Few {
				text(": ")
				out = append(
					out,
					shell.Phrase{
						Text: g.Value,
						Tone: "watch",
						Link: p.With(p.State.With("by", best.Name).With("value", g.Value)) + "#rows",
					},
				)
				text(" with %s on average", write(k, g.Mean))
				break
			}
		}
		text(".")
	}
	return out
}
