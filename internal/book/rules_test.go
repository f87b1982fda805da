package book

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/record"
)

// rowOf is a record by the names of columns: texts and numbers.
func rowOf(k *record.Kind, cells map[string]any) portfolio.Row {
	r := portfolio.Row{ID: 1, Fields: make([]portfolio.Field, len(k.Columns))}
	for name, v := range cells {
		f := portfolio.Field{Said: portfolio.Value}
		switch v := v.(type) {
		case string:
			f.Text = v
		case int:
			f.Int = int64(v)
		}
		r.Fields[k.Index(name)] = f
	}
	return r
}

type cells = map[string]any

func recordsOf(k *record.Kind, rows ...cells) Records {
	out := make(Records)
	for _, c := range rows {
		out[k.Name] = append(out[k.Name], rowOf(k, c))
	}
	return out
}

// TestRulesAreMadeOfRecords: weights that are said, dimensions of the office's own,
// shares that a policy leaves open, and limits that are left out.
func TestRulesAreMadeOfRecords(t *testing.T) {
	rules, err := recordsOf(
		record.Dimensions.Kind,
		cells{"dimension": "cost", "weight": 3},
		cells{"dimension": "dates"},
		cells{
			"dimension": "supply",
			"title":     "Supply",
			"weight":    5,
		},
		cells{"dimension": "berths", "title": "Berths", "apart": "yes"},
	).rules()
	require.NoError(t, err)
	require.Equal(
		t,
		map[standing.Dimension]int64{standing.Cost: 3},
		rules.Weights,
		"dates says none, so it stays at one",
	)
	require.Equal(
		t,
		[]standing.Own{
			{Code: "supply", Title: "Supply", Weight: 5},
			{Code: "berths", Title: "Berths", Apart: true, Weight: 1},
		},
		rules.Book.Own,
	)

	rules, err = recordsOf(
		record.Policies.Kind,
		cells{
			"policy":    "groups",
			"from":      5,
			"how":       "share",
			"act_share": 7,
		},
		cells{"policy": "overall", "from": 6, "how": "worst", "watch_share": 8},
	).rules()
	require.NoError(t, err)
	require.Equal(t, []standing.Policy{{How: "share", Act: 7, Watch: standing.Needed, From: 5}}, rules.Groups)
	require.Equal(t, []standing.Policy{{How: "worst", Act: standing.Needed, Watch: 8, From: 6}}, rules.Overall)

	rules, err = recordsOf(
		record.Rules.Kind,
		cells{
			"dimension": "cost",
			"reading":   "cpi",
			"from":      5,
			"watch":     "0.95",
		},
		cells{
			"dimension": "cost",
			"reading":   "cpi * spi",
			"title":     "Both",
			"direction": "below",
			"from":      6,
			"act":       "0.8",
			"scope":     "north",
		},
	).rules()
	require.NoError(t, err)
	require.Len(t, rules.Rules, 2)
	require.Equal(t, "19/20", rules.Rules[0].Watch.RatString())
	require.Nil(t, rules.Rules[0].Act)
	require.Nil(t, rules.Rules[0].Expr)
	require.Equal(t, standing.Direction("above"), rules.Rules[0].Direction, "unless said")
	require.NotNil(t, rules.Rules[1].Expr)
	require.Equal(t, "4/5", rules.Rules[1].Act.RatString())
	require.Equal(t, "north", rules.Rules[1].Scope)

	rules, err = recordsOf(record.Checks.Kind,
		cells{"check": "statement-stale", "from": 5, "severity": "error", "limit": "2"},
		cells{"check": "ours", "from": 5, "severity": "note", "expression": "cpi < 0.5"},
		cells{"check": "ours", "from": 7, "severity": "off", "expression": "cpi < 0.5", "title": "Ours"},
		cells{"check": "lines", "from": 6, "severity": "warning", "over": "activity", "expression": "percent > 0.5"},
	).rules()
	require.NoError(t, err)
	require.Len(t, rules.Checks, 4)
	require.Len(t, rules.OwnChecks, 3, "one without an expression is every office's")
	require.Equal(
		t,
		[2]string{"ours", "project"},
		[2]string{rules.OwnChecks[0].Title, rules.OwnChecks[0].Over},
		"its code, where it has no title; projects, unless said",
	)
	require.Equal(t, [2]string{"Ours", "project"}, [2]string{rules.OwnChecks[1].Title, rules.OwnChecks[1].Over})
	in := func(p int64) (out []finding.Severity) {
		for _, x := range rules.OwnAt(record.Checks.From.Of(&portfolio.Row{Fields: rowOf(record.Checks.Kind, cells{"from": int(p)}).Fields})) {
			out = append(out, x.Severity)
		}
		return out
	}
	require.Empty(t, in(4), "before any is in force")
	require.Equal(t, []finding.Severity{finding.Note}, in(5))
	require.Equal(t, []finding.Severity{finding.Note, finding.Warning}, in(6))
	require.Equal(t, []finding.Severity{finding.Off, finding.Warning}, in(7), "of each the one said last")

	for _, rec := range []Records{
		recordsOf(record.Rules.Kind, cells{"dimension": "tide", "reading": "cpi"}),
		recordsOf(record.Rules.Kind, cells{"dimension": "cost", "reading": "cpi <"}),
		recordsOf(record.Rules.Kind, cells{"dimension": "cost", "reading": "cpi", "watch": "some"}),
		recordsOf(record.Rules.Kind, cells{"dimension": "cost", "reading": "cpi", "act": "some"}),
		recordsOf(record.Checks.Kind, cells{"check": "ours", "limit": "some"}),
		recordsOf(record.Checks.Kind, cells{"check": "ours", "expression": "cpi <"}),
	} {
		_, err := rec.rules()
		require.Error(t, err, "what cannot be read is told, and not left out")
	}
}
