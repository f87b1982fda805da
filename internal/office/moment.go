package office

import (
	"context"
	"fmt"
	"strings"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/right"
	"turret/internal/tell"
)

// Reading is every figure of one project or group at a period.
type Reading = book.Reading

// Ask is what an address asks for, as text. Empty parts take their default.
type Ask struct {
	At      string // period
	Vs      string // compared period
	Against string // latest or original
	In      string // reporting or project
	Scope   string // a programme; the whole portfolio
	Filter  Filter
	Own     bool // the period's own figures, though nothing is stated for it yet: for what prepares it
}

// Moment is a period and, where asked for, one to compare it with: the
// readings of everything, at one revision.
type Moment struct {
	Name      string
	Reporting money.Currency
	Period    PeriodInfo
	Asked     PeriodInfo // the period that was chosen; Period is the last one before it that says anything while nothing is stated for it
	Vs        PeriodInfo // its code is empty without a comparison
	Before    PeriodInfo // the period before, where there is one
	After     PeriodInfo // the period after, where there is one
	Against   portfolio.Against
	InProject bool // projects in their own currency
	OfOne     bool // one project is shown, in its own currency unless the reporting one is asked for by name
	Empty     bool // nothing is stated yet
	Notes     []string
	Scope     Scope
	Filter    Filter
	Since     PeriodInfo // what moved is told since then: the compared period, else the last closed one before

	snap   *book.Snapshot
	now    *book.Readings
	before *book.Readings // of the compared period, or nil
	since  *book.Readings // or nil
	found  []Finding      // once they are asked for
	texts  bool           // those of projects are at hand
	owes   bool           // statements for the period are owed by now
	named  bool           // the reporting currency was asked for by name
}

// Scope is the part of the portfolio that a screen is about: a programme, or
// with an empty code the whole portfolio.
type Scope struct{ Code, Name string }

// In is the currency that projects show their money in; "" for their own.
func (m *Moment) In() money.Currency {
	if m.InProject {
		return ""
	}
	return m.Reporting
}

// Snapshot is what the moment was read from.
func (m *Moment) Snapshot() *book.Snapshot { return m.snap }

// Readings are those of the moment's period; nil where nothing is stated yet.
func (m *Moment) Readings() *book.Readings { return m.now }

// Compared are the readings of the compared period; nil without one.
func (m *Moment) Compared() *book.Readings { return m.before }

// Earlier are the readings of Since; nil where there are none.
func (m *Moment) Earlier() *book.Readings { return m.since }

// On is the moment as a later snapshot has its inputs: what is planned there is
// compared with what was read here.
func (m *Moment) On(s *book.Snapshot) *Moment {
	out := *m
	out.snap = s
	return &out
}

// Alone is the moment without the period that it is compared with.
func (m *Moment) Alone() *Moment {
	out := *m
	out.Vs, out.before = PeriodInfo{}, nil
	return &out
}

// Revision is the last batch that a moment knows: a mark for what forms change.
func (m *Moment) Revision() int64 { return m.snap.Revision }

// Moment reads a period for the screens. What the address asks for and does
// not exist is replaced by the default, with a note that says so.
func (o *Office) Moment(ctx context.Context, a right.Actor, ask Ask) (*Moment, error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	s, err := o.Sees(ctx, a)
	if err != nil {
		return nil, err
	}
	return o.MomentOf(ctx, s, ask)
}

// Sees gives the snapshot as an actor sees it: without what is not theirs to read.
func (o *Office) Sees(ctx context.Context, a right.Actor) (*book.Snapshot, error) {
	s, err := o.book.Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	return s.Seen(ctx, a.Sight)
}

// Hidden tells how many projects the reader does not see, and of how many they see some
// kinds alone: sums leave those out.
func (m *Moment) Hidden() (whole, partly int) { return m.snap.Hidden() }

// Everything is what all that the reader sees is called.
func (m *Moment) Everything() string {
	if m.snap.Sight() != nil {
		return "All that you read"
	}
	return "Whole portfolio"
}

// Hides says so; "" to whoever reads everything.
func (m *Moment) Hides() string {
	whole, partly := m.Hidden()
	var what []string
	if whole > 0 {
		what = append(what, tell.Plural(whole, "project is", "projects are")+" not yours to read")
	}
	if partly > 0 {
		what = append(what, fmt.Sprintf("of %s you read some kinds alone", tell.Plural(partly, "project", "projects")))
	}
	if len(what) == 0 {
		return ""
	}
	return tell.Capital(strings.Join(what, ", and ")) + ": lists and sums leave the rest out."
}

