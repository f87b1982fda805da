package baseline_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/baseline"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/history"
	"turret/internal/office/officetest"

	tables "turret/internal/office/money"
	"turret/internal/right"
)

// TestProposal: what is spent and then stated becomes a plan that counts nowhere
// until someone else approves it, from a day on.
func TestProposal(t *testing.T) {
	ctx := context.Background()
	o := officetest.Pier(t)
	april, err := o.ParsePeriod(ctx, officetest.Operator, "2026-04")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, april)
	require.NoError(t, err)
	at := func(period string) *office.Moment { return officetest.Moment(t, o, office.Ask{At: period}) }
	mark := func() int64 {
		n, err := o.Revision(ctx, officetest.Ines)
		require.NoError(t, err)
		return n
	}
	stated := baseline.Proposal{Project: "P", Money: baseline.Stated, Dates: baseline.Stated, Reason: "Softer ground"}
	for says, p := range map[string]baseline.Proposal{
		"no project":       {Project: "X", Money: baseline.Stated, Reason: "r"},
		"Reason: say why":  {Project: "P", Money: baseline.Stated},
		"Nothing would":    {Project: "P", Money: baseline.Kept, Dates: baseline.Kept, Reason: "r"},
		"states no foreca": {Project: "Q", Money: baseline.Stated, Reason: "r"},
	} {
		_, err := baseline.In(o).Propose(ctx, officetest.Ines, at("2026-05"), 0, p)
		require.ErrorIs(t, err, office.ErrRefused)
		require.ErrorContains(t, err, says)
	}
	_, err = baseline.In(o).Propose(ctx, officetest.Ines, at("2026-04"), 0, stated)
	require.ErrorContains(t, err, "closed, so nothing is proposed from it")
	_, err = baseline.In(o).Propose(ctx, officetest.Tor, at("2026-05"), 0, stated)
	require.ErrorContains(t, err, "may not propose baselines")

	before := officetest.Said(t, o, "2026-05")
	n, err := baseline.In(o).Propose(ctx, officetest.Ines, at("2026-05"), mark(), stated)
	require.NoError(t, err)
	require.Equal(t, 2, n)
	require.Equal(t, before, officetest.Said(t, o, "2026-05"), "what is proposed counts nowhere")
	_, err = baseline.In(o).Propose(ctx, officetest.Ines, at("2026-05"), mark(), stated)
	require.ErrorContains(t, err, "Baseline 2 is proposed already, by Ines Dahl")

	c, err := baseline.In(o).BaselineChange(ctx, officetest.Ines, at("2026-05"), "P", 2)
	require.NoError(t, err)
	require.True(t, c.Row.Open() && c.Mine && c.Was.InForce && !c.Row.InForce)
	// One was 100 and becomes 110 booked + 20 accrued; two was 50 and becomes the 60
	// stated: 150 + 40 = 190. The accrual of May is taken back in June, of which the
	// plan says nothing, since it counts at the selected period only.
	require.Equal(
		t,
		[]baseline.Changed{
			{Code: "1", Name: "One", Was: 100_00, Is: 130_00},
			{Code: "2", Name: "Two", Was: 50_00, Is: 60_00},
		},
		c.Codes,
	)
	require.Equal(t, int64(40_00), c.Row.Change)
	require.Equal(t, c.Before.Value(figure.EACStated).N, c.After.Value(figure.BAC).N, "the stated outlook is its plan")
	require.Len(t, c.Dates, 1, "the piles keep their dates")
	require.Equal(t, "2", c.Dates[0].Code)
	require.Equal(t, "2026-07-31", c.Dates[0].Is[1].String())
	require.Equal(t, 23, c.Dates[0].Slip, "the working days of July 2026")
	require.Equal(t, 23, c.Row.Shift)

	no := func(a right.Actor, d baseline.Decision, says string) {
		t.Helper()
		err := baseline.In(o).Decide(ctx, a, mark(), d)
		require.Error(t, err)
		require.Contains(t, err.Error(), says)
		require.Equal(t, before, officetest.Said(t, o, "2026-05"))
	}
	no(officetest.Ines, baseline.Decision{Project: "P", Number: 2, Approve: true, Day: "2026-05-20"}, "someone else")
	no(
		right.Actor{Name: "ines dahl", Role: right.Analyst},
		baseline.Decision{Project: "P", Number: 2, Approve: true, Day: "2026-05-20"},
		"someone else",
	)
	no(
		officetest.Tor,
		baseline.Decision{Project: "P", Number: 2, Approve: true, Day: "2026-04-20"},
		"Apr 2026, which is closed",
	)
	no(officetest.Tor, baseline.Decision{Project: "P", Number: 2, Approve: true, Day: "soon"}, "write the day")
	no(officetest.Tor, baseline.Decision{Project: "P", Number: 3, Approve: true, Day: "2026-05-20"}, "not proposed")
	no(officetest.Tor, baseline.Decision{Project: "X", Number: 2, Approve: true, Day: "2026-05-20"}, "no project")
	no(officetest.Tor, baseline.Decision{Project: "P", Number: 2}, "say why it is rejected")
	no(
		right.Actor{Name: "Ada", Role: right.Lead},
		baseline.Decision{Project: "P", Number: 2, Approve: true, Day: "2026-05-20"},
		"may not approve",
	)
	require.Equal(t, "2026-05-20", baseline.In(o).FirstDay(at("2026-05")).String())
	old := mark()
	require.NoError(
		t,
		baseline.In(o).
			Decide(ctx, officetest.Tor, old, baseline.Decision{Project: "P", Number: 2, Approve: true, Day: "2026-05-21", Remark: "As discussed"}),
	)
	require.ErrorContains(
		t,
		baseline.In(o).
			Decide(ctx, officetest.Tor, old, baseline.Decision{Project: "P", Number: 2, Approve: true, Day: "2026-05-22"}),
		"Baseline 2 of P is approved already, by Tor Lindqvist",
	)

	bac := func(period, against string) int64 {
		r, _ := officetest.Moment(t, o, office.Ask{At: period, Against: against}).Find("P")
		return r.Value(figure.BAC).N
	}
	require.Equal(
		t,
		[]int64{150_00, 190_00, 150_00},
		[]int64{bac("2026-04", ""), bac("2026-05", ""), bac("2026-05", "original")},
	)
	list, err := baseline.In(o).Baselines(ctx, officetest.Tor, at("2026-05"), "P")
	require.NoError(t, err)
	require.Equal(t, "Tor Lindqvist", list.List[1].Approver)
	require.True(t, list.List[1].InForce && list.List[1].Counts())
	all, err := baseline.In(o).AllBaselines(ctx, officetest.Tor, at("2026-05"))
	require.NoError(t, err)
	require.Len(t, all, 1)
	require.Equal(t, "As discussed", all[0].Remark)
	table := officetest.MoneyTable(
		t,
		o,
		at("2026-05"),
		tables.Ask{Project: "P", Per: "completion", Show: "plan", Beside: "baseline1"},
	)
	require.Equal(t, "baseline 1", table.Version)
	is, _ := table.Value(table.Root, 0, "plan", 2)
	was, _ := table.Value(table.Root, 1, "plan", 2)
	require.Equal(t, []int64{190_00, 150_00}, []int64{is, was})
	table = officetest.MoneyTable(t, o, at("2026-05"), tables.Ask{Project: "P", Beside: "baseline7", Plan: "x"})
	require.Len(t, table.Asked, 2, "a version in an old address that is gone is told")

	// The next one, of dates alone, is rejected; the one after goes on from the plan
	// in force, without what was rejected.
	n, err = baseline.In(o).
		Propose(ctx, officetest.Ines, at("2026-05"), mark(), baseline.Proposal{Project: "P", Dates: baseline.Stated, Money: baseline.Kept, Reason: "Again"})
	require.NoError(t, err)
	require.Equal(t, 3, n)
	require.NoError(
		t,
		baseline.In(o).
			Decide(ctx, officetest.Tor, mark(), baseline.Decision{Project: "P", Number: 3, Remark: "Not again"}),
	)
	n, err = baseline.In(o).
		Propose(ctx, officetest.Ines, at("2026-05"), mark(), baseline.Proposal{Project: "P", Dates: baseline.Stated, Money: baseline.Kept, Reason: "Once more"})
	require.NoError(t, err)
	require.Equal(t, 4, n)
	no = func(a right.Actor, d baseline.Decision, says string) {
		t.Helper()
		require.ErrorContains(t, baseline.In(o).Decide(ctx, a, mark(), d), says)
	}
	no(
		officetest.Tor,
		baseline.Decision{Project: "P", Number: 4, Approve: true, Day: "2026-05-20"},
		"baseline 2 is in force from 2026-05-21",
	)
	no(
		officetest.Tor,
		baseline.Decision{Project: "P", Number: 3, Approve: true, Day: "2026-05-22"},
		"is rejected already, by Tor Lindqvist",
	)
	require.Empty(
		t,
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File(
				"baselines.csv",
				"project,baseline,approved,reason,approver\nP,5,2026-06-02,By file,Edda Kerr\n",
			),
		).Refusals,
	)
	no(
		officetest.Tor,
		baseline.Decision{Project: "P", Number: 4, Approve: true, Day: "2026-06-20"},
		"Baseline 5 was approved meanwhile",
	)
}

