package period_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/officetest"
	"turret/internal/office/period"
)

// TestDrawPeriods: each pattern gives a year of whole weeks, the 53rd where its
// rule says so, and what cannot be drawn is refused at its column.
func TestDrawPeriods(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	usual := period.Drawing{Pattern: "4-4-5", First: "2026-04-06", Year: "FY27", Years: "1", Leap: "never"}
	draw := func(change func(*period.Drawing)) ([]string, error) {
		d := usual
		change(&d)
		text, err := period.In(o).DrawPeriods(ctx, officetest.Operator, d)
		return strings.Split(strings.TrimSpace(text), "\n"), err
	}
	for _, c := range []struct {
		name          string
		change        func(*period.Drawing)
		lines         int
		first, second string
		last          string
	}{
		{"4-4-5", func(*period.Drawing) {}, 12, "FY27-P01  2026-04-06  2026-05-03", "FY27-P02  2026-05-04  2026-05-31", "FY27-P12  2027-03-01  2027-04-04"},
		{"4-5-4", func(d *period.Drawing) { d.Pattern = "4-5-4" }, 12, "FY27-P01  2026-04-06  2026-05-03", "FY27-P02  2026-05-04  2026-06-07", "FY27-P12  2027-03-08  2027-04-04"},
		{"5-4-4", func(d *period.Drawing) { d.Pattern = "5-4-4" }, 12, "FY27-P01  2026-04-06  2026-05-10", "FY27-P02  2026-05-11  2026-06-07", "FY27-P12  2027-03-08  2027-04-04"},
		{"13 of four weeks", func(d *period.Drawing) { d.Pattern = "13x4" }, 13, "FY27-P01  2026-04-06  2026-05-03", "FY27-P02  2026-05-04  2026-05-31", "FY27-P13  2027-03-08  2027-04-04"},
		{"two years", func(d *period.Drawing) { d.Years, d.Year = "2", "27" }, 24, "FY27-P01  2026-04-06  2026-05-03", "FY27-P02  2026-05-04  2026-05-31", "FY28-P12  2028-02-28  2028-04-02"},
	} {
		lines, err := draw(c.change)
		require.NoError(t, err, c.name)
		require.Len(t, lines, c.lines, c.name)
		for i, want := range []string{c.first, c.second, c.last} {
			at := []int{0, 1, len(lines) - 1}[i]
			require.True(t, strings.HasPrefix(lines[at], want), "%s: %q, not %q", c.name, lines[at], want)
		}
	}
	named, err := draw(func(d *period.Drawing) { d.Names = "months" })
	require.NoError(t, err)
	require.Contains(t, named[0], "Apr")
	for says, change := range map[string]func(*period.Drawing){
		"Pattern":                 func(d *period.Drawing) { d.Pattern = "3-3-3" },
		"First day":               func(d *period.Drawing) { d.First = "6 of April" },
		"Fiscal year":             func(d *period.Drawing) { d.Year = "next" },
		"Fiscal year: \"1900\"":   func(d *period.Drawing) { d.Year = "1900" },
		"Years: \"0\"":            func(d *period.Drawing) { d.Years = "0" },
		"Years: \"31\"":           func(d *period.Drawing) { d.Years = "31" },
		"53rd week: \"sometime\"": func(d *period.Drawing) { d.Leap = "sometime" },
	} {
		_, err := draw(change)
		require.ErrorIs(t, err, office.ErrRefused, says)
		require.ErrorContains(t, err, says)
	}
}

// TestPeriodList: lines as people paste them; a first day that is left out is the
// one after the period before.
func TestPeriodList(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	require.NoError(
		t,
		period.In(o).
			KeepPeriods(ctx, officetest.Operator, 0, "fy27-p01\t2026-04-01\t2026-04-26\tSpring\n\nFY27-P02; 2026-05-31; Late spring\n"),
	)
	c, err := period.In(o).ReportingCalendar(ctx, officetest.Operator)
	require.NoError(t, err)
	lines := strings.Split(strings.TrimSpace(c.List), "\n")
	require.Equal(
		t,
		[]string{"FY27-P01  2026-04-01  2026-04-26  Spring", "FY27-P02  2026-04-27  2026-05-31  Late spring"},
		lines,
	)
	for says, text := range map[string]string{
		"Line 1: \"FY27-P01\" does not say a period":          "FY27-P01",
		"Line 2: \"FY27-P02 tomorrow\" does not say a period": "FY27-P01 2026-04-01 2026-04-26\nFY27-P02 tomorrow",
		"Line 1: \"FY27-P01 2026-04-26\"":                     "FY27-P01 2026-04-26",
	} {
		require.ErrorContains(t, period.In(o).KeepPeriods(ctx, officetest.Operator, 1<<40, text), says)
		_, err := period.In(o).PeriodsAs(ctx, officetest.Operator, text)
		require.ErrorContains(t, err, says, "nor are they shown")
	}
	const apart = "FY27-P01 2026-04-01 2026-04-26\nFY27-P02 2026-05-04 2026-05-31"
	_, err = period.In(o).PeriodsAs(ctx, officetest.Operator, apart)
	require.ErrorIs(t, err, office.ErrRefused, "a week belongs to none")
	rows, err := period.In(o).PeriodsAs(ctx, officetest.Operator, c.List)
	require.NoError(t, err)
	require.Len(t, rows, 2)
}
