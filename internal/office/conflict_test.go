package office_test

import (
	"context"
	"fmt"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/change"
	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/baseline"
	"turret/internal/office/check"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/judge"
	"turret/internal/office/officetest"
	"turret/internal/office/structure"
)

var (
	mira = office.Actor{Name: "Mira Stenholt", Role: office.Analyst, Account: 11}
	wren = office.Actor{Name: "Wren", Role: office.Analyst, Account: 12}
	twin = office.Actor{Name: "Wren", Role: office.Analyst, Account: 13}
)

// rule is a limit of cost, as a form sends it.
func rule(watch, act, title string) map[string]string {
	return map[string]string{
		"dimension": "cost",
		"reading":   "cpi",
		"direction": "below",
		"watch":     watch,
		"act":       act,
		"from":      "2026-02",
		"title":     title,
	}
}

func revision(t *testing.T, o *office.Office) int64 {
	t.Helper()
	n, err := o.Revision(context.Background(), officetest.Operator)
	require.NoError(t, err)
	return n
}

// inForce is the rule of CPI in February.
func inForce(t *testing.T, o *office.Office) judge.RuleRow {
	t.Helper()
	b, err := judge.In(o).RuleBook(context.Background(), officetest.Operator, officetest.February(t, o))
	require.NoError(t, err)
	for _, r := range b.Rules {
		if r.Reading == "cpi" && !r.Usual {
			return r
		}
	}
	return judge.RuleRow{}
}

// TestTwoChangeTheSame: who comes second is told field by field what was, is and
// would be, and who; what they send again holds.
func TestTwoChangeTheSame(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	require.NoError(t, judge.In(o).SaveRule(ctx, mira, change.Unseen, "rules", rule("0.96", "0.9", "")))
	seen := revision(t, o)
	require.NoError(t, judge.In(o).SaveRule(ctx, mira, seen, "rules", rule("0.97", "0.9", "")))
	err := judge.In(o).SaveRule(ctx, wren, seen, "rules", rule("0.95", "0.9", ""))
	require.ErrorIs(t, err, office.ErrRefused)
	require.True(t, office.IsConflict(err))
	require.ErrorContains(t, err, "Mira Stenholt changed the rule cost, cpi, 2026-02 meanwhile (")
	require.ErrorContains(t, err, "watch was 0.96, is 0.97 now, and yours is 0.95.")
	require.Equal(t, "0.97", inForce(t, o).Watch, "nothing of it was kept")
	require.NoError(
		t,
		judge.In(o).SaveRule(ctx, wren, revision(t, o), "rules", rule("0.95", "0.9", "")),
		"once it was told",
	)
	require.Equal(t, "0.95", inForce(t, o).Watch)
	require.NoError(
		t,
		judge.In(o).SaveRule(ctx, mira, seen, "rules", rule("0.95", "0.9", "")),
		"the same value is no conflict",
	)
	require.NoError(
		t,
		judge.In(o).
			SaveRule(ctx, mira, seen, "rules", map[string]string{"dimension": "dates", "reading": "spi_t", "direction": "below", "watch": "0.9", "act": "0.8", "from": "2026-02"}),
		"another record is none either",
	)
}

// TestFieldsMeet: of one record one changes this field and one that, each on a
// page that shows all of them; both hold.
func TestFieldsMeet(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	require.NoError(t, judge.In(o).SaveRule(ctx, mira, change.Unseen, "rules", rule("0.96", "0.9", "")))
	seen := revision(t, o)
	require.NoError(t, judge.In(o).SaveRule(ctx, mira, seen, "rules", rule("0.97", "0.9", "")))
	require.NoError(
		t,
		judge.In(o).SaveRule(ctx, wren, seen, "rules", rule("0.96", "0.8", "")),
		"the watch was not touched here",
	)
	require.Equal(t, []string{"0.97", "0.8"}, []string{inForce(t, o).Watch, inForce(t, o).Act})
}

