package board

import (
	"context"

	"turret/internal/core/calendar"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/right"
)

// RailPeriod is a period as the rail shows it.
type RailPeriod struct {
	office.PeriodInfo
	Short    string
	Year     int    // of the fiscal year, where it begins here; else zero
	Rated    bool   // the counts are known: the period is closed, or the one shown
	Counts   [4]int // projects by overall standing
	Selected bool
	Compared bool
}

// ahead is how many periods the rail shows after the open one.
const ahead = 4

// Rail gives the periods from the first one stated to some that are to come,
// with the standings of a scope: a project, a programme, or "*".
func (o Room) Rail(ctx context.Context, a right.Actor, m *office.Moment, scope string) ([]RailPeriod, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	if m.Empty {
		return nil, nil
	}
	s := m.Snapshot()
	ps := s.Office.Periods
	var out []RailPeriod
	for p, last := s.First(), s.Current()+ahead; p <= last && ps.Exists(p); p++ {
		x := RailPeriod{
			PeriodInfo: m.Info(p),
			Short:      ps.Short(p),
			Selected:   p == m.Asked.Number,
			Compared:   p == m.Vs.Number,
		}
		if p == s.First() || ps.FiscalYear(p) != ps.FiscalYear(p-1) {
			x.Year = ps.FiscalYear(p)
		}
		var err error
		if x.Counts, x.Rated, err = o.countsAt(ctx, m, p, scope); err != nil {
			return nil, err
		}
		out = append(out, x)
	}
	return out, nil
}

func (o Room) countsAt(
	ctx context.Context,
	m *office.Moment,
	p calendar.Period,
	scope string,
) (n [4]int, ok bool, err error) {
	switch {
	case p > m.Snapshot().Latest(): // it says nothing by itself
		return n, false, nil
	case p == m.Period.Number:
		if r := m.Readings().Group(scope); r != nil {
			return r.Counts, true, nil
		}
		if r := m.Readings().Project(scope); r != nil {
			n[r.Standing[standing.Overall]] = 1
			return n, true, nil
		}
		return n, false, nil
	}
	marks, err := o.Book().Marks(ctx, m.Snapshot(), p)
	if err != nil || marks == nil {
		return n, false, err
	}
	if st, known := marks.Projects[scope]; known {
		n[st] = 1
		return n, true, nil
	}
	n, ok = marks.Groups[scope]
	return n, ok, nil
}

// StripLength is the number of periods of a strip.
const StripLength = 12

// Mark is a standing of a strip; Known is false where the period is not closed,
// or did not know the project.
type Mark struct {
	Standing standing.Standing
	Known    bool
}

// Strips gives a function that tells a project's overall standing in the last
// periods up to the moment's, the earliest first.
func (o Room) Strips(
	ctx context.Context,
	a right.Actor,
	m *office.Moment,
) (func(code string) [StripLength]Mark, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	var marks [StripLength]map[string]standing.Standing
	for i := range marks {
		p := m.Period.Number - calendar.Period(StripLength-1-i)
		if p == m.Period.Number {
			continue
		}
		x, err := o.Book().Marks(ctx, m.Snapshot(), p)
		if err != nil {
			return nil, err
		}
		if x != nil {
			marks[i] = x.Projects
		}
	}
	return func(code string) (out [StripLength]Mark) {
		for i, list := range marks {
			out[i].Standing, out[i].Known = list[code], list != nil
			if _, ok := list[code]; !ok {
				out[i].Known = false
			}
		}
		if r := m.Readings().Project(code); r != nil {
			out[StripLength-1] = Mark{r.Standing[standing.Overall], true}
		}
		return out
	}, nil
}

// StripPeriods names the periods of a strip, the earliest first.
func StripPeriods(m *office.Moment) (out [StripLength]string) {
	for i := range out {
		if p := m.Period.Number - calendar.Period(StripLength-1-i); m.Snapshot().Office.Periods.Exists(p) {
			out[i] = m.PeriodName(p)
		}
	}
	return out
}
