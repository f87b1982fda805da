package costs

import (
	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/portfolio"
)

// Ends tell of each row of a table how the fiscal year of its period ends and how long its money
// lasts, as the figures year_outlook, carry_over and months_left do of projects and groups.
type Ends struct{ t *Table }

// End is how the fiscal year of a row ends, in minor units, and how long its money lasts.
type End struct {
	Outlook int64       // booked in the fiscal year, and stated to come to its end
	Carried int64       // of the year's plan, what the year does not use; below zero it uses more
	Left    exact.Ratio // periods that what is left of the plan lasts, as spent in the last three, in the table's currency
	Why     string      // why Left is not known, or ""
}

// The columns of the table of ends.
const (
	ofYear = iota
	toDate
	lately
	ofAll
)

// EndsOf makes them of the rows of a query at a period, from the projects of its table, which
// name money from first to last. As with the figures, a project without a stated forecast has
// its plan's later cells to come, unless it is done.
func EndsOf(
	q Query, office *portfolio.Office, projects []*Project, at, first, last calendar.Period, done func(*Project) bool,
) *Ends {
	from, to := Year(office.Periods, office.Periods.FiscalYear(at))
	first, last = min(first, from), max(last, to)
	q.Columns = []Column{
		ofYear: {From: from, To: to},
		toDate: {From: first, To: at},
		lately: {From: at - 2, To: at},
		ofAll:  {From: first, To: last},
	}
	going := make([]*Project, len(projects))
	for i, p := range projects {
		if going[i] = p; !p.Stated && p.Why == "" && !done(p) {
			going[i] = p.goingOn(at)
		}
	}
	return &Ends{New(q, office, going)}
}

// goingOn is a project with its plan's later cells as what is to come of it after a period.
func (p *Project) goingOn(at calendar.Period) *Project {
	with := *p
	with.Lines = nil
	for _, l := range p.Lines {
		with.Lines = append(with.Lines, l)
		if l.Kind != Plan || l.Reserve || l.After() <= at+1 {
			continue
		}
		l.Kind, l.again = Forecast, true
		if skip := at + 1 - l.First; skip > 0 {
			rest := make([]int64, len(l.through)-int(skip))
			for i := range rest {
				rest[i] = l.through[i+int(skip)] - l.through[skip-1]
			}
			l.First, l.through = at+1, rest
		}
		with.Lines = append(with.Lines, l)
	}
	return &with
}

// TooLarge tells whether a sum is beyond 64 bits.
func (e *Ends) TooLarge() bool { return e.t.TooLarge }

// Of gives the end of a row of the table that the ends were made for. Without a fiscal year, and
// of a row that holds nothing, all is zero.
func (e *Ends) Of(r *Row) End {
	same := e.t.Root
	for _, key := range r.Path() {
		if same = same.named(key); same == nil {
			return End{Why: "nothing is planned"}
		}
	}
	value := func(m Measure, column int) int64 {
		n, _ := e.t.Value(same, 0, m, column)
		return n
	}
	out := End{Outlook: value(Running, ofYear)}
	out.Carried = value(Planned, ofYear) - out.Outlook
	left, burn := value(Planned, ofAll)-value(Spent, toDate), exact.Of(value(Spent, lately), 3)
	switch spend, ok := burn.Round(); {
	case e.t.Flow != portfolio.Cost:
		out.Why = "it is told of cost"
	case left <= 0:
		out.Why = "all of the plan is spent"
	case !ok || spend <= 0:
		out.Why = "nothing was spent in three periods"
	default:
		out.Left = exact.Of(left, spend)
	}
	return out
}

// named finds the row of a key below another, or nil.
func (r *Row) named(key string) *Row {
	for _, c := range r.Below {
		if c.Key == key {
			return c
		}
	}
	return nil
}
