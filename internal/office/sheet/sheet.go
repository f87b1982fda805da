package sheet

import (
	"context"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/dates"
	"turret/internal/core/earned"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/history"
	"turret/internal/right"
	"turret/internal/store"
	"turret/internal/tell"
)

// Sheet is all that is shown of one project at a period.
type Sheet struct {
	calendar    *calendar.Calendar
	Now, Before *office.Reading // Before is nil without a comparison
	Shown       *office.Reading // in the reporting currency, or nil where that is the project's own
	Moved       *office.Moved   // since the moment's Since, or nil
	Curve       Curve
	Codes       []earned.CodeSum
	CodesWhy    string // why they are not known, or ""
	Ordered     bool   // commitments were stated
	Forecast    bool   // a forecast was stated
	Activities  []Activity
	Milestones  []Milestone
	Dated       []string // names of the periods of the milestones' histories
	Risks       []figure.Risk
	Findings    []finding.Finding
	Story       []Section
	History     []HistoryEntry
	Measures    *Measures
	Baseline    int
	Last        calendar.Date // of the period
	Begin, End  calendar.Date // of all activities' dates
}

// Curve is money over time.
type Curve = tell.Curve

// Activity is a task, summary or milestone as the sheet shows it. Zero dates
// are not known.
type Activity struct {
	Code, Name, Owner string
	Kind              portfolio.Kind
	Depth             int
	Planned, Current  [2]calendar.Date
	Began, Done       calendar.Date
	Slip              int
	HasSlip, Late     bool
	Percent           float64 // of what it has earned; NaN where nothing tells
}

// Milestone is a milestone as the sheet shows it.
type Milestone struct {
	Code, Name, Level string
	Raised            bool
	dates.Milestone
	Stated []calendar.Date // by period, of a raised one
}

// Section is a part of the lead's words, as last said and before.
type Section struct {
	Name, Title string
	Words       []Paragraph // the latest first
}

// Paragraph is what was said in one period.
type Paragraph struct {
	Text, Period string
	at           calendar.Period
}

// HistoryEntry is a batch that touched the project.
type HistoryEntry struct {
	Batch                  int64
	At                     time.Time
	Actor, How, What, From string
}

// longest history that a sheet lists, of batches and of earlier words.
const (
	mostBatches = 30
	mostWords   = 6
)

// Sheet reads a project, in the moment's currency; nil where there is none of that code.
func (o Room) Sheet(ctx context.Context, a right.Actor, m *office.Moment, code string) (*Sheet, error) {
	s, project, err := o.told(ctx, a, m, code)
	if err != nil || s == nil {
		return nil, err
	}
	if err := o.measure(ctx, m, s); err != nil {
		return nil, err
	}
	return s, o.history(ctx, m, s, project)
}

// Told reads the same without its history, and without how it compares with others.
func (o Room) Told(ctx context.Context, a right.Actor, m *office.Moment, code string) (*Sheet, error) {
	s, _, err := o.told(ctx, a, m, code)
	return s, err
}

func (o Room) told(ctx context.Context, a right.Actor, m *office.Moment, code string) (*Sheet, int64, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, 0, err
	}
	if m.Empty || m.Readings().Project(code) == nil {
		return nil, 0, nil
	}
	s := &Sheet{Now: m.Readings().Project(code), Last: m.Period.Last}
	s.Findings = s.Now.Findings
	if m.Compared() != nil {
		s.Before = m.Compared().Project(code)
	}
	if x, ok := m.MovedOf(code); ok {
		s.Moved = &x
	}
	var err error
	if s.Shown, err = o.Shown(ctx, m, code); err != nil {
		return nil, 0, err
	}
	project, err := o.Examine(ctx, m, code, s)
	if err != nil || project == 0 {
		return nil, 0, err
	}
	for _, section := range s.Story {
		for i := range section.Words {
			w := &section.Words[i]
			if w.Text, err = o.Living(ctx, m, code, w.at, w.Text); err != nil {
				return nil, 0, err
			}
		}
	}
	return s, project, nil
}

// history lists the last changes of a sheet's project.
func (o Room) history(ctx context.Context, m *office.Moment, s *Sheet, project int64) error {
	upTo := int64(math.MaxInt64)
	if cut, ok := m.Snapshot().Cuts[m.Period.Number]; ok {
		upTo = cut.Batch
	}
	batches, err := o.Store().BatchesOf(ctx, project, upTo, mostBatches)
	if err != nil {
		return err
	}
	for _, b := range batches {
		s.History = append(
			s.History,
			HistoryEntry{
				Batch: b.ID,
				At:    time.UnixMilli(b.At).UTC(),
				Actor: b.Actor,
				How:   (&history.Batch{Origin: b.Origin}).How(),
				What:  touched(b.Parts, b.Fields),
				From:  strings.ReplaceAll(b.Files, ",", ", "),
			},
		)
	}
	return nil
}

