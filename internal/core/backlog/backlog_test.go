package backlog_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/backlog"
	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
)

func day(t *testing.T, s string) calendar.Date {
	t.Helper()
	if s == "" {
		return 0
	}
	d, err := calendar.ParseDate(s)
	require.NoError(t, err)
	return d
}

// item is an item of so many points.
func item(t *testing.T, code string, points int64, created, accepted string) portfolio.Item {
	return portfolio.Item{Activity: -1, Code: code, Size: points * portfolio.Quantity, State: "new", Created: day(t, created), Accepted: day(t, accepted)}
}

// project is a project from 5 January 2026 to 15 June 2026 whose items are given, as it is
// known at the end of a month.
func project(t *testing.T, month string, change func(*portfolio.Project), items ...portfolio.Item) *portfolio.View {
	o := &portfolio.Office{Reporting: "EUR", Periods: calendar.Months(1)}
	o.Settle()
	p := &portfolio.Project{Code: "B", State: portfolio.Active, TooEarly: -1, GraceDays: -1, Items: items}
	p.Activities = []portfolio.Activity{{Code: "1", Kind: portfolio.Task, Rule: "items", Parent: -1, Leaf: true}}
	p.Baselines = []portfolio.Baseline{{Number: 1, Rows: []portfolio.BaselineRow{{Start: day(t, "2026-01-05"), Finish: day(t, "2026-06-15")}}}}
	if change != nil {
		change(p)
	}
	at, err := o.Periods.Parse(month)
	require.NoError(t, err)
	return portfolio.At(o, p, at, portfolio.Latest)
}

func num(n int64) exact.Ratio     { return exact.Whole(n) }
func part(n, d int64) exact.Ratio { return exact.Of(n, d) }
func text(r exact.Ratio) string   { return figure.TrimDecimals(figure.Decimals(r, 6)) }
func finish(d calendar.Date, why string) string {
	if d == 0 {
		return why
	}
	return d.String()
}

// plain is a backlog with the arithmetic of its tests: 40 points from the start, 6 added in
// March, 4 dropped in March; 8 accepted in January, 6 in February, 10 in March.
func plain(t *testing.T) []portfolio.Item {
	out := []portfolio.Item{
		item(t, "a", 8, "2025-12-20", "2026-01-28"),
		item(t, "b", 6, "2026-01-05", "2026-02-11"),
		item(t, "c", 10, "2026-01-19", "2026-03-31"), // 10 working days after the start: of the plan
		item(t, "d", 12, "2026-01-05", ""),
		item(t, "e", 4, "2026-01-05", ""),  // dropped on 10 March
		item(t, "f", 6, "2026-03-02", ""),  // added
		item(t, "g", 99, "2026-04-01", ""), // not there yet
	}
	out[4].Dropped, out[4].State = day(t, "2026-03-10"), "dropped"
	return out
}

func TestBacklog(t *testing.T) {
	b := backlog.Of(project(t, "2026-03", nil, plain(t)...))
	require.Equal(t, "42", text(b.Scope(b.Day)), "8 + 6 + 10 + 12 + 6")
	require.Equal(t, "40", text(b.Scope(day(t, "2026-02-28"))), "with what was dropped later")
	require.Equal(t, "24", text(b.Accepted(b.Day)))
	added, ok := b.Added(b.Day)
	require.True(t, ok)
	require.Equal(t, "6", text(added))
	require.Equal(t, 3, b.Periods())
	require.Equal(t, "8", text(b.Pace()), "(8 + 6 + 10) ÷ 3")
	net, ok := b.NetPace()
	require.True(t, ok)
	require.Equal(t, "6", text(net), "8 − 6 ÷ 3")
	require.Equal(t, "18", text(b.Left()))
	// 18 ÷ 8 = 2.25 periods after March: a quarter of June, 30 ÷ 4 = 7.5, so 8 days.
	require.Equal(t, "2026-06-08", finish(b.Finish(b.Pace())))
	require.Equal(t, "2026-06-30", finish(b.Finish(net)), "18 ÷ 6 = 3 periods: the last day of June")
	require.Equal(t, backlog.Never, finish(b.Finish(num(0))))
	require.Equal(t, backlog.Beyond, finish(b.Finish(part(1, 1000))))
	// From March to 15 June there are 2.5 periods: 18 − 8 × 2.5 is below 0.
	share, why := b.NotReady(b.Pace())
	require.Empty(t, why)
	require.Equal(t, "0", text(share))
	share, _ = b.NotReady(num(4)) // 18 − 10 = 8 of 42
	require.Equal(t, 0, share.Cmp(part(4, 21)))
}