// TestProposalIsTakenBack: a proposal can be undone, an approval cannot.
func TestProposalIsTakenBack(t *testing.T) {
	ctx := context.Background()
	o := officetest.Pier(t)
	before := officetest.Said(t, o, "2026-05")
	m := officetest.Moment(t, o, office.Ask{At: "2026-05"})
	_, err := baseline.In(o).
		Propose(ctx, officetest.Ines, m, 0, baseline.Proposal{Project: "P", Money: baseline.Stated, Reason: "r"})
	require.NoError(t, err)
	_, err = history.In(o).Undo(ctx, officetest.Ines, officetest.LastBatch(t, o), false)
	require.NoError(t, err)
	m = officetest.Moment(t, o, office.Ask{At: "2026-05"})
	require.Zero(t, m.ProposedBaselines("P"))
	require.Equal(t, before, officetest.Said(t, o, "2026-05"))
	n, err := baseline.In(o).
		Propose(ctx, officetest.Ines, m, m.Revision(), baseline.Proposal{Project: "P", Money: baseline.Stated, Reason: "r"})
	require.NoError(t, err)
	require.Equal(t, 2, n)
	require.NoError(
		t,
		baseline.In(o).
			Decide(ctx, officetest.Tor, officetest.LastBatch(t, o), baseline.Decision{Project: "P", Number: 2, Approve: true, Day: "2026-05-21"}),
	)
	_, err = history.In(o).Undo(ctx, officetest.Ines, officetest.LastBatch(t, o), false)
	require.ErrorContains(t, err, "nothing that can be undone")
}

