package amounts

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/planning"
	"turret/internal/right"
	"turret/internal/store"
)

// Kind is what a table holds.
type Kind struct {
	Name, Title string
	Part        portfolio.PartKind
	Says        string // what its amounts are
}

// Kinds are all that can be typed, in the order in which they are offered.
var Kinds = []Kind{
	{"plan", "Plan", portfolio.PlanPart, "The plan of the baseline that is proposed, or of the original until it is approved"},
	{"forecast", "Forecast", portfolio.ForecastPart, "What is still to come, after the period"},
	{"commitment", "Orders", portfolio.CommitmentPart, "Ordered and not yet invoiced, by the period in which the invoice is expected"},
	{"accrual", "Accruals", portfolio.AccrualPart, "Work done in the period and not yet booked; it counts in that period alone"},
	{"actual", "Booked totals", portfolio.ActualPart, "Booked cost by month, where no ledger tells it"},
}

// KindNamed finds a kind; nil where there is none of that name.
func KindNamed(name string) *Kind {
	if i := slices.IndexFunc(Kinds, func(k Kind) bool { return k.Name == name }); i >= 0 {
		return &Kinds[i]
	}
	return nil
}

// Table is the money of one kind of a project, as it is typed.
type Table struct {
	*Kind
	Project, Name string
	Currency      money.Currency
	At            office.PeriodInfo // the period that is stated
	Baseline      int               // of a plan
	Proposed      bool
	Shut          string // why nothing can be typed, or ""
	Stated        bool   // something of the kind is stated for the period
	Columns       []Column
	Lines         []Line
	Since         time.Time // when the draft was begun; zero: there is none
	Depth         int       // of a plan: the level of codes that its stage is estimated on; 0: any
	Stage         string    // that asks for it
	Elsewhere     int       // lines on other levels
	Beyond        []Beyond  // what holds after the last period that is shown
	Besides       []Beside  // what it can stand beside
	Beside        string    // the one that it stands beside
	Revision      int64

	version string // of its rows
	periods *calendar.Periods
	subject *subject
	typed   map[string]Typed
	beside  []portfolio.Line
	codes   map[int64]portfolio.CostCode // of the lines beside
}

// Column is a period.
type Column struct {
	Code, Name string
	Period     calendar.Period
	Year       string // its fiscal year
	Locked     bool   // nothing is typed there
}

// Cell is the amount of a line in a period.
type Cell struct {
	Name   string // of the field
	Is     string // what holds, in canonical form; "" is nothing
	Beside string // what the version beside it says
	Note   string
	Locked bool
	Typed  *Typed // what is typed and not sent; nil: nothing
	Wrong  string // why it cannot be taken, or ""
}

// Beyond is an amount that holds after the last period that is shown.
type Beyond struct {
	line   string
	period calendar.Period
	amount int64
}

// Beside is a version that a draft can stand beside.
type Beside struct{ Code, Name string }

// Value is what the cell shows.
func (c *Cell) Value() string {
	if c.Typed != nil {
		return c.Typed.Text
	}
	return c.Is
}

// Shown is what the cell showed when it was typed in.
func (c *Cell) Shown() string {
	if c.Typed != nil {
		return c.Typed.Was
	}
	return c.Is
}

// Changed tells that sending would change what holds.
func (c *Cell) Changed() bool { return c.Typed != nil && c.Typed.Text != c.Is }

// Clashes tells that someone else made it another since it was typed.
func (c *Cell) Clashes() bool { return c.Changed() && c.Typed.Was != c.Is }

// subject is what a table is of.
type subject struct {
	*Kind
	snap    *book.Snapshot
	project *portfolio.Project
	view    *portfolio.View
	at      calendar.Period
	today   calendar.Date
}

// ahead is how many periods to come are shown at least, and longest how many in all at most.
const (
	ahead   = 6
	longest = 60
)

// may checks that an actor may type a kind for a project.
func may(a right.Actor, p *portfolio.Project, k *Kind, at calendar.Period) error {
	switch k.Part {
	case portfolio.PlanPart:
		return right.Check(a, right.Found)
	case portfolio.AccrualPart, portfolio.ActualPart: // what came is the office's to say
		return right.Check(a, right.Gather)
	}
	return right.CheckState(a, p.ID, k.Name, int(at))
}