// TestPeriodsOfThePace: those of the project, fewer from the first accepted item on, and one
// at least.
func TestPeriodsOfThePace(t *testing.T) {
	items := plain(t)
	for _, c := range []struct {
		month string
		over  int
		want  int
		pace  string
	}{
		{"2026-01", 0, 1, "8"}, // the first was accepted in January
		{"2026-02", 0, 2, "7"},
		{"2026-03", 2, 2, "8"}, // (6 + 10) ÷ 2
		{"2026-03", 12, 3, "8"},
		{"2026-05", 0, 3, "3.333333"}, // of March alone
		{"2026-09", 0, 3, "0"},
		{"2025-12", 0, 3, "0"}, // nothing was accepted: 0 ÷ 3
	} {
		b := backlog.Of(project(t, c.month, func(p *portfolio.Project) { p.PacePeriods = c.over }, items...))
		require.Equal(t, c.want, b.Periods(), c.month)
		require.Equal(t, c.pace, text(b.Pace()), c.month)
	}
}

func TestAddedByGrace(t *testing.T) {
	items := plain(t)
	for _, c := range []struct {
		grace int
		want  string
	}{{-1, "6"}, {9, "16"}, {10, "6"}, {0, "16"}, {60, "0"}} {
		b := backlog.Of(project(t, "2026-03", func(p *portfolio.Project) { p.GraceDays = c.grace }, items...))
		added, ok := b.Added(b.Day)
		require.True(t, ok)
		require.Equal(t, c.want, text(added), c.grace)
	}
	b := backlog.Of(project(t, "2026-03", func(p *portfolio.Project) { p.Baselines = nil }, items...))
	_, ok := b.Added(b.Day)
	require.False(t, ok, "without a baseline start")
	_, ok = b.NetPace()
	require.False(t, ok)
	_, why := b.NotReady(num(1))
	require.Equal(t, "no finish is planned", why)
}

func TestNothingLeft(t *testing.T) {
	require.Nil(t, backlog.Of(project(t, "2026-03", nil)))
	require.Nil(t, backlog.Of(project(t, "2026-03", nil, item(t, "a", 1, "2026-04-01", ""))), "nothing came up yet")
	b := backlog.Of(project(t, "2026-05", nil, item(t, "a", 3, "2026-01-05", "2026-02-11"), item(t, "b", 3, "2026-01-05", "2026-03-04")))
	require.Equal(t, "2026-03-31", finish(b.Finish(b.Pace())), "the period of the last acceptance")
	share, why := b.NotReady(num(0))
	require.Empty(t, why)
	require.Equal(t, 0, share.Sign())
	gone := item(t, "a", 3, "2026-01-05", "")
	gone.Dropped = 1
	b = backlog.Of(project(t, "2026-05", nil, gone))
	require.Equal(t, "nothing is in its scope", finish(b.Finish(num(1))))
	_, why = b.NotReady(num(1))
	require.Equal(t, "nothing is in its scope", why)
	require.Equal(t, "0", text(b.Pace()))
}

func TestAfterThePlannedFinish(t *testing.T) {
	b := backlog.Of(project(t, "2026-07", nil, item(t, "a", 3, "2026-01-05", "2026-07-01"), item(t, "b", 9, "2026-01-05", "")))
	share, _ := b.NotReady(b.Pace())
	require.Equal(t, "0.75", text(share), "all that is left, 9 of 12")
}

func TestBlockedAndStates(t *testing.T) {
	items := plain(t)
	items[3].Blocked, items[3].State = day(t, "2026-03-20"), "doing"
	items[5].Blocked, items[5].State = day(t, "2026-03-04"), "done"
	items[0].Blocked = day(t, "2026-01-02") // accepted since
	items[4].Blocked = day(t, "2026-01-02") // dropped
	b := backlog.Of(project(t, "2026-03", nil, items...))
	var codes []string
	for _, it := range b.Blocked() {
		codes = append(codes, it.Code)
	}
	require.Equal(t, []string{"f", "d"}, codes, "the oldest first")
	var states []string
	for _, s := range b.States() {
		states = append(states, s.State+" "+text(s.Size))
	}
	require.Equal(t, []string{"new 0", "doing 12", "done 6", "accepted 24"}, states)
	b = backlog.Of(project(t, "2026-03", nil, func() portfolio.Item { x := item(t, "z", 2, "2026-01-05", ""); x.State = "accepted"; return x }()))
	require.Equal(t, "done", b.States()[2].State)
	require.Equal(t, 1, b.States()[2].Count, "accepted, and nobody says when")
}

func TestCourse(t *testing.T) {
	b := backlog.Of(project(t, "2026-03", nil, plain(t)...))
	var got []string
	for _, p := range b.Course() {
		got = append(got, b.Office.Periods.Code(p.Period)+" "+text(p.Scope)+" "+text(p.Accepted))
	}
	require.Equal(t, []string{"2025-12 8 0", "2026-01 40 8", "2026-02 40 14", "2026-03 42 24"}, got)
}
