package schedule

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"

	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/record"
	"turret/internal/right"
)

// Event is something that a day of a calendar shows.
type Event struct {
	*Activity
	What string // starts, due, met, missed, done
	Day  calendar.Date
}

// Day is a day of a month.
type Day struct {
	Date    calendar.Date
	Inside  bool   // it is of the month
	Off     bool   // no working day of the office
	Holiday string // what it is called
	Events  []Event
}

// Month is a month by weeks.
type Month struct {
	*Schedule
	Year, Number int
	Name         string
	First        time.Weekday
	Weeks        [][]Day
	Count        map[string]int // events of the month by what they are
	Asked        string         // what was asked for and is not there
}

// EventAsk says which events are wanted; "" wants all.
type EventAsk struct {
	Month string // 2026-12
	Kind  string // starts, due, met, missed, done
	Who   string
	First time.Weekday
	Only  string // raised: milestones of programmes and the portfolio

	From, To calendar.Date // the days that are looked at; zero: all
}

// What a calendar's events are, in their order.
var What = []string{"starts", "due", "done", "met", "missed"}

// Month gives the events of a month: what starts and is due as it is stated, and what was
// done, met and missed by the moment's day.
func (o Room) Month(ctx context.Context, a right.Actor, m *office.Moment, ask EventAsk) (*Month, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.schedule(ctx, m, nil)
	if err != nil {
		return nil, err
	}
	out := &Month{Schedule: s, First: ask.First, Count: make(map[string]int)}
	if m.Empty {
		return out, nil
	}
	day := s.AsOf
	if ask.Month != "" {
		t, err := time.Parse("2006-01", ask.Month)
		if err != nil || t.Year() < 1970 || t.Year() > 2199 {
			out.Asked = fmt.Sprintf("%q is no month such as 2026-12; this is the month of the period.", ask.Month)
		} else {
			day = calendar.DateIn(t)
		}
	}
	y, n, _ := day.Split()
	out.Year, out.Number, out.Name = y, n, fmt.Sprintf("%s %d", time.Month(n), y)
	first, last := calendar.DateOf(y, n, 1), calendar.DateOf(y, n+1, 1)-1
	begin := first - calendar.Date((int(first.Time().Weekday())-int(ask.First)+7)%7)
	by := make(map[calendar.Date][]Event)
	ask.From, ask.To = begin, begin+6*7
	for _, e := range s.Events(ask) {
		by[e.Day] = append(by[e.Day], e)
		if e.Day >= first && e.Day <= last {
			out.Count[e.What]++
		}
	}
	off := s.inputs.Office.CalendarOf("")
	named := s.holidays(off.Code)
	for d := begin; d <= last; d += 7 {
		var week []Day
		for k := range calendar.Date(7) {
			x := Day{Date: d + k, Inside: d+k >= first && d+k <= last, Off: off.Duration(d+k, d+k) == 0, Events: by[d+k]}
			x.Holiday = named[(d + k).String()]
			week = append(week, x)
		}
		out.Weeks = append(out.Weeks, week)
	}
	return out, nil
}

// Events lists what happens on days, in their order: the raised and the gravest first on a
// day.
func (s *Schedule) Events(ask EventAsk) (out []Event) {
	add := func(a *Activity, what string, day calendar.Date) {
		if day == 0 || ask.To != 0 && (day < ask.From || day > ask.To) || ask.Kind != "" && ask.Kind != what || ask.Who != "" && a.Who() != ask.Who || ask.Only == "raised" && !a.Raised() {
			return
		}
		out = append(out, Event{a, what, day})
	}
	s.Each(func(a *Activity) {
		switch {
		case a.Summary():
		case a.Milestone() && a.Done != 0:
			add(a, "met", a.Done)
		case a.Milestone():
			if a.Planned[1] != 0 && a.Planned[1] <= s.AsOf {
				add(a, "missed", a.Planned[1])
			}
			if a.Current[1] > s.AsOf || a.Planned[1] == 0 || a.Planned[1] > s.AsOf {
				add(a, "due", a.Current[1])
			}
		default:
			if a.Began == 0 && a.Done == 0 {
				add(a, "starts", a.Current[0])
			}
			if a.Done != 0 {
				add(a, "done", a.Done)
			} else {
				add(a, "due", a.Current[1])
			}
		}
	})
	rank := func(e Event) int {
		n := 2 * slices.Index([]string{"missed", "due", "met", "done", "starts"}, e.What)
		if !e.Raised() {
			n += 10
		}
		return n
	}
	slices.SortStableFunc(out, func(a, b Event) int {
		return cmp.Or(cmp.Compare(a.Day, b.Day), rank(a)-rank(b), cmp.Compare(a.Of.Code, b.Of.Code))
	})
	return out
}

// holidays are what the days off of a calendar are called, by day.
func (s *Schedule) holidays(code string) map[string]string {
	k, out := record.Calendars, make(map[string]string)
	for _, r := range s.inputs.Records.Of(k.Kind) {
		if k.Calendar.Of(&r) == code && k.State.Or(&r) == "on" {
			out[k.Day.Of(&r)] = k.NameCol.Of(&r)
		}
	}
	return out
}

// Calendar gives the events of all days of the moment's projects, in their order.
func (o Room) Calendar(ctx context.Context, a right.Actor, m *office.Moment, ask EventAsk) ([]Event, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.schedule(ctx, m, nil)
	if err != nil {
		return nil, err
	}
	return s.Events(ask), nil
}
