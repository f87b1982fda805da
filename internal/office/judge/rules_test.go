package judge_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/change"
	"turret/internal/core/figure"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/judge"
	"turret/internal/office/officetest"
)

func moves(list []judge.RuleMove) map[string]string {
	out := make(map[string]string)
	for _, x := range list {
		out[x.Code+" "+x.Dimension] = x.Was.String() + " → " + x.Is.String()
	}
	return out
}

// TestRulePreview: who would move, in the open and the last closed period,
// before anything is kept; and the same once it is.
func TestRulePreview(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	rev, err := o.Revision(ctx, officetest.Operator)
	require.NoError(t, err)
	// K1: 240 + 100 of 600 is spent in February, 150 in January.
	row := map[string]string{
		"dimension": "progress",
		"reading":   "spent_share",
		"direction": "above",
		"watch":     "0.2",
		"act":       "0.5",
		"from":      "2026-02",
	}
	p, err := judge.In(o).PreviewRule(ctx, officetest.Operator, "rules", row)
	require.NoError(t, err)
	open, closed := moves(p.Open), moves(p.Closed)
	require.Contains(t, open, "K1 Progress")
	require.Equal(t, "Steady → Act", open["K1 Progress"], "340 ÷ 600 = 0.57")
	require.Equal(t, "Steady → Watch", closed["K1 Progress"], "150 ÷ 600 = 0.25")
	require.Equal(t, "Jan 2026", p.ClosedName)
	same, err := o.Revision(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Equal(t, rev, same, "nothing is kept yet")
	before := officetest.ReadingOf(officetest.February(t, o), "K1")
	require.NoError(t, judge.In(o).SaveRule(ctx, officetest.Operator, change.Unseen, "rules", row))
	m := officetest.February(t, o)
	require.Equal(t, standing.Act, officetest.ReadingOf(m, "K1").Standing[standing.Progress])
	require.NotEqual(t, before.Version, officetest.ReadingOf(m, "K1").Version)
	require.NotEqual(
		t,
		standing.Watch,
		officetest.ReadingOf(officetest.Moment(t, o, office.Ask{At: "2026-01"}), "K1").Standing[standing.Progress],
		"a closed period keeps its standings",
	)
	b, err := judge.In(o).RuleBook(ctx, officetest.Operator, m)
	require.NoError(t, err)
	require.Equal(t, officetest.ReadingOf(m, "K1").Version, b.Version)
	found := false
	for _, r := range b.Rules {
		found = found || r.Reading == "spent_share" && r.Since == "Feb 2026" && !r.Usual
	}
	require.True(t, found)
}

// TestScopesAndPolicies: the nearest scope wins; own dimensions count; overall
// combines as it is told.
func TestScopesAndPolicies(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	save := func(table string, cells ...string) {
		t.Helper()
		row := make(map[string]string)
		for i := 0; i < len(cells); i += 2 {
			row[cells[i]] = cells[i+1]
		}
		require.NoError(t, judge.In(o).SaveRule(ctx, officetest.Operator, change.Unseen, table, row))
	}
	at := func(code string, d standing.Dimension) standing.Standing {
		return officetest.ReadingOf(officetest.February(t, o), code).Standing[d]
	}
	rule := func(scope, watch, act string) {
		save(
			"rules",
			"dimension",
			"progress",
			"reading",
			"spent_share",
			"direction",
			"above",
			"watch",
			watch,
			"act",
			act,
			"from",
			"2026-02",
			"scope",
			scope,
		)
	}
	rule("", "0.9", "0.95")
	require.Equal(t, standing.Steady, at("K1", standing.Progress))
	rule("Q", "0.5", "0.9")
	require.Equal(t, standing.Watch, at("K1", standing.Progress), "340 ÷ 600, by the programme's limits")
	rule("K1", "0.1", "0.2")
	require.Equal(t, standing.Act, at("K1", standing.Progress), "by its own")
	require.NotEqual(t, standing.Act, at("K2", standing.Progress))

	save("dimensions", "dimension", "supply", "title", "Supply", "weight", "3")
	save(
		"rules",
		"dimension",
		"supply",
		"reading",
		"(ac - 100) / bac",
		"direction",
		"above",
		"watch",
		"0.1",
		"act",
		"0.2",
		"from",
		"2026-02",
		"title",
		"Spent beyond a hundred",
	)
	m := officetest.February(t, o)
	own := standing.Data + 1
	require.Equal(t, standing.Act, officetest.ReadingOf(m, "K1").Standing[own], "(340 − 100) ÷ 600 = 0.4")
	require.Equal(t, "Supply", m.DimensionTitle(own))
	var why string
	for _, r := range officetest.ReadingOf(m, "K1").Reasons {
		if r.Own != "" {
			why = r.Title() + " " + r.Value.Text("EUR")
		}
	}
	require.Equal(t, "Spent beyond a hundred 0.400000", why)
	require.Equal(t, standing.Act, at("K1", standing.Overall))
	save("policies", "policy", "overall", "from", "2026-02", "how", "larger")
	require.Equal(t, standing.Act, at("K1", standing.Overall))
	save("policies", "policy", "groups", "from", "2026-02", "how", "worst")
	require.Equal(t, standing.Act, at("Q", standing.Overall))
	save("projects", "project", "K1", "too_early", "99")
	require.Equal(t, "99", mustBook(t, o).Early[0].Percent)
}

func mustBook(t *testing.T, o *office.Office) *judge.RuleBook {
	t.Helper()
	b, err := judge.In(o).RuleBook(context.Background(), officetest.Operator, officetest.February(t, o))
	require.NoError(t, err)
	return b
}

// TestBadRules: a clear sentence each, at the place, and nothing kept.
func TestBadRules(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	rev, err := o.Revision(ctx, officetest.Operator)
	require.NoError(t, err)
	rule := map[string]string{
		"dimension": "cost",
		"reading":   "cpi",
		"direction": "below",
		"watch":     "0.9",
		"act":       "0.8",
		"from":      "2026-02",
	}
	check := map[string]string{
		"check":      "ours",
		"from":       "2026-02",
		"over":       "project",
		"expression": "cpi < 1",
		"title":      "T",
		"says":       "S.",
	}
	for _, c := range []struct{ table, column, value, want string }{
		{"rules", "reading", "cpii", "Reading: \"cpii\" is not a figure of the catalogue"},
		{"rules", "reading", "bac > finish_slip", "compares money with working days"},
		{"rules", "reading", "map(1..9999999999, {# * 2})", "Reading:"},
		{"rules", "reading", "bac", "is money, and limits are for"},
		{"rules", "reading", "cpi * 2", "Title: an expression needs a title"},
		{"rules", "act", "0.95", "Act: the limit for Act is reached before that for Watch"},
		{"rules", "watch", "1e9", "Watch: \"1e9\" is not a number"},
		{"rules", "from", "2026-01", "From: 2026-01 is closed"},
		{"rules", "from", "", "Say from which period it holds"},
		{"rules", "from", "soon", "From:"},
		{"rules", "scope", "Z9", "Scope: \"Z9\" is neither a programme nor a project"},
		{"rules", "dimension", "mood", "Dimension: \"mood\" is not a dimension"},
		{"rules", "direction", "sideways", "Direction:"},
		{"checks", "expression", "cpi < ", "Expression:"},
		{"checks", "expression", "cpi", "compare it with something"},
		{"checks", "expression", "repeat(\"x\", 1000000000) == \"\"", "nothing that loops"},
		{"checks", "says", "{nope}", "Says: {nope}"},
		{"checks", "check", "ac-above-bac", "give your own another code"},
		{"checks", "severity", "fatal", "Severity:"},
		{"checks", "from", "2026-01", "From: 2026-01 is closed"},
		{"dimensions", "dimension", "overall", "has no weight"},
		{"settings", "setting", "name", "There are no rules in"},
	} {
		row := map[string]string{}
		for k, v := range map[string]map[string]string{"rules": rule, "checks": check, "dimensions": {"title": "x"}}[c.table] {
			row[k] = v
		}
		row[c.column] = c.value
		for _, do := range []func() error{
			func() error { _, err := judge.In(o).PreviewRule(ctx, officetest.Operator, c.table, row); return err },
			func() error { return judge.In(o).SaveRule(ctx, officetest.Operator, change.Unseen, c.table, row) },
		} {
			err := do()
			require.ErrorIs(t, err, office.ErrRefused, "%s %s", c.column, c.value)
			require.ErrorContains(t, err, c.want)
		}
	}
	for _, role := range []office.Role{office.Lead, office.Executive, office.Administrator} {
		require.ErrorAs(
			t,
			judge.In(o).SaveRule(ctx, office.Actor{Name: "x", Role: role}, change.Unseen, "rules", rule),
			new(*office.Denied),
		)
	}
	after, err := o.Revision(ctx, officetest.Operator)
	require.NoError(t, err)
	require.Equal(t, rev, after)
}

// TestCheckPreview: what an own check would find now and then.
func TestCheckPreview(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	row := map[string]string{
		"check":      "ours",
		"from":       "2026-02",
		"severity":   "error",
		"over":       "activity",
		"expression": "percent < 50",
		"title":      "Slow",
		"says":       "{activity_name} is at {percent}%.",
	}
	p, err := judge.In(o).PreviewRule(ctx, officetest.Operator, "checks", row)
	require.NoError(t, err)
	require.Len(t, p.Found, 2)
	require.Contains(t, p.Found[0].Text, "Piles is at 35%.")
	require.Len(t, p.FoundThen, 2, "in January, had it been there")
	require.Contains(t, p.FoundThen[0].Text, "Piles is at 40%.")
	require.Contains(t, moves(p.Closed), "K1 Data")
	require.NoError(t, judge.In(o).SaveRule(ctx, officetest.Operator, change.Unseen, "checks", row))
	require.Positive(t, officetest.ReadingOf(officetest.February(t, o), "K2").Value(figure.Errors).N)
	list, _, err := judge.In(o).CheckBook(ctx, officetest.Operator, officetest.February(t, o))
	require.NoError(t, err)
	last := list[len(list)-1]
	require.Equal(t, [3]any{"ours", true, 2}, [3]any{last.Code, last.Own, last.Open})
	p, err = judge.In(o).
		PreviewRule(ctx, officetest.Operator, "checks", map[string]string{"check": "progress-back", "from": "2026-02", "severity": "off"})
	require.NoError(t, err)
	require.Equal(t, 1, p.Gone)
}

// TestOverrides: set with a reason and an end, listed, changed in its end, and
// ended; refused without an end or in a closed period.
func TestOverrides(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	m := officetest.February(t, o)
	for _, c := range []struct{ project, dimension, st, until, reason, want string }{
		{"K1", "overall", "steady", "", "r", "an override has an end"},
		{"K1", "overall", "steady", "2026-01", "r", "comes before the first"},
		{"K1", "overall", "steady", "2026-06", "", "needs a last period, a standing and a reason"},
		{"K1", "mood", "steady", "2026-06", "r", "is not a dimension"},
		{"K1", "overall", "green", "2026-06", "r", "Standing:"},
		{"Z", "overall", "steady", "2026-06", "r", "is not known"},
	} {
		err := judge.In(o).
			Override(ctx, officetest.Operator, m, change.Unseen, c.project, c.dimension, c.st, c.until, c.reason)
		require.ErrorIs(t, err, office.ErrRefused)
		require.ErrorContains(t, err, c.want)
	}
	computed := officetest.ReadingOf(m, "K1").Computed[standing.Overall]
	require.NoError(
		t,
		judge.In(o).
			Override(ctx, officetest.Operator, m, change.Unseen, "K1", "overall", "steady", "2026-03", "the yard pays"),
	)
	m = officetest.February(t, o)
	require.Equal(t, standing.Steady, officetest.ReadingOf(m, "K1").Standing[standing.Overall])
	require.Equal(t, computed, officetest.ReadingOf(m, "K1").Computed[standing.Overall])
	list, err := judge.In(o).Overrides(ctx, officetest.Operator, m)
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.Equal(
		t,
		[4]any{"K1", "Overall", 1, true},
		[4]any{list[0].Code, list[0].Dimension, list[0].Left, list[0].Soon},
	)
	require.ErrorContains(
		t,
		judge.In(o).EndOverride(ctx, officetest.Operator, m, change.Unseen, "K1", "overall"),
		"It was set in Feb 2026",
	)
	p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-02")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
	require.NoError(t, err)
	require.ErrorContains(
		t,
		judge.In(o).
			Override(ctx, officetest.Operator, officetest.February(t, o), change.Unseen, "K1", "cost", "act", "2026-06", "r"),
		"is closed",
	)
	march := func() *office.Moment { return officetest.Moment(t, o, office.Ask{At: "2026-03", Own: true}) }
	require.NoError(
		t,
		judge.In(o).
			Override(ctx, officetest.Operator, march(), change.Unseen, "K1", "overall", "steady", "2026-08", "longer"),
		"its end moves",
	)
	list, err = judge.In(o).Overrides(ctx, officetest.Operator, march())
	require.NoError(t, err)
	require.Equal(t, [3]any{1, 5, "longer"}, [3]any{len(list), list[0].Left, list[0].Reason})
	require.NoError(t, judge.In(o).EndOverride(ctx, officetest.Operator, march(), change.Unseen, "K1", "overall"))
	require.Equal(t, computed, officetest.ReadingOf(march(), "K1").Standing[standing.Overall])
	list, err = judge.In(o).Overrides(ctx, officetest.Operator, march())
	require.NoError(t, err)
	require.True(t, list[0].Over)
	require.Equal(
		t,
		standing.Steady,
		officetest.ReadingOf(officetest.February(t, o), "K1").Standing[standing.Overall],
		"the closed period keeps it",
	)
	require.ErrorIs(
		t,
		judge.In(o).EndOverride(ctx, officetest.Operator, march(), change.Unseen, "K1", "overall"),
		office.ErrRefused,
	)
}

// TestApart: those whose leads state better, by how much money.
func TestApart(t *testing.T) {
	o := officetest.CheckedOffice(t)
	officetest.GatherMap(
		t,
		o,
		map[string]string{
			"narratives.csv": "project,period,section,text,stated_standing\nK1,2026-02,summary,All well,steady\n",
		},
	)
	m := officetest.February(t, o)
	list := judge.AllApart(m)
	require.Len(t, list, 1)
	r := officetest.ReadingOf(m, "K1")
	require.Equal(t, r.Value(figure.EACComputed).N-r.Value(figure.EACStated).N, list[0].Gap.N)
	require.Contains(t, officetest.Found(m), "K1 stated-better stated standing")
}
