package book

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"slices"

	"turret/internal/book/cache"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
	"turret/internal/store/format"
)

// The formats of cuts. Readings of format 1 have no findings, and no dimensions
// of the office's own; those of 1 and 2 have no names of figures.
const (
	inputsFormat   = 1
	readingsFormat = 3
)

// Inputs lists everything a snapshot is made of, for a cut: all records, and
// every part in force. The hash is over their contents, not their places.
func (s *Snapshot) Inputs(ctx context.Context) (inputs []byte, hash [32]byte, err error) {
	hashes, err := s.store.Hashes(ctx)
	if err != nil {
		return nil, hash, err
	}
	var w frost
	sum := sha256.New()
	w.u(inputsFormat)
	for _, t := range record.Kinds() {
		if t.Keep != record.Records || t.Name == "periods" {
			continue
		}
		body := format.EncodeRows(s.Records[t.Name])
		of, err := format.Hash(body)
		if err != nil {
			return nil, hash, err
		}
		w.t(t.Name)
		w.t(string(body))
		fmt.Fprintf(sum, "%s %x\n", t.Name, of)
	}
	w.t("")
	ids := make([]int64, 0, len(s.Stated))
	n := 0
	for id, list := range s.Stated {
		ids = append(ids, id)
		n += len(list)
	}
	slices.Sort(ids)
	w.u(uint64(n))
	for _, id := range ids {
		for _, x := range s.Stated[id] {
			w.i(x.Project)
			w.i(int64(x.Kind))
			w.i(int64(x.Version))
			w.i(x.ID)
			fmt.Fprintf(sum, "%d %s %d %x\n", x.Project, x.Kind, x.Version, hashes[x.ID])
		}
	}
	return w.b, [32]byte(sum.Sum(nil)), nil
}

// thaw rebuilds the snapshot that a cut was made of; its place in history is for
// the caller to set.
func thaw(st *store.Store, c *cache.Cache, inputs []byte) (*Snapshot, error) {
	r := frostReader{Reader: format.Read(inputs)}
	if r.U() != inputsFormat {
		return nil, errCut
	}
	s := &Snapshot{store: st, Records: make(Records), memo: newMemo(c)}
	for name := r.t(); name != "" && !r.Bad; name = r.t() {
		t := record.Named(name)
		if t == nil {
			return nil, fmt.Errorf("%w: it has a table %q", errCut, name)
		}
		rows, err := format.DecodeRows([]byte(r.t()), len(t.Columns))
		if err != nil {
			return nil, err
		}
		s.Records[name] = rows
	}
	var stated []store.Stated
	for n := r.U(); n > 0 && !r.Bad; n-- {
		stated = append(
			stated,
			store.Stated{
				Part: portfolio.Part{Project: r.I(), Kind: portfolio.PartKind(r.I()), Version: int32(r.I())},
				ID:   r.I(),
			},
		)
	}
	if r.Bad {
		return nil, errCut
	}
	return s, s.build(stated)
}

var errCut = errors.New("a cut is damaged")

// The keys of what is kept of cuts, which never change.
type (
	cutInputsKey   struct{ cut int64 }
	cutReadingsKey struct {
		cut       int64
		reporting bool
	}
	marksKey struct{ cut int64 }
	sinceKey struct{ cut int64 }
)

func (cutInputsKey) Weight() int   { return 60 }
func (cutReadingsKey) Weight() int { return 2 }

// CutInputs gives the snapshot that a cut was made of.
func (b *Book) CutInputs(ctx context.Context, id int64) (*Snapshot, error) {
	return cache.Get(ctx, b.cache, cutInputsKey{id}, func(ctx context.Context) (*Snapshot, error) {
		body, err := b.store.CutInputs(ctx, id)
		if err != nil {
			return nil, err
		}
		s, err := thaw(b.store, b.cache, body)
		if err != nil {
			return nil, fmt.Errorf("cut %d: %w", id, err)
		}
		return s, b.place(ctx, s, id)
	})
}

