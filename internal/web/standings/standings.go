// Package standings is the page of Weigh about standings that people state or
// set, beside those that are computed.
package standings

import (
	"embed"
	"fmt"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/judge"
	"turret/internal/office/sheet"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

//go:embed standings.html
var files embed.FS

// Template is the page.
var Template = shell.Parse(files, "standings.html")

// Page is what the template shows.
type Page struct {
	shell.Frame
	Sentence   []shell.Phrase
	Apart      []Apart
	Overrides  []Override
	Past       []Override
	Dimensions [][2]string
	Projects   [][2]string
	Until      []office.PeriodInfo
	Standings  []standing.Standing
	Unit       string
}

// Apart is a project whose lead states better than is computed.
type Apart struct {
	Code, Name, Lead, Link, Decides string
	Stated, Computed                chart.Glyph
	Says, Is                        string
	StatedOutlook, Outlook, Gap     tell.Cell
	Set                             bool
	SetLink                         string
}

// Override is a standing that was set.
type Override struct {
	judge.OverrideRow
	Link      string
	Set, Real chart.Glyph
	Ends      string
}

// Get answers /standings.
func Get(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Stated and set", "")
		if err != nil {
			return err
		}
		p := &Page{
			Frame:     f,
			Standings: []standing.Standing{standing.Steady, standing.Watch, standing.Act, standing.Unrated},
		}
		if f.Moment.Empty {
			return shell.Render(c, Template, p)
		}
		p.Unit = tell.Unit(figure.Money, f.Moment.Reporting)
		for _, x := range judge.AllApart(f.Moment) {
			p.Apart = append(p.Apart, p.apart(x))
		}
		list, err := judge.In(site.Office).Overrides(c.Context(), p.Actor, f.Moment)
		if err != nil {
			return err
		}
		for _, x := range list {
			o := Override{
				OverrideRow: x,
				Link:        p.State.Project(x.Code),
				Set:         glyph(x.Standing, x.Dimension),
				Real:        glyph(x.Computed, x.Dimension),
			}
			switch {
			case x.Later:
				o.Ends = "from " + x.From
			case x.Left == 0:
				o.Ends = "with this period"
			default:
				o.Ends = fmt.Sprintf("in %s", tell.Plural(x.Left, "period", "periods"))
			}
			if x.Over {
				p.Past = append(p.Past, o)
			} else {
				p.Overrides = append(p.Overrides, o)
			}
		}
		p.Dimensions, p.Projects, p.Until = f.Moment.DimensionCodes(), f.Moment.ProjectNames(), f.Moment.Ends()
		p.Sentence = p.say()
		return shell.Render(c, Template, p)
	}
}

func glyph(st standing.Standing, what string) chart.Glyph {
	return chart.Glyph{Standing: st, Overall: what == "Overall", What: what}
}

func (p *Page) apart(x judge.Apart) Apart {
	is := x.Computed[standing.Overall]
	write := func(id figure.ID) tell.Cell { return tell.Figure(id, x.Value(id), x.Currency, false) }
	a := Apart{
		Code: x.Code, Name: x.Name, Lead: x.Lead, Link: p.State.Project(x.Code), Stated: glyph(x.Stated, "Overall"), Computed: glyph(is, "Overall"), Says: x.Stated.String(), Is: is.String(),
		StatedOutlook: write(
			figure.EACStated,
		), Outlook: write(figure.EACComputed), Gap: tell.Format(x.Gap, x.Currency, false), Set: x.Override, Decides: sheet.Telling(x.Reading, "").Decides(),
	}
	a.SetLink = p.Turn("of", x.Code) + "#set"
	return a
}

// say tells how many leads state better, and how many standings are set.
func (p *Page) say() []shell.Phrase {
	var out []shell.Phrase
	text := func(format string, args ...any) { out = append(out, shell.Phrase{Text: fmt.Sprintf(format, args...)}) }
	switch n := len(p.Apart); {
	case n == 0:
		text("No lead states better than the figures say.")
	default:
		var gap int64
		for _, x := range judge.AllApart(p.Moment) {
			if x.Gap.Known && !p.Moment.InProject {
				gap += x.Gap.N
			}
		}
		text(
			"%s better than computed",
			tell.Capital(
				tell.Number(n),
			)+map[bool]string{true: " lead states it", false: " projects are stated"}[n == 1],
		)
		if gap > 0 {
			text(
				"; their stated outlooks lie %s below the computed ones",
				tell.Millions(figure.Whole(figure.Money, gap), p.Moment.Reporting),
			)
		}
		text(".")
	}
	holding, soon := 0, 0
	for _, x := range p.Overrides {
		if !x.Later {
			holding++
		}
		if x.Soon {
			soon++
		}
	}
	if holding > 0 {
		text(" %s by an override", tell.Capital(tell.Plural(holding, "standing is set", "standings are set")))
		if soon > 0 {
			text(", ")
			out = append(
				out,
				shell.Phrase{
					Text: map[bool]string{true: "which ends soon", false: tell.Number(soon) + " of which end soon"}[soon == 1 && holding == 1],
					Tone: "watch",
				},
			)
		}
		text(".")
	}
	return out
}

// Chosen tells whether a project is the one that the form is about.
func (p *Page) Chosen(code string) bool {
	return p.Field("project", p.State.Get("of")) == code
}

// Post sets standings and ends them.
func Post(site *shell.Site) fiber.Handler {
	again := Get(site)
	return func(c fiber.Ctx) error {
		ctx, a, s := c.Context(), shell.Actor(c), shell.StateOf(c)
		m, err := site.Office.Moment(ctx, a, s.Ask())
		if err != nil {
			return err
		}
		to := s.Scoped("/standings")
		switch c.FormValue("do") {
		case "set":
			err = judge.In(site.Office).
				Override(ctx, a, m, shell.Mark(c), c.FormValue("project"), c.FormValue("dimension"), c.FormValue("standing"), c.FormValue("until"), c.FormValue("reason"))
			to = shell.WithDone(to, "The standing is set; the computed one stays beside it.")
		case "end":
			err = judge.In(site.Office).
				EndOverride(ctx, a, m, shell.Mark(c), c.FormValue("project"), c.FormValue("dimension"))
			to = shell.WithDone(to, "The override has ended; the computed standing counts again.")
		default:
			err = shell.Unclear()
		}
		return shell.Settle(c, err, again, to)
	}
}
