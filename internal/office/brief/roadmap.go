package brief

import (
	"context"
	"net/url"
	"strconv"

	"turret/internal/brief"
	"turret/internal/office"
	"turret/internal/office/schedule"
	"turret/internal/tell"
)

// mostRoad bounds the rows of a roadmap that one leaf shows.
const mostRoad = 60

func roadTitle(url.Values) string { return "Roadmap" }

// RoadmapPart names the page of a brief that shows a roadmap, by the parts of its address:
// group, sort, per, show, scope, vs, against, and what projects are filtered by.
func RoadmapPart(ask map[string]string) string { return askedPage("road:", ask) }

// roadmap is the page of a roadmap, as its screen shows it.
func (w *briefWriter) roadmap(ctx context.Context, p Part, v url.Values) error {
	m, err := w.moment(ctx, v)
	if err != nil {
		return err
	}
	road, err := schedule.In(w.o.Office).Roadmap(ctx, w.a, m, v.Get("group"))
	if err != nil {
		return err
	}
	if len(m.Notes) > 0 {
		return office.Refusef("%s of this brief: %s", p.Title, m.Notes[0])
	}
	road.Ordered(v.Get("sort"))
	years, err := strconv.Atoi(v.Get("per"))
	if err != nil {
		years = 0
	}
	vs := ""
	if m.Vs.Code != "" {
		vs = m.Vs.Name
	}
	blocks := []brief.Block{brief.Head{Text: p.Title, Small: m.Period.Name, Level: 1}, brief.Sentence{Phrases: road.Say(m.Period.Name)}}
	if len(road.Projects) == 0 {
		w.add(brief.Page{Title: p.Title, Wide: p.Wide, Blocks: append(blocks, brief.Words{Text: "No project here has dates to show.", Quiet: true})})
		return nil
	}
	x := road.Timeline(schedule.Drawn{Grouped: v.Get("group") != "none", Between: v.Get("show") != "plain", Years: years, Vs: vs})
	left := len(x.Rows) - mostRoad
	if left > 0 {
		x.Rows = x.Rows[:mostRoad]
		kept := x.Ties[:0]
		for _, t := range x.Ties {
			if t.From < mostRoad && t.To < mostRoad {
				kept = append(kept, t)
			}
		}
		x.Ties = kept
	}
	blocks = append(blocks, brief.Picture{Draw: x.Draw, Width: 1000})
	says := "Thin lines above are the baseline"
	if vs != "" {
		says = "Thin lines above are as stated in " + vs
	}
	says += "; diamonds are raised milestones."
	if left > 0 {
		says += " " + tell.Plural(left, "row more is", "rows more are") + " on the screen."
	}
	w.add(brief.Page{Title: p.Title, Wide: p.Wide, Alone: true, Blocks: append(blocks, brief.Words{Text: says, Quiet: true})})
	return nil
}
