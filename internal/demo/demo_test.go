package demo

import (
	"context"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/core/driver"
	"turret/internal/core/exception"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/check"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/weigh"
)

// TestSituations finds everything that docs/demo.md tells of.
func TestSituations(t *testing.T) {
	ctx := context.Background()
	o, err := Make(ctx, filepath.Join(t.TempDir(), "demo.db"))
	require.NoError(t, err)
	defer o.Close()
	at := func(period string, against portfolio.Against) map[string]*office.Reading {
		p, err := o.ParsePeriod(ctx, Analyst, period)
		require.NoError(t, err)
		rows, err := export.In(o).Readings(ctx, Analyst, export.Query{Period: p, Against: against})
		require.NoError(t, err)
		out := make(map[string]*office.Reading)
		for _, r := range rows {
			out[r.Code] = r
		}
		return out
	}
	now, before := at("2026-11", portfolio.Latest), at("2026-10", portfolio.Latest)
	require.Len(t, now, 26+4+1)
	overall := func(code string) standing.Standing { return now[code].Standing[standing.Overall] }

	require.Equal(t, standing.Act, overall("FR-01"), "late and dear")
	require.Greater(t, now["FR-01"].Value(figure.FinishSlip).N, int64(20))
	require.True(t, now["QS-01"].Disagrees(), "too hopeful a lead")
	require.Equal(t, int64(3), now["SP-02"].Value(figure.ForecastAge).N, "a stale forecast")
	require.Equal(t, "too early", now["QS-04"].Why)
	require.Equal(t, "it is finished", now["QS-03"].Why)
	require.Equal(t, "it is on hold", now["FR-06"].Why)
	require.Equal(t, "it is cancelled", now["SP-06"].Why)
	require.Equal(t, "it is proposed", now["PS-06"].Why)
	require.False(t, now["PS-04"].Value(figure.EV).Known, "earned value is off")
	require.Len(t, now["SP-04"].Override, 1)
	require.Equal(t, standing.Watch, now["SP-04"].Standing[standing.Risk])
	require.Equal(t, standing.Act, now["SP-04"].Computed[standing.Risk])
	require.NotEqual(
		t,
		now["QS-02"].Value(figure.BAC).N,
		at("2026-11", portfolio.Original)["QS-02"].Value(figure.BAC).N,
		"a re-baseline",
	)
	require.Equal(t, int64(1), now["QS-05"].Value(figure.StatementAge).N, "nothing stated this period")
	worst := standing.Unrated
	for _, p := range []string{"2025-09", "2025-12", "2026-03", "2026-06"} {
		worst = max(worst, at(p, portfolio.Latest)["SP-01"].Standing[standing.Dates])
	}
	require.Equal(t, standing.Act, worst, "one that was late")
	require.Less(t, now["SP-01"].Standing[standing.Dates], standing.Watch, "and recovered")
	moved := 0
	for code, r := range now {
		if r.Standing[standing.Overall] != before[code].Standing[standing.Overall] {
			moved++
		}
	}
	require.Positive(t, moved, "some moved since October")
	m, err := o.Moment(ctx, Analyst, office.Ask{})
	require.NoError(t, err)
	require.Equal(t, "2026-11", m.Period.Code)
	require.False(t, m.Period.Closed)
	require.True(t, m.Before.Closed)

	e, err := weigh.In(o).Exceptions(ctx, Analyst, m, weigh.ExceptionAsk{})
	require.NoError(t, err)
	found := make(map[string][]exception.Kind)
	for _, p := range e.Projects {
		for _, c := range p.Cases {
			found[p.Code] = append(found[p.Code], c.Kind)
		}
	}
	for code, kind := range map[string]exception.Kind{"FR-02": exception.Masked, "QS-05": exception.Worsening, "PS-02": exception.Unmoved, "QS-01": exception.After} {
		require.Contains(t, found[code], kind, code)
	}
	d, err := weigh.In(o).Drivers(ctx, Analyst, m, weigh.DriversAsk{})
	require.NoError(t, err)
	require.Equal(t, "supplier", d.Now.Name, "overruns go with the supplier")
	require.Equal(t, driver.Clear, d.Now.Results[0].Word)
	f, err := weigh.In(o).Forecasts(ctx, Analyst, m, "", 3)
	require.NoError(t, err)
	require.Greater(t, f.All[1].Absolute, 0.02, "forecasts that missed")
	for _, code := range []string{"SP-01", "PS-03"} {
		require.True(t, now[code].Value(figure.Margin).Known, "income of %s", code)
	}
}

