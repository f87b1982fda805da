package stating_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/officetest"
	"turret/internal/office/stating"
	"turret/internal/right"
)

const works = "10~opex~~~EUR"

// What was forecast for July, 70, and of which 25 came, leaves 45. As they lie, 30.50 in
// August and 61 in September, one part and two, they take 15 and 30 of it.
func TestWhatDidNotCome(t *testing.T) {
	o := harbour(t)
	officetest.GatherMap(t, o, map[string]string{
		"costs.csv": "project,cost_code,kind,flow,class,period,version,amount\nA,10,forecast,cost,opex,2026-09,2026-06,61\n",
	})
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A")
	say := func(text string) {
		t.Helper()
		typed(t, o, ada, "forecast", map[string]string{works + "/rest": text})
	}
	shows := func(rest, august, september string) {
		t.Helper()
		require.Contains(t, sheet(t, o, ada, "forecast"), "came=25 rest="+rest+" 2026-08="+august+" 2026-09="+september+"\n")
	}
	shows("45", "30.50", "61")
	say("move on")
	shows("move on", "75.50(30.50)", "61")
	say("move on") // once more it changes nothing
	shows("move on", "75.50(30.50)", "61")
	say("keep")
	shows("keep", "45.50(30.50)", "91(61)")
	typed(t, o, ada, "forecast", map[string]string{works + "/2026-08": "100"}) // what is typed after stays
	say("move on")
	shows("move on", "130(30.50)", "61") // 100 − 15 + 45
	say("drop")
	shows("drop", "85(30.50)", "61")
	typed(t, o, ada, "forecast", map[string]string{works + "/2026-08": "30.50"})
	say("")
	shows("45", "30.50", "61")
	sum, err := stating.In(o).Summary(ctx, ada, july(t, o), "A")
	require.NoError(t, err)
	require.Zero(t, sum.Changes(), "what was said and taken back leaves nothing behind")

	keep := func(column, was, text string) error {
		return stating.In(o).Keep(ctx, ada, july(t, o), "A", "forecast", map[string]stating.Typed{works + "/" + column: {Was: was, Text: text}})
	}
	require.EqualError(t, keep("rest", "45", "later"), `"later" says nothing of what did not come; say keep, move on, drop.`)
	require.NoError(t, keep("2026-08", "30.50", "much"))
	require.ErrorContains(t, keep("rest", "45", "move on"), "Mend it first")
	require.NoError(t, keep("2026-08", "30.50", "30.50"))
	say("drop")
	_, err = stating.In(o).Send(ctx, ada, july(t, o), "A")
	require.NoError(t, err, "that nothing is carried on is a statement too")
	require.NotContains(t, sheet(t, o, ada, "forecast"), "rest=", "once it is stated there is no rest")
	require.NoError(t, keep("rest", "45", "move on"))
	require.Contains(t, sheet(t, o, ada, "forecast"), "2026-08=30.50")
}

// Where more comes meanwhile, 20 of the 45, the draft that moved 45 on says so, and what
// is chosen moves 25.
func TestARestThatMoves(t *testing.T) {
	for own, august := range map[bool]string{true: "55.50", false: "30.50"} {
		o := harbour(t)
		ada := officetest.Admitted(t, o, "ada", right.Lead, "A")
		typed(t, o, ada, "forecast", map[string]string{works + "/rest": "move on"})
		require.Contains(t, sheet(t, o, ada, "forecast"), "2026-08=75.50")
		officetest.GatherMap(t, o, map[string]string{
			"postings.csv": "posting,date,project,cost_code,class,amount\nL3,2026-07-20,A,10,opex,20\n",
		})
		require.Contains(t, sheet(t, o, ada, "forecast"), "came=45 rest=move on! 2026-08=75.50")
		_, err := stating.In(o).Send(ctx, ada, july(t, o), "A")
		require.True(t, office.IsConflict(err), "%v", err)
		require.NoError(t, stating.In(o).Choose(ctx, ada, july(t, o), "A", "forecast", works+"/rest", own))
		require.Contains(t, sheet(t, o, ada, "forecast"), "2026-08="+august)
	}
}

// What came beyond the forecast, 10, is taken off what is to come.
func TestMoreCame(t *testing.T) {
	o := harbour(t)
	officetest.GatherMap(t, o, map[string]string{
		"postings.csv": "posting,date,project,cost_code,class,amount\nL3,2026-07-20,A,10,opex,55\n",
	})
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A")
	require.Contains(t, sheet(t, o, ada, "forecast"), "came=80 rest=-10 ")
	typed(t, o, ada, "forecast", map[string]string{works + "/rest": "keep"})
	require.Contains(t, sheet(t, o, ada, "forecast"), "2026-08=20.50")
}

// Where nothing is booked for the period yet, what did not come may still come.
func TestNothingBookedYet(t *testing.T) {
	o := harbour(t)
	officetest.GatherMap(t, o, map[string]string{"postings.csv": "posting,date,project,cost_code,class,amount\nL2,2026-07-10,B,10,opex,25\n"})
	ada := officetest.Admitted(t, o, "ada", right.Lead, "A")
	require.Contains(t, sheet(t, o, ada, "forecast"), "said=70 came=0 2026-08=30.50")
	s, err := stating.In(o).Sheet(ctx, ada, july(t, o), "A", "forecast")
	require.NoError(t, err)
	require.Contains(t, s.Grid.Note, "Nothing is booked for Jul 2026 yet")
	typed(t, o, ada, "forecast", map[string]string{works + "/2026-08": "30"})
	_, err = stating.In(o).Send(ctx, ada, july(t, o), "A")
	require.NoError(t, err)
	s, err = stating.In(o).Sheet(ctx, ada, july(t, o), "A", "forecast")
	require.NoError(t, err)
	require.Empty(t, s.Grid.Note, "once it is stated")
}
