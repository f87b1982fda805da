package book

import (
	"context"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/store"
)

// TestManyReadAtOnce: boards, trails, sets, money, forecasts and previews of other
// rules, all asked for at once of a book that has computed nothing, say what one who
// asks alone is told. Run with -race it finds what they share unguarded.
func TestManyReadAtOnce(t *testing.T) {
	b, s := demonstration(t)
	p := s.Current()
	codes := []string{s.Projects()[0].Code, s.Projects()[3].Code}
	rule := portfolio.Row{ID: 99, Fields: make([]portfolio.Field, len(record.Rules.Columns))}
	for name, text := range map[string]string{"dimension": "cost", "reading": "spent_share", "direction": "above", "watch": "0.01", "act": "0.02"} {
		rule.Fields[record.Rules.Index(name)] = portfolio.Field{Said: portfolio.Value, Text: text}
	}
	rule.Fields[record.Rules.Index("from")] = portfolio.Field{Said: portfolio.Value, Int: int64(p)}
	change := &store.Batch{Records: []store.RecordChange{{Table: record.Rules.Kind, After: rule}}}

	asks := []func(context.Context, *Book, *Snapshot) (any, error){
		func(ctx context.Context, b *Book, s *Snapshot) (any, error) {
			return total(b.Readings(ctx, s, p, portfolio.Latest, true))
		},
		func(ctx context.Context, b *Book, s *Snapshot) (any, error) {
			return total(b.Readings(ctx, s, p, portfolio.Latest, false))
		},
		func(ctx context.Context, b *Book, s *Snapshot) (any, error) {
			return total(b.Readings(ctx, s, p-1, portfolio.Original, true))
		},
		func(ctx context.Context, b *Book, s *Snapshot) (any, error) {
			return total(s.Live(ctx, p, portfolio.Original, true))
		},
		func(ctx context.Context, _ *Book, s *Snapshot) (any, error) {
			with, err := s.With(ctx, change)
			if err != nil {
				return nil, err
			}
			rs, err := with.Live(ctx, p, portfolio.Latest, true)
			if err != nil {
				return nil, err
			}
			return rs.Group("*").Counts, nil
		},
		func(ctx context.Context, b *Book, s *Snapshot) (any, error) {
			r, err := b.Set(ctx, s, codes, p, portfolio.Latest)
			if err != nil {
				return nil, err
			}
			return r.Values, nil
		},
		func(ctx context.Context, _ *Book, s *Snapshot) (out any, err error) {
			err = s.ExamineGroup(
				ctx,
				"*",
				nil,
				p,
				portfolio.Latest,
				func(e *figure.Eval) { out = e.At(figure.EV, p-5) },
			)
			return out, err
		},
		func(ctx context.Context, _ *Book, s *Snapshot) (any, error) {
			return s.Costs(ctx, codes, p, portfolio.Latest, "EUR", costs.Usual, true)
		},
		func(ctx context.Context, _ *Book, s *Snapshot) (any, error) { return s.Forecasts(ctx, codes, p) },
		func(ctx context.Context, _ *Book, s *Snapshot) (any, error) { return s.Suppliers(ctx, codes, p) },
		func(ctx context.Context, b *Book, s *Snapshot) (any, error) { return b.Marks(ctx, s, p-1) },
	}
	alone := make([]any, len(asks))
	for i, ask := range asks {
		var err error
		alone[i], err = ask(t.Context(), b, s)
		require.NoError(t, err)
	}
	fresh, err := Open(t.Context(), b.store)
	require.NoError(t, err)
	now, err := fresh.Snapshot(t.Context())
	require.NoError(t, err)
	var all sync.WaitGroup
	for i := range 3 * len(asks) {
		all.Go(func() {
			k := i % len(asks)
			got, err := asks[k](t.Context(), fresh, now)
			if err != nil {
				t.Errorf("ask %d: %v", k, err)
				return
			}
			if !assert.ObjectsAreEqual(alone[k], got) {
				t.Errorf("ask %d: %v, alone %v", k, got, alone[k])
			}
		})
	}
	all.Wait()
}

// total gives the figures of the portfolio.
func total(rs *Readings, err error) (any, error) {
	if err != nil {
		return nil, err
	}
	return rs.Group("*").Values, nil
}
