package funding_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/funding"
	"turret/internal/office/officetest"
	"turret/internal/right"
)

// funded is an office with two projects of a programme, both planned for 100.00 a month from
// January to April 2026: P has 250.00 of its own, Q none, and the programme 200.00 from April
// on. P spent 120.00 a month in January and February and forecasts 120.00 for March and April.
func funded(t *testing.T) *office.Office {
	t.Helper()
	o := officetest.NewOffice(t)
	costs := "project,cost_code,kind,period,version,amount\n"
	for _, p := range []string{"P", "Q"} {
		for _, m := range []string{"01", "02", "03", "04"} {
			costs += p + ",10,plan,2026-" + m + ",1,100.00\n"
		}
	}
	for _, m := range []string{"01", "02"} {
		costs += "P,10,actual,2026-" + m + ",,120.00\nQ,10,actual,2026-" + m + ",,100.00\n"
	}
	costs += "P,10,forecast,2026-03,2026-02,120.00\nP,10,forecast,2026-04,2026-02,120.00\n"
	officetest.GatherMap(t, o, map[string]string{
		"programmes.csv": "programme,name\nG,Quays\n",
		"projects.csv":   "project,name,programme\nP,Piling,G\nQ,Quay lights,G\n",
		"cost_codes.csv": "cost_code,name,reserve\n10,Works,\n90,Contingency,contingency\n",
		"activities.csv": "project,activity,name,kind,baseline_start,baseline_finish\nP,1,Pile,task,2026-01-01,2026-04-30\nQ,1,Light,task,2026-01-01,2026-04-30\n",
		"costs.csv":      costs,
		"progress.csv":   "project,activity,period,percent\nP,1,2026-02,40\nQ,1,2026-02,50\n",
		"funding.csv":    "scope,source,period,decision,amount\nP,Council,FY26,board of 3 January,250.00\nG,Loan,2026-04,,200.00\n",
	})
	return o
}

func at(t *testing.T, o *office.Office, period string) (*office.Moment, *funding.Table) {
	t.Helper()
	m := officetest.Moment(t, o, office.Ask{At: period})
	x, err := funding.In(o).Table(t.Context(), officetest.Operator, m)
	require.NoError(t, err)
	return m, x
}

