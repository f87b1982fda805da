package judge_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/change"
	"turret/internal/office"
	"turret/internal/office/judge"
	"turret/internal/office/officetest"
)

// TestReadLimit: as people write it; what can be meant either way is asked about.
func TestReadLimit(t *testing.T) {
	for _, c := range []struct {
		text        string
		share       bool
		want, wrong string
	}{
		{"8%", true, "0.08", ""},
		{"8 %", true, "0.08", ""},
		{" 0.08 ", true, "0.08", ""},
		{"0,08", true, "0.08", ""},
		{"7,5 %", true, "0.075", ""},
		{"-8%", true, "-0.08", ""},
		{"−8%", true, "-0.08", ""},
		{"100%", true, "1", ""},
		{"0", true, "0", ""},
		{"0.99", true, "0.99", ""},
		{"8", true, "", "8 can be 8% or 800%; write 8% or 0.08"},
		{"1", true, "", "1 can be 1% or 100%; write 1% or 0.01"},
		{"-8", true, "", "-8 can be -8% or -800%; write -8% or -0.08"},
		{"8", false, "8", ""},
		{"90%", false, "0.9", ""},
		{"0.95", false, "0.95", ""},
		{"", true, "", ""},
		{"-", true, "-", ""},
		{"1,000.5", false, "", `"1,000.5" is not a number`}, // a comma beside a point is not another point
		{"much", true, "", `"much" is not a number`},
		{"1/2", false, "", `"1/2" is not a number`},
		{"1e3", false, "", `"1e3" is not a number`},
	} {
		got, err := judge.ReadLimit(c.text, c.share)
		require.Equal(t, c.want, got, c.text)
		if c.wrong == "" {
			require.NoError(t, err, c.text)
		} else {
			require.ErrorContains(t, err, c.wrong)
		}
	}
}

// TestReadPercent: a share that is kept in percent.
func TestReadPercent(t *testing.T) {
	for text, want := range map[string]string{"30": "30", "30%": "30", "30 %": "30", "0": "0", "0.5%": "0.5", "1": "1", "": "", "-": "-", "much": "much", "1,000.5": "1,000.5", "1,5": "1.5"} {
		got, err := judge.ReadPercent(text)
		require.NoError(t, err, text)
		require.Equal(t, want, got, text)
	}
	_, err := judge.ReadPercent("0.3")
	require.ErrorContains(t, err, "0.3 can be 30% or 0.3%; write it with the sign")
}

func TestWriteLimit(t *testing.T) {
	for _, c := range [][3]string{
		{"late_share", "0.05", "5%"},
		{"computed_over", "0.075", "7.5%"},
		{"cpi", "0.9", "0.9"},
		{"late_share", "", ""},
		{"(ac + on_order) / bac", "1.1", "1.1"},
	} {
		require.Equal(t, c[2], judge.WriteLimit(c[0], c[1]), c)
	}
}

// TestRulesAsTheyAreWritten: percents become what the table keeps, a number that can be
// meant either way is refused at its field, and the preview says the rule with how many
// projects it judges: K1 has work and money, K2 neither.
func TestRulesAsTheyAreWritten(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	row := func(watch, act, scope string) map[string]string {
		return map[string]string{"dimension": "cost", "reading": "spent_share", "direction": "above", "watch": watch, "act": act, "scope": scope, "from": "2026-02"}
	}
	p, err := judge.In(o).PreviewRule(ctx, officetest.Operator, "rules", row("8%", "12 %", ""))
	require.NoError(t, err)
	require.Regexp(t, `^Spent share: watch above 8%, act 12%\. It judges \d projects?\.$`, p.Says)
	one, err := judge.In(o).PreviewRule(ctx, officetest.Operator, "rules", row("0.08", "-", "K1"))
	require.NoError(t, err)
	require.Equal(t, "Spent share: watch above 8%. It judges 1 project.", one.Says)
	off, err := judge.In(o).PreviewRule(ctx, officetest.Operator, "rules", row("-", "-", ""))
	require.NoError(t, err)
	require.Equal(t, "Without limits the rule is off.", off.Says)

	_, err = judge.In(o).PreviewRule(ctx, officetest.Operator, "rules", row("8", "12", ""))
	var wrong *office.Misfit
	require.ErrorAs(t, err, &wrong)
	require.Equal(t, "watch", wrong.Column)
	require.Contains(t, wrong.Why, "8 can be 8% or 800%")

	require.NoError(t, judge.In(o).SaveRule(ctx, officetest.Operator, change.Unseen, "rules", row("8%", "12 %", "")))
	b, err := judge.In(o).RuleBook(ctx, officetest.Operator, officetest.February(t, o))
	require.NoError(t, err)
	found := false
	for _, r := range b.Rules {
		if r.Reading == "spent_share" {
			found = true
			require.Equal(t, [2]string{"0.08", "0.12"}, [2]string{r.Watch, r.Act})
		}
	}
	require.True(t, found)
	err = judge.In(o).SaveRule(ctx, officetest.Operator, change.Unseen, "policies", map[string]string{"policy": "groups", "from": "2026-02", "how": "share", "act_share": "0.3", "watch_share": "30"})
	require.ErrorContains(t, err, "0.3 can be 30%")
	require.NoError(t, judge.In(o).SaveRule(ctx, officetest.Operator, change.Unseen, "policies", map[string]string{"policy": "groups", "from": "2026-02", "how": "share", "act_share": "40 %", "watch_share": "30%"}))
}