// TestFaults finds what docs/demo.md tells of the data, and what was said.
func TestFaults(t *testing.T) {
	ctx := context.Background()
	o, err := Make(ctx, filepath.Join(t.TempDir(), "demo.db"))
	require.NoError(t, err)
	defer o.Close()
	m, err := o.Moment(ctx, Analyst, office.Ask{})
	require.NoError(t, err)
	found := make(map[string]office.Finding)
	for _, f := range m.Findings() {
		found[f.Project+" "+f.Check] = f
	}
	for key, severity := range map[string]finding.Severity{
		"QS-07 booked-twice": finding.Error, "FR-02 actual-ahead": finding.Error, "QS-07 totals-differ": finding.Warning,
		"FR-07 progress-back": finding.Warning, "PS-03 done-without-finish": finding.Warning, "SP-03 forecast-under-orders": finding.Warning,
		"QS-06 posted-twice": finding.Warning, "FR-06 cost-not-running": finding.Warning, "SP-01 link-broken": finding.Warning,
		"QS-01 stated-better": finding.Warning, "SP-02 statement-stale": finding.Warning, "QS-05 statement-stale": finding.Warning,
	} {
		require.Equal(t, severity, found[key].Severity, key)
	}
	require.Equal(t, finding.Accepted, found["PS-04 stated-better"].State)
	require.Equal(t, finding.SentBack, found["SP-02 statement-stale"].State)
	require.Equal(t, 3, found["SP-02 statement-stale"].Age, "since September")
	require.Equal(t, int64(1248000), found["QS-06 posted-twice"].Money)
	c, err := check.In(o).Checking(ctx, Analyst, m, check.FindingFilter{})
	require.NoError(t, err)
	require.Len(t, c.Trend, 21)
	for _, p := range c.Trend {
		require.True(t, p.Known, p.Code)
	}
	require.Equal(t, 3, c.Rows, "the postings on a closed code")
}

// TestSameEveryTime: the demonstration is made from a fixed seed and day.
func TestSameEveryTime(t *testing.T) {
	if testing.Short() {
		t.Skip("it makes the demonstration twice")
	}
	for p := range closedPeriods + 1 {
		one, two := periodFiles(p), periodFiles(p)
		require.Equal(t, one, two)
	}
	require.Len(t, projects, 26)
	l := newLife(&projects[0], 1)
	require.Equal(t, lives[0].tasks, l.tasks)
	require.GreaterOrEqual(t, len(l.tasks)+len(phases), 40)
}

// TestTheDayStays: the demonstration that is opened again has the day that it was left on,
// and not that of the machine.
func TestTheDayStays(t *testing.T) {
	path := filepath.Join(t.TempDir(), "demo.db")
	o, err := Make(t.Context(), path)
	require.NoError(t, err)
	require.NoError(t, o.Close())
	o, err = Open(t.Context(), Analyst, path)
	require.NoError(t, err)
	require.WithinDuration(t, Today, o.Clock(), time.Hour)

	// Where it was worked with for longer, it goes on from there.
	later := Today.AddDate(0, 0, 3)
	o.SetClock(func() time.Time { return later })
	_, err = entry.In(o).Gather(t.Context(), Analyst, []entry.File{{Name: "programmes.csv", Body: []byte("programme,name\nNEW,New\n")}}, nil, entry.Options{})
	require.NoError(t, err)
	require.NoError(t, o.Close())
	again, err := Open(t.Context(), Analyst, path)
	require.NoError(t, err)
	defer again.Close()
	require.WithinDuration(t, later, again.Clock(), time.Hour)
}