// TestFunding: at February P has spent 240.00 of 250.00 and goes on to 360.00 in March and
// 480.00 in April: it runs out in March, and is 230.00 short in April. The programme's 450.00
// stand against 440.00 by February, but 660.00 by March, when the loan is not there yet; by
// April 880.00 against 450.00.
func TestFunding(t *testing.T) {
	o := funded(t)
	m, x := at(t, o, "2026-02")
	text := func(scope string, id figure.ID) string {
		now, _ := m.Find(scope)
		return now.Value(id).Text("EUR")
	}
	for _, c := range []struct {
		scope                string
		funded, gap, runsOut string
	}{
		{"P", "250.00", "230.00", "2026-03-31"}, // 480.00 − 250.00
		{"Q", "", "", ""},
		{"G", "450.00", "430.00", "2026-02-28"}, // 250.00 + 200.00; 480.00 + 400.00 − 450.00; 440.00 are spent of the 250.00 there
		{"*", "450.00", "430.00", "2026-02-28"},
	} {
		require.Equal(t, c.funded, text(c.scope, figure.Funded), c.scope)
		require.Equal(t, c.gap, text(c.scope, figure.FundingGap), c.scope)
		require.Equal(t, c.runsOut, text(c.scope, figure.RunsOut), c.scope)
	}
	// The fiscal year ends in March: P's plan of it is 300.00, its outlook 240.00 + 120.00; Q
	// states no forecast, so its plan goes on: 200.00 + 100.00.
	for _, c := range []struct{ scope, plan, outlook, carry string }{
		{"P", "300.00", "360.00", "-60.00"}, {"Q", "300.00", "300.00", "0.00"}, {"G", "600.00", "660.00", "-60.00"},
	} {
		require.Equal(t, c.plan, text(c.scope, figure.YearPlan), c.scope)
		require.Equal(t, c.outlook, text(c.scope, figure.YearOutlook), c.scope)
		require.Equal(t, c.carry, text(c.scope, figure.CarryOver), c.scope)
	}
	require.Equal(t, 1, x.Unfunded, "Q")
	require.Len(t, x.Lines, 3)
	g, p := x.Lines[0], x.Lines[1]
	april := calendar.Months(1).Of(calendar.DateOf(2026, 4, 1))
	require.Equal(t, []any{"G", int64(43000), april}, []any{g.Code, g.Short, g.ShortIn})
	require.Equal(t, []any{"P", int64(23000), april}, []any{p.Code, p.Short, p.ShortIn})
	// The programme's own 200.00 pay what P's own does not: 880.00 − 250.00 are wanted.
	require.Equal(t, int64(20000), g.Sources[0].Used)
	require.Equal(t, int64(43000), g.Unmet)
	require.Equal(t, april, g.Sources[0].RunsOut)
	require.Equal(t, int64(24000), p.Sources[0].Spent)
	require.Equal(t, april-1, p.Sources[0].RunsOut)
	require.Equal(t, []string{"Council", "Loan"}, []string{x.Sources[0].From, x.Sources[1].From})
	require.Equal(t, april-1, x.Sources[0].RunsOut)
	officetest.GatherMap(t, o, map[string]string{
		"costs.csv":    "project,cost_code,kind,period,amount\nP,10,actual,2026-03,120.00\n",
		"progress.csv": "project,activity,period,percent\nP,1,2026-04,60\n",
	})
	m, x = at(t, o, "2026-04")
	require.Equal(t, "100.00", figureOf(m, "P", figure.YearPlan), "April alone, in the next fiscal year")
	require.Equal(t, "0.00", figureOf(m, "P", figure.YearOutlook), "nothing came in April, and 360.00 before")
	require.Empty(t, x.Sources[0].RunsOut)
	require.Equal(t, []string{"P"}, x.Sources[0].Gone)
}

func figureOf(m *office.Moment, scope string, id figure.ID) string {
	now, _ := m.Find(scope)
	return now.Value(id).Text(now.Currency)
}

// TestAccrued: what is accrued in the period is spent in it: 240.00 and 20.00 are more than the
// 250.00 that there are.
func TestAccrued(t *testing.T) {
	o := funded(t)
	officetest.GatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,period,amount\nP,10,accrual,2026-02,20.00\n"})
	m, x := at(t, o, "2026-02")
	require.Equal(t, "2026-02-28", figureOf(m, "P", figure.RunsOut))
	require.Equal(t, "380.00", figureOf(m, "P", figure.YearOutlook)) // 240 + 20 + 120
	require.True(t, x.Lines[1].Gone)
}

// TestWorth: 400.00 of cost over four months, and 500.00 of benefit in the last: at 0% it is
// worth 100.00, and it is paid back in April.
func TestWorth(t *testing.T) {
	o := funded(t)
	officetest.GatherMap(t, o, map[string]string{
		"costs.csv":    "project,cost_code,kind,flow,period,version,amount\nP,10,plan,benefit,2026-04,1,500.00\n",
		"settings.csv": "setting,value\ndiscount_rate,0\n",
	})
	m, _ := at(t, o, "2026-02")
	require.Equal(t, "100.00", figureOf(m, "P", figure.NPV))
	require.Equal(t, "2026-04-30", figureOf(m, "P", figure.Payback))
	require.Equal(t, "100.00", figureOf(m, "G", figure.NPV))
	require.Equal(t, "", figureOf(m, "Q", figure.NPV), "it plans no income")
}

