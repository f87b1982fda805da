package schedule

import (
	"cmp"
	"context"
	"math"
	"slices"

	"turret/internal/book"
	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/figure"
	"turret/internal/core/network"
	"turret/internal/core/portfolio"
	"turret/internal/office"
)

// Activity is an activity as it is stated at a moment, and as the network has it. Days that
// are not known are zero, and spans without a day are none.
type Activity struct {
	Of                  *office.Reading // its project
	Code, Name, Owner   string
	Phase               string // the summary above
	Kind                portfolio.Kind
	Level               string
	Depth               int
	Planned, Current    [2]calendar.Date // of the baseline; as stated, actual where they are
	Was                 [2]calendar.Date // as stated in the compared period
	Early               [2]calendar.Date // by the network
	Began, Done         calendar.Date
	Percent             float64 // of what it has earned; NaN where nothing tells
	SaidIn              calendar.Period
	Late                bool
	Float               int
	HasFloat            bool // it is unfinished, and stands in the network
	Critical, Near      bool
	Held                string // what holds it: PROJECT/ACTIVITY by a link, or ""
	Constraint, Because string
	Days                int // working days that its baseline takes; 0 where that is not known
	Running             int // working days since it began; 0 where it is not running
	Deliverable         *portfolio.Deliverable
	Bound               *portfolio.Bound // what binds its date, as it is stated
	id                  int              // its place in the view
	calendar            *calendar.Calendar
}

// Milestone tells a milestone from a task.
func (a *Activity) Milestone() bool { return a.Kind == portfolio.Milestone }

// Summary tells a summary from what lies below.
func (a *Activity) Summary() bool { return a.Kind == portfolio.Summary }

// Raised tells whether it shows on the upper screens.
func (a *Activity) Raised() bool {
	return !a.Summary() && (a.Level == "programme" || a.Level == "portfolio")
}

// Who does it: its owner, else the lead of its project.
func (a *Activity) Who() string { return cmp.Or(a.Owner, a.Of.Lead) }

// Slip is by how many working days it is later than planned; ok is false where one of the
// two is not known.
func (a *Activity) Slip() (days int, ok bool) {
	if a.Planned[1] == 0 || a.Current[1] == 0 {
		return 0, false
	}
	return a.calendar.Slip(a.Planned[1], a.Current[1]), true
}

// Schedule is the activities of a moment's projects.
type Schedule struct {
	AsOf     calendar.Date // the period's last day, or today where that comes first
	Before   bool          // the period has not ended
	Near     int           // the limit of near-critical, in working days
	Projects []*office.Reading
	By       map[string][]Activity // by code of the project, in their order, each below its phase
	inputs   *book.Snapshot
	periods  *calendar.Periods
	webs     map[string]*figure.Web
}

// wanted tells whether a project's dates are looked at: it runs, or did.
func wanted(r *office.Reading) bool {
	return !r.Group && r.State != portfolio.Cancelled && r.State != portfolio.Proposed
}

// listed tells whether a project is of the moment's scope and filter, and its dates are
// looked at.
func listed(m *office.Moment, r *office.Reading) bool {
	return wanted(r) && m.InScope(r) && m.Filter.Wants(r)
}

// schedule reads the activities of the projects that are picked; nil picks those of the
// moment's scope and filter.
func (o Room) schedule(ctx context.Context, m *office.Moment, pick func(*office.Reading) bool) (*Schedule, error) {
	if pick != nil || m.Empty {
		return o.read(ctx, m, pick)
	}
	key := wholeKey{m.Snapshot(), m.Period.Number, m.Vs.Number, m.Against, o.asOf(m)}
	whole, err := cache.Get(ctx, o.Kept(), key, func(ctx context.Context) (*Schedule, error) { return o.read(ctx, m, wanted) })
	if err != nil {
		return nil, err
	}
	s := *whole
	s.Projects = nil
	for _, r := range whole.Projects {
		if listed(m, r) {
			s.Projects = append(s.Projects, r)
		}
	}
	return &s, nil
}

// wholeKey keeps the activities of all projects of a moment, whatever is listed of them.
type wholeKey struct {
	of         *book.Snapshot
	period, vs calendar.Period
	against    portfolio.Against
	asOf       calendar.Date
}

// Weight is what it takes beside a list of readings.
func (wholeKey) Weight() int { return 12 }

// asOf is the last day of a moment's period, or today where that comes first.
func (o Room) asOf(m *office.Moment) calendar.Date {
	return min(m.Period.Last, calendar.DateIn(o.Clock()))
}

