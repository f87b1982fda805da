package store

import (
	"context"
	"errors"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestUnsent: a draft is one of its writer, project, kind and period; it keeps when it
// was begun, and is gone once nothing is left of it or its account.
func TestUnsent(t *testing.T) {
	ctx := context.Background()
	s, err := Open(ctx, filepath.Join(t.TempDir(), "a.db"), true)
	require.NoError(t, err)
	defer s.Close()
	account, err := s.ChangeAccount(ctx, &AccountChange{Account: Account{Login: "ada", Name: "Ada", Role: "lead"}})
	require.NoError(t, err)
	d := Unsent{Account: account, Project: 7, Kind: "progress", Period: 24310, At: 5}
	saw := []string{}
	keep := func(body string) func(string) (string, error) {
		return func(was string) (string, error) { saw = append(saw, was); return body, nil }
	}
	require.NoError(t, s.ChangeUnsent(ctx, d, keep("one")))
	d.At = 9
	require.NoError(t, s.ChangeUnsent(ctx, d, keep("two")))
	other := d
	other.Kind = "risks"
	require.NoError(t, s.ChangeUnsent(ctx, other, keep("three")))
	require.Equal(t, []string{"", "one", ""}, saw)
	list, err := s.UnsentOf(ctx, account)
	require.NoError(t, err)
	require.Equal(t, []Unsent{
		{account, 7, "progress", 24310, 5, 9, "two", 4}, {account, 7, "risks", 24310, 9, 9, "three", 0},
	}, list)
	require.ErrorContains(t, s.ChangeUnsent(ctx, d, func(string) (string, error) { return "lost", errors.New("no") }), "no")
	for period, n := range map[int64]int{24310: 2, 24311: 0} {
		list, err = s.UnsentFor(ctx, period)
		require.NoError(t, err)
		require.Len(t, list, n)
	}
	require.NoError(t, s.ChangeUnsent(ctx, d, keep("")))
	list, err = s.UnsentOf(ctx, account)
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.Equal(t, "three", list[0].Body)
	list, err = s.UnsentOf(ctx, account+1)
	require.NoError(t, err)
	require.Empty(t, list, "nobody else's")
}

// TestSpent: a statement took what passed between its cells, two minutes at most each time,
// and what passed until it was sent; a correction adds to it, and the last period counts.
func TestSpent(t *testing.T) {
	ctx := context.Background()
	s, err := Open(ctx, filepath.Join(t.TempDir(), "a.db"), true)
	require.NoError(t, err)
	defer s.Close()
	account, err := s.ChangeAccount(ctx, &AccountChange{Account: Account{Login: "ada", Name: "Ada", Role: "lead"}})
	require.NoError(t, err)
	const minute = 60_000
	typed := func(kind string, period, at int64) {
		d := Unsent{Account: account, Project: 7, Kind: kind, Period: period, At: at}
		require.NoError(t, s.ChangeUnsent(ctx, d, func(string) (string, error) { return "x", nil }))
	}
	spent := func(before int64) map[int64]int64 {
		out, err := s.Spent(ctx, account, before)
		require.NoError(t, err)
		return out
	}
	typed("progress", 100, 0)
	typed("progress", 100, 1*minute)
	typed("progress", 100, 30*minute) // 1 + 2
	typed("risks", 100, 31*minute)
	require.NoError(t, s.Spend(ctx, account, 7, 100, 32*minute)) // and 1 since the last cell
	require.Equal(t, map[int64]int64{7: 4 * minute}, spent(101))
	require.Empty(t, spent(100), "of that period itself")
	typed("risks", 100, 33*minute) // 1 more
	require.NoError(t, s.Spend(ctx, account, 7, 100, 33*minute))
	require.Equal(t, map[int64]int64{7: 5 * minute}, spent(101))
	typed("risks", 101, 50*minute)
	require.NoError(t, s.Spend(ctx, account, 7, 101, 51*minute))
	require.Equal(t, map[int64]int64{7: 1 * minute}, spent(102))
	require.NoError(t, s.Spend(ctx, account, 8, 101, 51*minute), "nothing was typed")
	require.Equal(t, int64(0), spent(102)[8])
}

// TestVisit: visits within an hour of each other are one; the one before is told.
func TestVisit(t *testing.T) {
	ctx := context.Background()
	s, err := Open(ctx, filepath.Join(t.TempDir(), "a.db"), true)
	require.NoError(t, err)
	defer s.Close()
	const minute, away = 60_000, 60 * 60_000
	for _, x := range []struct{ at, before int64 }{
		{10 * minute, 0}, {10*minute + 5, 0}, {60 * minute, 0}, {110 * minute, 0}, // one visit
		{200 * minute, 110 * minute}, {200*minute + 1, 110 * minute}, {250 * minute, 110 * minute}, // the next
		{400 * minute, 250 * minute},
	} {
		before, err := s.Visit(ctx, 3, x.at, away)
		require.NoError(t, err)
		require.Equal(t, x.before, before, x.at/minute)
	}
}
