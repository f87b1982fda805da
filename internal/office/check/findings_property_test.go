package check_test

import (
	"context"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/change"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/judge"
	"turret/internal/office/officetest"
)

// TestFindingsInAnyOrder: any order of rows and files finds the same, and what
// is stated later changes nothing that was found before.
func TestFindingsInAnyOrder(t *testing.T) {
	some, tries := 0, uint64(10)
	if testing.Short() {
		tries = 3
	}
	for seed := range tries {
		r := rand.New(rand.NewPCG(seed, 11))
		tables := officetest.Random(r)
		one, two := officetest.NewOffice(t), officetest.NewOffice(t)
		officetest.Take(t, one, entry.Options{}, officetest.FilesOf(tables)...)
		officetest.Take(t, two, entry.Options{}, officetest.Shuffled(r, tables)...)
		for _, period := range []string{"2026-02", "2026-03", "2026-04"} {
			want := officetest.Told(t, one, period)
			require.Equal(t, want, officetest.Told(t, two, period), "seed %d, %s", seed, period)
			some += len(want)
		}
		march := officetest.Told(t, one, "2026-03")
		officetest.Take(
			t,
			one,
			entry.Options{},
			officetest.File("progress.csv", "project,activity,period,percent\nK0,0,2026-04,3\nK1,0,2026-04,99\n"),
			officetest.File(
				"postings.csv",
				"posting,date,project,cost_code,amount,currency\nLATER,2026-04-30,K0,1,12345.00,EUR\n",
			),
		)
		require.Equal(t, march, officetest.Told(t, one, "2026-03"), "seed %d", seed)
	}
	require.Greater(t, some, int(10*tries), "the portfolios have something to find")
}

// TestCountsAreWhatIsFound: the counts of a project are its open findings, and
// those of a group the sums of its parts; data stands by them.
func TestCountsAreWhatIsFound(t *testing.T) {
	for seed := range uint64(10) {
		o := officetest.NewOffice(t)
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.FilesOf(officetest.Random(rand.New(rand.NewPCG(seed, 12))))...)
		m := officetest.Moment(t, o, office.Ask{At: "2026-04"})
		p, err := o.ParsePeriod(context.Background(), officetest.Operator, "2026-04")
		require.NoError(t, err)
		rows, err := export.In(o).Readings(context.Background(), officetest.Operator, export.Query{Period: p})
		require.NoError(t, err)
		for _, r := range rows {
			if r.Group {
				continue
			}
			var errors, warnings int64
			for _, f := range m.Findings() {
				if f.Project != r.Code || !f.Counts() {
					continue
				}
				switch f.Severity {
				case finding.Error:
					errors++
				case finding.Warning:
					warnings++
				}
			}
			require.Equal(
				t,
				[2]int64{errors, warnings},
				[2]int64{r.Value(figure.Errors).N, r.Value(figure.Warnings).N},
				r.Code,
			)
			data := r.Computed[standing.Data]
			switch {
			case data == standing.Unrated: // it does not run
			case errors > 0:
				require.Equal(t, standing.Act, data, r.Code)
			case warnings > 0:
				require.GreaterOrEqual(t, data, standing.Watch, r.Code)
			}
		}
	}
}

// TestUsualRulesMoveNobody: setting the limits that hold already moves no
// standing, in the open period or in the one that was closed.
func TestUsualRulesMoveNobody(t *testing.T) {
	ctx := context.Background()
	for seed := range uint64(4) {
		o := officetest.NewOffice(t)
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.FilesOf(officetest.Random(rand.New(rand.NewPCG(seed, 13))))...)
		p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-03")
		require.NoError(t, err)
		_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
		require.NoError(t, err)
		for _, r := range standing.Defaults {
			row := map[string]string{
				"dimension": r.Dimension.String(),
				"reading":   r.ReadingText(),
				"direction": string(r.Direction),
				"watch":     dash(standing.LimitText(r.Watch)),
				"act":       dash(standing.LimitText(r.Act)),
				"from":      "2026-04",
			}
			p, err := judge.In(o).PreviewRule(ctx, officetest.Operator, "rules", row)
			require.NoError(t, err)
			require.Empty(t, p.Open, row)
			require.Empty(t, p.Closed, row)
		}
		for _, policy := range []map[string]string{{"policy": "overall", "how": "usual"}, {"policy": "groups", "how": "share", "act_share": "30", "watch_share": "30"}} {
			policy["from"] = "2026-04"
			p, err := judge.In(o).PreviewRule(ctx, officetest.Operator, "policies", policy)
			require.NoError(t, err)
			require.Empty(t, p.Open)
			require.Empty(t, p.Closed)
		}
	}
}

func dash(s string) string {
	if s == "" {
		return "-"
	}
	return s
}

// TestPreviewIsWhatComes: what a preview says of the open period is what the
// standings are once the rule is kept.
func TestPreviewIsWhatComes(t *testing.T) {
	ctx := context.Background()
	for seed := range uint64(6) {
		r := rand.New(rand.NewPCG(seed, 14))
		o := officetest.NewOffice(t)
		officetest.Take(t, o, entry.Options{}, officetest.FilesOf(officetest.Random(r))...)
		at := officetest.Moment(t, o, office.Ask{}).Period.Code
		standings := func() map[string]standing.Table {
			out := make(map[string]standing.Table)
			p, err := o.ParsePeriod(ctx, officetest.Operator, at)
			require.NoError(t, err)
			rows, err := export.In(o).Readings(ctx, officetest.Operator, export.Query{Period: p})
			require.NoError(t, err)
			for _, x := range rows {
				if !x.Group {
					out[x.Code] = x.Standing
				}
			}
			return out
		}
		before := standings()
		row := map[string]string{
			"dimension": "cost",
			"reading":   "spent_share",
			"direction": "above",
			"watch":     "0.1",
			"act":       []string{"0.2", "0.5", "0.9"}[r.IntN(3)],
			"from":      at,
			"scope":     []string{"", "P1", "K0"}[r.IntN(3)],
		}
		p, err := judge.In(o).PreviewRule(ctx, officetest.Operator, "rules", row)
		require.NoError(t, err)
		require.NoError(t, judge.In(o).SaveRule(ctx, officetest.Operator, change.Unseen, "rules", row))
		after := standings()
		want := make(map[string]string)
		for _, x := range p.Open {
			want[x.Code+" "+x.Dimension] = x.Was.String() + " " + x.Is.String()
		}
		got := make(map[string]string)
		m := officetest.Moment(t, o, office.Ask{At: at})
		for code, is := range after {
			for d := range is {
				if was := before[code][d]; was != is[d] {
					title := m.DimensionTitle(standing.Dimension(d))
					got[code+" "+strings.ToUpper(title[:1])+title[1:]] = was.String() + " " + is[d].String()
				}
			}
		}
		require.Equal(t, want, got, "seed %d: %v", seed, row)
	}
}
