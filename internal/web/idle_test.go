package web

import (
	"context"
	"testing"
	"testing/synctest"
	"time"

	"github.com/stretchr/testify/require"
)

// TestIdle: who waits goes on two seconds after the last answer, not while one is
// made, and stops when it is told to.
func TestIdle(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		i := newIdle()
		begun := time.Now()
		require.NoError(t, i.wait(t.Context()))
		require.InDelta(t, 2, time.Since(begun).Seconds(), 0.01)

		i.asking.Add(1)
		go func() { // a request that takes five seconds
			time.Sleep(5 * time.Second)
			i.last.Store(time.Now().UnixNano())
			i.asking.Add(-1)
		}()
		begun = time.Now()
		require.NoError(t, i.wait(t.Context()))
		require.InDelta(t, 7, time.Since(begun).Seconds(), 0.3)

		ctx, cancel := context.WithTimeout(t.Context(), time.Second)
		defer cancel()
		i.asking.Add(1)
		require.ErrorIs(t, i.wait(ctx), context.DeadlineExceeded)
	})
}
