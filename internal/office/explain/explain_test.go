package explain_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/explain"
	"turret/internal/office/officetest"
	"turret/internal/office/stating"
	"turret/internal/right"
)

// written is an office of four projects at February: L is 60 working days late since January,
// R was a month late and is as planned again, S is as planned, and W, as planned too, owes words.
func written(t *testing.T) *office.Office {
	t.Helper()
	o := officetest.NewOffice(t)
	officetest.GatherMap(t, o, map[string]string{
		"projects.csv":   "project,name,lead\nL,Lock,Ada\nR,Rake,Di\nS,Sluice,Ben\nW,Weir,Cy\n",
		"cost_codes.csv": "cost_code,name\n10,Works\n",
		"activities.csv": "project,activity,name,kind,level,baseline_start,baseline_finish\n" +
			"L,1,Gate,task,,2026-01-01,2026-06-30\nL,M,Open,milestone,portfolio,,2026-06-30\nR,1,Comb,task,,2026-01-01,2026-06-30\nS,1,Sill,task,,2026-01-01,2026-06-30\nW,1,Dam,task,,2026-01-01,2026-06-30\n",
		"costs.csv": "project,cost_code,kind,period,version,amount\nL,10,plan,2026-01,1,1000\nL,10,plan,2026-06,1,5000\nL,10,actual,2026-01,,900\n" +
			"R,10,plan,2026-03,1,1000\nS,10,plan,2026-03,1,1000\nW,10,plan,2026-03,1,1000\n",
		"progress.csv": "project,activity,period,percent,finish\nL,1,2026-01,16,2026-06-30\nL,M,2026-01,,2026-06-30\nL,1,2026-02,17,2026-09-25\nL,M,2026-02,,2026-09-25\n" +
			"R,1,2026-01,17,2026-07-31\nR,1,2026-02,34,2026-06-30\nS,1,2026-02,34,\nW,1,2026-02,34,\n",
		"owing.csv":      "scope,kind,from,owed\nW,narratives,2026-01,yes\n",
		"narratives.csv": "project,period,section,text\nL,2026-01,next,The gate comes next\n",
	})
	return o
}

func moment(t *testing.T, o *office.Office) *office.Moment {
	t.Helper()
	return officetest.Moment(t, o, office.Ask{At: "2026-02", Vs: "2026-01"})
}

func states(t *testing.T, o *office.Office) map[string]explain.State {
	t.Helper()
	x, err := explain.In(o).Texts(t.Context(), officetest.Operator, moment(t, o))
	require.NoError(t, err)
	out := make(map[string]explain.State)
	for _, y := range x.List {
		out[y.Code] = y.State
	}
	all := 0
	for _, n := range x.Count {
		all += n
	}
	require.Len(t, x.List, all)
	return out
}

// TestTexts: words are wanted of what stands at Watch or Act, of what moved, and where they are
// owed; they are drafted while someone types, and ready once they are stated.
func TestTexts(t *testing.T) {
	o := written(t)
	ctx, a := t.Context(), officetest.Admitted(t, o, "pen", right.Analyst)
	require.Equal(t, map[string]explain.State{"*": explain.Wanted, "L": explain.Wanted, "R": explain.Wanted, "W": explain.Wanted}, states(t, o))
	require.Equal(t, 4, moment(t, o).ToWrite())
	order := func() (out []string) {
		x, err := explain.In(o).Texts(ctx, a, moment(t, o))
		require.NoError(t, err)
		for i := range x.List {
			out = append(out, x.List[i].Code)
		}
		return out
	}
	after := func(code string) string {
		x, err := explain.In(o).Texts(ctx, a, moment(t, o))
		require.NoError(t, err)
		if next := x.After(code, code == "*"); next != nil {
			return next.Code
		}
		return ""
	}
	require.Equal(t, []string{"L", "R", "W", "*"}, order(), "what moved most comes first")
	require.Equal(t, []string{"R", "*", "L"}, []string{after("L"), after("W"), after("*")}, "after the last comes the first")
	room := stating.In(o)
	keep := func(code, text string) {
		t.Helper()
		require.NoError(t, room.Keep(ctx, a, moment(t, o), code, "narratives", map[string]stating.Typed{"summary/text": {Text: text}}))
	}
	keep("L", "The gate is late")
	require.Equal(t, map[string]explain.State{"*": explain.Wanted, "L": explain.Drafted, "R": explain.Wanted, "W": explain.Wanted}, states(t, o))
	require.Equal(t, []string{"L", "R", "W", "*"}, order(), "what is being written keeps its place")
	_, err := room.Send(ctx, a, moment(t, o), "L", "narratives")
	require.NoError(t, err)
	require.Equal(t, []string{"R", "W", "*", "L"}, order(), "what is said comes last")
	require.Equal(t, []string{"R", "R"}, []string{after("L"), after("*")}, "what is said is passed over")
	keep("S", "Nothing to tell")
	_, err = room.Send(ctx, a, moment(t, o), "S", "narratives")
	require.NoError(t, err)
	require.Equal(t, map[string]explain.State{"*": explain.Wanted, "L": explain.Ready, "R": explain.Wanted, "W": explain.Wanted, "S": explain.Ready}, states(t, o), "words that nobody wanted are told too")
	require.Equal(t, 3, moment(t, o).ToWrite())
	for _, code := range []string{"R", "W"} {
		keep(code, "As planned")
		_, err = room.Send(ctx, a, moment(t, o), code, "narratives")
		require.NoError(t, err)
	}
	require.Equal(t, []string{"*", ""}, []string{after("W"), after("*")}, "nothing else waits")
}

