package book

import (
	"context"
	"fmt"
	"maps"
	"slices"

	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
)

// With gives the snapshot that a batch would leave, without writing it: what
// it would read as. Postings count by the parts that sum them.
func (s *Snapshot) With(ctx context.Context, b *store.Batch) (*Snapshot, error) {
	out := &Snapshot{
		Revision: s.Revision,
		Records:  maps.Clone(s.Records),
		Closed:   s.Closed,
		Checking: s.Checking,
		Cuts:     s.Cuts,
		History:  s.History,
		Last:     s.Last,
		store:    s.store,
		memo:     newMemo(s.memo.cache),
		overlay:  maps.Clone(s.overlay),
		pending:  slices.Clone(s.pending),
	}
	if out.overlay == nil {
		out.overlay = make(map[int64][]byte)
	}
	var tables []string
	for _, c := range b.Records {
		name := c.Table.Name
		if !slices.Contains(tables, name) {
			tables = append(tables, name)
			out.Records[name] = slices.Clone(out.Records[name])
		}
		rows := out.Records[name]
		if i := slices.IndexFunc(rows, func(r portfolio.Row) bool { return r.ID == c.After.ID }); i >= 0 {
			rows[i] = c.After
		} else {
			rows = append(rows, c.After)
		}
		out.Records[name] = rows
	}
	if s.filled() && len(b.Parts) == 0 && touches(tables) > record.Everything {
		return out, out.follow(s, tables)
	}
	if s.filled() && len(b.Records) == 0 {
		return out, out.stateOnly(ctx, s, b)
	}
	for name, rows := range out.Records { // codes are filled in below, in rows of our own
		rows = slices.Clone(rows)
		for i := range rows {
			rows[i].Fields = slices.Clone(rows[i].Fields)
		}
		out.Records[name] = rows
	}
	out.Records.link()
	stated := make(map[portfolio.Part]store.Stated)
	for _, list := range s.Stated {
		for _, x := range list {
			stated[x.Part] = x
		}
	}
	out.overlays(b, func(p portfolio.Part) int64 { return stated[p].ID }, func(x store.Stated) { stated[x.Part] = x })
	list := slices.SortedFunc(maps.Values(stated), func(a, b store.Stated) int {
		if a.Project != b.Project {
			return int(a.Project - b.Project)
		}
		if a.Kind != b.Kind {
			return int(a.Kind) - int(b.Kind)
		}
		return int(a.Version) - int(b.Version)
	})
	if err := out.build(list); err != nil {
		return nil, fmt.Errorf("as the batch would leave it: %w", err)
	}
	return out, s.share(ctx, out, b)
}

// overlays takes the parts of a batch, each under an id that no part of the database
// has, and hands over what points to them. Before gives the part that one takes the
// place of, or zero.
func (s *Snapshot) overlays(b *store.Batch, before func(portfolio.Part) int64, put func(store.Stated)) {
	for i := range b.Parts {
		c := &b.Parts[i]
		id := -int64(len(s.overlay) + 1)
		if was := before(c.Part); was != 0 && (c.Kind == portfolio.PlanPart || c.Kind == portfolio.BaselinePart) {
			s.pending = append(s.pending, store.PlanChange{Part: c.Part, Before: was})
		}
		s.overlay[id] = c.Body
		put(store.Stated{Part: c.Part, ID: id, Batch: s.Revision + 1})
	}
}

// stateOnly makes the snapshot out of one with the same records, where only what is
// stated is other.
func (s *Snapshot) stateOnly(ctx context.Context, from *Snapshot, b *store.Batch) error {
	s.Office, s.Rules, s.named, s.first = from.Office, from.Rules, &named{}, from.first
	s.Stated = maps.Clone(from.Stated)
	before := func(p portfolio.Part) int64 {
		for _, x := range from.Stated[p.Project] {
			if x.Part == p {
				return x.ID
			}
		}
		return 0
	}
	var put []store.Stated
	s.overlays(b, before, func(x store.Stated) { s.put(x); put = append(put, x) })
	first, last := span(map[int64][]store.Stated{0: put})
	if s.Last = max(from.Last, last); first != 0 && (s.first == 0 || first < s.first) {
		s.first = first
	}
	return from.share(ctx, s, b)
}

// follow makes the snapshot out of one that has the same projects, where only
// light tables are others.
func (s *Snapshot) follow(from *Snapshot, tables []string) error {
	for _, t := range tables {
		for i := range s.Records[t] {
			s.Records[t][i].Fields = slices.Clone(s.Records[t][i].Fields)
		}
		s.Records.linkTable(t)
	}
	s.Office, s.Rules, s.Stated, s.parts = from.Office, from.Rules, from.Stated, nil
	s.named = &named{}
	byID := maps.Clone(from.byID())
	if err := s.say(tables, byID); err != nil {
		return err
	}
	s.parts = partsAfter(from.Projects(), byID)
	s.memo = from.memo.carry(s.Rules == from.Rules)
	return nil
}

// share lets the new snapshot keep the projects that the batch leaves alone,
// with what is computed of them. Changed records may touch any project.
func (s *Snapshot) share(ctx context.Context, out *Snapshot, b *store.Batch) error {
	if len(b.Records) > 0 || !s.filled() {
		return nil
	}
	touched := make(map[int64]bool)
	for i := range b.Parts {
		touched[b.Parts[i].Project] = true
	}
	var some []*portfolio.Project
	byID := maps.Clone(s.byID())
	for id, p := range byID {
		if touched[id] {
			byID[id] = p.Master()
			some = append(some, byID[id])
		}
	}
	if err := out.fillMany(ctx, some); err != nil {
		return err
	}
	out.parts = partsAfter(s.Projects(), byID)
	out.memo = s.memo.carry(true)
	return nil
}