// May tells whether an actor may type a kind for a project in a moment's period.
func May(a right.Actor, m *office.Moment, project string, k *Kind) bool {
	p := m.Snapshot().Project(project)
	return p != nil && may(a, p, k, m.Asked.Number) == nil
}

// subject finds what a table is of, where the actor may type it.
func (o Room) subject(ctx context.Context, a right.Actor, s *book.Snapshot, at calendar.Period, project, kind string) (*subject, error) {
	k := KindNamed(kind)
	p := s.Project(project)
	switch {
	case k == nil:
		return nil, office.Refusef("There is no money of the kind %q.", kind)
	case p == nil:
		return nil, office.Refusef("There is no project %q.", project)
	case !s.Office.Periods.Exists(at):
		return nil, office.Refusef("There are no periods yet, so no money can be typed.")
	}
	if err := may(a, p, k, at); err != nil {
		return nil, err
	}
	v, err := s.View(ctx, project, at, portfolio.Latest)
	if err != nil {
		return nil, err
	}
	return &subject{Kind: k, snap: s, project: p, view: v, at: at, today: calendar.DateIn(o.Clock())}, nil
}

// at is the period that a moment is about; before anything is stated, the one of today.
func (o Room) at(m *office.Moment) calendar.Period {
	if m.Asked.Number != 0 {
		return m.Asked.Number
	}
	return m.Snapshot().Office.Periods.Near(calendar.DateIn(o.Clock()))
}

// Table reads the money of a kind of a project for a moment's period, with what the actor has
// typed of it. Beside is the code of a version that it stands beside, "" for the usual one.
func (o Room) Table(ctx context.Context, a right.Actor, m *office.Moment, project, kind, beside string) (*Table, error) {
	s, err := o.subject(ctx, a, m.Snapshot(), o.at(m), project, kind)
	if err != nil {
		return nil, err
	}
	t, err := o.table(ctx, a, s, beside)
	if err == nil {
		t.At = m.Asked
		if m.Asked.Closed && s.Part != portfolio.PlanPart {
			t.Shut = fmt.Sprintf("%s is closed: what was stated for it stays. State the next period.", m.Asked.Name)
		} else if m.Asked.Checking() && s.Part != portfolio.PlanPart && !right.May(a, right.State) && !s.snap.LetIn(s.project.ID, s.at) {
			t.Shut = fmt.Sprintf("%s is in checking, so leads state no more for it.", m.Asked.Name)
		}
	}
	return t, err
}

func (o Room) table(ctx context.Context, a right.Actor, s *subject, beside string) (*Table, error) {
	ps := s.snap.Office.Periods
	t := &Table{
		Kind: s.Kind, Project: s.project.Code, Name: s.project.Name, Currency: s.project.Currency, Revision: s.snap.Revision,
		periods: ps, subject: s, version: ps.Code(s.at), Stated: s.stated(),
	}
	if s.Part == portfolio.PlanPart {
		t.Baseline, t.Proposed, t.Shut = planning.BaselineOf(s.snap, s.project)
		t.version = fmt.Sprint(t.Baseline)
		t.Stage, t.Depth = s.project.Stage, s.snap.Office.Depths[s.project.Stage]
	} else if s.Part == portfolio.AccrualPart || s.Part == portfolio.ActualPart {
		t.version = ""
	}
	typed, since, err := o.draft(ctx, a, s)
	if err != nil {
		return nil, err
	}
	t.typed, t.Since = typed, since
	is := s.lines(t.Baseline)
	t.span(is)
	t.stand(beside)
	if err := o.besideLines(ctx, t); err != nil {
		return nil, err
	}
	t.lay(is)
	t.take()
	return t, nil
}

// stated tells whether something of the kind was stated for the period itself.
func (s *subject) stated() bool {
	return slices.ContainsFunc(s.snap.Stated[s.project.ID], func(x store.Stated) bool { return x.Kind == s.Part && calendar.Period(x.Version) == s.at })
}

// lines are those that hold: of a plan the baseline's own, else those last stated.
func (s *subject) lines(baseline int) []portfolio.Line {
	switch s.Part {
	case portfolio.PlanPart:
		for i := range s.view.Project.Plan {
			if v := &s.view.Project.Plan[i]; v.Number == baseline {
				return v.Lines
			}
		}
		return nil
	case portfolio.ForecastPart:
		return linesOf(portfolio.VersionAt(s.view.Project.Forecast, int(s.at)))
	case portfolio.CommitmentPart:
		return linesOf(portfolio.VersionAt(s.view.Project.Commitment, int(s.at)))
	case portfolio.AccrualPart:
		return s.view.Project.Accrual
	}
	return s.view.Project.Actual
}

