// Package book holds all current inputs and their readings in memory, one
// immutable snapshot at a time, and thaws the cuts of closed periods.
package book

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"sort"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// Snapshot is everything known at a revision. It never changes.
type Snapshot struct {
	Revision int64
	Records  Records
	Office   *portfolio.Office
	Rules    *Rules
	Stated   map[int64][]store.Stated
	Closed   map[calendar.Period]bool
	Checking map[calendar.Period]bool      // leads state no more for them
	Cuts     map[calendar.Period]store.Cut // those in force
	History  []store.Cut
	Last     calendar.Period // the last period in which something was stated or booked
	Posted   int64           // revision since which no posting was added, changed or taken back

	first   calendar.Period // in which something was stated or booked; zero: nothing was
	store   *store.Store
	memo    *memo
	parts   *parts
	named   *named
	full    *Snapshot          // this one is what somebody sees of; nil: it is everything
	sight   portfolio.Sight    // of who sees it
	overlay map[int64][]byte   // parts that are not written, by ids below zero
	pending []store.PlanChange // of a batch that is not written
}

// parts are the projects: their master data alone, until figures are first asked
// for, since gathering does without. What is handed out never changes: decoded
// projects take the place of those without parts, all at once.
type parts struct {
	mu   sync.Mutex // of those who decode
	now  atomic.Pointer[projects]
	done bool // under mu
}

// projects are those of a snapshot, by code and by id.
type projects struct {
	list []*portfolio.Project
	byID map[int64]*portfolio.Project
}

// newParts holds projects, with their parts decoded or without.
func newParts(byID map[int64]*portfolio.Project, done bool) *parts {
	p := &parts{done: done}
	p.now.Store(&projects{sortProjects(byID), byID})
	return p
}

// partsAfter holds projects with their parts decoded, in the order of those before
// where they have the same codes.
func partsAfter(before []*portfolio.Project, byID map[int64]*portfolio.Project) *parts {
	running := 0
	for _, p := range byID {
		if p.State != portfolio.Template {
			running++
		}
	}
	if len(before) != running {
		return newParts(byID, true)
	}
	list := make([]*portfolio.Project, len(before))
	for i, was := range before {
		if list[i] = byID[was.ID]; list[i] == nil || list[i].Code != was.Code {
			return newParts(byID, true)
		}
	}
	p := &parts{done: true}
	p.now.Store(&projects{list, byID})
	return p
}

func (s *Snapshot) byID() map[int64]*portfolio.Project { return s.parts.now.Load().byID }

// Projects lists the projects by code, without templates; what is stated about them may not be
// decoded yet.
func (s *Snapshot) Projects() []*portfolio.Project { return s.parts.now.Load().list }

// fill decodes the parts of all projects, once.
func (s *Snapshot) fill(ctx context.Context) error {
	s.parts.mu.Lock()
	defer s.parts.mu.Unlock()
	if s.parts.done {
		return nil
	}
	err := s.fillAll(ctx)
	s.parts.done = err == nil
	return err
}

// Filled gives the projects with all that is stated about them.
func (s *Snapshot) Filled(ctx context.Context) ([]*portfolio.Project, error) {
	if err := s.fill(ctx); err != nil {
		return nil, err
	}
	return s.Projects(), nil
}

// Project gives a project by code, or nil.
func (s *Snapshot) Project(code string) *portfolio.Project {
	list := s.Projects()
	i := sort.Search(len(list), func(i int) bool { return list[i].Code >= code })
	if i < len(list) && list[i].Code == code {
		return list[i]
	}
	return nil
}

// Templates lists the projects that never run, by code, with all that is stated about
// them.
func (s *Snapshot) Templates(ctx context.Context) ([]*portfolio.Project, error) {
	if err := s.fill(ctx); err != nil {
		return nil, err
	}
	var out []*portfolio.Project
	for _, p := range s.byID() {
		if p.State == portfolio.Template {
			out = append(out, p)
		}
	}
	slices.SortFunc(out, func(a, b *portfolio.Project) int { return strings.Compare(a.Code, b.Code) })
	return out, nil
}

