package feedback_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/office"
	"turret/internal/office/feedback"
	"turret/internal/office/officetest"
	"turret/internal/right"
)

func start(t *testing.T) (o *office.Office, ines, tor right.Actor) {
	t.Helper()
	o = officetest.NewOffice(t)
	officetest.GatherMap(t, o, map[string]string{"projects.csv": "project,name\nA,Apron\n", "costs.csv": "project,cost_code,kind,period,version,amount\nA,10,plan,2026-01,1,10\n", "cost_codes.csv": "cost_code,name\n10,Works\n"})
	return o, officetest.Admitted(t, o, "ines", right.Analyst), officetest.Admitted(t, o, "tor", right.Executive)
}

// TestFeedback: what a reader says lands with the office, is answered, and is read by the two alone.
func TestFeedback(t *testing.T) {
	o, ines, tor := start(t)
	ctx, room := t.Context(), feedback.In(o)
	require.NoError(t, room.Give(ctx, tor, "/board?at=2026-01", "  The band is hard to read.\r\nLarger? "))
	require.NoError(t, room.GiveAs(ctx, "board@elsewhere.example", "Portfolio brief", "Thanks"))
	require.Equal(t, 2, feedback.Waiting(ines, officetest.Moment(t, o, office.Ask{})))
	require.Zero(t, feedback.Waiting(tor, officetest.Moment(t, o, office.Ask{})))
	all, err := room.List(ctx, ines)
	require.NoError(t, err)
	require.Equal(t, []string{"B2", "B1"}, []string{all[0].Code, all[1].Code}, "the last first")
	require.Equal(t, "The band is hard to read.\nLarger?", all[1].Text)
	require.Equal(t, "board@elsewhere.example", all[0].By)
	require.NoError(t, room.Answer(ctx, ines, "B2", "Welcome"))
	all, err = room.List(ctx, ines)
	require.NoError(t, err)
	require.Equal(t, []string{"B1", "B2"}, []string{all[0].Code, all[1].Code}, "what waits comes first")
	require.Equal(t, "ines", all[1].AnsweredBy)
	own, err := room.List(ctx, tor)
	require.NoError(t, err)
	require.Len(t, own, 1)
	require.Equal(t, "B1", own[0].Code)
	var denied *right.Denied
	require.ErrorAs(t, room.Answer(ctx, tor, "B1", "I answer myself"), &denied)
	require.ErrorContains(t, room.Answer(ctx, ines, "B9", "x"), "no feedback B9")
	require.ErrorContains(t, room.Give(ctx, tor, "/board", " \n"), "write something")
	require.ErrorContains(t, room.Give(ctx, tor, "/board", strings.Repeat("ø", 2001)), "2001 characters")
}

// TestNews: each text is told from its first day through its last.
func TestNews(t *testing.T) {
	o, _, _ := start(t)
	officetest.GatherMap(t, o, map[string]string{"news.csv": "news,text,from,until\nA,Close on Friday,2026-01-10,2026-01-16\nB,New codes,2026-01-12,2026-01-12\nC,Always told until March,,2026-02-28\n"})
	m := officetest.Moment(t, o, office.Ask{})
	for day, want := range map[string][]string{
		"2026-01-09": {"Always told until March"}, "2026-01-10": {"Close on Friday", "Always told until March"},
		"2026-01-12": {"New codes", "Close on Friday", "Always told until March"}, "2026-01-16": {"Close on Friday", "Always told until March"},
		"2026-01-17": {"Always told until March"}, "2026-02-28": {"Always told until March"}, "2026-03-01": nil,
	} {
		d, err := calendar.ParseDate(day)
		require.NoError(t, err)
		require.Equal(t, want, feedback.News(m, d), day)
	}
}

// TestFirstPage: the office sets the page that a role begins with, and takes it back.
func TestFirstPage(t *testing.T) {
	o, ines, tor := start(t)
	ctx, room := t.Context(), feedback.In(o)
	of := func(role right.Role) string {
		page, err := room.FirstPage(ctx, role)
		require.NoError(t, err)
		return page
	}
	require.Empty(t, of(right.Executive))
	require.NoError(t, room.SetFirstPage(ctx, ines, right.Executive, "12:sum 6:moved"))
	require.Equal(t, "12:sum 6:moved", of(right.Executive))
	require.Empty(t, of(right.Lead))
	require.NoError(t, room.SetFirstPage(ctx, ines, right.Executive, ""))
	require.Empty(t, of(right.Executive))
	var denied *right.Denied
	require.ErrorAs(t, room.SetFirstPage(ctx, tor, right.Executive, "12:sum"), &denied)
}