func linesOf(v *portfolio.Version) []portfolio.Line {
	if v == nil {
		return nil
	}
	return v.Lines
}

// locked tells that nothing is typed in a period, whatever the line.
func (s *subject) locked(p calendar.Period) bool {
	switch s.Part {
	case portfolio.PlanPart:
		return false
	case portfolio.ForecastPart:
		return p <= s.at
	case portfolio.CommitmentPart:
		return p < s.at
	case portfolio.AccrualPart:
		return p != s.at
	}
	return p > s.at || s.snap.Closed[p]
}

// span draws the periods: from the first amount or date to the last, and some to come.
func (t *Table) span(is []portfolio.Line) {
	s, ps := t.subject, t.periods
	low, high := s.at, s.at+ahead
	if s.Part == portfolio.PlanPart {
		low, high = 0, 0
	}
	see := func(p calendar.Period) {
		if p != 0 {
			low, high = min(cmp.Or(low, p), p), max(high, p)
		}
	}
	for i := range is {
		for _, c := range is[i].Cells {
			see(c.Period)
		}
	}
	for field := range t.typed {
		if _, code, ok := cutField(field); ok {
			if p, err := ps.Parse(code); err == nil {
				see(p)
			}
		}
	}
	start, finish := s.view.BaselineSpan()
	dates := []calendar.Date{start, finish, s.project.Start, s.project.Finish}
	for i := range s.view.Activities {
		dates = append(dates, s.view.Status(i, s.at).Finish)
	}
	for _, d := range dates {
		if d != 0 {
			see(ps.Near(d))
		}
	}
	if low == 0 {
		low = s.at
	}
	high = max(high, low+ahead)
	switch s.Part {
	case portfolio.ForecastPart, portfolio.CommitmentPart:
		low = max(low, s.at-2)
	case portfolio.AccrualPart, portfolio.ActualPart:
		high = s.at
		low = max(low, s.at-11)
	}
	high = min(high, low+longest-1)
	for p := low; p <= high && ps.Exists(p); p++ {
		t.Columns = append(t.Columns, Column{Code: ps.Code(p), Name: ps.Name(p), Period: p, Year: fmt.Sprintf("FY%02d", ps.FiscalYear(p)%100), Locked: t.Shut != "" || s.locked(p)})
	}
}

// first is the period of the first column.
func (t *Table) first() calendar.Period {
	if len(t.Columns) == 0 {
		return 0
	}
	return t.Columns[0].Period
}

// take puts what is typed into the table.
func (t *Table) take() {
	for i := range t.Lines {
		l := &t.Lines[i]
		for j := range l.Cells {
			c := &l.Cells[j]
			if note, ok := t.typed[c.Name+noted]; ok {
				c.Note = note.Text
			}
			x, ok := t.typed[c.Name]
			if !ok || c.Locked {
				continue
			}
			c.Typed = &x
			if x.Text != "" {
				if _, err := money.Parse(x.Text, l.currency); err != nil {
					c.Wrong = err.Error()
				}
			}
		}
	}
}

// Changes counts the cells that sending would change, Wrong those that cannot be taken, and
// Clashes those that someone else made others meanwhile.
func (t *Table) Changes() (changes, wrong, clashes int) {
	t.each(func(_ *Line, _ int, c *Cell) {
		if c.Changed() {
			changes++
		}
		if c.Wrong != "" {
			wrong++
		}
		if c.Clashes() {
			clashes++
		}
	})
	return changes, wrong, clashes
}

func (t *Table) each(do func(l *Line, column int, c *Cell)) {
	for i := range t.Lines {
		for j := range t.Lines[i].Cells {
			do(&t.Lines[i], j, &t.Lines[i].Cells[j])
		}
	}
}

// Cell finds a field; nil where there is none.
func (t *Table) Cell(name string) (*Line, *Cell) {
	key, code, ok := cutField(name)
	if !ok {
		return nil, nil
	}
	for i := range t.Lines {
		if t.Lines[i].Key != key {
			continue
		}
		for j := range t.Columns {
			if t.Columns[j].Code == code {
				return &t.Lines[i], &t.Lines[i].Cells[j]
			}
		}
	}
	return nil, nil
}