// place sets the place of a cut's snapshot in history: what was closed before.
func (b *Book) place(ctx context.Context, s *Snapshot, id int64) error {
	cuts, err := b.store.Cuts(ctx)
	if err != nil {
		return err
	}
	s.Cuts = make(map[calendar.Period]store.Cut)
	for _, c := range cuts {
		switch {
		case c.ID == id:
			s.Revision = c.Batch - 1
		case c.ID < id && c.Kind == store.CloseCut:
			s.Cuts[calendar.Period(c.Period)] = c
		}
	}
	return nil
}

// Readings gives the readings of a period: of a closed one those kept in its
// cut, or, where another baseline is asked for, computed from the cut's inputs.
func (b *Book) Readings(
	ctx context.Context,
	s *Snapshot,
	p calendar.Period,
	against portfolio.Against,
	reporting bool,
) (*Readings, error) {
	cut, closed := s.Cuts[p]
	if !closed {
		return s.Live(ctx, p, against, reporting)
	}
	if s.full != nil {
		return b.seenReadings(ctx, s, cut, against, reporting)
	}
	if against != portfolio.Latest {
		in, err := b.CutInputs(ctx, cut.ID)
		if err != nil {
			return nil, err
		}
		return in.Live(ctx, p, against, reporting)
	}
	return b.CutReadings(ctx, cut.ID, reporting)
}

// Reading gives the reading of one project in a period, as Readings does, without
// those of others where they are not kept; nil where there is no such project.
func (b *Book) Reading(
	ctx context.Context,
	s *Snapshot,
	code string,
	p calendar.Period,
	against portfolio.Against,
	reporting bool,
) (*Reading, error) {
	if s.full != nil {
		p := s.Project(code)
		if p == nil {
			return nil, nil
		}
		if s.sight.ReadsKinds(p.ID, portfolio.AllKinds) {
			s = s.full
		}
	}
	cut, closed := s.Cuts[p]
	if closed && against == portfolio.Latest && s.full == nil {
		rs, err := b.CutReadings(ctx, cut.ID, reporting)
		if err != nil {
			return nil, err
		}
		return rs.Project(code), nil
	}
	in, err := b.InputsAt(ctx, s, p)
	if err != nil {
		return nil, err
	}
	return in.Against(ctx, code, p, against, reporting)
}

// CutReadings gives the readings that a cut keeps.
func (b *Book) CutReadings(ctx context.Context, id int64, reporting bool) (*Readings, error) {
	return cache.Get(ctx, b.cache, cutReadingsKey{id, reporting}, func(ctx context.Context) (*Readings, error) {
		return readCut(ctx, b.store, id, reporting)
	})
}

// onlyRead gives the readings of a cut in the reporting currency where they are kept,
// else reads them without keeping them: of old cuts only what is made of them is.
func onlyRead(ctx context.Context, c *cache.Cache, st *store.Store, id int64) (*Readings, error) {
	if rs, ok := cache.Peek[*Readings](c, cutReadingsKey{id, true}); ok {
		return rs, nil
	}
	return readCut(ctx, st, id, true)
}

func readCut(ctx context.Context, st *store.Store, id int64, reporting bool) (*Readings, error) {
	body, err := st.CutReadings(ctx, id)
	if err != nil {
		return nil, err
	}
	rs, err := DecodeReadings(body, reporting)
	if err != nil {
		return nil, fmt.Errorf("cut %d: %w", id, err)
	}
	return rs, nil
}

// InputsAt gives the snapshot that answers for a period: the one of its cut,
// or the current one.
func (b *Book) InputsAt(ctx context.Context, s *Snapshot, p calendar.Period) (*Snapshot, error) {
	if cut, ok := s.Cuts[p]; ok {
		return b.InputsOf(ctx, s, cut.ID)
	}
	return s, nil
}
