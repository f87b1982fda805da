package portfolio

import (
	"fmt"

	"turret/internal/core/calendar"
)

// Against names the baseline that readings are taken against: that of a number,
// approved or not, or Latest.
type Against uint16

// Latest is the baseline in force at the period, Original is number 1.
const (
	Latest Against = iota
	Original
)

func (a Against) String() string {
	switch a {
	case Latest:
		return "latest"
	case Original:
		return "original"
	}
	return fmt.Sprintf("baseline %d", uint16(a))
}

// View is a project as it is known at the end of a period, against one
// baseline. It looks at nothing stated later.
type View struct {
	*Project
	Office  *Office
	Period  calendar.Period
	Day     calendar.Date // the period's last day
	Cal     *calendar.Calendar
	Number  int            // number of the baseline in force
	Plan    *Version       // nil where none states plan cells
	Elapsed []Line         // spent only because time passed, see Elapsed
	rows    []*BaselineRow // by activity; nil where the baseline has none
	staged  bool           // some baseline states dates or budgets
	overall *Baseline
	span    [2]calendar.Date // BaselineSpan
	now     []*Status        // of each activity at the period
}

// At gives the view of a project at a period.
func At(o *Office, p *Project, period calendar.Period, against Against) *View {
	number := int(against)
	if against == Latest {
		number = inForce(p, o.Periods.Last(period))
	}
	v := &View{
		Project: p, Office: o, Period: period, Day: o.Periods.Last(period), Cal: o.CalendarOf(p.Calendar),
		Number: number, rows: make([]*BaselineRow, len(p.Activities)),
	}
	v.Plan, v.Elapsed = p.planOf(number), Elapsed(o, p, period)
	for i := len(p.Baselines) - 1; i >= 0; i-- {
		b := &p.Baselines[i]
		if b.Number > v.Number || !p.counts(b.Number, number) || !b.statesAny() {
			continue
		}
		v.overall, v.staged = b, true
		break
	}
	if v.overall == nil { // rows without dates or budgets: the lowest number names the activities
		for i := range p.Baselines {
			if len(p.Baselines[i].Rows) > 0 {
				v.overall = &p.Baselines[i]
				break
			}
		}
	}
	if v.overall != nil {
		for i := range v.overall.Rows {
			r := &v.overall.Rows[i]
			v.rows[r.Activity] = r
		}
	}
	v.span = v.spanOf()
	v.now = make([]*Status, len(p.Activities))
	for i := range v.now {
		v.now[i] = p.Status(i, period)
	}
	return v
}

// Status gives what is in force of an activity at a period, as the project's does: what is
// asked most, that of the view's own period, is found once.
func (v *View) Status(activity int, at calendar.Period) *Status {
	if at == v.Period {
		return v.now[activity]
	}
	return v.Project.Status(activity, at)
}

// inForce gives the number of the baseline in force on a day.
func inForce(p *Project, day calendar.Date) int {
	n := 1
	seen := make(map[int]bool, len(p.Baselines))
	for i := range p.Baselines {
		b := &p.Baselines[i]
		seen[b.Number] = true
		if b.Counts() && b.Approved <= day {
			n = max(n, b.Number)
		}
	}
	for i := range p.Plan { // a number without a record has no date either
		if k := p.Plan[i].Number; !seen[k] {
			n = max(n, k)
		}
	}
	return n
}

func (b *Baseline) statesAny() bool {
	for i := range b.Rows {
		if r := &b.Rows[i]; r.HasBudget || r.Start != 0 || r.Finish != 0 {
			return true
		}
	}
	return false
}

// Row gives what the baseline in force says of an activity, or nil.
func (v *View) Row(activity int) *BaselineRow { return v.rows[activity] }

// Staged tells whether some baseline states dates or budgets: then an activity without a row
// in the one in force is in none.
func (v *View) Staged() bool { return v.staged }

// BaselineNumber is the number that the baseline dates in force come from, or
// zero where none states any.
func (v *View) BaselineNumber() int {
	if !v.staged {
		return 0
	}
	return v.overall.Number
}

// BaselineSpan gives the project's baseline start and finish: the earliest and
// latest baseline dates of its tasks and milestones; without any, its own.
func (v *View) BaselineSpan() (start, finish calendar.Date) { return v.span[0], v.span[1] }

func (v *View) spanOf() [2]calendar.Date {
	var start, finish calendar.Date
	for i := range v.Activities {
		r := v.rows[i]
		if r == nil || v.Activities[i].Kind == Summary {
			continue
		}
		for _, d := range [...]calendar.Date{r.Start, r.Finish} {
			if d != 0 && (start == 0 || d < start) {
				start = d
			}
			finish = max(finish, d)
		}
	}
	if start == 0 {
		return [2]calendar.Date{v.Start, v.Finish}
	}
	return [2]calendar.Date{start, finish}
}