// TestBaselineRows: what a file may say of a baseline.
func TestBaselineRows(t *testing.T) {
	const head = "project,baseline,state,approved,approver,proposer,reason\n"
	for _, c := range []struct{ name, was, row, says string }{
		{"proposed", "", "P,2,proposed,,,Ines,r", ""},
		{"the original", "", "P,1,proposed,,,Ines,r", "baseline 1 is the original"},
		{"proposed with a day", "", "P,2,proposed,2026-05-01,,Ines,r", "no day from which it is in force"},
		{"approved by its proposer", "P,2,proposed,,,Ines,r", "P,2,approved,2026-05-01,INES,,", "waits for a decision"},
		{"approved by its proposer, at once", "", "P,2,approved,2026-05-01,Ines,Ines,r", "Ines proposed it"},
		{"approved by nobody", "P,2,proposed,,,Ines,r", "P,2,approved,2026-05-01,,,", "waits for a decision"},
		{"approved from no day", "P,2,proposed,,,Ines,r", "P,2,approved,,Tor,,", "waits for a decision"},
		{"approved", "P,2,proposed,,,Ines,r", "P,2,approved,2026-05-01,Tor,,", "waits for a decision"},
		{"rejected", "P,2,proposed,,,Ines,r", "P,2,rejected,,Tor,,", "waits for a decision"},
		{"approved elsewhere", "", "P,2,approved,2026-05-01,Tor,Ines,r", ""},
		{"approved no more", "P,2,,2026-05-01,Tor,,r", "P,2,proposed,,,,", "is approved and stays so"},
		{"changed after it was approved", "P,2,,2026-05-01,Tor,,r", "P,2,,,,,better said", ""},
	} {
		o := officetest.Pier(t)
		if c.was != "" {
			require.Empty(
				t,
				officetest.Take(t, o, entry.Options{}, officetest.File("baselines.csv", head+c.was+"\n")).Refusals,
				c.name,
			)
		}
		r := officetest.Take(t, o, entry.Options{}, officetest.File("baselines.csv", head+c.row+"\n"))
		if c.says == "" {
			require.Empty(t, r.Refusals, c.name)
			continue
		}
		require.Len(t, r.Refusals, 1, c.name)
		require.Contains(t, r.Refusals[0].Reason, c.says, c.name)
	}
}

