package portfolio

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
)

// TestSharingInForce: the nearest code that shares counts, at its latest period;
// one that ended leaves it to those above.
func TestSharingInForce(t *testing.T) {
	o := newOffice()
	o.Codes = map[int64]CostCode{
		1:  {Code: "1"},
		11: {Code: "11", Parent: 1},
		12: {Code: "12", Parent: 1},
		2:  {Code: "2"},
	}
	set := func(code int64, from calendar.Period, centre string, weight int64) Sharing {
		return Sharing{CodeID: code, From: from, Centres: []string{centre}, Weights: []int64{weight}}
	}
	p := &Project{
		Shares: []Sharing{
			set(0, 10, "all", 100),
			set(1, 10, "one", 100),
			set(11, 12, "eleven", 100),
			set(11, 14, "eleven", 0),
			set(1, 16, "later", 100),
			set(0, 18, "all", 0),
		},
	}
	for _, c := range []struct {
		code int64
		at   calendar.Period
		want string
	}{
		{11, 9, ""},
		{11, 10, "one"},
		{11, 11, "one"},
		{11, 12, "eleven"},
		{11, 13, "eleven"},
		{11, 14, "one"}, // ended: the code above counts again
		{11, 16, "later"},
		{12, 13, "one"},
		{2, 13, "all"},
		{2, 18, ""},
		{0, 12, "all"},
		{99, 13, "all"}, // a code that is gone is under the project alone
	} {
		got := ""
		if s := o.SharingAt(p, c.code, c.at); s != nil {
			got = s.Centres[0]
		}
		require.Equal(t, c.want, got, "%+v", c)
	}
}

// TestProposedIsNotInForce: neither what is proposed nor what was rejected counts,
// nor is it a part of a later number.
func TestProposedIsNotInForce(t *testing.T) {
	o := newOffice()
	line := []Line{{Flow: Cost}}
	p := &Project{
		Activities: []Activity{{Code: "1", Kind: Task}},
		Plan:       []Version{{Number: 1, Lines: line}, {Number: 2, Lines: line}, {Number: 3, Lines: line}},
		Baselines: []Baseline{
			{Number: 1, Rows: []BaselineRow{{Start: 10, Finish: 20}}},
			{Number: 2, State: PlanRejected, Rows: []BaselineRow{{Start: 30, Finish: 40}}},
			{Number: 3, State: PlanProposed},
			{Number: 4, State: PlanApproved, Approved: calendar.DateOf(2026, 4, 10)},
		},
	}
	for _, c := range []struct {
		month               int
		against             Against
		number, plan, dates int
	}{
		{3, Latest, 1, 1, 1},
		{4, Latest, 4, 1, 1},
		{4, Original, 1, 1, 1},
		{3, 2, 2, 2, 2}, // asked for by number, each shows what it would be
		{3, 3, 3, 3, 1},
		{3, 4, 4, 1, 1},
	} {
		v := At(o, p, o.Periods.Of(calendar.DateOf(2026, c.month, 1)), c.against)
		require.Equal(
			t,
			[3]int{c.number, c.plan, c.dates},
			[3]int{v.Number, v.Plan.Number, v.BaselineNumber()},
			"%+v",
			c,
		)
	}
	require.Equal(t, []int{1, 2, 3, 4}, p.Numbers())
	require.Equal(
		t,
		[]string{"latest", "original", "baseline 3"},
		[]string{Latest.String(), Original.String(), Against(3).String()},
	)
}
