package pack_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/pack"
)

func TestWhen(t *testing.T) {
	for text, want := range map[string]pack.When{
		"":                                {},
		"after closing":                   {Closing: true},
		"1 working day after closing":     {Closing: true, After: 1},
		" 2 Working days  after closing ": {Closing: true, After: 2},
		"each Monday":                     {Weekly: true, Weekday: time.Monday},
		"each sunday":                     {Weekly: true, Weekday: time.Sunday},
	} {
		w, err := pack.ParseWhen(text)
		require.NoError(t, err, text)
		require.Equal(t, want, w, text)
		again, err := pack.ParseWhen(w.String())
		require.NoError(t, err)
		require.Equal(t, w, again, text)
	}
	for _, text := range []string{"each month", "2 days after closing", "-1 working days after closing", "monday", "100 working days after closing"} {
		_, err := pack.ParseWhen(text)
		require.ErrorContains(t, err, "write", text)
	}
}

// TestDays: closed on Friday 4 December 2026, two working days later is Tuesday the 8th; with 0
// it is the day itself, and of a Saturday the Friday before. It is sent through the week after.
func TestDays(t *testing.T) {
	work := calendar.New("office", calendar.Week{false, true, true, true, true, true, false}, nil)
	day := func(s string) calendar.Date {
		d, err := calendar.ParseDate(s)
		require.NoError(t, err)
		return d
	}
	two, _ := pack.ParseWhen("2 working days after closing")
	require.Equal(t, day("2026-12-08"), two.On(day("2026-12-04"), work))
	at, _ := pack.ParseWhen("after closing")
	require.Equal(t, day("2026-12-04"), at.On(day("2026-12-04"), work))
	require.Equal(t, day("2026-12-04"), at.On(day("2026-12-05"), work))
	for today, want := range map[string]bool{"2026-12-07": false, "2026-12-08": true, "2026-12-15": true, "2026-12-16": false} {
		require.Equal(t, want, pack.Due(day("2026-12-08"), day(today)), today)
	}
	require.False(t, pack.Due(0, day("2026-12-08")))
	monday, _ := pack.ParseWhen("each Monday")
	require.True(t, monday.Weeks(day("2026-12-07")))
	require.False(t, monday.Weeks(day("2026-12-08")))
	require.False(t, two.Weeks(day("2026-12-06")), "a Sunday, of one that is not weekly")
}

func TestList(t *testing.T) {
	require.Equal(t, []string{"*", "FR", "QS-01"}, pack.List(" *, FR;QS-01 FR\n"))
	require.Empty(t, pack.List(" ,; "))
}