// MayRead tells whether an actor reads a project, by its code: one that is not there is
// read by nobody who does not read all.
func (o *Office) MayRead(ctx context.Context, a right.Actor, project string) (bool, error) {
	if a.Sight == nil {
		return true, nil
	}
	s, err := o.book.Snapshot(ctx)
	if err != nil {
		return false, err
	}
	p := s.Project(project)
	return p != nil && a.Reads(p.ID), nil
}

// MomentOf reads a period as a snapshot knows it.
func (o *Office) MomentOf(ctx context.Context, s *book.Snapshot, ask Ask) (*Moment, error) {
	m := &Moment{Name: s.Office.Name, Reporting: s.Office.Reporting, Filter: ask.Filter, snap: s}
	at := s.Latest()
	if ask.Own {
		at = s.Current()
	}
	if at == 0 && ask.Own && len(s.Projects()) > 0 { // what is there can be stated for the first time
		at = s.Office.Periods.Near(calendar.DateIn(o.clock()))
	}
	if at == 0 {
		m.Empty = true
		return m, nil
	}
	if p, ok := m.parse(ask.At, at); ok {
		at = p
	}
	m.Asked = m.Info(at)
	if !ask.Own {
		at = min(at, s.Latest())
	}
	switch ask.Against {
	case "", "latest":
	case "original":
		m.Against = portfolio.Original
	default:
		m.Notes = append(
			m.Notes,
			fmt.Sprintf("There is no baseline %q here, only latest and original; this is the latest.", ask.Against),
		)
	}
	switch ask.In {
	case "":
	case "reporting":
		m.named = true
	case "project":
		m.InProject = true
	default:
		m.Notes = append(
			m.Notes,
			fmt.Sprintf("Money shows in the reporting or the project's currency, not in %q.", ask.In),
		)
	}
	m.Period = m.Info(at)
	m.owes = at <= s.Latest() || calendar.DateIn(o.clock()) > m.Period.Last
	if vs, ok := m.parse(ask.Vs, 0); ok && vs != at && vs <= s.Latest() {
		m.Vs = m.Info(vs)
		m.Since = m.Vs
	} else {
		if ok && vs != m.Asked.Number {
			m.Notes = append(
				m.Notes,
				fmt.Sprintf("%s is not compared with %s: nothing is stated for one of them.", m.Asked.Name, m.PeriodName(vs)),
			)
		}
		if s.Closed[at-1] {
			m.Since = m.Info(at - 1)
		}
	}
	if chosen := m.Asked.Number; chosen > s.First() {
		m.Before = m.Info(chosen - 1)
	}
	if chosen := m.Asked.Number; chosen < max(s.Current(), s.Last) {
		m.After = m.Info(chosen + 1)
	}
	if err := o.read(ctx, m); err != nil {
		return nil, err
	}
	if err := m.readWords(ctx); err != nil {
		return nil, err
	}
	if g := m.now.Group(ask.Scope); g != nil && ask.Scope != "*" {
		m.Scope = Scope{g.Code, g.Name}
	} else if ask.Scope != "" && ask.Scope != "*" {
		m.Notes = append(m.Notes, fmt.Sprintf("There is no programme %q; this is the whole portfolio.", ask.Scope))
	}
	return m, nil
}

// read fills in the readings of a moment's periods.
func (o *Office) read(ctx context.Context, m *Moment) (err error) {
	if m.now, err = o.book.Readings(ctx, m.snap, m.Period.Number, m.Against, !m.InProject); err != nil {
		return err
	}
	if m.Since.Code != "" {
		if m.since, err = o.book.Readings(ctx, m.snap, m.Since.Number, m.Against, !m.InProject); err != nil {
			return err
		}
	}
	if m.Vs.Code != "" {
		m.before = m.since
	}
	return nil
}

// OfOne gives a moment as what is about one project shows it: in the project's own
// currency, unless the reporting one is asked for by name.
func (o *Office) OfOne(ctx context.Context, m *Moment) (*Moment, error) {
	if m.Empty || m.OfOne {
		return m, nil
	}
	out := *m
	out.OfOne = true
	if m.named || m.InProject {
		return &out, nil
	}
	out.InProject, out.found = true, nil
	return &out, o.read(ctx, &out)
}

// AddressOf gives what an address says for a currency, reporting or project: nothing for
// the one that is shown unless another is asked for.
func (m *Moment) AddressOf(in string) string {
	if (in == "project") == m.OfOne {
		return ""
	}
	return in
}

