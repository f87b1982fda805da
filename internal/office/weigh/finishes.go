package weigh

import (
	"context"
	"maps"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/right"
)

// Finishes are the ways in which a finish is told, in the order in which they are compared.
var Finishes = []figure.ID{
	figure.FinishStated, figure.FinishComputed, figure.FinishPace, figure.FinishNetwork, figure.FinishStretched,
}

// FinishErrors tells how far a way of telling finishes was off, by how many periods before
// the finish it was read.
type FinishErrors struct {
	ID     figure.ID
	Errors []DayError // by Leads
	By     []OfLead   // the same, of the projects of each person who leads one, by name
}

// OfLead is the errors of the projects that somebody leads.
type OfLead struct {
	Name   string
	Errors []DayError // by Leads
}

// DayError is errors in working days: above zero what was told was too late.
type DayError struct {
	Count          int
	Mean, Absolute float64
}

// Finishes compares what was told of the finish of projects with the day on which they were
// finished: of the moment's scope and filter, those that are finished, as they were read in
// each period. Projects is how many they are.
func (o Room) Finishes(ctx context.Context, a right.Actor, m *office.Moment) (out []FinishErrors, projects int, err error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, 0, err
	}
	for _, id := range Finishes {
		out = append(out, FinishErrors{ID: id, Errors: make([]DayError, len(Leads))})
	}
	if m.Empty {
		return out, 0, nil
	}
	came := make(map[string]calendar.Date)
	for _, r := range m.Readings().Rows {
		if !r.Group && r.State == portfolio.Finished && m.InScope(r) && m.Filter.Wants(r) && r.Value(figure.FinishStated).Known {
			came[r.Code] = calendar.Date(r.Value(figure.FinishStated).N)
		}
	}
	if len(came) == 0 {
		return out, 0, nil
	}
	periods := m.Snapshot().Office.Periods
	by := make([]map[string][]DayError, len(out))
	for i := range by {
		by[i] = make(map[string][]DayError)
	}
	for p := m.Snapshot().First(); p < m.Period.Number; p++ {
		if !slices.ContainsFunc(Leads, func(n int) bool { return anyAt(came, periods, p, n) }) {
			continue
		}
		rs, err := o.Book().Readings(ctx, m.Snapshot(), p, m.Against, false)
		if err != nil {
			return nil, 0, err
		}
		for code, day := range came {
			lead := slices.Index(Leads, int(periods.Near(day)-p))
			r, pr := rs.Project(code), m.Snapshot().Project(code)
			if lead < 0 || r == nil || pr == nil {
				continue
			}
			cal := m.Snapshot().Office.CalendarOf(pr.Calendar)
			for i := range out {
				v := r.Value(out[i].ID)
				if !v.Known {
					continue
				}
				days := float64(cal.Slip(day, calendar.Date(v.N)))
				out[i].Errors[lead].add(days)
				if by[i][pr.Lead] == nil {
					by[i][pr.Lead] = make([]DayError, len(Leads))
				}
				by[i][pr.Lead][lead].add(days)
			}
		}
	}
	for i := range out {
		average(out[i].Errors)
		for _, name := range slices.Sorted(maps.Keys(by[i])) {
			average(by[i][name])
			out[i].By = append(out[i].By, OfLead{name, by[i][name]})
		}
	}
	return out, len(came), nil
}

// add counts an error of so many days, to be averaged.
func (e *DayError) add(days float64) {
	e.Count++
	e.Mean += days
	e.Absolute += max(days, -days)
}

// average makes means of sums.
func average(list []DayError) {
	for k := range list {
		if e := &list[k]; e.Count > 0 {
			e.Mean, e.Absolute = e.Mean/float64(e.Count), e.Absolute/float64(e.Count)
		}
	}
}

// anyAt tells whether one of some projects was finished so many periods after one.
func anyAt(came map[string]calendar.Date, periods *calendar.Periods, p calendar.Period, n int) bool {
	for _, day := range came {
		if int(periods.Near(day)-p) == n {
			return true
		}
	}
	return false
}
