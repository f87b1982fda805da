package schedule

import (
	"html/template"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/brief"
	"turret/internal/office/schedule"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// Roadmap is the page of the roadmap.
type Roadmap struct {
	Line
	Road    *schedule.Road
	By      []Tab
	Sorts   []Tab
	Spans   []Tab
	Table   []RoadRow
	Between bool
}

// RoadRow is a project in the table that says the same.
type RoadRow struct {
	Code, Name, Link, Stage, Planned, Current, Slip, Next, Class string
	Group                                                        string
	Glyph                                                        template.HTML
}

// GetRoadmap answers /roadmap.
func GetRoadmap(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		d, err := frame(c, site, "Roadmap")
		if err != nil {
			return err
		}
		p := &Roadmap{Line: Line{Dates: d}}
		by := p.State.Get("group")
		if p.Road, err = schedule.In(site.Office).Roadmap(c.Context(), p.Actor, p.Moment, by); err != nil {
			return err
		}
		p.Found = &schedule.Line{Schedule: p.Road.Schedule, All: len(p.Road.Projects)}
		if !p.Moment.Empty && len(p.Road.Projects) > 0 {
			p.Road.Ordered(p.State.Get("sort"))
			p.lay(by)
		}
		return shell.Render(c, RoadmapTemplate, p)
	}
}

// Take is the address of the brief with this roadmap in it.
func (p *Roadmap) Take() string {
	asked := make(map[string]string)
	for _, name := range [...]string{"group", "sort", "per", "show", "scope", "vs", "against", "standing", "disagree", "lead", "stage", "state", "q"} {
		asked[name] = p.State.Get(name)
	}
	return p.IntoBrief(brief.RoadmapPart(asked), "")
}

// choices makes tabs of a part of the address.
func (p *Roadmap) choices(part string, list ...[2]string) (out []Tab) {
	now := p.State.Get(part)
	for _, x := range list {
		out = append(out, Tab{x[1], p.Turn(part, x[0]), x[0] == now})
	}
	return out
}

// years are how many years a roadmap shows, by what an address calls them.
var years = [][2]string{{"", "All years"}, {"1", "One year"}, {"3", "Three years"}, {"5", "Five years"}}

// yearsOf are their numbers.
var yearsOf = map[string]int{"1": 1, "3": 3, "5": 5}

func (p *Roadmap) lay(by string) {
	p.By = p.choices("group", [2]string{"", "Programme"}, [2]string{"lead", "Lead"}, [2]string{"stage", "Stage"}, [2]string{"none", "Ungrouped"})
	p.Sorts = p.choices("sort", [2]string{"", "Code"}, [2]string{"start", "Start"}, [2]string{"finish", "Finish"}, [2]string{"slip", "Slip"})
	p.Spans = p.choices("per", years...)
	p.speakRoad()
	p.Between = p.State.Get("show") != "plain"
	for _, g := range p.Road.Groups {
		for _, r := range g.Projects {
			p.Table = append(p.Table, p.roadRow(r, g.Name))
		}
	}
	x := p.Road.Timeline(schedule.Drawn{
		Grouped: by != "none", Between: p.Between, Years: yearsOf[p.State.Get("per")], Vs: p.against(),
		Link: func(r *office.Reading) string { return p.State.Project(r.Code) },
	})
	p.Picture = chart.Fit(lineWidth, x.Draw)
}

func (p *Roadmap) roadRow(r *office.Reading, group string) RoadRow {
	planned, current, _ := p.Road.Whole(r.Code)
	x := RoadRow{
		Code: r.Code, Name: r.Name, Link: p.State.Project(r.Code), Stage: r.Stage, Planned: pair(planned), Current: pair(current), Group: group,
		Slip: tell.Dash, Next: tell.Dash, Glyph: chart.Glyph{Standing: r.Standing[standing.Overall]}.SVG(),
	}
	if planned[1] != 0 && current[1] != 0 {
		n := p.Road.SlipOf(r.Code, planned[1], current[1])
		if x.Slip = days(n); n > 0 {
			x.Class = "watch"
		}
	}
	if r.Next.Name != "" && r.State == portfolio.Active {
		x.Next = r.Next.Said(p.Road.AsOf) + ", " + tell.Date(r.Next.Date)
	}
	return x
}

// speakRoad says what comes next.
func (p *Roadmap) speakRoad() {
	for _, x := range p.Road.Say(p.Moment.Period.Name) {
		if x.Tone != "" {
			p.tone(x.Tone, p.State.List().Page("/dates"), "%s", x.Text)
		} else {
			p.say("%s", x.Text)
		}
	}
}