// read reads the activities of the projects that are picked.
func (o Room) read(ctx context.Context, m *office.Moment, pick func(*office.Reading) bool) (*Schedule, error) {
	s := &Schedule{By: make(map[string][]Activity), webs: make(map[string]*figure.Web)}
	if m.Empty {
		return s, nil
	}
	var err error
	if s.inputs, err = o.Book().InputsAt(ctx, m.Snapshot(), m.Period.Number); err != nil {
		return nil, err
	}
	s.periods, s.Near = s.inputs.Office.Periods, s.inputs.Office.NearCritical
	s.AsOf = o.asOf(m)
	s.Before = s.AsOf < m.Period.Last
	before := s.inputs
	if m.Vs.Code != "" {
		if before, err = o.Book().InputsAt(ctx, m.Snapshot(), m.Vs.Number); err != nil {
			return nil, err
		}
	}
	var codes []string
	for _, r := range m.Readings().Rows {
		if !r.Group && pick(r) {
			s.Projects, codes = append(s.Projects, r), append(codes, r.Code)
		}
	}
	now, err := s.inputs.Progress(ctx, codes, m.Period.Number, m.Against)
	if err != nil {
		return nil, err
	}
	then := make(map[string]*earned.Progress)
	if m.Vs.Code != "" {
		if then, err = before.Progress(ctx, codes, m.Vs.Number, m.Against); err != nil {
			return nil, err
		}
	}
	whole := codes[:0:0] // of what is read in part, dates are not all the reader's
	for _, code := range codes {
		if p := now[code]; p != nil && (s.inputs.Sight() == nil || s.inputs.Sight().ReadsKinds(p.ID, portfolio.AllKinds)) {
			whole = append(whole, code)
		}
	}
	if s.webs, err = s.inputs.WebsOf(ctx, whole, m.Period.Number); err != nil {
		return nil, err
	}
	s.Projects = slices.DeleteFunc(s.Projects, func(r *office.Reading) bool { return now[r.Code] == nil })
	for _, r := range s.Projects {
		var was *portfolio.View
		if p := then[r.Code]; p != nil {
			was = p.View
		}
		s.By[r.Code] = s.activities(r, now[r.Code], was, s.webs[r.Code])
	}
	return s, nil
}

// activities lists those of a project, each below what it belongs to.
func (s *Schedule) activities(r *office.Reading, progress *earned.Progress, was *portfolio.View, web *figure.Web) []Activity {
	v := progress.View
	before := make(map[int64]int)
	if was != nil {
		for i := range was.Activities {
			before[was.Activities[i].ID] = i
		}
	}
	below := make(map[int][]int)
	for i := range v.Activities {
		below[v.Activities[i].Parent] = append(below[v.Activities[i].Parent], i)
	}
	var out []Activity
	var walk func(parent, depth int, phase string)
	walk = func(parent, depth int, phase string) {
		for _, i := range below[parent] {
			at := len(out)
			out = append(out, s.activity(r, v, progress, i, depth, phase))
			if k, ok := before[v.Activities[i].ID]; ok {
				out[at].Was = said(was, k)
			}
			walk(i, depth+1, v.Activities[i].Name)
			if a := &out[at]; a.Summary() {
				for j := at + 1; j < len(out); j++ {
					a.Planned, a.Current, a.Was = widen(a.Planned, out[j].Planned), widen(a.Current, out[j].Current), widen(a.Was, out[j].Was)
				}
			}
		}
	}
	walk(-1, 0, "")
	s.weave(out, v, web)
	return out
}

// said are the dates that are stated of an activity, actual ones where they are. Days of
// the time to come are no actual ones.
func said(v *portfolio.View, i int) [2]calendar.Date {
	st := v.Status(i, v.Period)
	out := [2]calendar.Date{st.Start, st.Finish}
	if st.Began != 0 && st.Began <= v.Day {
		out[0] = st.Began
	}
	if st.Done != 0 && st.Done <= v.Day {
		out[1] = st.Done
	}
	return spanOf(out, v.Activities[i].Kind)
}

// spanOf lets the one day of a milestone stand for both.
func spanOf(x [2]calendar.Date, k portfolio.Kind) [2]calendar.Date {
	if k == portfolio.Milestone {
		d := cmp.Or(x[1], x[0])
		return [2]calendar.Date{d, d}
	}
	return x
}