// TestRecordThatCameMeanwhile: whoever saw that nothing was set is told of what
// was set since, whatever the other is called.
func TestRecordThatCameMeanwhile(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	m := officetest.February(t, o)
	require.NoError(
		t,
		judge.In(o).Override(ctx, wren, m, m.Revision(), "K1", "overall", "watch", "2026-03", "the yard pays"),
	)
	err := judge.In(o).Override(ctx, twin, m, m.Revision(), "K1", "overall", "act", "2026-03", "it does not")
	require.True(t, office.IsConflict(err), err)
	require.ErrorContains(t, err, "Wren changed the standing K1, overall, 2026-02 meanwhile")
	require.ErrorContains(t, err, "standing was nothing, is watch now, and yours is act")
	require.NoError(
		t,
		judge.In(o).Override(ctx, twin, m, m.Revision(), "K1", "cost", "act", "2026-03", "another dimension"),
	)
	require.True(
		t,
		office.IsConflict(
			judge.In(o).
				EndOverride(ctx, mira, officetest.Moment(t, o, office.Ask{At: "2026-03"}), m.Revision(), "K1", "overall"),
		),
		"it is not ended unseen",
	)

	m = officetest.February(t, o)
	var keys []office.FindingKey
	for _, f := range officetest.Found(m) {
		keys = append(keys, officetest.Key(f))
	}
	require.Greater(t, len(keys), 2)
	n, err := check.In(o).Answer(ctx, wren, m, m.Revision(), keys[:2], check.Accept, "2026-03", "it is known")
	require.NoError(t, err)
	require.Equal(t, 2, n)
	_, err = check.In(o).Answer(ctx, mira, m, m.Revision(), keys, check.SendBack, "", "Why?")
	require.True(t, office.IsConflict(err), err)
	require.ErrorContains(t, err, "The same is true of 1 other.")
	_, err = check.In(o).Answer(ctx, mira, m, m.Revision(), keys[2:], check.SendBack, "", "Why?")
	require.NoError(t, err, "others are answered")
}

// TestManyPairsInTheSameInstant: of two who save in the same instant one is told,
// always; and those who change different records never meet.
func TestManyPairsInTheSameInstant(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	const pairs = 25
	for i := range pairs {
		seen := revision(t, o)
		errs := make([]error, 4)
		var all sync.WaitGroup
		for k, a := range []office.Actor{mira, wren} {
			all.Go(func() {
				errs[k] = judge.In(o).SaveRule(ctx, a, seen, "rules", rule(fmt.Sprintf("0.9%d%d", i, k+1), "0.5", ""))
			})
			all.Go(func() {
				errs[2+k] = structure.In(o).
					SaveCode(ctx, a, seen, structure.Node{Code: fmt.Sprintf("9%d%d", i, k), Name: "Own"})
			})
		}
		all.Wait()
		require.NoError(t, errs[2])
		require.NoError(t, errs[3])
		kept, won := 0, ""
		for k, err := range errs[:2] {
			if err == nil {
				kept, won = kept+1, fmt.Sprintf("0.9%d%d", i, k+1)
			} else {
				require.True(t, office.IsConflict(err), err)
			}
		}
		require.Equal(t, 1, kept)
		require.Equal(t, won, inForce(t, o).Watch, "what was kept was not overwritten")
	}
}

// TestClosingTwice: a form that shows a period closes that one or none.
func TestClosingTwice(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("progress.csv", "project,activity,period,percent\nK2,A,2026-03,22\n"),
	)
	reasons := map[string]string{"refused": "r", "errors": "r", "unanswered": "r", "moves": "r", "owing": "r"}
	m := officetest.February(t, o)
	_, err := closing.In(o).CloseOver(ctx, mira, m, "2026-02", reasons)
	require.NoError(t, err)
	_, err = closing.In(o).CloseOver(ctx, wren, m, "2026-02", reasons)
	require.ErrorContains(t, err, "2026-02 is closed already")
	march := officetest.Moment(t, o, office.Ask{})
	require.Equal(t, "2026-03", march.Period.Code)
	_, err = closing.In(o).CloseOver(ctx, wren, march, "2026-02", reasons)
	require.ErrorContains(t, err, "The form was about 2026-02")
	_, err = closing.In(o).CloseOver(ctx, wren, march, "", reasons)
	require.ErrorContains(t, err, "does not say which period")
	require.False(t, officetest.Moment(t, o, office.Ask{At: "2026-03"}).Period.Closed)
}

