package shell

import (
	"errors"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

func TestJobs(t *testing.T) {
	var jobs Jobs
	hold := make(chan struct{})
	runs := 0
	work := func(j *Job) (any, error) {
		runs++
		j.Tell("half way")
		<-hold
		return 7, errors.New("late")
	}
	first := jobs.Do("a", work)
	require.Same(t, first, jobs.Do("a", work), "the same work is done once")
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
		jobs.Do(fmt.Sprint(i), func(*Job) (any, error) { return i, nil }).Wait(time.Second)
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
	long := jobs.Do("long", func(*Job) (any, error) { <-hold; return 1, nil })
	deed := jobs.Deed("deed", func(*Job) (any, error) { return 2, nil })
	require.True(t, deed.Wait(time.Second))
	for i := range 3 * jobsKept {
		jobs.Do(fmt.Sprint(i), func(*Job) (any, error) { return i, nil }).Wait(time.Second)
	}
	require.Same(t, long, jobs.Find("long"), "it goes on")
	require.Same(t, deed, jobs.Find("deed"), "its outcome is not told yet")
	require.Same(t, long, jobs.Do("long", func(*Job) (any, error) { return 3, nil }), "it is not begun twice")
	close(hold)
	require.True(t, long.Wait(time.Second))
	require.Equal(t, 1, long.Value)
}

// TestJobThatBreaksOff: its error is told, and the server goes on.
func TestJobThatBreaksOff(t *testing.T) {
	var jobs Jobs
	j := jobs.Do("a", func(*Job) (any, error) { panic("nothing there") })
	require.True(t, j.Wait(time.Second))
	require.Nil(t, j.Value)
	require.ErrorContains(t, j.Err, "nothing there")
}
