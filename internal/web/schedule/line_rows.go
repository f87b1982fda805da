package schedule

import (
	"fmt"
	"math"

	"turret/internal/chart"
	"turret/internal/core/network"
	"turret/internal/office/schedule"
	"turret/internal/tell"
)

// project is a project as a row, and one of the table.
func (p *Line) project(code, name string) chart.TimeRow {
	planned, current, was := p.Found.Whole(code)
	p.Rows = append(p.Rows, LineRow{
		Code: code, Name: name, Project: true, Link: p.State.Project(code), Planned: pair(planned), Current: pair(current), Was: pair(was),
	})
	r := p.Found.Row(code, name, p.against())
	r.Head, r.Link = true, p.Toggle("open", code)
	return r
}

func (p *Line) row(a *schedule.Activity) chart.TimeRow {
	r := chart.TimeRow{
		Label: a.Code + " " + a.Name, Depth: a.Depth + 1, Title: a.Name + ": " + pair(a.Current),
		Link: p.Turn("of", a.Of.Code+"/"+a.Code), Ghosts: schedule.Ghost(p.against(), a.Planned, a.Was),
	}
	if a.Milestone() {
		if a.Current[1] != 0 {
			m := schedule.Mark(a)
			m.Link = r.Link
			r.Marks = append(r.Marks, m)
		}
		return r
	}
	b, ok := schedule.Bar(a.Current)
	if !ok {
		return r
	}
	b.Title, b.Link, b.Class = r.Title, r.Link, class(a)
	if a.Summary() {
		b.Class, b.Link = "summary", ""
	}
	if !math.IsNaN(a.Percent) {
		b.Done = a.Percent / 100
	}
	r.Bars = append(r.Bars, b)
	if a.HasFloat && a.Float > 0 && a.Early[1] != 0 {
		r.Spare = [2]float64{float64(a.Early[1] + 1), float64(a.Latest())}
	}
	return r
}

// class says how an activity stands.
func class(a *schedule.Activity) string {
	switch {
	case a.Done != 0:
		return "finished"
	case a.Critical:
		return "critical"
	case a.Near:
		return "near"
	}
	return "current"
}

func (p *Line) said(a *schedule.Activity) LineRow {
	r := LineRow{
		Code: a.Code, Name: a.Name, Depth: a.Depth + 1, Link: p.Turn("of", a.Of.Code+"/"+a.Code),
		Planned: pair(a.Planned), Current: pair(a.Current), Was: pair(a.Was), Held: a.Held, Slip: tell.Dash, Float: tell.Dash, Done: tell.Dash,
	}
	if a.Summary() {
		r.Link = ""
	}
	if slip, ok := a.Slip(); ok {
		r.Slip = days(slip)
		if slip > 0 && a.Done == 0 {
			r.Class = "watch"
		}
	}
	if a.HasFloat {
		r.Float = fmt.Sprintf("%d d", a.Float)
	}
	switch {
	case a.Done != 0:
		r.Done = "done"
	case !math.IsNaN(a.Percent):
		r.Done = fmt.Sprintf("%.0f%%", a.Percent)
	}
	return r
}

// ties draws the links between rows that are there.
func (p *Line) ties(x *chart.Timeline, at map[string]int) {
	by := make(map[string]*schedule.Activity)
	p.Found.Each(func(a *schedule.Activity) { by[a.Of.Code+"/"+a.Code] = a })
	for _, l := range p.Found.Links {
		from, known := at[l.From]
		to, both := at[l.To]
		a, b := by[l.From], by[l.To]
		if !known || !both || a.Current[1] == 0 || b.Current[1] == 0 {
			continue
		}
		tie := chart.TimeTie{From: from, To: to, FromDay: float64(a.Current[1] + 1), ToDay: float64(b.Current[0]), Title: linkText(l)}
		if l.Type == network.StartStart || l.Type == network.StartFinish {
			tie.FromDay = float64(a.Current[0])
		}
		if l.Type == network.FinishFinish || l.Type == network.StartFinish {
			tie.ToDay = float64(b.Current[1] + 1)
		}
		switch {
		case l.Broken > 0:
			tie.Class = "broken"
		case l.Holds:
			tie.Class = "holds"
		}
		x.Ties = append(x.Ties, tie)
	}
}

func linkText(l schedule.Tie) string {
	text := l.From + " to " + l.To + ", " + l.Type.String()
	if l.Lag != 0 {
		text += fmt.Sprintf(" %s", days(l.Lag))
	}
	if l.Broken > 0 {
		text += ", broken by " + tell.Plural(l.Broken, "working day", "working days")
	}
	return text
}