// TestSomeoneIsLeftToAdminister: two who shut each other out in the same instant
// do not both succeed.
func TestSomeoneIsLeftToAdminister(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	one, two := officetest.Admitted(
		t,
		o,
		"one",
		office.Administrator,
	), officetest.Admitted(
		t,
		o,
		"two",
		office.Administrator,
	)
	for range 10 {
		var all sync.WaitGroup
		errs := make([]error, 2)
		all.Go(func() { errs[0] = account.In(o).Disable(ctx, one, two.Account, true) })
		all.Go(func() { errs[1] = account.In(o).SetRole(ctx, two, one.Account, office.Executive, nil) })
		all.Wait()
		require.True(t, (errs[0] == nil) != (errs[1] == nil), "%v, %v", errs[0], errs[1])
		for _, err := range errs {
			if err != nil {
				require.ErrorContains(t, err, "is the only administrator")
			}
		}
		require.NoError(t, account.In(o).Disable(ctx, officetest.Operator, two.Account, false))
		require.NoError(t, account.In(o).SetRole(ctx, officetest.Operator, one.Account, office.Administrator, nil))
	}
}

// TestFourEyes: who proposed a baseline, or changed what is proposed, does not
// approve it, whatever the row says of the proposer; a file approves nothing that
// waits, and nothing in the name of someone who can sign in.
func TestFourEyes(t *testing.T) {
	ctx := context.Background()
	o := officetest.Pier(t)
	edda, twin := officetest.Admitted(t, o, "edda", office.Executive), officetest.Admitted(t, o, "twin", office.Analyst)
	me := twin
	me.Account, me.Name = 99, "Somebody"
	m := func() *office.Moment { return officetest.Moment(t, o, office.Ask{At: "2026-05"}) }
	stated := baseline.Proposal{Project: "P", Money: baseline.Stated, Dates: baseline.Stated, Reason: "Softer ground"}
	_, err := baseline.In(o).Propose(ctx, me, m(), m().Revision(), stated)
	require.NoError(t, err)
	approve := baseline.Decision{Project: "P", Number: 2, Approve: true, Day: "2026-05-21"}
	gather := func(a office.Actor, name, body string) []entry.Refusal {
		t.Helper()
		r, err := entry.In(o).Gather(ctx, a, []entry.File{officetest.File(name, body)}, nil, entry.Options{})
		require.NoError(t, err)
		return r.Refusals
	}
	require.ErrorContains(t, baseline.In(o).Decide(ctx, me, m().Revision(), approve), "someone else approves")
	require.Empty(t, gather(me, "baselines.csv", "project,baseline,proposer\nP,2,Another\n"))
	require.ErrorContains(
		t,
		baseline.In(o).Decide(ctx, me, m().Revision(), approve),
		"someone else approves",
		"a gathered row makes nobody another",
	)
	renamed := me
	renamed.Name = "Else"
	require.ErrorContains(
		t,
		baseline.In(o).Decide(ctx, renamed, m().Revision(), approve),
		"someone else approves",
		"nor does a name",
	)
	require.Empty(
		t,
		gather(twin, "costs.csv", "project,cost_code,kind,flow,period,version,amount\nP,1,plan,cost,2026-06,2,5\n"),
	)
	require.ErrorContains(t, baseline.In(o).Decide(ctx, twin, m().Revision(), approve), "changed what is proposed")

	for _, a := range []office.Actor{me, twin, officetest.Operator} {
		list := gather(a, "baselines.csv", "project,baseline,state,approved,approver\nP,2,approved,2026-05-21,Edda\n")
		require.Len(t, list, 1)
		require.Contains(t, list[0].Reason, "waits for a decision")
	}
	list := gather(
		twin,
		"baselines.csv",
		"project,baseline,state,approved,approver\nP,3,approved,2026-05-21,"+edda.Name+"\n",
	)
	require.Len(t, list, 1)
	require.Contains(t, list[0].Reason, edda.Name+" can sign in, and approves on the baseline's page")
	require.Empty(
		t,
		gather(
			twin,
			"baselines.csv",
			"project,baseline,state,approved,approver\nQ,2,approved,2026-05-21,The board of 2019\n",
		),
		"what was approved elsewhere",
	)
	require.NoError(t, baseline.In(o).Decide(ctx, edda, m().Revision(), approve))
}
