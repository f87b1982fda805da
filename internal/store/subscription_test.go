package store

import (
	"context"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestSubscriptions(t *testing.T) {
	ctx := context.Background()
	s, err := Open(ctx, filepath.Join(t.TempDir(), "a.db"), true)
	require.NoError(t, err)
	defer s.Close()
	require.NoError(t, s.Subscribe(ctx, 7, []byte("one"), "only=raised", 1000))
	require.NoError(t, s.Subscribe(ctx, 7, []byte("two"), "", 2000))
	require.Error(t, s.Subscribe(ctx, 8, []byte("two"), "", 3000), "a hash is one account's")
	list, err := s.Subscriptions(ctx, 7)
	require.NoError(t, err)
	require.Equal(t, []Subscription{{2, 7, "", 2000}, {1, 7, "only=raised", 1000}}, list)
	x, err := s.SubscriptionBy(ctx, []byte("one"))
	require.NoError(t, err)
	require.Equal(t, int64(7), x.Account)
	require.NoError(t, s.Unsubscribe(ctx, 8, 1))
	x, err = s.SubscriptionBy(ctx, []byte("one"))
	require.NoError(t, err)
	require.NotNil(t, x, "another account takes nothing back")
	require.NoError(t, s.Unsubscribe(ctx, 7, 1))
	x, err = s.SubscriptionBy(ctx, []byte("one"))
	require.NoError(t, err)
	require.Nil(t, x)
}
