package office_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
)

// TestWanted: a filter picks projects of the whole portfolio, or of a programme.
func TestWanted(t *testing.T) {
	o := officetest.Example(t)
	officetest.Take(t, o, entry.Options{}, officetest.File("programmes.csv", "programme,name\nOTHER,Other\n"))
	all := officetest.Moment(t, o, office.Ask{At: "2026-05"})
	require.Nil(t, all.Wanted("*"), "without a filter all are wanted")
	some := officetest.Moment(t, o, office.Ask{At: "2026-05", Filter: office.Filter{Text: "K1"}})
	require.Equal(t, []string{"K1"}, some.Wanted("*"))
	require.Empty(t, some.Wanted("OTHER"))
	r, _ := some.Find("K1")
	if r.Parent != "" {
		require.Equal(t, []string{"K1"}, some.Wanted(r.Parent))
	}
}

// TestEffectOfANewProject: of what a gather would do, a project that it makes is new.
func TestEffectOfANewProject(t *testing.T) {
	o := officetest.Example(t)
	r := officetest.Take(t, o, entry.Options{DryRun: true, Effect: true},
		officetest.File("projects.csv", "project,name,currency\nNEW,New,EUR\n"),
		officetest.File("cost_codes.csv", "cost_code,name\n99,More\n"),
		officetest.File("costs.csv", "project,cost_code,kind,period,version,amount\nNEW,99,plan,2026-05,1,100\nK1,99,forecast,2026-12,2026-08,90000\n"))
	require.Empty(t, r.Refusals)
	fresh := make(map[string]bool)
	for i := range r.Effects {
		fresh[r.Effects[i].Code] = r.Effects[i].New()
	}
	require.Equal(t, map[string]bool{"NEW": true, "K1": false}, fresh)
}
