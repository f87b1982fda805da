package book

import (
	"context"
	"maps"
	"slices"
	"sync"
	"sync/atomic"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
)

// Book keeps the current snapshot of a database and swaps in a new one when
// anyone has written.
type Book struct {
	store   *store.Store
	now     atomic.Pointer[Snapshot]
	mu      sync.Mutex   // one refresh at a time
	version int64        // data_version at the last refresh
	cache   *cache.Cache // what was derived, of all snapshots
}

// Open loads a database.
func Open(ctx context.Context, st *store.Store) (*Book, error) {
	b := &Book{store: st, cache: cache.New(room)}
	var err error
	if b.version, err = st.DataVersion(ctx); err != nil {
		return nil, err
	}
	s, err := load(ctx, st, b.cache)
	if err != nil {
		return nil, err
	}
	b.now.Store(s)
	return b, nil
}

// Snapshot gives the current snapshot, refreshed where another process wrote.
func (b *Book) Snapshot(ctx context.Context) (*Snapshot, error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	v, err := b.store.DataVersion(ctx)
	if err != nil {
		return nil, err
	}
	s := b.now.Load()
	if v == b.version {
		return s, nil
	}
	rev, err := b.store.Revision(ctx)
	if err != nil {
		return nil, err
	}
	if rev != s.Revision {
		if s, err = refresh(ctx, b.store, s, rev); err != nil {
			return nil, err
		}
		b.now.Store(s)
	}
	b.version = v
	return s, nil
}

// refresh makes the snapshot of a later revision, reloading what later batches
// touched.
func refresh(ctx context.Context, st *store.Store, old *Snapshot, rev int64) (*Snapshot, error) {
	tables, undone, err := st.RecordsChangedSince(ctx, old.Revision)
	if err != nil {
		return nil, err
	}
	anew := touches(tables) == record.Everything
	if undone || anew && !old.filled() {
		return load(ctx, st, old.memo.cache)
	}
	changed, err := st.StatedSince(ctx, old.Revision)
	if err != nil {
		return nil, err
	}
	s := *old
	s.Revision = rev
	s.Stated = maps.Clone(old.Stated)
	byID := maps.Clone(old.byID())
	touched := make(map[int64]bool)
	for _, c := range changed {
		s.put(c)
		touched[c.Project] = true
		if c.Kind == portfolio.LedgerPart {
			s.Posted = rev
		}
	}
	s.Records = maps.Clone(old.Records)
	for _, t := range append(tables, "periods") {
		if s.Records[t], err = st.Records(ctx, record.Named(t)); err != nil {
			return nil, err
		}
		if !anew {
			s.Records.linkTable(t)
		}
	}
	s.Closed, s.Checking = s.Records.inState("closed"), s.Records.inState("in checking")
	if anew {
		byID, err = s.restate(old)
	} else {
		err = s.say(tables, byID)
	}
	if err != nil {
		return nil, err
	}
	s.named = &named{}
	if old.filled() {
		var some []*portfolio.Project
		for id := range touched {
			if p := byID[id]; p != nil {
				byID[id] = p.Master()
				some = append(some, byID[id])
			}
		}
		if err := s.fillSome(ctx, some); err != nil {
			return nil, err
		}
		s.parts = partsAfter(old.Projects(), byID)
	} else {
		s.parts = newParts(s.Records.projects(s.Office), false)
	}
	first, last := span(map[int64][]store.Stated{0: changed})
	if s.Last = max(old.Last, last); first != 0 && (s.first == 0 || first < s.first) {
		s.first = first
	}
	if err := s.loadCuts(ctx); err != nil {
		return nil, err
	}
	if anew {
		s.memo = newMemo(old.memo.cache)
		return &s, nil
	}
	s.memo = old.memo.carry(s.Rules == old.Rules && maps.Equal(cutIDs(s.Cuts), cutIDs(old.Cuts)))
	return &s, nil
}

// put points to a part as the one in force, in a list of its project's own.
func (s *Snapshot) put(c store.Stated) {
	list := slices.Clone(s.Stated[c.Project])
	i, found := slices.BinarySearchFunc(list, c, func(a, b store.Stated) int {
		if a.Kind != b.Kind {
			return int(a.Kind) - int(b.Kind)
		}
		return int(a.Version) - int(b.Version)
	})
	if found {
		list[i] = c
	} else {
		list = slices.Insert(list, i, c)
	}
	s.Stated[c.Project] = list
}

// restate makes the office, its rules and its projects anew from records, with the
// statements that were decoded before.
func (s *Snapshot) restate(old *Snapshot) (map[int64]*portfolio.Project, error) {
	for name, rows := range s.Records { // references show their codes of now, in rows of our own
		rows = slices.Clone(rows)
		for i := range rows {
			rows[i].Fields = slices.Clone(rows[i].Fields)
		}
		s.Records[name] = rows
	}
	s.Records.link()
	var err error
	if s.Office, err = s.Records.office(); err != nil {
		return nil, err
	}
	if s.Rules, err = s.Records.rules(); err != nil {
		return nil, err
	}
	byID := s.Records.projects(s.Office)
	for id, p := range byID {
		if was := old.byID()[id]; was != nil {
			p.Restate(was)
		}
	}
	return byID, nil
}

func cutIDs(cuts map[calendar.Period]store.Cut) map[calendar.Period]int64 {
	out := make(map[calendar.Period]int64, len(cuts))
	for p, c := range cuts {
		out[p] = c.ID
	}
	return out
}
