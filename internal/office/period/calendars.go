package period

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/record"
	"turret/internal/right"
)

// WorkCalendar is a work week and its holidays, as Setup shows them.
type WorkCalendar struct {
	Code     string
	Week     []WeekDay // Monday first
	Holidays string    // a day and its name a line
	Count    int       // holidays
	Next     string    // the next holiday and its name, or ""
	Projects []string  // that follow it by themselves
	Office   bool      // projects without one of their own follow it
}

// WeekDay is a day of the week: mon, Monday, and whether it is worked.
type WeekDay struct {
	Code, Name string
	Works      bool
}

// WorkCalendars lists the calendars of the office.
func (o Room) WorkCalendars(ctx context.Context, a right.Actor) ([]WorkCalendar, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	return workCalendars(s, calendar.DateIn(o.Clock()).String()), nil
}

// workCalendars are the calendars that a snapshot has, on a day.
func workCalendars(s *book.Snapshot, today string) []WorkCalendar {
	k, rows := record.Calendars, s.Records.Of(record.Calendars.Kind)
	days := make(map[string]map[string]string) // of calendars: names of holidays by day
	weeks := make(map[string]map[string]bool)
	for i := range rows {
		r := &rows[i]
		code := k.Calendar.Of(r)
		if days[code] == nil {
			days[code], weeks[code] = make(map[string]string), make(map[string]bool)
		}
		switch {
		case k.State.Of(r) == "off":
		case k.KindCol.Of(r) == "week":
			weeks[code][k.Day.Of(r)] = true
		default:
			days[code][k.Day.Of(r)] = k.NameCol.Of(r)
		}
	}
	standard := s.Office.CalendarOf("").Code
	var out []WorkCalendar
	for _, code := range slices.Sorted(maps.Keys(days)) {
		c := WorkCalendar{Code: code, Office: code == standard, Count: len(days[code]), Week: weekOf(weeks[code])}
		for _, day := range slices.Sorted(maps.Keys(days[code])) {
			line := strings.TrimSpace(day + " " + days[code][day])
			c.Holidays += line + "\n"
			if c.Next == "" && day >= today {
				c.Next = line
			}
		}
		for _, p := range s.Projects() {
			if p.Calendar == code {
				c.Projects = append(c.Projects, p.Code)
			}
		}
		out = append(out, c)
	}
	return out
}

// weekOf gives the days of a work week; one without any is Monday to Friday.
func weekOf(works map[string]bool) (out []WeekDay) {
	for i, code := range [...]string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"} {
		out = append(out, WeekDay{code, time.Weekday((i + 1) % 7).String(), works[code] || len(works) == 0 && i < 5})
	}
	return out
}

// NewWeek is the work week of a calendar that is not there yet.
func NewWeek() []WeekDay { return weekOf(nil) }

// SaveCalendar keeps a calendar: the days of its work week, and its holidays,
// a day and its name a line. What it had and is not named counts no longer.
func (o Room) SaveCalendar(
	ctx context.Context,
	a right.Actor,
	seen int64,
	code string,
	week []string,
	holidays string,
) error {
	if err := right.Check(a, right.Draw); err != nil {
		return err
	}
	if code = strings.TrimSpace(code); code == "" {
		return &office.Misfit{Column: "calendar", Why: "give it a code, such as office"}
	}
	if !slices.ContainsFunc(weekOf(nil), func(d WeekDay) bool { return slices.Contains(week, d.Code) }) {
		return &office.Misfit{Column: "work_week", Why: "choose at least one day, or no date could be reached"}
	}
	now := make(map[string]string) // names of holidays by day
	for i, line := range strings.Split(holidays, "\n") {
		line = strings.TrimSpace(line)
		if line == "" {
			continue
		}
		day, name, _ := strings.Cut(strings.ReplaceAll(line, "\t", " "), " ")
		if _, err := calendar.ParseDate(strings.TrimRight(day, ",;")); err != nil {
			return &office.Misfit{Column: fmt.Sprintf("holidays, line %d", i+1), Why: err.Error()}
		}
		now[strings.TrimRight(day, ",;")] = strings.TrimSpace(name)
	}
	_, err := entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Drawn, Note: "calendar " + code, Seen: seen, Rows: func(_ context.Context, s *book.Snapshot) ([]entry.Rows, error) {
			return []entry.Rows{entry.Of("calendars", calendarRows(s, code, week, now)...)}, nil
		}})
	return err
}

// calendarRows are the rows of a calendar: the days of its week, its holidays by
// day with their names, and those that count no longer.
func calendarRows(s *book.Snapshot, code string, week []string, now map[string]string) (rows []entry.Row) {
	for _, d := range weekOf(nil) {
		state := "off"
		if slices.Contains(week, d.Code) {
			state = "on"
		}
		rows = append(rows, entry.Row{"calendar": code, "kind": "week", "day": d.Code, "state": state})
	}
	for _, day := range slices.Sorted(maps.Keys(now)) {
		row := entry.Row{"calendar": code, "kind": "holiday", "day": day, "name": now[day], "state": "on"}
		if now[day] == "" {
			row["name"] = "-"
		}
		rows = append(rows, row)
	}
	var was WorkCalendar
	list := workCalendars(s, "")
	if i := slices.IndexFunc(list, func(c WorkCalendar) bool { return c.Code == code }); i >= 0 {
		was = list[i]
	}
	for _, line := range strings.Split(strings.TrimSpace(was.Holidays), "\n") {
		day, _, _ := strings.Cut(line, " ")
		if _, stays := now[day]; day != "" && !stays {
			rows = append(rows, entry.Row{"calendar": code, "kind": "holiday", "day": day, "state": "off"})
		}
	}
	return rows
}

// FollowCalendar lets a project follow a calendar, or with "" the office's. For
// the project "*" it chooses the office's own.
func (o Room) FollowCalendar(ctx context.Context, a right.Actor, seen int64, project, code string) error {
	if err := right.Check(a, right.Draw); err != nil {
		return err
	}
	note := "the office follows " + code
	if project != "*" {
		note = project + " follows " + cmp.Or(code, "the office's calendar")
	}
	_, err := entry.In(o.Office).
		Enter(ctx, a, &entry.Form{Origin: office.Drawn, Note: note, Seen: seen, Rows: func(_ context.Context, s *book.Snapshot) ([]entry.Rows, error) {
			switch {
			case code != "" && !slices.ContainsFunc(workCalendars(s, ""), func(c WorkCalendar) bool { return c.Code == code }):
				return nil, &office.Misfit{Column: "calendar", Why: fmt.Sprintf("there is none called %q", code)}
			case project == "*":
				return []entry.Rows{entry.Of("settings", entry.Row{"setting": "calendar", "value": code})}, nil
			case s.Project(project) == nil:
				return nil, &office.Misfit{Column: "project", Why: fmt.Sprintf("there is none called %q", project)}
			}
			return []entry.Rows{entry.Of("projects", entry.Row{"project": project, "calendar": cmp.Or(code, "-")})}, nil
		}})
	return err
}

// ProjectList lists every project by code, with its name.
func (o Room) ProjectList(ctx context.Context, a right.Actor) (out [][2]string, err error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.Book().Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	for _, p := range s.Projects() {
		out = append(out, [2]string{p.Code, p.Name})
	}
	return out, nil
}
