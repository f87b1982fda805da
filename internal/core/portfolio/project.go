// Package portfolio holds the inputs of all figures as plain values: projects,
// activities, cost lines and statements, and the schema of the tables in which
// they come and go.
package portfolio

import (
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// State is where a project is in its life.
type State string

// The states of a project.
const (
	Proposed  State = "proposed"
	Active    State = "active"
	OnHold    State = "on hold"
	Finished  State = "finished"
	Cancelled State = "cancelled"
	Template  State = "template" // it never runs: projects are begun from it
)

// Project is everything stated about one project. Statements are sorted by the
// period they were stated in.
type Project struct {
	ID          int64
	Code        string
	Name        string
	Programme   string // code of its programme, or ""
	Lead        string
	Sponsor     string
	Stage       string
	State       State
	Since       calendar.Date // the state holds from this day; zero: always
	Currency    money.Currency
	Start       calendar.Date
	Finish      calendar.Date
	Calendar    string
	EarnedOff   bool
	Method      string // outlook method; "": the default rule
	TooEarly    int64  // millionths of a percent; below zero: the default
	PacePeriods int    // that the pace of its backlog is taken over; zero: the default
	GraceDays   int    // working days after the baseline start in which items belong to the plan; below zero: the default
	Client      string
	FromTime    bool // its plan is its actual cost as time passes, where nothing is booked
	Sources     []Source

	Funding    []Funding  // of its own, by period
	Baselines  []Baseline // sorted by number
	Shares     []Sharing  // of its money to cost centres
	Activities []Activity
	Plan       []Version // sorted by number
	Actual     []Line    // monthly totals
	Ledger     []Line    // sums of postings
	Accrual    []Line
	Forecast   []Version // sorted by period
	Commitment []Version // sorted by period
	Progress   []Progress
	Risks      []RiskStatement
	Narratives []Narrative
	Steps      []Step
	Items      []Item
	Links      []Link
	Across     []Across
	Elsewhere  []Elsewhere
	Overrides  []Override
	Answers    []Answer
	Unchecked  []Unchecked

	course *course // nil until it is settled
}

// Master gives a copy of the project without what is stated about it.
func (p *Project) Master() *Project {
	c := *p
	c.Baselines = make([]Baseline, len(p.Baselines))
	for i, b := range p.Baselines {
		b.Rows = nil
		c.Baselines[i] = b
	}
	c.Activities, c.Plan, c.Actual, c.Ledger, c.Accrual, c.Forecast, c.Commitment = nil, nil, nil, nil, nil, nil, nil
	c.course, c.Progress, c.Risks, c.Narratives, c.Steps, c.Items, c.Links, c.Across, c.Elsewhere = nil, nil, nil, nil, nil, nil, nil, nil, nil
	return &c
}

// Restate gives the project's master data the statements that another value of the
// same project holds.
func (p *Project) Restate(from *Project) {
	for _, b := range from.Baselines {
		if own := p.Baseline(b.Number); own != nil {
			own.Rows = b.Rows
		} else { // only a statement names it
			p.Baselines = append(p.Baselines, Baseline{Number: b.Number, Rows: b.Rows})
		}
	}
	slices.SortFunc(p.Baselines, func(a, b Baseline) int { return a.Number - b.Number })
	p.Activities, p.Plan, p.Actual, p.Ledger, p.Accrual = from.Activities, from.Plan, from.Actual, from.Ledger, from.Accrual
	p.Forecast, p.Commitment, p.Risks = from.Forecast, from.Commitment, from.Risks
	p.Progress, p.course = from.Progress, from.course
	p.Narratives, p.Steps, p.Items, p.Links, p.Across, p.Elsewhere = from.Narratives, from.Steps, from.Items, from.Links, from.Across, from.Elsewhere
}

// StateAt gives the state that holds on a day: before its date a project
// counts as active.
func (p *Project) StateAt(d calendar.Date) State {
	if p.Since > d {
		return Active
	}
	return p.State
}

// Baseline is the approval of a plan, and what it says of activities.
type Baseline struct {
	Number   int
	State    Approval
	Approved calendar.Date // zero: in force from the start
	Reason   string
	Approver string
	Proposed calendar.Date // zero: not said
	Proposer string
	Remark   string        // of who approved or rejected it
	Rows     []BaselineRow // sorted by activity
}

// Approval is what became of a baseline. Only one that is approved counts.
type Approval string

// The states of a baseline; empty is PlanApproved.
const (
	PlanProposed Approval = "proposed"
	PlanApproved Approval = "approved"
	PlanRejected Approval = "rejected"
)

// Counts tells whether the baseline can be in force.
func (b *Baseline) Counts() bool { return b.State == "" || b.State == PlanApproved }

// Baseline gives the record of a number, or nil.
func (p *Project) Baseline(number int) *Baseline {
	for i := range p.Baselines {
		if p.Baselines[i].Number == number {
			return &p.Baselines[i]
		}
	}
	return nil
}

// Numbers lists the numbers of the project's baselines, from 1 on, whether a
// record, a plan or dates name them.
func (p *Project) Numbers() []int {
	out := []int{1}
	for i := range p.Baselines {
		out = append(out, p.Baselines[i].Number)
	}
	for i := range p.Plan {
		out = append(out, p.Plan[i].Number)
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// BaselineRow is what a baseline says of one activity.
type BaselineRow struct {
	Activity      int // index into Project.Activities
	HasBudget     bool
	Budget        int64 // minor units of the project's currency
	Start, Finish calendar.Date
	Source        Source
}

// Kind is what an activity is.
type Kind string

// The kinds of activities.
const (
	Summary   Kind = "summary"
	Task      Kind = "task"
	Milestone Kind = "milestone"
)

// Activity is a summary, a task or a milestone.
type Activity struct {
	ID            int64
	Code          string
	Name          string
	Parent        int // index into Project.Activities, or -1
	Kind          Kind
	Level         string
	Rule          string
	Start, Finish calendar.Date // current until progress says otherwise
	Units         int64         // millionths
	Owner         string
	Leaf          bool         // a task without children
	Bound         *Bound       // what binds its date by itself, or nil
	Deliverable   *Deliverable // what becomes of what it makes; nil where nobody is handed it
	Source        Source
}

// Bound is a constraint on the date of an activity: "not before", "not after" or "on" a
// day, with a reason. A part of it that is not said is zero.
type Bound struct {
	Constraint string
	Day        calendar.Date
	Reason     string
}

// Deliverable tells what became of what an activity makes. Days that have not come are
// zero.
type Deliverable struct {
	Receiver   string
	HandedOver calendar.Date
	Accepted   calendar.Date
	SentBack   calendar.Date
	Reason     string // why it was sent back
}

// Raised tells whether a milestone shows on the upper screens.
func (a *Activity) Raised() bool {
	return a.Kind == Milestone && (a.Level == "programme" || a.Level == "portfolio")
}

// Progress is what was said of activities in one period.
type Progress struct {
	Period calendar.Period
	Rows   []ProgressRow // none where the project is settled
}

// ProgressRow is what was said of one activity; each field may say nothing.
type ProgressRow struct {
	Activity int32 // index into Project.Activities
	Percent  Mark
	Start    Mark
	Finish   Mark
	Began    Mark // actual start
	Done     Mark // actual finish
	Units    Mark
	Source   Source
}

// Mark is a date or a quantity that a statement may give: Field without text,
// of which there are many.
type Mark struct {
	Said Said
	Int  int64
}

// Flow of a line.
type Flow string

// The flows.
const (
	Cost    Flow = "cost"
	Income  Flow = "income"
	Benefit Flow = "benefit"
)

// Line is a row of cells with one key and currency.
type Line struct {
	CodeID     int64
	Code       string // of the time
	Flow       Flow
	Class      string // as stated; "": not. View.Class tells what it counts as
	Centre     string
	ActivityID int64
	Activity   string // of the time
	Currency   money.Currency
	Cells      []Cell                      // sorted by period, one for each
	Remarks    map[calendar.Period]*Remark // beside the amounts of few periods
}

// Cell is the amount of one line in one period, in minor units of the line's
// currency. There are millions of them: they hold no pointers, so that nobody has to
// look through them for what is still in use.
type Cell struct {
	Period calendar.Period
	Source Source
	Amount int64
}

// Remark holds what a file says beside an amount.
type Remark struct {
	Note  string
	Extra map[string]string
}

// Version is one version of a time-phased statement: a baseline's plan, or
// the forecast or commitments stated in a period. It may have no lines.
type Version struct {
	Number  int // baseline number or period ordinal
	Lines   []Line
	Pending int64 // part that its lines are still to be loaded from, or zero
}

// RiskStatement is what was said of a risk or issue in one period.
type RiskStatement struct {
	Period     calendar.Period
	Risk       string
	Kind       Field
	Title      Field
	Likelihood Field
	Impact     Field
	Owner      Field
	Due        Field
	State      Field
	Response   Field
	Source     Source
}

// Narrative is one section of the lead's words for a period.
type Narrative struct {
	Period  calendar.Period
	Section string
	Text    string
	Stated  string // stated standing, lower case, or ""
	Source  Source
}

// Step is a weighted step of an activity.
type Step struct {
	Activity int
	Code     string
	Weight   int64 // millionths
	Done     calendar.Date
	Source   Source
}

// Item is a backlog item; Activity is -1 where it counts for each. Days that are not
// known, or have not come, are zero.
type Item struct {
	Activity int
	Code     string
	Name     string
	Owner    string
	State    string
	Size     int64 // millionths
	Created  calendar.Date
	Accepted calendar.Date
	Dropped  calendar.Date // of what is dropped without a day: the first of all days
	Due      calendar.Date
	Blocked  calendar.Date // since when
	Source   Source
}

// InScope tells whether the item counts on a day: it has come up, and is not dropped.
func (i *Item) InScope(day calendar.Date) bool {
	return i.Created <= day && (i.Dropped == 0 || i.Dropped > day)
}

// Done tells whether the item is accepted on a day.
func (i *Item) Done(day calendar.Date) bool { return i.Accepted != 0 && i.Accepted <= day }

// Override is a standing set by an analyst from one period to another.
type Override struct {
	Dimension   string
	From, Until calendar.Period
	Standing    string
	Reason      string
}

// Link is a dependency between two activities of the project.
type Link struct {
	From, To int    // indices into Project.Activities
	Type     string // FS, SS, FF or SF: which ends it ties
	Lag      int    // working days
	Source   Source
}

// Across is a dependency between an activity of the project and one of another.
type Across struct {
	Here     int    // index into Project.Activities
	Other    string // code of the other project
	Code     string // of its activity
	Activity int64  // its id within that project
	Into     bool   // the other comes first
	Type     string
	Lag      int
	Terms    Terms
	Source   Source
}

// Terms are what is said of a dependency between projects beside its dates.
type Terms struct {
	What   string // is handed over; "": the first activity
	Agreed string // by whom; "": nobody says
}

// Elsewhere is a dependency that the project states between activities of others.
type Elsewhere struct {
	From, To End
	Type     string
	Lag      int
	Terms    Terms
	Source   Source
}

// End is an activity of another project.
type End struct {
	Project, Code string
	Activity      int64 // its id within that project
}

// Answer is what was said about a finding: that it is accepted until a period,
// with a reason, or that it was sent back to the lead with a question.
type Answer struct {
	Check, Record string
	From, Until   calendar.Period
	Accepted      bool // else it was sent back, or withdrawn
	Withdrawn     bool
	Reason        string // or the question
	Values        string // what the finding rested on when this was said
	By            string
}

// Unchecked is a check that is off for the project, with a reason, from one
// period to another; a zero Until has no end.
type Unchecked struct {
	Check       string
	From, Until calendar.Period
	Reason      string
}

// VersionAt gives the highest version at or before n, or nil.
func VersionAt(list []Version, n int) *Version {
	for i := len(list) - 1; i >= 0; i-- {
		if list[i].Number <= n {
			return &list[i]
		}
	}
	return nil
}