// Everyone lists the projects with the templates, in any order.
func (s *Snapshot) Everyone() []*portfolio.Project { return slices.Collect(maps.Values(s.byID())) }

// ByID gives a project by its id, templates too, or nil.
func (s *Snapshot) ByID(id int64) *portfolio.Project { return s.byID()[id] }

// Current is the period that is being worked on: the one after the last closed
// one, or the last in which something was stated where none is closed.
func (s *Snapshot) Current() calendar.Period {
	var last calendar.Period
	for p := range s.Closed {
		last = max(last, p)
	}
	if last == 0 {
		return s.Last
	}
	return last + 1
}

// Latest is the last period that says anything: the last closed one, or a later one in
// which something was stated or booked.
func (s *Snapshot) Latest() calendar.Period {
	last := s.Last
	for p := range s.Closed {
		last = max(last, p)
	}
	return last
}

// LetIn tells whether the leads of a project state for a period that is in checking.
func (s *Snapshot) LetIn(project int64, p calendar.Period) bool {
	rows := s.Records.Of(record.LetIn.Kind)
	return slices.ContainsFunc(rows, func(r portfolio.Row) bool {
		return record.LetIn.Project.ID(&r) == project && record.LetIn.Period.Of(&r) == p && record.LetIn.State.Or(&r) == "open"
	})
}

// First is the first period in which anything was stated, or the current one.
func (s *Snapshot) First() calendar.Period {
	if s.first == 0 {
		return s.Current()
	}
	return min(s.first, s.Current())
}

func load(ctx context.Context, st *store.Store, c *cache.Cache) (*Snapshot, error) {
	s := &Snapshot{store: st, Records: make(Records), memo: newMemo(c)}
	var err error
	if s.Revision, err = st.Revision(ctx); err != nil {
		return nil, err
	}
	s.Posted = s.Revision
	for _, t := range record.Kinds() {
		if t.Keep == record.Records {
			if s.Records[t.Name], err = st.Records(ctx, t); err != nil {
				return nil, err
			}
		}
	}
	s.Records.link()
	stated, err := st.StatedParts(ctx)
	if err != nil {
		return nil, err
	}
	if err := s.build(stated); err != nil {
		return nil, err
	}
	return s, s.loadCuts(ctx)
}

// build makes the typed values from records and parts.
func (s *Snapshot) build(stated []store.Stated) error {
	var err error
	if s.Office, err = s.Records.office(); err != nil {
		return err
	}
	if s.Rules, err = s.Records.rules(); err != nil {
		return err
	}
	byID := s.Records.projects(s.Office)
	s.Stated = make(map[int64][]store.Stated, len(byID))
	for from := 0; from < len(stated); {
		to := from
		for to < len(stated) && stated[to].Project == stated[from].Project {
			to++
		}
		s.Stated[stated[from].Project] = stated[from:to:to]
		from = to
	}
	s.Closed, s.Checking = s.Records.inState("closed"), s.Records.inState("in checking")
	s.first, s.Last = span(s.Stated)
	s.parts, s.named = newParts(byID, false), &named{}
	return nil
}

// span gives the first and the last period in which something was stated or
// booked; zero where nothing was.
func span(all map[int64][]store.Stated) (first, last calendar.Period) {
	for _, list := range all {
		for _, x := range list {
			if p := calendar.Period(x.Version); x.Kind.Dated() && p > 0 {
				if first == 0 || p < first {
					first = p
				}
				last = max(last, p)
			}
		}
	}
	return first, last
}

// fillAll decodes the parts of all projects, on all processors, and then shows
// them. Where it fails nothing has changed, and it may be called again.
func (s *Snapshot) fillAll(ctx context.Context) error {
	byID := s.Records.projects(s.Office)
	if err := s.fillMany(ctx, slices.Collect(maps.Values(byID))); err != nil {
		return err
	}
	s.parts.now.Store(&projects{sortProjects(byID), byID})
	return nil
}