// Shown gives a project's reading in the reporting currency; nil where that is its own.
func (o *Office) Shown(ctx context.Context, m *Moment, code string) (*Reading, error) {
	if c := m.OwnCurrency(code); c == "" || c == m.Reporting {
		return nil, nil
	}
	return o.book.Reading(ctx, m.snap, code, m.Period.Number, m.Against, true)
}

// Waits tells whether nothing is stated yet for the period that was chosen, so that all
// is as of an earlier one.
func (m *Moment) Waits() bool { return !m.Empty && m.Asked.Number != m.Period.Number }

// Owes tells whether statements for the period are owed by now: something is stated for
// it, or its last day has passed.
func (m *Moment) Owes() bool { return m.owes }

// AsOf says that; "" where it is not so.
func (m *Moment) AsOf() string {
	if !m.Waits() {
		return ""
	}
	return fmt.Sprintf("%s Nothing is stated for it yet. As of %s:", m.Asked.Being(), m.Period.Name)
}

// parse reads the code of a period; what cannot be had is told with what is shown in its
// place, a period or, with zero, nothing.
func (m *Moment) parse(code string, other calendar.Period) (calendar.Period, bool) {
	if code == "" {
		return 0, false
	}
	instead := "nothing is compared"
	if other != 0 {
		instead = "this is " + m.PeriodName(other)
	}
	p, err := m.snap.Office.Periods.Parse(code)
	switch {
	case err != nil:
		m.Notes = append(m.Notes, fmt.Sprintf("The address asks for a period that does not exist: %v; %s.", err, instead))
		return 0, false
	case p < m.snap.First() || p > max(m.snap.Current(), m.snap.Last)+1:
		m.Notes = append(m.Notes, fmt.Sprintf("Nothing is stated for %s; %s.", m.PeriodName(p), instead))
		return 0, false
	}
	return p, true
}

// Find gives the reading of a project, a programme or "*", and that of the
// compared period; nil where there is none.
func (m *Moment) Find(scope string) (now, before *Reading) {
	return FindIn(m.now, scope), FindIn(m.before, scope)
}

func FindIn(rs *book.Readings, scope string) *Reading {
	if rs == nil {
		return nil
	}
	if r := rs.Project(scope); r != nil {
		return r
	}
	return rs.Group(scope)
}

// YearBefore gives the same period of the fiscal year before; nil where nothing
// is stated for it.
func (m *Moment) YearBefore() *PeriodInfo {
	p := m.snap.Office.Periods.Before(m.Period.Number)
	if p == 0 || p < m.snap.First() {
		return nil
	}
	info := m.Info(p)
	return &info
}

// Ends lists the periods that something said in the moment's can end in: itself
// and a year ahead.
func (m *Moment) Ends() []PeriodInfo {
	var out []PeriodInfo
	ps := m.snap.Office.Periods
	for p := m.Asked.Number; p <= m.Asked.Number+12 && ps.Exists(p); p++ {
		out = append(out, m.Info(p))
	}
	return out
}

// Open lists the periods from which a change can hold: the open ones, from the
// one that is being worked on for a year.
func (m *Moment) Open() []PeriodInfo {
	var out []PeriodInfo
	ps := m.snap.Office.Periods
	for p := m.snap.Current(); p <= m.snap.Current()+12 && ps.Exists(p); p++ {
		if !m.snap.Closed[p] {
			out = append(out, m.Info(p))
		}
	}
	return out
}

// DimensionTitle is what screens call a dimension.
func (m *Moment) DimensionTitle(d standing.Dimension) string { return m.snap.Rules.Title(d) }

// HasDimension tells whether the office has a dimension of its own, or it is
// one that every office has.
func (m *Moment) HasDimension(d standing.Dimension) bool {
	return int(d) < len(m.snap.Rules.Dimensions())
}

// AboutCheck says what a check looks for.
func (m *Moment) AboutCheck(code string) string {
	_, about := m.snap.Rules.Check(code)
	return about
}

// PeriodName is what a screen calls a period.
func (m *Moment) PeriodName(p calendar.Period) string { return m.snap.Office.Periods.Name(p) }

// OwnCurrency is the currency of a project; "" where there is no such project.
func (m *Moment) OwnCurrency(code string) money.Currency {
	if p := m.snap.Project(code); p != nil {
		return p.Currency
	}
	return ""
}

// ParseAgainst reads the name of a baseline: latest or original.
func ParseAgainst(s string) (portfolio.Against, error) {
	switch s {
	case "latest":
		return portfolio.Latest, nil
	case "original":
		return portfolio.Original, nil
	}
	return 0, fmt.Errorf("readings are against latest or original, not %q", s)
}
