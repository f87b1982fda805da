package cache_test

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/book/cache"
)

type key int

func TestGetMakesOnce(t *testing.T) {
	c := cache.New(2)
	var made atomic.Int32
	one := func(context.Context) (string, error) { made.Add(1); return "one", nil }
	for range 3 {
		v, err := cache.Get(t.Context(), c, key(1), one)
		require.NoError(t, err)
		require.Equal(t, "one", v)
	}
	require.EqualValues(t, 1, made.Load())
	v, ok := cache.Peek[string](c, key(1))
	require.True(t, ok)
	require.Equal(t, "one", v)
	_, ok = cache.Peek[string](c, key(2))
	require.False(t, ok)
}

// TestGetDropsWhatWasAskedForLongestAgo: of two places, the third takes that of the
// second, since the first was asked for again.
func TestGetDropsWhatWasAskedForLongestAgo(t *testing.T) {
	c := cache.New(2)
	made := map[key]int{}
	ask := func(k key) {
		v, err := cache.Get(t.Context(), c, k, func(context.Context) (key, error) { made[k]++; return k, nil })
		require.NoError(t, err)
		require.Equal(t, k, v)
	}
	for _, k := range []key{1, 2, 1, 3, 1, 3, 2} {
		ask(k)
	}
	require.Equal(t, map[key]int{1: 1, 2: 2, 3: 1}, made)
}

func TestErrorsAreNotKept(t *testing.T) {
	c := cache.New(2)
	bad := errors.New("bad")
	_, err := cache.Get(t.Context(), c, key(1), func(context.Context) (int, error) { return 0, bad })
	require.ErrorIs(t, err, bad)
	_, ok := cache.Peek[int](c, key(1))
	require.False(t, ok)
	v, err := cache.Get(t.Context(), c, key(1), func(context.Context) (int, error) { return 7, nil })
	require.NoError(t, err)
	require.Equal(t, 7, v)
}

// TestPanicsLeaveNothing: who waited for a maker that panicked makes it anew.
func TestPanicsLeaveNothing(t *testing.T) {
	c := cache.New(2)
	require.Panics(t, func() {
		_, _ = cache.Get(t.Context(), c, key(1), func(context.Context) (int, error) { panic("bad") })
	})
	v, err := cache.Get(t.Context(), c, key(1), func(context.Context) (int, error) { return 7, nil })
	require.NoError(t, err)
	require.Equal(t, 7, v)
}

// TestOthersGoOnMeanwhile: while one thing is made, another is, and one who waits
// for the first leaves when its request ends; of many who ask, one makes.
func TestOthersGoOnMeanwhile(t *testing.T) {
	c := cache.New(4)
	begun, go1 := make(chan struct{}), make(chan struct{})
	var made atomic.Int32
	slow := func(context.Context) (int, error) {
		if made.Add(1) == 1 {
			close(begun)
		}
		<-go1
		return 1, nil
	}
	var all sync.WaitGroup
	for range 8 {
		all.Go(func() {
			v, err := cache.Get(t.Context(), c, key(1), slow)
			if err != nil || v != 1 {
				t.Errorf("%v, %v", v, err)
			}
		})
	}
	<-begun
	v, err := cache.Get(t.Context(), c, key(2), func(context.Context) (int, error) { return 2, nil })
	require.NoError(t, err)
	require.Equal(t, 2, v)
	gone, cancel := context.WithCancel(t.Context())
	cancel()
	_, err = cache.Get(gone, c, key(1), slow)
	require.ErrorIs(t, err, context.Canceled)
	close(go1)
	all.Wait()
	require.EqualValues(t, 1, made.Load())
}

type heavy int

func (heavy) Weight() int { return 3 }

// TestWeights: of room for four, something of three leaves room for one.
func TestWeights(t *testing.T) {
	c := cache.New(4)
	ask := func(k any) {
		_, err := cache.Get(t.Context(), c, k, func(context.Context) (int, error) { return 1, nil })
		require.NoError(t, err)
	}
	has := func(k any) bool { _, ok := cache.Peek[int](c, k); return ok }
	ask(key(1))
	ask(key(2))
	ask(heavy(1))
	require.False(t, has(key(1)))
	require.True(t, has(key(2)))
	ask(heavy(2))
	require.False(t, has(key(2)))
	require.False(t, has(heavy(1)))
	require.True(t, has(heavy(2)))
	ask(key(3))
	require.True(t, has(heavy(2)), "what was dropped weighs no more")
}
