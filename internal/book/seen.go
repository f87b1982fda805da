package book

import (
	"context"
	"fmt"
	"slices"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
)

// seenKey keeps what somebody sees of a snapshot.
type seenKey struct {
	of    *lineage // the snapshot
	sight string
}

func (seenKey) Weight() int { return 8 }

// seenMarksKey keeps the marks of a closed period as somebody sees them.
type seenMarksKey struct {
	cut   int64
	sight string
}

// Seen gives the snapshot as somebody sees it who reads some projects alone: the others, and
// programmes of none but them, are not there, so that lists, sums and everything else leave
// them out. Of a project of which some kinds are read alone, the others are not stated.
// What is computed of a project that is read whole is the same for all.
func (s *Snapshot) Seen(ctx context.Context, sight portfolio.Sight) (*Snapshot, error) {
	if sight == nil || s.full != nil {
		return s, nil
	}
	return cache.Get(ctx, s.memo.cache, seenKey{s.memo.id, sight.Key()}, func(ctx context.Context) (*Snapshot, error) {
		return s.see(ctx, sight)
	})
}

// Hidden counts the projects, without templates, that this snapshot leaves out, and tells
// of how many some kinds are left out.
func (s *Snapshot) Hidden() (whole, partly int) {
	if s.full == nil {
		return 0, 0
	}
	for _, p := range s.Projects() {
		if !s.sight.ReadsKinds(p.ID, portfolio.AllKinds) {
			partly++
		}
	}
	return len(s.full.Projects()) - len(s.Projects()), partly
}

// Sight tells what of the projects is in the snapshot; nil: everything.
func (s *Snapshot) Sight() portfolio.Sight { return s.sight }

// everything is the snapshot with what its reader does not see.
func (s *Snapshot) everything() *Snapshot {
	if s.full != nil {
		return s.full
	}
	return s
}

func (s *Snapshot) see(ctx context.Context, sight portfolio.Sight) (*Snapshot, error) {
	if err := s.fill(ctx); err != nil {
		return nil, err
	}
	out := *s
	out.full, out.sight = s, sight
	out.memo, out.named = newMemo(s.memo.cache), &named{}
	byID := make(map[int64]*portfolio.Project)
	out.Stated = make(map[int64][]store.Stated)
	var partly []*portfolio.Project
	for id, p := range s.byID() {
		switch {
		case !sight.Reads(id):
		case sight.ReadsKinds(id, portfolio.AllKinds):
			byID[id], out.Stated[id] = p, s.Stated[id]
		default:
			byID[id] = p.Master()
			partly = append(partly, byID[id])
			for _, x := range s.Stated[id] {
				if sight.ReadsKinds(id, x.Kind.Kinds()) {
					out.Stated[id] = append(out.Stated[id], x)
				}
			}
		}
	}
	if err := out.fillMany(ctx, partly); err != nil {
		return nil, err
	}
	out.parts = newParts(byID, true)
	office := *s.Office
	office.Groups = nil
	for _, g := range s.Office.Groups {
		if slices.ContainsFunc(out.Projects(), func(p *portfolio.Project) bool { return s.Office.Under(p.Programme, g.Code) }) {
			office.Groups = append(office.Groups, g)
		}
	}
	out.Office = &office
	out.Records = s.Records.seen(sight, office.Groups)
	return &out, nil
}

// seen gives the records without those of projects that are not read.
func (rec Records) seen(sight portfolio.Sight, groups []portfolio.Programme) Records {
	out := make(Records, len(rec))
	for _, k := range record.OfRecords() {
		rows := rec[k.Name]
		column := k.Project()
		switch {
		case k == record.Projects.Kind:
			rows = slices.DeleteFunc(slices.Clone(rows), func(r portfolio.Row) bool { return !sight.Reads(r.ID) })
		case k == record.Programmes.Kind:
			rows = slices.DeleteFunc(slices.Clone(rows), func(r portfolio.Row) bool {
				code := record.Programmes.Programme.Of(&r)
				return !slices.ContainsFunc(groups, func(g portfolio.Programme) bool { return g.Code == code })
			})
		case column >= 0:
			rows = slices.DeleteFunc(slices.Clone(rows), func(r portfolio.Row) bool {
				id := r.Fields[column].Int
				return id != 0 && !sight.Reads(id)
			})
		}
		out[k.Name] = rows
	}
	return out
}

// evaluateSeen evaluates projects of a snapshot that leaves some out: those that are read
// whole as everything does, with what they link to.
func (s *Snapshot) evaluateSeen(ctx context.Context, places []int, p calendar.Period, against portfolio.Against) ([]*computed, error) {
	projects := s.Projects()
	own, codes := []int(nil), []string(nil)
	for _, i := range places {
		if s.sight.ReadsKinds(projects[i].ID, portfolio.AllKinds) {
			codes = append(codes, projects[i].Code)
		} else {
			own = append(own, i)
		}
	}
	out := make([]*computed, len(projects))
	if len(own) > 0 {
		made, err := s.evaluateHere(ctx, own, p, against)
		if err != nil {
			return nil, err
		}
		for _, i := range own {
			out[i] = made[i]
		}
	}
	list, err := s.full.evaluate(ctx, s.full.placesOf(codes), p, against)
	if err != nil {
		return nil, err
	}
	by := make(map[string]*computed, len(codes))
	for i, x := range s.full.Projects() {
		if list[i] != nil {
			by[x.Code] = list[i]
		}
	}
	for _, i := range places {
		if out[i] == nil {
			out[i] = by[projects[i].Code]
		}
	}
	return out, nil
}

// seenReadings gives the readings of a closed period as somebody sees them: projects that
// are read whole as they were kept, all others and groups from the inputs of the cut.
func (b *Book) seenReadings(ctx context.Context, s *Snapshot, cut store.Cut, against portfolio.Against, reporting bool) (*Readings, error) {
	in, err := b.InputsOf(ctx, s, cut.ID)
	if err != nil {
		return nil, err
	}
	live, err := in.Live(ctx, calendar.Period(cut.Period), against, reporting)
	if err != nil || against != portfolio.Latest {
		return live, err
	}
	kept, err := b.CutReadings(ctx, cut.ID, reporting)
	if err != nil {
		return nil, err
	}
	out := &Readings{Period: live.Period, Against: against, Reporting: reporting, Rows: slices.Clone(live.Rows)}
	for i, r := range out.Rows {
		if p := in.Project(r.Code); r.Group || p == nil || !s.sight.ReadsKinds(p.ID, portfolio.AllKinds) {
			continue
		}
		if k := kept.Project(r.Code); k != nil {
			out.Rows[i] = k
		}
	}
	return out, nil
}

// InputsOf gives the snapshot that a cut was made of, without what the reader of another
// does not see.
func (b *Book) InputsOf(ctx context.Context, s *Snapshot, cut int64) (*Snapshot, error) {
	in, err := b.CutInputs(ctx, cut)
	if err != nil || s.full == nil {
		return in, err
	}
	return in.Seen(ctx, s.sight)
}

// ReadingsOf gives the readings that a cut keeps, without what the reader of a snapshot
// does not see.
func (b *Book) ReadingsOf(ctx context.Context, s *Snapshot, cut int64, reporting bool) (*Readings, error) {
	if s.full == nil {
		return b.CutReadings(ctx, cut, reporting)
	}
	i := slices.IndexFunc(s.History, func(c store.Cut) bool { return c.ID == cut })
	if i < 0 {
		return nil, fmt.Errorf("cut %d: %w", cut, errCut)
	}
	return b.seenReadings(ctx, s, s.History[i], portfolio.Latest, reporting)
}
