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
		{account, 7, "progress", 24310, 5, 9, "two"}, {account, 7, "risks", 24310, 9, 9, "three"},
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
