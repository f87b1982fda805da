package shell

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

func TestJobs(t *testing.T) {
	var jobs Jobs
	hold := make(chan struct{})
	runs := 0
	work := func(_ context.Context, j *Job) (any, error) {
		runs++
		j.Tell("half way")
		<-hold
		return 7, errors.New("late")
	}
	first := jobs.Do(t.Context(), 1, "a", work)
	require.Same(t, first, jobs.Do(t.Context(), 1, "a", work), "the same work is done once")
	require.False(t, first.Wait(5*time.Millisecond))
	close(hold)
	require.True(t, first.Wait(time.Second))
	require.Equal(t, "half way", first.Text())
	require.Equal(t, 7, first.Value)
	require.EqualError(t, first.Err, "late")
	require.Equal(t, 1, runs)
	require.Same(t, first, jobs.Find("a"))
	jobs.Drop("a")
	require.Nil(t, jobs.Find("a"))
	for i := range 2 * jobsKept {
		jobs.Do(t.Context(), 1, fmt.Sprint(i), func(context.Context, *Job) (any, error) { return i, nil }).Wait(time.Second)
	}
	require.Nil(t, jobs.Find("0"), "only the last are remembered")
	require.NotNil(t, jobs.Find(fmt.Sprint(2*jobsKept-1)))
	require.Len(t, jobs.views.by, jobsKept)
}

// TestJobsThatGoOnStay: neither others nor their number push out what goes on, or
// an outcome that nobody was told yet.
func TestJobsThatGoOnStay(t *testing.T) {
	var jobs Jobs
	hold := make(chan struct{})
	long := jobs.Do(t.Context(), 1, "long", func(context.Context, *Job) (any, error) { <-hold; return 1, nil })
	deed := jobs.Deed(t.Context(), 1, "deed", func(context.Context, *Job) (any, error) { return 2, nil })
	require.True(t, deed.Wait(time.Second))
	for i := range 3 * jobsKept {
		jobs.Do(t.Context(), 1, fmt.Sprint(i), func(context.Context, *Job) (any, error) { return i, nil }).Wait(time.Second)
	}
	require.Same(t, long, jobs.Find("long"), "it goes on")
	require.Same(t, deed, jobs.Find("deed"), "its outcome is not told yet")
	require.Same(t, long, jobs.Do(t.Context(), 1, "long", func(context.Context, *Job) (any, error) { return 3, nil }), "it is not begun twice")
	close(hold)
	require.True(t, long.Wait(time.Second))
	require.Equal(t, 1, long.Value)
}

// TestJobThatBreaksOff: its error is told, and the server goes on.
func TestJobThatBreaksOff(t *testing.T) {
	var jobs Jobs
	j := jobs.Do(t.Context(), 1, "a", func(context.Context, *Job) (any, error) { panic("nothing there") })
	require.True(t, j.Wait(time.Second))
	require.Nil(t, j.Value)
	require.ErrorContains(t, j.Err, "nothing there")
}

// TestJobsWaitForTheirTurn: of one person few run at once, and others are not held up by
// them; a turn that is handed on goes to who waited longest.
func TestJobsWaitForTheirTurn(t *testing.T) {
	var jobs Jobs
	running := make(chan string, 100)
	hold := make(chan struct{})
	work := func(name string) Work {
		return func(ctx context.Context, _ *Job) (any, error) {
			running <- name
			select {
			case <-hold:
			case <-ctx.Done():
			}
			return nil, ctx.Err()
		}
	}
	const people = ofOne + 2
	for i := range people {
		jobs.Do(t.Context(), 1, fmt.Sprint("one ", i), work(fmt.Sprint("one ", i)))
	}
	began := map[string]bool{}
	for range ofOne {
		began[<-running] = true
	}
	other := jobs.Do(t.Context(), 2, "two", work("two"))
	require.Equal(t, "two", <-running, "another person does not wait for the first")
	waiting := func() (out []string) {
		for i := range people {
			if key := fmt.Sprint("one ", i); !began[key] {
				out = append(out, key)
			}
		}
		return out
	}
	require.Len(t, waiting(), 2)
	for _, key := range waiting() {
		require.False(t, jobs.Find(key).Wait(20*time.Millisecond))
		require.Contains(t, jobs.Find(key).Text(), "Waiting for its turn")
	}
	require.Empty(t, running)

	stopped := slices.Sorted(maps.Keys(began))[0]
	require.True(t, jobs.Stop(stopped), "one that runs is stopped, and the next has its turn")
	require.Nil(t, jobs.Find(stopped))
	next := <-running
	began[next] = true
	require.Empty(t, jobs.Find(next).Text())
	left := waiting()
	require.Len(t, left, 1)
	last := jobs.Find(left[0])
	require.True(t, jobs.Stop(left[0]), "one that waits is stopped too")
	require.True(t, last.Wait(time.Second))
	require.ErrorIs(t, last.Err, context.Canceled)
	require.False(t, jobs.Stop("one 9"))
	require.True(t, jobs.Stop("one "), "all that begin so")
	close(hold)
	require.True(t, other.Wait(time.Second))
	require.NoError(t, other.Err)
	require.Eventually(t, func() bool {
		jobs.turns.mu.Lock()
		defer jobs.turns.mu.Unlock()
		return jobs.turns.all == 0 && len(jobs.turns.running) == 0 && len(jobs.turns.waiting) == 0
	}, time.Second, time.Millisecond, "each turn is handed on")
}

// TestJobsInAll: no more run than the machine does with ease, however many people ask.
func TestJobsInAll(t *testing.T) {
	var jobs Jobs
	var now, most atomic.Int64
	var list []*Job
	for i := range 60 {
		list = append(list, jobs.Do(t.Context(), int64(i%20), fmt.Sprint(i), func(context.Context, *Job) (any, error) {
			n := now.Add(1)
			for was := most.Load(); n > was && !most.CompareAndSwap(was, n); was = most.Load() {
			}
			time.Sleep(time.Millisecond)
			now.Add(-1)
			return nil, nil
		}))
	}
	for _, j := range list {
		require.True(t, j.Wait(5*time.Second))
	}
	require.LessOrEqual(t, most.Load(), int64(atOnce()))
	require.Greater(t, most.Load(), int64(1))
}