func (s *Schedule) activity(r *office.Reading, v *portfolio.View, progress *earned.Progress, i, depth int, phase string) Activity {
	a, st := &v.Activities[i], v.Status(i, v.Period)
	out := Activity{
		Of: r, Code: a.Code, Name: a.Name, Owner: a.Owner, Phase: phase, Kind: a.Kind, Level: a.Level, Depth: depth,
		Current: said(v, i), Percent: math.NaN(), SaidIn: st.SaidIn, Deliverable: a.Deliverable, id: i, calendar: v.Cal,
	}
	if row := v.Row(i); row != nil {
		out.Planned = spanOf([2]calendar.Date{row.Start, row.Finish}, a.Kind)
	}
	if out.Current == ([2]calendar.Date{}) && !out.Summary() {
		out.Current = out.Planned
	}
	if st.Began != 0 && st.Began <= v.Day {
		out.Began = st.Began
	}
	if st.Done != 0 && st.Done <= v.Day {
		out.Done = st.Done
	}
	if a.Leaf {
		num, den := progress.Earned(i, st, v.Day)
		out.Percent = 100 * float64(num) / float64(den)
		out.Late = progress.Late(i)
	}
	out.Bound = a.Bound
	if b := a.Bound; b != nil && b.Day != 0 && b.Constraint != "" {
		out.Constraint, out.Because = b.Constraint+" "+b.Day.String(), b.Reason
	}
	if out.Planned[0] != 0 && out.Planned[1] != 0 {
		out.Days = v.Cal.Duration(out.Planned[0], out.Planned[1])
	}
	if out.Began != 0 && out.Done == 0 {
		out.Running = v.Cal.Duration(out.Began, s.AsOf)
	}
	return out
}

// weave adds what the network tells of activities.
func (s *Schedule) weave(list []Activity, v *portfolio.View, web *figure.Web) {
	if web == nil || v.StateAt(v.Day) != portfolio.Active && v.StateAt(v.Day) != portfolio.OnHold {
		return
	}
	net := web.Net()
	at := make(map[int]int32)
	for i := range net.Places {
		if net.Places[i].View == web.View {
			at[net.Places[i].Activity] = int32(i)
		}
	}
	for k := range list {
		a := &list[k]
		i, ok := at[a.id]
		if !ok || net.Dates[i].Outside {
			continue
		}
		d := &net.Dates[i]
		a.Early = [2]calendar.Date{d.EarlyStart, d.EarlyFinish}
		if net.Activities[i].Progress == network.Finished {
			continue
		}
		a.Float, a.HasFloat = d.Total, true
		a.Critical, a.Near = d.Total <= 0, d.Total > 0 && d.Total <= web.Near
		if d.Driver >= 0 {
			a.Held = s.nameOf(net, net.Links[d.Driver].From)
		}
	}
}

// nameOf gives an activity as PROJECT/ACTIVITY, where the reader sees its project.
func (s *Schedule) nameOf(net *network.Portfolio, i int32) string {
	if s.inputs.Project(net.Views[net.Places[i].View].Code) == nil {
		return "a project that is not yours to read"
	}
	return net.Name(int(i))
}

// widen stretches a span over another.
func widen(a, b [2]calendar.Date) [2]calendar.Date {
	for _, d := range b {
		if d == 0 {
			continue
		}
		if a[0] == 0 || d < a[0] {
			a[0] = d
		}
		a[1] = max(a[1], d)
	}
	return a
}

// Each hands over all activities, project by project.
func (s *Schedule) Each(do func(*Activity)) {
	for _, r := range s.Projects {
		list := s.By[r.Code]
		for i := range list {
			do(&list[i])
		}
	}
}

// Span is from the first to the last day of projects, baseline and stated.
func (s *Schedule) Span() (out [2]calendar.Date) {
	s.Each(func(a *Activity) { out = widen(widen(out, a.Planned), a.Current) })
	return out
}

// raised lists the raised milestones that are not met, and those that were, by their day.
func (s *Schedule) raised() (out []*Activity) {
	s.Each(func(a *Activity) {
		if a.Milestone() && a.Raised() {
			out = append(out, a)
		}
	})
	slices.SortStableFunc(out, func(a, b *Activity) int { return cmp.Compare(a.Current[1], b.Current[1]) })
	return out
}

// Coming gives the raised milestone that comes next, nil where none does, and how many were
// missed.
func (s *Schedule) Coming() (next *Activity, missed int) {
	for _, a := range s.raised() {
		switch {
		case a.Done != 0 || !office.Active(a.Of):
		case a.Planned[1] != 0 && a.Planned[1] <= s.AsOf:
			missed++
			if next == nil && a.Current[1] > s.AsOf {
				next = a
			}
		case next == nil && a.Current[1] > s.AsOf:
			next = a
		}
	}
	return next, missed
}

// FirstOfYear is the first day of the fiscal year that holds the moment's day.
func (s *Schedule) FirstOfYear() calendar.Date {
	p := s.periods.Near(s.AsOf)
	return s.periods.First(s.periods.InYear(s.periods.FiscalYear(p), 1))
}

// SlipOf counts working days between two days on a project's calendar.
func (s *Schedule) SlipOf(code string, from, to calendar.Date) int {
	if list := s.By[code]; len(list) > 0 {
		return list[0].calendar.Slip(from, to)
	}
	return 0
}