// TestSendWordsAlone: what is typed of other parts stays a draft.
func TestSendWordsAlone(t *testing.T) {
	o := written(t)
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "pen", right.Analyst), stating.In(o)
	require.NoError(t, room.Keep(ctx, a, moment(t, o), "L", "narratives", map[string]stating.Typed{"summary/text": {Text: "Late"}}))
	x, err := room.Sheet(ctx, a, moment(t, o), "L", "progress")
	require.NoError(t, err)
	cell := x.Grid.Rows[0].Cells[0]
	require.NoError(t, room.Keep(ctx, a, moment(t, o), "L", "progress", map[string]stating.Typed{cell.Name: {Was: cell.Shown(), Text: "18"}}))
	_, err = room.Send(ctx, a, moment(t, o), "L", "narratives")
	require.NoError(t, err)
	x, err = room.Sheet(ctx, a, moment(t, o), "L", "progress")
	require.NoError(t, err)
	require.Equal(t, 1, x.Grid.Changes())
	require.Equal(t, "18", x.Grid.Rows[0].Cells[0].Value())
}

// TestOne: what stands beside the words of the late lock, and what of them is not so.
func TestOne(t *testing.T) {
	o := written(t)
	a := officetest.Admitted(t, o, "pen", right.Analyst)
	x, err := explain.In(o).One(t.Context(), a, moment(t, o), "L")
	require.NoError(t, err)
	require.Equal(t, standing.Act, x.Now.Standing[standing.Dates])
	require.Len(t, x.Slipped, 1)
	require.Equal(t, []string{"2026-06-30", "2026-09-25"}, []string{x.Slipped[0].Was.String(), x.Slipped[0].Is.String()})
	require.Equal(t, "The gate comes next", x.Promised[0].Text)
	require.NotNil(t, x.Pen)
	said := func(text string) (out []string) {
		for _, d := range x.Doubts(text) {
			out = append(out, text[d.From:d.To])
		}
		return out
	}
	require.Equal(t, []string{"on time"}, said("It is on time."))
	require.Empty(t, said("It opens on 25 September 2026, EUR 0.5k spent"))
	require.Equal(t, []string{"opens on 1 August 2026"}, said("It opens on 1 August 2026"))
	first := x.First()
	require.Contains(t, first, "Lock stands at Act.")
	require.Contains(t, first, "Open moved from")
	require.Empty(t, said(first), "what the figures say is not in doubt")
	none, err := explain.In(o).One(t.Context(), a, moment(t, o), "NO")
	require.NoError(t, err)
	require.Nil(t, none)
	reader := right.Actor{Account: 9, Name: "Eve", Role: right.Executive}
	x, err = explain.In(o).One(t.Context(), reader, moment(t, o), "L")
	require.NoError(t, err)
	require.Nil(t, x.Pen, "who reads alone has no pen")
}