// Examine fills a sheet with all but its history, and gives the project's id;
// zero where there is none.
func (o Room) Examine(ctx context.Context, m *office.Moment, code string, s *Sheet) (project int64, err error) {
	inputs, err := o.Book().InputsAt(ctx, m.Snapshot(), m.Period.Number)
	if err != nil {
		return 0, err
	}
	_, err = inputs.Examine(ctx, code, m.Period.Number, m.Against, !m.InProject, func(e *figure.Eval) {
		p := e.Subject.(*figure.Project)
		project = p.ID
		s.examine(e, p, inputs.Office, m.Against)
	})
	return project, err
}

// touched says what a batch changed, from the kinds of parts and the fields.
func touched(parts, fields string) string {
	var out []string
	var named []string
	for f := range strings.SplitSeq(fields, ",") {
		switch f {
		case "", "file", "line":
		case store.Added:
			out = append(out, "project made")
		default:
			named = append(named, f)
		}
	}
	if len(named) > 0 {
		out = append(out, "project: "+strings.Join(named, ", "))
	}
	for k := range strings.SplitSeq(parts, ",") {
		if n, err := strconv.Atoi(k); err == nil {
			out = append(out, strings.ReplaceAll(portfolio.PartKind(n).String(), "_", " "))
		}
	}
	return strings.Join(out, ", ")
}

// examine takes what the sheet shows beside the readings.
func (s *Sheet) examine(e *figure.Eval, p *figure.Project, of *portfolio.Office, against portfolio.Against) {
	periods := of.Periods
	s.Baseline, s.calendar = p.Number, p.Cal
	s.Codes, s.CodesWhy = p.ByCode()
	s.Measures = measured(e, p)
	s.Ordered, s.Forecast = p.Commitment != nil, p.Forecast != nil
	s.Risks = figure.RisksInForce(p.View)
	s.Story = story(p, of)
	s.curve(e, p, periods, against)
	s.activities(p)
	s.milestones(p, periods)
}

func (s *Sheet) curve(e *figure.Eval, p *figure.Project, periods *calendar.Periods, against portfolio.Against) {
	first, last := p.Span()
	if first == 0 {
		return
	}
	first = min(first, p.Period)
	finish := e.Get(figure.FinishComputed)
	total := e.Get(figure.EACComputed)
	if finish.Known {
		last = max(last, periods.Of(calendar.Date(finish.N)))
	}
	last = max(last, p.Period)
	const most = 240 // periods that a curve shows
	if last-first >= most {
		last = first + most - 1
	}
	c := &s.Curve
	c.Now = int(p.Period - first)
	for q := first; q <= last; q++ {
		c.Periods = append(c.Periods, periods.Name(q))
	}
	series := func(x earned.Series) (out []int64) {
		for q := first; q <= last; q++ {
			out = append(out, x.At(q))
		}
		return out
	}
	if e.Get(figure.BAC).Known {
		c.Plan = series(p.Money.Plan)
		if against == portfolio.Latest && p.Number > 1 {
			view := portfolio.At(p.Office, p.Project, p.Period, portfolio.Original)
			if m := earned.NewMoney(earned.NewProgress(view), e.Currency); m.PlanWhy == "" {
				c.Original = series(m.Plan)
			}
		}
	}
	ac := e.Get(figure.AC)
	for q := first; q <= min(p.Period, last); q++ {
		v := e.At(figure.EV, q)
		c.Earned, c.Known = append(c.Earned, v.N), append(c.Known, v.Known)
		if ac.Known {
			c.Actual = append(c.Actual, p.AC(q))
		}
	}
	if toGo, why := p.ToGoBy(); why == "" && ac.Known {
		for q := p.Period; q <= last; q++ {
			c.Stated = append(c.Stated, ac.N+toGo.At(q))
		}
	}
	if finish.Known && total.Known && ac.Known && !p.Done(e) {
		c.Computed, c.Finish = total.N, min(int(periods.Of(calendar.Date(finish.N))-first), len(c.Periods)-1)
	}
}