// TestTransferInAnotherCurrency: parts without a currency are in the reporting one, whatever the
// project's: 10.00 EUR of a project in crowns, 0.1 each, are 100.00.
func TestTransferInAnotherCurrency(t *testing.T) {
	o := funded(t)
	officetest.GatherMap(t, o, map[string]string{
		"projects.csv": "project,name,programme,currency\nN,Nordic,G,NOK\n",
		"rates.csv":    "currency,period,set,rate\nNOK,2025-01,plan,0.1\nNOK,2025-01,period,0.1\n",
		"costs.csv":    "project,cost_code,kind,period,version,amount\nN,10,plan,2026-01,1,50.00\n",
	})
	require.NoError(t, funding.In(o).Move(t.Context(), officetest.Operator, officetest.LastBatch(t, o), funding.Move{
		Code: "T-9", From: "P", To: "N", Period: "2026-01", Amount: "10", Reason: "board",
	}))
	m := officetest.Moment(t, o, office.Ask{At: "2026-02", In: "project"})
	require.Equal(t, "100.00", figureOf(m, "N", figure.Funded))
}

// TestMove: what one scope gives another gets, as one change; without a pair it is refused,
// wherever it comes from.
func TestMove(t *testing.T) {
	o := funded(t)
	ctx, room := t.Context(), funding.In(o)
	move := funding.Move{Code: "T-1", From: "P", To: "G", FromSource: "Council", Period: "2026-03", Amount: "50", Reason: "board of 2 March"}
	require.NoError(t, room.Move(ctx, officetest.Operator, officetest.LastBatch(t, o), move))
	m, x := at(t, o, "2026-02")
	now, _ := m.Find("P")
	require.Equal(t, "200.00", now.Value(figure.Funded).Text("EUR"))
	now, _ = m.Find("G")
	require.Equal(t, "450.00", now.Value(figure.Funded).Text("EUR"), "it stays in the programme")
	require.Len(t, x.Transfers, 1)
	require.Equal(t, []int64{-5000, 5000}, []int64{x.Transfers[0].Parts[0].Amount, x.Transfers[0].Parts[1].Amount})

	before := officetest.LastBatch(t, o)
	for name, c := range map[string]struct {
		change func(*funding.Move)
		column string
	}{
		"the same again":     {func(*funding.Move) {}, "transfer"},
		"without a name":     {func(x *funding.Move) { x.Code = " " }, "transfer"},
		"to itself":          {func(x *funding.Move) { x.Code, x.To, x.ToSource = "T-2", "p", "council" }, "to"},
		"without a reason":   {func(x *funding.Move) { x.Code, x.Reason = "T-2", "" }, "reason"},
		"to nobody known":    {func(x *funding.Move) { x.Code, x.To = "T-2", "Z" }, "to"},
		"with a third digit": {func(x *funding.Move) { x.Code, x.Amount = "T-2", "1.005" }, "amount"},
		"with a sign":        {func(x *funding.Move) { x.Code, x.Amount = "T-2", "-1" }, "amount"},
		"beyond 64 bits":     {func(x *funding.Move) { x.Code, x.Amount = "T-2", "99999999999999999999" }, "amount"},
		"in no period":       {func(x *funding.Move) { x.Code, x.Period = "T-2", "soon" }, "period"},
	} {
		y := move
		c.change(&y)
		err := room.Move(ctx, officetest.Operator, before, y)
		var misfit *office.Misfit
		require.ErrorAs(t, err, &misfit, name)
		require.Equal(t, c.column, misfit.Column, name)
	}
	require.Error(t, room.Move(ctx, right.Actor{Name: "Ada", Role: right.Lead}, before, move))
	r := officetest.Take(t, o, entry.Options{}, officetest.File("transfers.csv", "transfer,scope,period,amount,reason\nT-3,P,2026-03,-10.00,x\nT-3,Q,2026-03,9.99,x\nT-5,P,2026-03,-10.00,x\nT-5,Q,2026-03,10.01,x\n"))
	require.Len(t, r.Refusals, 4)
	require.Contains(t, r.Refusals[0].Reason, "add up to -0.01")
	require.Contains(t, r.Refusals[2].Reason, "add up to 0.01")
	_, x = at(t, o, "2026-02")
	require.Len(t, x.Transfers, 1, "none of it was taken")
	before = officetest.LastBatch(t, o)
	// A draw-down within one project moves nothing between scopes.
	draw := funding.Move{Code: "T-4", From: "P", To: "P", FromCode: "90", ToCode: "10", Period: "2026-03", Amount: "10", Reason: "wet ground"}
	require.NoError(t, room.Move(ctx, officetest.Operator, before, draw))
	m, _ = at(t, o, "2026-02")
	now, _ = m.Find("P")
	require.Equal(t, "200.00", now.Value(figure.Funded).Text("EUR"))
}

