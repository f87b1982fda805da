package network

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/portfolio"
)

// yard and quay are two projects of November 2026: the yard hands a hull to the quay by a
// milestone, which is promised nine days too late.
func yardAndQuay(change func(yard, quay *portfolio.Project)) *Portfolio {
	o := &portfolio.Office{Reporting: "EUR", Periods: calendar.Months(1), Calendars: map[string]*calendar.Calendar{"five": five}, Calendar: "five"}
	o.Settle()
	at := o.Periods.Of(november)
	leaf := func(id int64, code, start, finish string) portfolio.Activity {
		return portfolio.Activity{ID: id, Code: code, Name: "Work " + code, Kind: portfolio.Task, Parent: -1, Leaf: true, Start: on(start), Finish: on(finish)}
	}
	yard := &portfolio.Project{ID: 1, Code: "YARD", State: portfolio.Active}
	yard.Activities = []portfolio.Activity{
		leaf(1, "hull", "2026-11-16", "2026-12-11"),
		leaf(2, "paint", "2026-12-14", "2026-12-18"),
		{ID: 3, Code: "out", Kind: portfolio.Milestone, Parent: -1, Finish: on("2026-12-18")},
	}
	yard.Links = []portfolio.Link{{From: 0, To: 1, Type: "FS"}, {From: 1, To: 2, Type: "FS"}}
	yard.Progress = []portfolio.Progress{{Period: at, Rows: []portfolio.ProgressRow{{Activity: 0, Percent: portfolio.Mark{Said: portfolio.Value, Int: 50}}}}}
	quay := &portfolio.Project{ID: 2, Code: "QUAY", State: portfolio.Active}
	quay.Activities = []portfolio.Activity{leaf(1, "fit", "2026-12-08", "2026-12-10"), leaf(2, "test", "2026-12-14", "2026-12-14")}
	quay.Links = []portfolio.Link{{From: 0, To: 1, Type: "FS"}}
	quay.Across = []portfolio.Across{{Here: 0, Other: "YARD", Code: "out", Activity: 3, Into: true, Type: "FS"}}
	if change != nil {
		change(yard, quay)
	}
	return Of([]*portfolio.View{portfolio.At(o, yard, at, portfolio.Latest), portfolio.At(o, quay, at, portfolio.Latest)})
}

func TestTold(t *testing.T) {
	p := yardAndQuay(nil)
	told := p.Tell(5, nil) // QUAY is first
	// The hull is out on Fri 18 Dec, so fitting takes Mon 21 to Wed 23, and the test Thu 24.
	require.Equal(t, "2026-12-24", told[0].Finish.String())
	require.Equal(t, [6]int{2, 0, 2, 0, 1, 1}, [6]int{told[0].Unfinished, told[0].Float, told[0].Critical, told[0].Near, told[0].Broken, told[0].Conflicts})
	// The yard ends on the 18th by itself, and has no day to spare.
	require.Equal(t, "2026-12-18", told[1].Finish.String())
	require.Equal(t, [6]int{3, 0, 3, 0, 0, 0}, [6]int{told[1].Unfinished, told[1].Float, told[1].Critical, told[1].Near, told[1].Broken, told[1].Conflicts})

	p = yardAndQuay(func(yard, _ *portfolio.Project) { yard.Activities[1].Finish = on("2026-12-16") })
	told = p.Tell(2, nil)
	require.Equal(t, [3]int{2, 0, 1}, [3]int{told[1].Near, told[1].Float, told[1].Critical}, "two days to spare before the milestone")
	require.Equal(t, 0, p.Tell(1, nil)[1].Near)
}

