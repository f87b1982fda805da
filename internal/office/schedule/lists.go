package schedule

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"turret/internal/core/due"
	"turret/internal/office"
	"turret/internal/right"
)

// List is activities for one reason.
type List struct {
	Key   due.Reason
	Title string
	About string
	Rows  []*Activity
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

// looksBack is how many periods of punctuality are told.
const looksBack = 12

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
		{Key: due.Overdue, Title: "Overdue", About: "Their stated finish has come, and they are not finished."},
		{Key: due.Missed, Title: "Missed, without a new date", About: "Milestones whose baseline day has come and that were not met; nobody has said when they will be."},
		{Key: due.ToBegin, Title: "Should have started", About: "Their stated start has come, and nobody says that they began."},
		{Key: due.Long, Title: "Running long", About: fmt.Sprintf("Begun longer ago than %.2f times what the baseline gives them.", due.Longer/100.0)},
		{Key: due.Finish, Title: "Due next", About: fmt.Sprintf("To be finished within %d days.", due.Ahead)},
		{Key: due.Start, Title: "Starting next", About: fmt.Sprintf("To begin within %d days.", due.Ahead)},
		{Key: due.Silent, Title: "No news", About: "Running or due, and nothing was said of them for two periods or more."},
	}
	people := make(map[string]*Person)
	s.Each(func(x *Activity) {
		if x.Summary() || x.Done != 0 || !office.Active(x.Of) {
			return
		}
		name, d := x.Who(), x.due()
		for i := range out.Lists {
			if !d.For(out.Lists[i].Key, s.AsOf, m.Period.Number) {
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
		if out.Lists[i].Key == due.Start || out.Lists[i].Key == due.ToBegin {
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

// due is an activity as its rules look at it.
func (a *Activity) due() *due.Activity {
	return &due.Activity{
		Milestone: a.Milestone(), Planned: a.Planned, Current: a.Current, Begun: a.Began != 0 || a.Percent > 0,
		Running: a.Running, Days: a.Days, SaidIn: a.SaidIn,
	}
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
