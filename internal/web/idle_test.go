package web

import (
	"context"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"testing"
	"testing/synctest"
	"time"

	"turret/internal/office/officetest"

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

// TestHealthIsNoQuestion: who looks whether the server is healthy leaves it idle; who
// asks for a page does not.
func TestHealthIsNoQuestion(t *testing.T) {
	calm := newIdle()
	app := application(officetest.NewOffice(t), Options{BodyLimit: 1 << 20, Session: time.Hour, Log: slog.New(slog.DiscardHandler)}, calm)
	for path, asks := range map[string]bool{"/healthz": false, "/sign-in": true} {
		calm.last.Store(1)
		res, err := app.Test(httptest.NewRequestWithContext(t.Context(), http.MethodGet, path, nil))
		require.NoError(t, err)
		res.Body.Close()
		require.Equal(t, http.StatusOK, res.StatusCode)
		require.Equal(t, asks, calm.last.Load() != 1, path)
	}
}