// TestProposedPlanIsTheStatedOutlook: of random money, the plan that is proposed
// from it has the sum of the stated outlook, in each of its lines what is spent
// and stated there, and changes no reading before it is approved.
func TestProposedPlanIsTheStatedOutlook(t *testing.T) {
	ctx := context.Background()
	for seed := range uint64(12) {
		r := rand.New(rand.NewPCG(seed, 7))
		o := officetest.NewOffice(t)
		var b strings.Builder
		b.WriteString("project,cost_code,kind,class,period,version,amount\n")
		sums := map[string]int64{}
		for i := range 60 {
			code, class := fmt.Sprint(1+r.IntN(3)), []string{"capex", "opex"}[r.IntN(2)]
			kind, month, n := []string{"plan", "actual", "accrual", "forecast"}[i%4], 1+r.IntN(
				11,
			), int64(
				r.IntN(90000)-9000,
			)
			version := map[string]string{"plan": "1", "forecast": "2026-06"}[kind]
			row := fmt.Sprintf("P,%s,%s,%s,2026-%02d,%s,", code, kind, class, month, version)
			if strings.Contains(b.String(), row) {
				continue
			}
			b.WriteString(row + money.Format(n, "EUR") + "\n")
			switch {
			case kind == "actual" && month <= 6, kind == "accrual" && month == 6, kind == "forecast" && month > 6:
				sums[code] += n
			}
		}
		require.Empty(
			t,
			officetest.Take(
				t,
				o,
				entry.Options{},
				officetest.File("cost_codes.csv", "cost_code\n1\n2\n3\n"),
				officetest.File("projects.csv", "project\nP\n"),
				officetest.File("costs.csv", b.String()),
			).Refusals,
		)
		m := officetest.Moment(t, o, office.Ask{At: "2026-06"})
		before, _ := m.Find("P")
		n, err := baseline.In(o).
			Propose(ctx, officetest.Ines, m, 0, baseline.Proposal{Project: "P", Money: baseline.Stated, Reason: "r"})
		require.NoError(t, err)
		c, err := baseline.In(o).
			BaselineChange(ctx, officetest.Ines, officetest.Moment(t, o, office.Ask{At: "2026-06"}), "P", n)
		require.NoError(t, err)
		for _, x := range c.Codes {
			require.Equal(t, sums[x.Code], x.Is, "seed %d, code %s", seed, x.Code)
		}
		require.Equal(t, before.Value(figure.EACStated).N, c.After.Value(figure.BAC).N, "seed %d", seed)
		require.Equal(t, before.Values, c.Before.Values, "seed %d", seed)
		require.Equal(t, portfolio.PlanProposed, c.Row.State)
	}
}

// TestProposedToBeTyped: the plan as it is now under the next number, which is then typed over;
// it counts nowhere by itself.
func TestProposedToBeTyped(t *testing.T) {
	ctx := context.Background()
	o := officetest.Pier(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-05"})
	before := officetest.Said(t, o, "2026-05")
	n, err := baseline.In(o).Propose(ctx, officetest.Ines, m, 0, baseline.Proposal{Project: "P", Money: baseline.ToType, Dates: baseline.Kept, Reason: "to be typed"})
	require.NoError(t, err)
	require.Equal(t, before, officetest.Said(t, o, "2026-05"))
	c, err := baseline.In(o).BaselineChange(ctx, officetest.Ines, officetest.Moment(t, o, office.Ask{At: "2026-05"}), "P", n)
	require.NoError(t, err)
	require.Zero(t, c.Row.Change, "as it is now")
	require.Equal(t, c.Before.Value(figure.BAC).N, c.After.Value(figure.BAC).N)
}
