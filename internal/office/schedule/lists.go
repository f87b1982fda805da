package schedule

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/right"
)

// List is activities for one reason.
type List struct {
	Key, Title string
	About      string
	Rows       []*Activity
}

// Lists are what leads look for in their dates.
type Lists struct {
	*Schedule
	Lists  []List
	People []Person
	Kept   []Punctual // by period, the latest last
}

// Person is someone with what is theirs, by list.
type Person struct {
	Name   string
	Counts []int // in the order of Lists
	All    int
}

// Punctual tells of the activities and milestones that were due in a period how many were
// done by their baseline finish.
type Punctual struct {
	Period      string
	Due, OnTime int
}

// How far the lists look.
const (
	ahead     = 31  // days that count as next
	longer    = 125 // percent of its baseline duration after which an activity runs long
	unspoken  = 2   // periods without a word
	looksBack = 12  // periods of punctuality
)

// Lists gives what is next, due, overdue and silent of the moment's projects: those of one
// person, or of all where who is "".
func (o Room) Lists(ctx context.Context, a right.Actor, m *office.Moment, who string) (*Lists, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.schedule(ctx, m, nil)
	if err != nil {
		return nil, err
	}
	out := &Lists{Schedule: s}
	out.Lists = []List{
		{Key: "overdue", Title: "Overdue", About: "Their stated finish has come, and they are not finished."},
		{Key: "missed", Title: "Missed, without a new date", About: "Milestones whose baseline day has come and that were not met; nobody has said when they will be."},
		{Key: "begin", Title: "Should have started", About: "Their stated start has come, and nobody says that they began."},
		{Key: "long", Title: "Running long", About: "Begun longer ago than 1.25 times what the baseline gives them."},
		{Key: "due", Title: "Due next", About: "To be finished within 31 days."},
		{Key: "next", Title: "Starting next", About: "To begin within 31 days."},
		{Key: "silent", Title: "No news", About: "Running or due, and nothing was said of them for two periods or more."},
	}
	people := make(map[string]*Person)
	s.Each(func(x *Activity) {
		if x.Summary() || x.Done != 0 || !office.Active(x.Of) {
			return
		}
		name := x.Who()
		for i := range out.Lists {
			if !s.belongs(out.Lists[i].Key, x, m.Period.Number) {
				continue
			}
			p := people[name]
			if p == nil {
				p = &Person{Name: name, Counts: make([]int, len(out.Lists))}
				people[name] = p
			}
			p.Counts[i]++
			p.All++
			if who == "" || who == name {
				out.Lists[i].Rows = append(out.Lists[i].Rows, x)
			}
		}
	})
	for i := range out.Lists {
		by := 1
		if out.Lists[i].Key == "next" || out.Lists[i].Key == "begin" {
			by = 0
		}
		slices.SortStableFunc(out.Lists[i].Rows, func(a, b *Activity) int { return cmp.Compare(a.Current[by], b.Current[by]) })
	}
	for _, p := range people {
		out.People = append(out.People, *p)
	}
	slices.SortFunc(out.People, func(a, b Person) int { return cmp.Or(b.All-a.All, cmp.Compare(a.Name, b.Name)) })
	out.punctual(m)
	return out, nil
}

// belongs tells whether an unfinished activity belongs on a list.
func (s *Schedule) belongs(list string, a *Activity, p calendar.Period) bool {
	start, finish := a.Current[0], a.Current[1]
	switch list {
	case "overdue":
		return finish != 0 && finish <= s.AsOf && !s.missed(a)
	case "missed":
		return s.missed(a)
	case "begin":
		return !a.Milestone() && a.Began == 0 && !(a.Percent > 0) && start != 0 && start <= s.AsOf && finish > s.AsOf
	case "long":
		return a.Running > 0 && a.Days > 0 && 100*a.Running > longer*a.Days
	case "due":
		return finish > s.AsOf && finish <= s.AsOf+ahead
	case "next":
		return !a.Milestone() && a.Began == 0 && start > s.AsOf && start <= s.AsOf+ahead
	default: // silent
		due := a.Running > 0 || a.Planned[0] != 0 && a.Planned[0] <= s.AsOf
		return due && p-a.SaidIn >= unspoken
	}
}

// missed tells that a milestone's baseline day has come, and no new one was said.
func (s *Schedule) missed(a *Activity) bool {
	return a.Milestone() && a.Planned[1] != 0 && a.Planned[1] <= s.AsOf && a.Current[1] <= s.AsOf
}

// punctual counts what was due in the last periods.
func (l *Lists) punctual(m *office.Moment) {
	if m.Empty {
		return
	}
	first := max(m.Period.Number-looksBack+1, m.Snapshot().First())
	for p := first; p <= m.Period.Number; p++ {
		x := Punctual{Period: m.PeriodName(p)}
		from, to := l.periods.First(p), min(l.periods.Last(p), l.AsOf)
		l.Each(func(a *Activity) {
			if a.Summary() || a.Planned[1] < from || a.Planned[1] > to {
				return
			}
			x.Due++
			if a.Done != 0 && a.Done <= a.Planned[1] {
				x.OnTime++
			}
		})
		l.Kept = append(l.Kept, x)
	}
}
