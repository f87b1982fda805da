package schedule

import (
	"cmp"
	"fmt"
	"html/template"

	"github.com/gofiber/fiber/v3"

	"turret/internal/chart"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
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

func (p *Roadmap) lay(by string) {
	s := p.Road.Schedule
	p.By = p.choices("group", [2]string{"", "Programme"}, [2]string{"lead", "Lead"}, [2]string{"stage", "Stage"}, [2]string{"none", "Ungrouped"})
	p.Sorts = p.choices("sort", [2]string{"", "Code"}, [2]string{"start", "Start"}, [2]string{"finish", "Finish"}, [2]string{"slip", "Slip"})
	p.Spans = p.choices("per", years...)
	span := s.Span()
	from, to := span[0], span[1]
	if n := map[string]int{"1": 1, "3": 3, "5": 5}[p.State.Get("per")]; n > 0 {
		first := s.FirstOfYear()
		from, to = first, calendar.Date(int(first)+n*365+n/4)-1
	}
	p.speakRoad()
	x := chart.Timeline{
		Title: "Roadmap", Desc: "phases and raised milestones of each project over time", From: float64(from), To: float64(to),
		Now: float64(s.AsOf), Ticks: ticks(from, to),
	}
	at := make(map[string]int)
	for _, g := range p.Road.Groups {
		if by != "none" {
			x.Rows = append(x.Rows, chart.TimeRow{Label: cmp.Or(g.Name, "None"), Head: true})
		}
		for _, r := range g.Projects {
			at[r.Code] = len(x.Rows)
			row := p.project(r.Code, r.Name)
			row.Head, row.Link = false, p.State.Project(r.Code)
			if by != "none" {
				row.Depth = 1
			}
			x.Rows = append(x.Rows, row)
			p.Table = append(p.Table, p.roadRow(r, g.Name))
		}
	}
	p.Between = p.State.Get("show") != "plain"
	if p.Between {
		for _, i := range p.Road.Interfaces {
			a, known := at[i.Giver.Project]
			b, both := at[i.Taker.Project]
			if !known || !both || i.Promised == 0 || i.Over {
				continue
			}
			tie := chart.TimeTie{From: a, To: b, FromDay: float64(i.Promised + 1), ToDay: float64(cmp.Or(i.Needed, i.Promised) + 1), Class: "holds"}
			tie.Title = fmt.Sprintf("%s of %s for %s of %s", i.Giver.Activity, i.Giver.Project, i.Taker.Activity, i.Taker.Project)
			if i.Conflict > 0 {
				tie.Class = "broken"
				tie.Title += ", late by " + tell.Plural(i.Conflict, "working day", "working days")
			}
			x.Ties = append(x.Ties, tie)
		}
	}
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
	s := p.Road.Schedule
	next, missed := s.Coming()
	p.say("%s%s", asOf(s, p.Moment.Period.Name), tell.Plural(len(s.Projects), "project", "projects"))
	if missed > 0 {
		p.say("; ")
		p.tone("act", p.State.List().Page("/dates"), "%s missed", tell.Plural(missed, "raised milestone is", "raised milestones are"))
	}
	if next != nil {
		p.say("; next is %s of %s on %s", next.Name, next.Of.Code, tell.Date(next.Current[1]))
	}
	p.say(".")
}