// TestLivingFigures: names in braces follow the figures of the period that the words were said
// for, and stay once it is closed, whatever comes later.
func TestLivingFigures(t *testing.T) {
	o := written(t)
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "pen", right.Analyst), stating.In(o)
	require.NoError(t, room.Keep(ctx, a, moment(t, o), "L", "narratives", map[string]stating.Typed{"summary/text": {Text: "Spent {ac}, slip {finish_slip}, {standing}, CPI {spi}, {nope}, opens {milestone M}, dates {standing_dates}, {milestone Z}"}}))
	_, err := room.Send(ctx, a, moment(t, o), "L", "narratives")
	require.NoError(t, err)
	reads := func() string {
		t.Helper()
		x, err := explain.In(o).One(ctx, a, moment(t, o), "L")
		require.NoError(t, err)
		return x.Story[0].Words[0].Text
	}
	require.Contains(t, reads(), "Spent €900, slip +")
	require.Contains(t, reads(), "Act, CPI ")
	require.Contains(t, reads(), "{nope}", "what is no figure stays")
	require.Contains(t, reads(), "opens 25 Sep 2026, dates Act, {milestone Z}")
	x, err := explain.In(o).One(ctx, a, moment(t, o), "L")
	require.NoError(t, err)
	require.Equal(t, "25 Sep 2026 and Act", x.Alive("{milestone M} and {standing_dates}"))
	officetest.GatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,period,amount\nL,10,actual,2026-02,100\n"})
	require.Contains(t, reads(), "Spent €1,000")
	m := moment(t, o)
	_, err = closing.In(o).ClosePeriod(ctx, a, m.Asked.Number)
	require.NoError(t, err)
	officetest.GatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,period,amount\nL,10,actual,2026-03,5000\n", "progress.csv": "project,activity,period,percent,finish\nL,M,2026-03,,2026-12-31\n"})
	march, err := explain.In(o).One(ctx, a, officetest.Moment(t, o, office.Ask{At: "2026-03"}), "L")
	require.NoError(t, err)
	require.Contains(t, march.Story[0].Words[0].Text, "Spent €1,000", "as February was closed")
	require.Contains(t, march.Story[0].Words[0].Text, "opens 25 Sep 2026", "as February was closed")
}

// TestOwnCurrency: a project's words stand beside figures in its own currency, as its sheet and
// its page in briefs have them, and are held against those of the reporting one too.
func TestOwnCurrency(t *testing.T) {
	o := officetest.NewOffice(t)
	officetest.GatherMap(t, o, map[string]string{
		"projects.csv": "project,name,lead,currency\nN,Nave,Ada,NOK\n", "cost_codes.csv": "cost_code,name\n10,Works\n", "rates.csv": "period,from,to,rate\n2026-01,NOK,EUR,0.1\n",
		"costs.csv":      "project,cost_code,kind,period,version,amount\nN,10,plan,2026-01,1,1000000\nN,10,plan,2026-06,1,5000000\nN,10,actual,2026-01,,1300000\nN,10,forecast,2026-06,2026-01,7000000\n",
		"activities.csv": "project,activity,name,kind,baseline_start,baseline_finish\nN,1,Nave,task,2026-01-01,2026-06-30\n", "progress.csv": "project,activity,period,percent,finish\nN,1,2026-01,10,2026-06-30\n",
	})
	m := officetest.Moment(t, o, office.Ask{At: "2026-01"})
	require.Equal(t, "EUR", string(m.Reporting))
	x, err := explain.In(o).One(t.Context(), officetest.Operator, m, "N")
	require.NoError(t, err)
	require.Equal(t, "NOK", string(x.Now.Currency))
	said := func(text string) (out []string) {
		for _, d := range x.Doubts(text) {
			out = append(out, text[d.From:d.To]+" "+string(d.In))
		}
		return out
	}
	require.Empty(t, said("Actual cost is NOK 1.3 million, or EUR 130,000; BAC 6,000,000."))
	require.Equal(t, []string{"Actual cost is NOK 1.2 million NOK"}, said("Actual cost is NOK 1.2 million"))
	require.Equal(t, []string{"Actual cost is EUR 1.3 million EUR"}, said("Actual cost is EUR 1.3 million"))
	list, err := explain.In(o).Texts(t.Context(), officetest.Operator, m)
	require.NoError(t, err)
	for _, y := range list.List {
		if !y.Group {
			require.Equal(t, "NOK", string(y.Currency))
		}
	}

	// What it moved by adds up to how far it moved, in that currency: 0.9 M more were spent in
	// February, and the forecast rose by 0.5 M.
	officetest.GatherMap(t, o, map[string]string{
		"costs.csv":    "project,cost_code,kind,period,version,amount\nN,10,actual,2026-02,,900000\nN,10,forecast,2026-06,2026-02,7500000\n",
		"progress.csv": "project,activity,period,percent,finish\nN,1,2026-02,20,2026-06-30\n",
	})
	x, err = explain.In(o).One(t.Context(), officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-02", Vs: "2026-01"}), "N")
	require.NoError(t, err)
	sum, outlook := int64(0), x.Facts[0]
	for _, c := range x.Causes {
		sum += c.Amount
	}
	require.NotZero(t, sum)
	require.Equal(t, outlook.Is.N-outlook.Was.N, sum)
	named := officetest.Moment(t, o, office.Ask{At: "2026-01", In: "reporting"})
	x, err = explain.In(o).One(t.Context(), officetest.Operator, named, "N")
	require.NoError(t, err)
	require.Equal(t, "EUR", string(x.Now.Currency), "asked for by name")
}