func TestInterfaces(t *testing.T) {
	p := yardAndQuay(nil)
	list := p.Interfaces()
	require.Len(t, list, 1)
	x := list[0]
	require.Equal(t, "YARD/out fit", x.From+" "+x.To)
	require.Equal(t, "2026-12-18 2026-12-07 9", x.Promised.String()+" "+x.Needed.String()+" "+string(rune('0'+x.Conflict)), "Tue 8 to Fri 18 are nine days")

	for _, c := range []struct {
		kind             string
		lag              int
		promised, needed string
		conflict         int
	}{
		{"SS", 0, "2026-12-18", "2026-12-07", 9}, // a milestone gives on its day, whichever end is meant
		{"FF", 1, "2026-12-18", "2026-12-09", 7}, // fit ends on Thu 10
		{"FS", 2, "2026-12-18", "2026-12-03", 11},
	} {
		p = yardAndQuay(func(_, quay *portfolio.Project) { quay.Across[0].Type, quay.Across[0].Lag = c.kind, c.lag })
		x = p.Interfaces()[0]
		require.Equal(t, [2]string{c.promised, c.needed}, [2]string{x.Promised.String(), x.Needed.String()}, c.kind)
		require.Equal(t, c.conflict, x.Conflict, c.kind)
		days, ok := p.Broken(x.Link)
		require.True(t, ok)
		require.Equal(t, days, x.Conflict, "a conflict is a broken link")
	}
	p = yardAndQuay(func(_, quay *portfolio.Project) { // from the start of a task
		quay.Across[0].Type, quay.Across[0].Activity, quay.Across[0].Code = "SS", 2, "paint"
	})
	x = p.Interfaces()[0]
	require.Equal(t, [2]string{"2026-12-14", "2026-12-08"}, [2]string{x.Promised.String(), x.Needed.String()}, "both may begin on one day")
	require.Equal(t, 4, x.Conflict)
	p = yardAndQuay(func(yard, _ *portfolio.Project) { yard.Activities[2].Finish = on("2026-12-02") })
	require.Equal(t, 0, p.Interfaces()[0].Conflict, "it is there in time")
}

func TestChain(t *testing.T) {
	p := yardAndQuay(nil)
	var names []string
	for _, s := range p.Chain(p.Last(0)) {
		names = append(names, p.Name(int(s.Activity)))
	}
	require.Equal(t, []string{"QUAY/test", "QUAY/fit", "YARD/out", "YARD/paint", "YARD/hull"}, names)
	chain := p.Chain(p.Last(0))
	require.Equal(t, ByStatement, chain[len(chain)-1].Cause)
	require.Equal(t, int32(-1), chain[len(chain)-1].Link)
}

func TestStretched(t *testing.T) {
	p := yardAndQuay(nil)
	// Of the hull nine days are left after 30 November: 9 × 3 ÷ 2 = 13.5, so 14, to Fri 18; of
	// painting five: 7.5, so 8, to Wed 30. The milestone follows, then three days of the quay,
	// which is not stretched, and one.
	told := p.Tell(5, p.StretchedFinishes([]exact.Ratio{{}, exact.Of(3, 2)}))
	require.Equal(t, "2026-12-30", told[1].Stretched.String())
	require.Equal(t, "2027-01-05", told[0].Stretched.String())
	require.Equal(t, "2026-12-24", told[0].Finish.String(), "the other is as it was")
	half := []exact.Ratio{{}, exact.Of(1, 2)} // 4.5, so 5; what is stated is not pulled ahead
	require.Equal(t, "2026-12-18", p.StretchedFinishes(half)[1].String())
	huge := exact.Of(math.MaxInt64, math.MaxInt64-1) // 9 and a bit are 10
	require.Equal(t, "2026-12-22", p.StretchedFinishes([]exact.Ratio{{}, huge})[1].String())
	s := p.Stretched(half)
	require.Equal(t, "2026-12-07", s.Dates[slices.IndexFunc(s.Places, func(x Place) bool { return x == Place{1, 0} })].EarlyFinish.String())
}

// TestTroubles: each kind, in the project that states it.
func TestTroubles(t *testing.T) {
	p := yardAndQuay(nil)
	require.Equal(t, []Trouble{{Kind: LinkBroken, Link: 0, Activity: -1, Days: 9}}, p.Troubles(0))
	require.Empty(t, p.Troubles(1))
	p = yardAndQuay(func(yard, quay *portfolio.Project) {
		yard.Links = append(yard.Links, portfolio.Link{From: 1, To: 0, Type: "SS"})
		yard.Activities[2].Bound = &portfolio.Bound{Constraint: "not after", Day: on("2026-12-15")}
		quay.Activities[1].Bound = &portfolio.Bound{Constraint: "on"}
		quay.Activities = append(quay.Activities, portfolio.Activity{ID: 9, Code: "x", Kind: portfolio.Task, Parent: -1, Leaf: true})
	})
	kinds := func(view int) (out []Kind) {
		for _, x := range p.Troubles(view) {
			out = append(out, x.Kind)
		}
		return out
	}
	require.Equal(t, []Kind{HalfBound, NoDate, LinkBroken}, kinds(0))
	require.Equal(t, []Kind{TooLate, Loop}, kinds(1))
	require.Equal(t, 3, p.Troubles(1)[0].Days, "Tue 15 to Fri 18")
	require.Equal(t, []string{"YARD/hull", "YARD/paint"}, p.Troubles(1)[1].Loop)
}
