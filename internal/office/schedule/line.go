package schedule

import (
	"context"

	"turret/internal/core/calendar"
	"turret/internal/core/network"
	"turret/internal/office"
	"turret/internal/right"
)

// Line is activities on a line of time: each project as a whole, and what is unfolded of it.
type Line struct {
	*Schedule
	Open  map[string]bool // projects that are unfolded
	Links []Tie           // between activities of those that are
	Shut  int             // projects that are folded
	All   int             // projects of the scope and filter
	Page  int             // that is shown, from 0
	Pages int
}

// Tie is a link between two activities that are on the line.
type Tie struct {
	From, To string // PROJECT/ACTIVITY
	Type     network.Type
	Lag      int
	Broken   int  // working days
	Holds    bool // the early date of its taker comes from it
}

// A page of a line has so many projects.
const pageOf = 60

// Timeline reads the activities of a page of a moment's projects, unfolding some: all of
// them where there is one alone.
func (o Room) Timeline(ctx context.Context, a right.Actor, m *office.Moment, open []string, page int) (*Line, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	out := &Line{Open: make(map[string]bool)}
	shown := make(map[*office.Reading]bool)
	if !m.Empty {
		for _, r := range m.Readings().Rows {
			if listed(m, r) {
				if out.All/pageOf == page {
					shown[r] = true
				}
				out.All++
			}
		}
	}
	out.Page, out.Pages = page, (out.All+pageOf-1)/pageOf
	s, err := o.schedule(ctx, m, func(r *office.Reading) bool { return shown[r] })
	if err != nil {
		return nil, err
	}
	out.Schedule = s
	for _, code := range open {
		out.Open[code] = s.By[code] != nil
	}
	if len(s.Projects) == 1 {
		out.Open[s.Projects[0].Code] = true
	}
	out.tie()
	return out, nil
}

// Own reads the activities of one project, unfolded; none where its dates are not looked at.
func (o Room) Own(ctx context.Context, a right.Actor, m *office.Moment, code string) (*Line, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.schedule(ctx, m, func(r *office.Reading) bool { return r.Code == code && wanted(r) })
	if err != nil {
		return nil, err
	}
	out := &Line{Schedule: s, Open: map[string]bool{code: true}, All: len(s.Projects), Pages: 1}
	out.tie()
	return out, nil
}

// tie lists the links between what is unfolded.
func (out *Line) tie() {
	s := out.Schedule
	seen := make(map[*network.Portfolio]bool)
	for _, r := range s.Projects {
		w := s.webs[r.Code]
		if !out.Open[r.Code] {
			out.Shut++
		}
		if w == nil || w.Plain || seen[w.Net()] {
			continue
		}
		net := w.Net()
		seen[net] = true
		for i := range net.Stated {
			x := &net.Stated[i]
			if x.Link < 0 {
				continue
			}
			from, to := net.Views[x.Ends[0].View], net.Views[x.Ends[1].View]
			if !out.Open[from.Code] || !out.Open[to.Code] {
				continue
			}
			days, _ := net.Broken(x.Link)
			taker := net.Links[x.Link].To
			out.Links = append(out.Links, Tie{
				From: from.Code + "/" + from.Activities[x.Ends[0].Activity].Code, To: to.Code + "/" + to.Activities[x.Ends[1].Activity].Code,
				Type: x.Type, Lag: x.Lag, Broken: days, Holds: int(net.Dates[taker].Driver) == x.Link,
			})
		}
	}
}

// Whole is a project as one bar: the span of its activities.
func (s *Schedule) Whole(code string) (planned, current, was [2]calendar.Date) {
	list := s.By[code]
	for i := range list {
		planned, current, was = widen(planned, list[i].Planned), widen(current, list[i].Current), widen(was, list[i].Was)
	}
	return planned, current, was
}

// Why tells back along what holds it why an activity is when it is.
func (o Room) Why(ctx context.Context, a right.Actor, m *office.Moment, project, activity string) (steps []WhyStep, err error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.schedule(ctx, m, func(r *office.Reading) bool { return r.Code == project })
	if err != nil || s.webs[project] == nil {
		return nil, err
	}
	w := s.webs[project]
	net := w.Net()
	for i := range net.Places {
		at := net.Places[i]
		if at.View != w.View || net.Views[at.View].Activities[at.Activity].Code != activity {
			continue
		}
		for _, x := range net.Chain(int32(i)) {
			step := WhyStep{End: s.end(net, net.Places[x.Activity]), Cause: x.Cause}
			d := &net.Dates[x.Activity]
			step.Early, step.Float = [2]calendar.Date{d.EarlyStart, d.EarlyFinish}, d.Total
			step.Finished = net.Activities[x.Activity].Progress == network.Finished
			if x.Link >= 0 {
				step.Type, step.Lag = net.Links[x.Link].Type.String(), int(net.Links[x.Link].Lag)
			}
			if step.Project == hidden {
				return append(steps, step), nil
			}
			steps = append(steps, step)
		}
	}
	return steps, nil
}

// WhyStep is an activity on the way back to what drives another, and what it comes from.
type WhyStep struct {
	End
	Early    [2]calendar.Date
	Float    int
	Finished bool
	Cause    network.Cause
	Type     string // of the link that holds it
	Lag      int
}

// DaysOff gives the stretches of days without work on the office's calendar.
func (s *Schedule) DaysOff(from, to calendar.Date) (out [][2]float64) {
	off := s.inputs.Office.CalendarOf("")
	for d := from; d <= to; d++ {
		if off.Duration(d, d) > 0 {
			continue
		}
		if n := len(out); n > 0 && out[n-1][1] == float64(d-1) {
			out[n-1][1] = float64(d)
		} else {
			out = append(out, [2]float64{float64(d), float64(d)})
		}
	}
	return out
}

// Latest is the day by which an activity may end without moving the end of its project.
func (a *Activity) Latest() calendar.Date {
	return a.calendar.Day(a.calendar.Instant(a.Early[1]) + a.Float)
}