// TestAuthorise: a source and period of one scope are changed, not added; a fiscal year is its
// first period.
func TestAuthorise(t *testing.T) {
	o := funded(t)
	room := funding.In(o)
	grant := funding.Grant{Scope: "P", Source: "Council", Period: "FY26", Amount: "300.5", Decision: "board of 4 March"}
	require.NoError(t, room.Authorise(t.Context(), officetest.Operator, officetest.LastBatch(t, o), grant))
	m, _ := at(t, o, "2026-02")
	now, _ := m.Find("P")
	require.Equal(t, "300.50", now.Value(figure.Funded).Text("EUR"))
	for column, wrong := range map[string]funding.Grant{
		"decision": {Scope: "P", Source: "Council", Period: "FY26", Amount: "1"},
		"scope":    {Source: "Council", Period: "FY26", Amount: "1", Decision: "x"},
		"amount":   {Scope: "P", Source: "Council", Period: "FY26", Amount: "1.001", Decision: "x"},
		"period":   {Scope: "P", Source: "Council", Period: "FY1", Amount: "1", Decision: "x"},
		"currency": {Scope: "P", Source: "Council", Period: "FY26", Amount: "1", Decision: "x", Currency: "XXZ"},
	} {
		err := room.Authorise(t.Context(), officetest.Operator, officetest.LastBatch(t, o), wrong)
		var misfit *office.Misfit
		require.ErrorAs(t, err, &misfit, column)
		require.Equal(t, column, misfit.Column)
	}
}

// TestNothingFunded: an office without any says so, and knows none of the figures.
func TestNothingFunded(t *testing.T) {
	o := officetest.Example(t)
	m, x := at(t, o, "")
	require.Empty(t, x.Lines)
	require.Positive(t, x.Unfunded)
	now, _ := m.Find("*")
	require.Equal(t, figure.NotFunded, now.Value(figure.Funded).Why)
	require.Equal(t, figure.NotFunded, now.Value(figure.RunsOut).Why)
	_, x = at(t, officetest.NewOffice(t), "")
	require.Empty(t, x.Lines)
}

// TestLeavesAndComes: what is authorised and moved leaves with an export, and is the same where
// that is gathered.
func TestLeavesAndComes(t *testing.T) {
	o := funded(t)
	require.NoError(t, funding.In(o).Move(t.Context(), officetest.Operator, officetest.LastBatch(t, o), funding.Move{
		Code: "T-1", From: "G", To: "Q", Period: "FY27", Amount: "75", Reason: "board",
	}))
	again := officetest.NewOffice(t)
	var files []entry.File
	for name, body := range officetest.Exported(t, o) {
		files = append(files, officetest.File(name, body))
	}
	require.Empty(t, officetest.Take(t, again, entry.Options{}, files...).Refusals)
	for _, x := range []*office.Office{o, again} {
		m, table := at(t, x, "2026-02")
		now, _ := m.Find("Q")
		require.Equal(t, "75.00", now.Value(figure.Funded).Text("EUR"))
		now, _ = m.Find("G")
		require.Equal(t, "450.00", now.Value(figure.Funded).Text("EUR"))
		require.Len(t, table.Transfers, 1)
		require.Zero(t, table.Unfunded)
	}
}
