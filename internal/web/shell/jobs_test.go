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
		jobs.Do(fmt.Sprint(i), func(*Job) (any, error) { return i, nil })
	}
	require.Nil(t, jobs.Find("0"), "only the last are remembered")
	require.NotNil(t, jobs.Find(fmt.Sprint(2*jobsKept-1)))
	require.Len(t, jobs.by, jobsKept)
}