func (s *Sheet) activities(p *figure.Project) {
	status := func(i int) *portfolio.Status { return p.Status(i, p.Period) }
	see := func(list ...calendar.Date) {
		for _, d := range list {
			if d != 0 && (s.Begin == 0 || d < s.Begin) {
				s.Begin = d
			}
			s.End = max(s.End, d)
		}
	}
	late := make(map[int]bool)
	done := make(map[int]float64)
	for _, leaf := range p.Leaves {
		i := leaf.Activity
		late[i] = p.Late(i)
		num, den := p.Progress.Earned(i, status(i), p.Day)
		done[i] = float64(num) / float64(den)
	}
	below := make(map[int][]int)
	for i := range p.Activities {
		below[p.Activities[i].Parent] = append(below[p.Activities[i].Parent], i)
	}
	var walk func(parent, depth int) (planned, current [2]calendar.Date)
	walk = func(parent, depth int) (planned, current [2]calendar.Date) {
		for _, i := range below[parent] {
			a, st := &p.Activities[i], status(i)
			x := Activity{
				Code:    a.Code,
				Name:    a.Name,
				Owner:   a.Owner,
				Kind:    a.Kind,
				Depth:   depth,
				Current: [2]calendar.Date{st.Start, st.Finish},
				Began:   st.Began,
				Done:    st.Done,
				Late:    late[i],
				Percent: math.NaN(),
			}
			if r := p.Row(i); r != nil {
				x.Planned = [2]calendar.Date{r.Start, r.Finish}
			}
			if st.Began != 0 {
				x.Current[0] = st.Began
			}
			if st.Done != 0 {
				x.Current[1] = st.Done
			}
			if f, ok := done[i]; ok {
				x.Percent = f * 100
			}
			at := len(s.Activities)
			s.Activities = append(s.Activities, x)
			subPlanned, subCurrent := walk(i, depth+1)
			y := &s.Activities[at]
			if y.Kind == portfolio.Summary { // spans what lies below it, where nothing else was said
				y.Planned, y.Current = orSpan(y.Planned, subPlanned), orSpan(y.Current, subCurrent)
			}
			if y.Planned[1] != 0 && y.Current[1] != 0 {
				y.Slip, y.HasSlip = p.Cal.Slip(y.Planned[1], y.Current[1]), true
			}
			see(y.Planned[0], y.Planned[1], y.Current[0], y.Current[1])
			planned, current = widen(planned, y.Planned), widen(current, y.Current)
		}
		return planned, current
	}
	walk(-1, 0)
}

func orSpan(own, below [2]calendar.Date) [2]calendar.Date {
	if own == ([2]calendar.Date{}) {
		return below
	}
	return own
}

// widen stretches a span over another; a missing start is the finish.
func widen(a, b [2]calendar.Date) [2]calendar.Date {
	for _, d := range b {
		if d != 0 && (a[0] == 0 || d < a[0]) {
			a[0] = d
		}
		a[1] = max(a[1], d)
	}
	return a
}

func (s *Sheet) milestones(p *figure.Project, periods *calendar.Periods) {
	from := p.Period
	for i := range p.Project.Progress {
		from = min(from, p.Project.Progress[i].Period)
	}
	for q := from; q <= p.Period; q++ {
		s.Dated = append(s.Dated, periods.Name(q))
	}
	for _, x := range dates.Milestones(p.View) {
		act := &p.Activities[x.Activity]
		m := Milestone{Code: act.Code, Name: act.Name, Level: act.Level, Raised: act.Raised(), Milestone: x}
		if m.Raised {
			m.Stated = dates.History(p.View, x.Activity, from)
		}
		s.Milestones = append(s.Milestones, m)
	}
}

// story gives each section of the lead's words in the office's order, the latest first; those
// that the office has no more come last.
func story(p *figure.Project, of *portfolio.Office) []Section {
	list := slices.Clone(of.Sections)
	for i := range p.Narratives {
		code := p.Narratives[i].Section
		if !slices.ContainsFunc(list, func(s portfolio.Section) bool { return s.Code == code }) {
			list = append(list, portfolio.Section{Code: code, Title: tell.Capital(code)})
		}
	}
	var out []Section
	for _, x := range list {
		sec := Section{Name: x.Code, Title: x.Title}
		for i := len(p.Narratives) - 1; i >= 0 && len(sec.Words) < mostWords; i-- {
			if n := &p.Narratives[i]; n.Section == x.Code && n.Period <= p.Period && n.Text != "" {
				sec.Words = append(sec.Words, Paragraph{n.Text, of.Periods.Name(n.Period), n.Period})
			}
		}
		if len(sec.Words) > 0 {
			out = append(out, sec)
		}
	}
	return out
}

// DatedMilestones are the raised milestones with the dates stated of them.
func (s *Sheet) DatedMilestones() []tell.DatedMilestone {
	var out []tell.DatedMilestone
	for _, m := range s.Milestones {
		if m.Raised {
			out = append(out, tell.DatedMilestone{Name: m.Name, Slip: m.Slip, State: m.State, Stated: m.Stated})
		}
	}
	return out
}

// Telling is what is told of one project, whose own currency is given.
func Telling(r *book.Reading, owned money.Currency) *tell.Project {
	own := make(map[standing.Dimension]string)
	for _, x := range r.Reasons {
		if x.Dimension.Own() {
			own[x.Dimension] = strings.ToLower(x.Rates)
		}
	}
	return &tell.Project{
		Own:      own,
		Value:    r.Value,
		Currency: r.Currency,
		OwnMoney: owned,
		State:    r.State,
		Standing: r.Standing,
		Why:      r.Why,
		Set:      r.Standing[standing.Overall] != r.Computed[standing.Overall],
		HasSaid:  r.HasSaid,
		Stated:   r.Stated,
	}
}

// Slip counts working days between two days on the project's calendar.
func (s *Sheet) Slip(from, to calendar.Date) int { return s.calendar.Slip(from, to) }