// fillMany decodes the parts of projects on all processors.
func (s *Snapshot) fillMany(ctx context.Context, projects []*portfolio.Project) error {
	const some = 20
	return parallel(ctx, (len(projects)+some-1)/some, func(ctx context.Context, i int) error {
		return s.fillSome(ctx, projects[i*some:min((i+1)*some, len(projects))])
	})
}

// fillSome loads the parts of some projects, older forecasts and commitments
// excepted: memory holds their last two versions.
func (s *Snapshot) fillSome(ctx context.Context, some []*portfolio.Project) error {
	var ids []int64
	for _, p := range some {
		list := s.Stated[p.ID]
		left := map[portfolio.PartKind]int{portfolio.ForecastPart: 2, portfolio.CommitmentPart: 2}
		for i := len(list) - 1; i >= 0; i-- {
			if n, limited := left[list[i].Kind]; limited {
				if n == 0 {
					continue
				}
				left[list[i].Kind] = n - 1
			}
			ids = append(ids, list[i].ID)
		}
	}
	sort.Slice(ids, func(i, j int) bool { return ids[i] < ids[j] })
	bodies := make(map[int64][]byte, len(ids))
	err := s.bodies(ctx, ids, func(id int64, body []byte) error {
		bodies[id] = body
		return nil
	})
	if err != nil {
		return err
	}
	for _, p := range some {
		if err := fill(p, s.Stated[p.ID], bodies); err != nil {
			return err
		}
	}
	return nil
}

// bodies reads parts by id, of the database and of the overlay.
func (s *Snapshot) bodies(ctx context.Context, ids []int64, each func(id int64, body []byte) error) error {
	var kept []int64
	for _, id := range ids {
		if id >= 0 {
			kept = append(kept, id)
		} else if err := each(id, s.overlay[id]); err != nil {
			return err
		}
	}
	err := s.store.Bodies(ctx, kept, each)
	var missing *store.MissingPart
	if errors.As(err, &missing) {
		return fmt.Errorf("%s: %w", s.nameOf(missing.ID), err)
	}
	return err
}

// nameOf says which statement a part is in force as.
func (s *Snapshot) nameOf(part int64) string {
	for id, list := range s.Stated {
		for _, x := range list {
			if p := s.byID()[id]; x.ID == part && p != nil {
				version := strconv.Itoa(int(x.Version))
				if x.Kind.Dated() {
					version = s.Office.Periods.Code(calendar.Period(x.Version))
				}
				return fmt.Sprintf("%s of %s, %s", x.Kind, p.Code, version)
			}
		}
	}
	return "a statement of before"
}

func (s *Snapshot) loadCuts(ctx context.Context) (err error) {
	if s.History, err = s.store.Cuts(ctx); err != nil {
		return err
	}
	s.Cuts = make(map[calendar.Period]store.Cut)
	for _, c := range s.History {
		if c.Kind == store.CloseCut && !c.Reopened.Valid && s.Closed[calendar.Period(c.Period)] {
			s.Cuts[calendar.Period(c.Period)] = c
		}
	}
	return nil
}

// whole gives a project with the lines loaded that a period needs.
func (s *Snapshot) whole(ctx context.Context, p *portfolio.Project, at calendar.Period) (*portfolio.Project, error) {
	for _, list := range [...]func(*portfolio.Project) *[]portfolio.Version{
		func(p *portfolio.Project) *[]portfolio.Version { return &p.Forecast },
		func(p *portfolio.Project) *[]portfolio.Version { return &p.Commitment },
	} {
		v := portfolio.VersionAt(*list(p), int(at))
		if v == nil || v.Pending == 0 {
			continue
		}
		c := *p
		versions := append([]portfolio.Version(nil), *list(p)...)
		for i := range versions {
			if versions[i].Number != v.Number {
				continue
			}
			err := s.bodies(ctx, []int64{v.Pending}, func(_ int64, body []byte) (err error) {
				versions[i].Lines, err = format.DecodeLines(body)
				return err
			})
			if err != nil {
				return nil, fmt.Errorf("project %s: %w", p.Code, err)
			}
			versions[i].Pending = 0
		}
		*list(&c) = versions
		p = &c
	}
	return p, nil
}
