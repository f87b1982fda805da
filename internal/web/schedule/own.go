package schedule

import (
	"html/template"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// ownWidth is the width of the timeline on a project's sheet.
const ownWidth = 1000

// Own is the timeline of one project, as its sheet shows it. Its bars lead to the timeline's
// own page.
type Own struct {
	Picture template.HTML
	Link    string // the timeline with the project unfolded
	Vs      string // the name of the period whose dates stand above the bars; "" is the baseline
	Ties    int    // links among what is shown
	Beyond  int    // activities that are not drawn
}

// OwnLine draws the timeline of a project at a frame's moment; nil where none of its activities
// has a date, or its dates are not looked at.
func OwnLine(c fiber.Ctx, site *shell.Site, f shell.Frame, code string) (*Own, error) {
	f.State, f.Path = f.State.Moment().With("open", code), "/timeline"
	p := &Line{Dates: Dates{Frame: f}}
	var err error
	if p.Found, err = schedule.In(site.Office).Own(c.Context(), f.Actor, f.Moment, code); err != nil || len(p.Found.By[code]) == 0 {
		return nil, err
	}
	span := p.Found.Span()
	if span[0] == 0 {
		return nil, nil
	}
	x := chart.Timeline{
		Title: "Timeline of " + code, Desc: "its activities over time, the baseline above each",
		From: float64(span[0]), To: float64(span[1]), Now: float64(p.Found.AsOf), Ticks: schedule.Ticks(span[0], span[1]),
	}
	if span[1]-span[0] < mostShaded {
		x.Off = p.Found.DaysOff(span[0], span[1])
	}
	at := make(map[string]int)
	list := p.Found.By[code]
	out := &Own{Link: "/timeline?" + f.State.Query(), Vs: p.against(), Ties: len(p.Found.Links)}
	for i := range list {
		if len(x.Rows) >= mostRows {
			out.Beyond = len(list) - i
			break
		}
		at[code+"/"+list[i].Code] = len(x.Rows)
		x.Rows = append(x.Rows, p.row(&list[i]))
	}
	p.ties(&x, at)
	out.Picture = chart.Fit(ownWidth, x.Draw)
	return out, nil
}

// Says tells what stands above the bars.
func (o *Own) Says() string {
	says := "Thin lines above are the baseline"
	if o.Vs != "" {
		says = "Thin lines above are as stated in " + o.Vs
	}
	if o.Ties > 0 {
		says += "; links are drawn, red where the stated dates break them"
	}
	if o.Beyond > 0 {
		says += "; " + tell.Plural(o.Beyond, "activity more is on the timeline", "activities more are on the timeline")
	}
	return says + "."
}
