package network

import (
	"cmp"
	"slices"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// Place is an activity of the network: a project by its place among the views, and the
// activity's place in it.
type Place struct {
	View     int
	Activity int
}

// Stated is a link as it was stated: by whom, and between what.
type Stated struct {
	Project  string // that states it
	From, To string // an activity of that project, or PROJECT/ACTIVITY
	Type     Type
	Lag      int
	Link     int             // its place in the network's links, or -1: it holds nothing
	Ends     [2]Place        // the giver and the taker; views below zero where they are not there
	Terms    portfolio.Terms // between projects
	Source   portfolio.Source
}

// Left is an activity that stands outside, since its dates are not known or its calendar
// has no working day.
type Left struct {
	Place
	Dateless bool // else it is its calendar
}

// Portfolio is the network of many projects: what its activities and links are.
type Portfolio struct {
	*Network
	Views  []*portfolio.View
	Places []Place
	Stated []Stated
	Left   []Left

	once     sync.Once
	troubles [][]Trouble // by view, once they are asked for
}

// Of makes the network of projects as they are known at the end of a period, and solves it.
// Views are those of one period, of all projects: those neither active nor on hold, templates
// and summaries stand outside. The order of what it gives is that of the projects' codes.
func Of(views []*portfolio.View) *Portfolio {
	views = slices.Clone(views)
	slices.SortFunc(views, func(a, b *portfolio.View) int { return cmp.Compare(a.Code, b.Code) })
	p := &Portfolio{Views: views}
	at := make([][]int32, len(views)) // by view and activity, one more than the place in the network
	count := 0
	for _, v := range views {
		count += len(v.Activities)
	}
	activities := make([]Activity, 0, count)
	p.Places = make([]Place, 0, count)
	for i, v := range views {
		if s := v.StateAt(v.Day); s != portfolio.Active && s != portfolio.OnHold {
			continue
		}
		at[i] = make([]int32, len(v.Activities))
		for k := range v.Activities {
			if a := &v.Activities[k]; !a.Leaf && a.Kind != portfolio.Milestone {
				continue
			}
			place := Place{i, k}
			a, ok := activityOf(v, k)
			if !ok || !v.Cal.Worked() {
				p.Left = append(p.Left, Left{place, !ok})
				continue
			}
			a.Project = int32(i)
			activities = append(activities, a)
			at[i][k] = int32(len(activities))
			p.Places = append(p.Places, place)
		}
	}
	var links []Link
	for _, s := range statedLinks(views) {
		s.stated.Link, s.stated.Ends = -1, [2]Place{s.from, s.to}
		if from, to := inside(at, s.from), inside(at, s.to); from > 0 && to > 0 {
			s.stated.Link = len(links)
			links = append(links, Link{from - 1, to - 1, s.stated.Type, int32(s.stated.Lag)})
		}
		p.Stated = append(p.Stated, s.stated)
	}
	var day calendar.Date
	if len(views) > 0 {
		day = views[0].Day
	}
	p.Network = Solve(day, activities, links)
	return p
}

// inside looks up a place; zero where it stands outside.
func inside(at [][]int32, x Place) int32 {
	if x == nowhere || at[x.View] == nil {
		return 0
	}
	return at[x.View][x.Activity]
}

// activityOf gives an activity as it is stated: how far it is, and its dates. It is false
// where no date is known.
func activityOf(v *portfolio.View, k int) (a Activity, ok bool) {
	s := v.Status(k, v.Period)
	a = Activity{Milestone: v.Activities[k].Kind == portfolio.Milestone, Calendar: v.Cal}
	began, done := s.Began, s.Done
	if began > v.Day { // what is said of the time to come counts for nothing
		began = 0
	}
	if done > v.Day {
		done = 0
	}
	a.Start, a.Finish = currentDates(v, k)
	switch {
	case done != 0:
		a.Progress = Finished
		if a.Finish = done; began != 0 {
			a.Start = began
		} else if a.Start == 0 || a.Start > done {
			a.Start = done
		}
	case a.Start == 0:
		return a, false
	case !a.Milestone && (began != 0 || s.Percent > 0 || s.Units > 0):
		a.Progress = Started
		if a.Start = min(a.Start, v.Day); began != 0 {
			a.Start = began
		}
	}
	if a.Milestone {
		a.Start = a.Finish
	}
	if b := v.Activities[k].Bound; b != nil && b.Day != 0 {
		a.Constraint, a.Bound = ConstraintNamed(b.Constraint), b.Day
	}
	return a, true
}

// currentDates gives the dates that are said of an activity, else its own, else those of the
// baseline; one alone stands for both. They are zero where there is none.
func currentDates(v *portfolio.View, k int) (start, finish calendar.Date) {
	s := v.Status(k, v.Period)
	start, finish = s.Start, s.Finish
	if r := v.Row(k); r != nil {
		start, finish = cmp.Or(start, r.Start), cmp.Or(finish, r.Finish)
		if start > finish && finish != 0 { // one of them is the baseline's, and gives way
			if s.Start == 0 {
				start = finish
			} else if s.Finish == 0 {
				finish = start
			}
		}
	}
	return cmp.Or(start, finish), cmp.Or(finish, start)
}

type placed struct {
	stated   Stated
	from, to Place
}

// nowhere is the place of what is not there.
var nowhere = Place{-1, -1}

// statedLinks lists the links of all projects with the places of their ends.
func statedLinks(views []*portfolio.View) (out []placed) {
	byCode := make(map[string]int, len(views))
	for i, v := range views {
		byCode[v.Code] = i
	}
	ids := make([]map[int64]int, len(views))
	find := func(project string, activity int64) Place {
		i, ok := byCode[project]
		if !ok {
			return nowhere
		}
		if ids[i] == nil {
			ids[i] = make(map[int64]int, len(views[i].Activities))
			for k := range views[i].Activities {
				ids[i][views[i].Activities[k].ID] = k
			}
		}
		if k, ok := ids[i][activity]; ok {
			return Place{i, k}
		}
		return nowhere
	}
	for i, v := range views {
		from := len(out)
		for _, l := range v.Links {
			out = append(out, placed{
				Stated{v.Code, v.Activities[l.From].Code, v.Activities[l.To].Code, TypeNamed(l.Type), l.Lag, -1, [2]Place{}, portfolio.Terms{}, l.Source},
				Place{i, l.From},
				Place{i, l.To},
			})
		}
		for _, l := range v.Across {
			here, there := Place{i, l.Here}, find(l.Other, l.Activity)
			x := placed{Stated{v.Code, v.Activities[l.Here].Code, l.Other + "/" + l.Code, TypeNamed(l.Type), l.Lag, -1, [2]Place{}, l.Terms, l.Source}, here, there}
			if l.Into {
				x.stated.From, x.stated.To = x.stated.To, x.stated.From
				x.from, x.to = there, here
			}
			out = append(out, x)
		}
		for _, l := range v.Elsewhere {
			out = append(out, placed{
				Stated{v.Code, l.From.Project + "/" + l.From.Code, l.To.Project + "/" + l.To.Code, TypeNamed(l.Type), l.Lag, -1, [2]Place{}, l.Terms, l.Source},
				find(l.From.Project, l.From.Activity), find(l.To.Project, l.To.Activity),
			})
		}
		slices.SortStableFunc(out[from:], func(a, b placed) int {
			return cmp.Or(cmp.Compare(a.stated.From, b.stated.From), cmp.Compare(a.stated.To, b.stated.To))
		})
	}
	return out
}

// Name gives an activity as PROJECT/ACTIVITY.
func (p *Portfolio) Name(i int) string {
	at := p.Places[i]
	v := p.Views[at.View]
	return v.Code + "/" + v.Activities[at.Activity].Code
}
