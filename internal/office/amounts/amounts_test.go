package amounts_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/change"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/office"
	"turret/internal/office/amounts"
	"turret/internal/office/baseline"
	"turret/internal/office/closing"
	"turret/internal/office/history"
	"turret/internal/office/officetest"
	"turret/internal/right"
)

// typing is an office with a project that is planned for 100.00 a month on two codes from
// January to June 2026; in February 80.00 came on 10 where 100.00 were forecast, and Q, which
// has no plan.
func typing(t *testing.T) *office.Office {
	t.Helper()
	o := officetest.NewOffice(t)
	costs := "project,cost_code,kind,period,version,amount\n"
	for m := 1; m <= 6; m++ {
		costs += fmt.Sprintf("P,10,plan,2026-0%d,1,100.00\nP,20,plan,2026-0%d,1,%d.00\n", m, m, 10*m)
	}
	costs += "P,10,forecast,2026-02,2026-01,100.00\nP,10,forecast,2026-03,2026-01,150.00\nP,10,forecast,2026-04,2026-01,50.00\n" +
		"P,10,actual,2026-01,,100.00\nP,10,actual,2026-02,,80.00\n"
	officetest.GatherMap(t, o, map[string]string{
		"projects.csv":   "project,name,start,finish,currency\nP,Piling,2026-01-01,2026-06-30,EUR\nQ,Quay,2026-01-01,2028-12-31,EUR\n",
		"cost_codes.csv": "cost_code,name,reserve\n10,Works,\n20,Fees,\n90,Reserve,management\n",
		"activities.csv": "project,activity,name,kind,baseline_start,baseline_finish\nP,1,Pile,task,2026-01-01,2026-06-30\n",
		"costs.csv":      costs,
		"progress.csv":   "project,activity,period,percent\nP,1,2026-02,30\n",
	})
	return o
}

func moment(t *testing.T, o *office.Office) *office.Moment {
	t.Helper()
	return officetest.Moment(t, o, office.Ask{At: "2026-02", Own: true})
}

func table(t *testing.T, o *office.Office, a right.Actor, project, kind string) *amounts.Table {
	t.Helper()
	x, err := amounts.In(o).Table(t.Context(), a, moment(t, o), project, kind, "")
	require.NoError(t, err)
	return x
}

// shows are the amounts of a line by period, as far as there are any.
func shows(x *amounts.Table, key string) map[string]string {
	out := make(map[string]string)
	for _, l := range x.Lines {
		if l.Key != key {
			continue
		}
		for i, c := range l.Cells {
			if c.Value() != "" && !c.Locked {
				out[x.Columns[i].Code] = c.Value()
			}
		}
	}
	return out
}

const (
	works = "10~cost~~~~EUR"
	fees  = "20~cost~~~~EUR"
)

// TestForecast: what holds stands beside what was planned; one cell is typed, one computed, and
// sent as a statement of the period, which has all that was stated before.
func TestForecast(t *testing.T) {
	o := typing(t)
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "writer1", right.Analyst), amounts.In(o)
	x := table(t, o, a, "P", "forecast")
	require.Equal(t, map[string]string{"2026-03": "150", "2026-04": "50"}, shows(x, works))
	require.Equal(t, map[string]string{}, shows(x, fees), "planned, and nothing is stated of it")
	require.Empty(t, x.Shut)
	_, locked := x.Cell(works + "/2026-02")
	require.True(t, locked.Locked)
	require.Equal(t, "80", locked.Is, "what came")
	total := func(x *amounts.Table, title string) string {
		for _, f := range x.Totals() {
			if f.Title == title {
				return money.Format(f.Value, "EUR")
			}
		}
		return "none"
	}
	require.Equal(t, "200.00", total(x, "Still to come"))
	require.Equal(t, "380.00", total(x, "Outlook")) // 180 + 200
	require.Equal(t, "330.00", total(x, "Outlook of FY26"), "to March")
	require.Equal(t, "-430.00", total(x, "Above plan"))                   // 380 − 600 − 210
	require.Equal(t, "-20.00", total(x, "Above the outlook of Jan 2026")) // 100 came, and 100, 150 and 50 were to

	require.NoError(t, room.Keep(ctx, a, moment(t, o), "P", "forecast", map[string]amounts.Typed{
		works + "/2026-03": {Was: "150", Text: "=1200*3/4"},
		fees + "/2026-05":  {Was: "", Text: "1 234.50"},
		works + "/2026-04": {Was: "50", Text: "50.00"}, // is as it was
	}))
	x = table(t, o, a, "P", "forecast")
	require.Equal(t, map[string]string{"2026-03": "900", "2026-04": "50"}, shows(x, works))
	require.Equal(t, map[string]string{"2026-05": "1234.50"}, shows(x, fees))
	_, c := x.Cell(works + "/2026-03")
	require.Equal(t, "=1200*3/4", c.Note)
	changes, wrong, clashes := x.Changes()
	require.Equal(t, []int{2, 0, 0}, []int{changes, wrong, clashes})
	require.Equal(t, "2364.50", total(x, "Outlook")) // 180 + 900 + 50 + 1234.50
	s, err := room.Sending(ctx, a, moment(t, o), x)
	require.NoError(t, err)
	require.NotNil(t, s.Effect)
	require.Empty(t, s.Why)
	require.Equal(t, []amounts.Moved{
		{Title: "20 Fees", Currency: "EUR", Was: 0, Is: 123450}, {Title: "10 Works", Currency: "EUR", Was: 20000, Is: 95000},
	}, s.Bridge)
	require.Equal(t, int64(236450), s.Effect.After.Value(figure.EACStated).N)
	require.Empty(t, shows(table(t, o, officetest.Admitted(t, o, "writer2", right.Analyst), "P", "forecast"), fees), "nobody else's")

	_, err = room.Send(ctx, a, moment(t, o), "P", "forecast")
	require.NoError(t, err)
	m := officetest.Moment(t, o, office.Ask{At: "2026-02"})
	require.Equal(t, int64(236450), officetest.ReadingOf(m, "P").Value(figure.EACStated).N)
	x = table(t, o, a, "P", "forecast")
	changes, _, _ = x.Changes()
	require.Zero(t, changes)
	_, c = x.Cell(works + "/2026-03")
	require.Equal(t, "=1200*3/4", c.Note, "it says how it came about")
	_, err = room.Send(ctx, a, moment(t, o), "P", "forecast")
	require.ErrorIs(t, err, office.ErrRefused)
	_, err = history.In(o).Undo(ctx, officetest.Operator, officetest.LastBatch(t, o), false)
	require.NoError(t, err)
	require.Equal(t, map[string]string{"2026-03": "150", "2026-04": "50"}, shows(table(t, o, a, "P", "forecast"), works))
}

// TestThreeYears: a project without any plan is planned for three years by hand: a total along
// an S-curve, repeated into two more years, and parted to another code.
func TestThreeYears(t *testing.T) {
	o := typing(t)
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "writer3", right.Analyst), amounts.In(o)
	key, err := room.Add(ctx, a, moment(t, o), "Q", "plan", amounts.Added{Code: "works", Class: "capex"})
	require.NoError(t, err)
	require.Equal(t, "10~cost~capex~~~EUR", key, "by name")
	apply := func(c amounts.Change) *amounts.Preview {
		p, err := room.Preview(ctx, a, moment(t, o), "Q", "plan", c)
		require.NoError(t, err)
		p, err = room.Apply(ctx, a, moment(t, o), "Q", "plan", c, p.Seen)
		require.NoError(t, err)
		return p
	}
	p := apply(amounts.Change{Do: "spread", Total: "100.01", How: "curve", Steep: 2, From: "2026-04", To: "2026-07"})
	// ⅛, ⅜, ⅜, ⅛ of 100.01: 12.50125, 37.50375 twice, 12.50125: the cent goes to the first ⅜.
	require.Equal(t, map[string]string{"2026-04": "12.50", "2026-05": "37.51", "2026-06": "37.50", "2026-07": "12.50"}, shows(table(t, o, a, "Q", "plan"), key))
	require.Equal(t, [][3]string{{"10 Works · capex", "0", "100.01"}}, p.Sums)
	apply(amounts.Change{Do: "repeat", Years: 2, From: "2026-04", To: "2026-07"})
	x := table(t, o, a, "Q", "plan")
	require.Len(t, shows(x, key), 12)
	require.Equal(t, "37.51", shows(x, key)["2028-05"])
	p = apply(amounts.Change{Do: "part", Percent: "30", Lines: []string{key}, Line: amounts.Added{Code: "20"}})
	x = table(t, o, a, "Q", "plan")
	// Half to even: 3.75 of 12.50, 11.253 and 11.25 of 37.51 and 37.50.
	require.Equal(t, "3.75", shows(x, p.NewLine)["2026-04"])
	require.Equal(t, "11.25", shows(x, p.NewLine)["2026-05"])
	require.Equal(t, "26.26", shows(x, key)["2026-05"])
	apply(amounts.Change{Do: "scale", Percent: "110%", Lines: []string{key}})
	apply(amounts.Change{Do: "shift", By: -1, Lines: []string{p.NewLine}})
	_, err = room.Send(ctx, a, moment(t, o), "Q", "plan")
	require.NoError(t, err)
	m := officetest.Moment(t, o, office.Ask{At: "2026-02"})
	bac, sum := officetest.ReadingOf(m, "Q").Value(figure.BAC), int64(0)
	x = table(t, o, a, "Q", "plan")
	for _, l := range x.Lines {
		for _, c := range l.Cells {
			n, err := money.Parse(orZero(c.Is), "EUR")
			require.NoError(t, err)
			sum += n
		}
	}
	require.Equal(t, sum, bac.N, "the table, and the figure that is read")
	require.Equal(t, "3.75", shows(x, p.NewLine)["2026-03"])
}

func orZero(text string) string {
	if text == "" {
		return "0"
	}
	return text
}

// TestCarryOn: of 100.00 that were forecast for February on 10, 80.00 came: 20.00 move on to
// March, or are spread over March and April as 150 and 50 lie.
func TestCarryOn(t *testing.T) {
	o := typing(t)
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "writer4", right.Analyst), amounts.In(o)
	for rest, want := range map[string]map[string]string{
		"move":   {"2026-03": "170", "2026-04": "50"},
		"spread": {"2026-03": "165", "2026-04": "55", "2026-05": "", "2026-06": ""},
	} {
		p, err := room.Preview(ctx, a, moment(t, o), "P", "forecast", amounts.Change{Do: "carry", Rest: rest, Lines: []string{works}})
		require.NoError(t, err, rest)
		for _, s := range p.Steps {
			require.Equal(t, want["2026-0"+string("0123456789"[monthOf(s.Period)])], s.Is, rest)
		}
	}
	_, err := room.Preview(ctx, a, moment(t, o), "P", "forecast", amounts.Change{Do: "carry", Rest: "drop", Lines: []string{works}})
	require.ErrorContains(t, err, "nothing has to be changed")
	_, err = room.Preview(ctx, a, moment(t, o), "P", "forecast", amounts.Change{Do: "carry", Rest: "move", Lines: []string{fees}})
	require.ErrorContains(t, err, "All that was forecast")
	_, err = room.Preview(ctx, a, moment(t, o), "P", "plan", amounts.Change{Do: "carry", Rest: "move"})
	require.Error(t, err)
}

func monthOf(name string) int {
	return 1 + strings.Index("JanFebMarAprMayJunJulAugSepOctNovDec", name[:3])/3
}

// TestTwoWriters: the second to send the same cell is told what the first made of it, and
// chooses; a change that was shown before is refused then.
func TestTwoWriters(t *testing.T) {
	o := typing(t)
	ctx, a, b, room := t.Context(), officetest.Admitted(t, o, "writer5", right.Analyst), officetest.Admitted(t, o, "writer6", right.Analyst), amounts.In(o)
	keep := func(who right.Actor, text string) {
		require.NoError(t, room.Keep(ctx, who, moment(t, o), "P", "forecast", map[string]amounts.Typed{works + "/2026-03": {Was: "150", Text: text}}))
	}
	keep(a, "160")
	keep(b, "170")
	p, err := room.Preview(ctx, b, moment(t, o), "P", "forecast", amounts.Change{Do: "scale", Percent: "50"})
	require.NoError(t, err)
	_, err = room.Send(ctx, a, moment(t, o), "P", "forecast")
	require.NoError(t, err)
	_, err = room.Send(ctx, b, moment(t, o), "P", "forecast")
	var conflict *office.Conflict
	require.ErrorAs(t, err, &conflict)
	require.Contains(t, conflict.Text, "it was “150” when you typed “170”, and someone else has made it “160” since")
	require.NoError(t, room.Choose(ctx, b, moment(t, o), "P", "forecast", works+"/2026-03", true))
	keepAgain := map[string]amounts.Typed{works + "/2026-04": {Was: "50", Text: "51"}}
	require.NoError(t, room.Keep(ctx, b, moment(t, o), "P", "forecast", keepAgain))
	_, err = room.Apply(ctx, b, moment(t, o), "P", "forecast", p.Change, p.Seen)
	require.ErrorContains(t, err, "would do something else")
	_, err = room.Send(ctx, b, moment(t, o), "P", "forecast")
	require.NoError(t, err)
	require.Equal(t, map[string]string{"2026-03": "170", "2026-04": "51"}, shows(table(t, o, a, "P", "forecast"), works))
}

// TestOtherKinds: orders, accruals and booked totals, income; booked months that the ledger
// tells are shut.
func TestOtherKinds(t *testing.T) {
	o := typing(t)
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "writer7", right.Analyst), amounts.In(o)
	send := func(kind, field, was, text string) {
		t.Helper()
		require.NoError(t, room.Keep(ctx, a, moment(t, o), "P", kind, map[string]amounts.Typed{field: {Was: was, Text: text}}))
		_, err := room.Send(ctx, a, moment(t, o), "P", kind)
		require.NoError(t, err, kind)
	}
	send("commitment", works+"/2026-03", "", "40")
	key, err := room.Add(ctx, a, moment(t, o), "P", "accrual", amounts.Added{Code: "20"})
	require.NoError(t, err)
	officetest.GatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,period,amount\nP,20,accrual,2026-01,3.00\n"})
	send("accrual", key+"/2026-02", "", "7.25")
	send("actual", works+"/2026-02", "80", "90")
	key, err = room.Add(ctx, a, moment(t, o), "P", "forecast", amounts.Added{Code: "20", Flow: "income"})
	require.NoError(t, err)
	send("forecast", key+"/2026-04", "", "500")
	r := officetest.ReadingOf(officetest.Moment(t, o, office.Ask{At: "2026-02"}), "P")
	require.Equal(t, int64(4000), r.Value(figure.OnOrder).N)
	require.Equal(t, int64(19725), r.Value(figure.AC).N) // 100 + 90 + 7.25
	require.Equal(t, int64(50000), r.Value(figure.IncomeStated).N)
	for _, f := range table(t, o, a, "P", "forecast").Totals() {
		if f.Title == "Outlook" {
			require.Equal(t, r.Value(figure.EACStated).N, f.Value, "with the accrual")
		}
	}
	officetest.GatherMap(t, o, map[string]string{"postings.csv": "posting,date,project,cost_code,amount\n1,2026-02-03,P,20,5.00\n"})
	_, err = room.Add(ctx, a, moment(t, o), "P", "actual", amounts.Added{Code: "20"})
	require.NoError(t, err)
	january, err := o.ParsePeriod(ctx, officetest.Operator, "2026-01")
	require.NoError(t, err)
	_, c := table(t, o, a, "P", "actual").Cell(works + "/2026-01")
	require.False(t, c.Locked)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, january)
	require.NoError(t, err)
	_, c = table(t, o, a, "P", "actual").Cell(works + "/2026-01")
	require.True(t, c.Locked, "it is closed")
	_, c = table(t, o, a, "P", "actual").Cell(fees + "/2026-02")
	require.True(t, c.Locked, "the ledger tells it")
}

// TestWhatCannotBe: each with its field and a sentence, and nothing kept.
func TestWhatCannotBe(t *testing.T) {
	o := typing(t)
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "writer8", right.Analyst), amounts.In(o)
	for name, c := range map[string]struct {
		change amounts.Change
		column string
	}{
		"no such change":        {amounts.Change{Do: "x"}, "what"},
		"no total":              {amounts.Change{Do: "spread", Total: "soon"}, "total"},
		"a third digit":         {amounts.Change{Do: "spread", Total: "1.005"}, "total"},
		"beyond 64 bits":        {amounts.Change{Do: "spread", Total: "99999999999999999999"}, "total"},
		"no such way":           {amounts.Change{Do: "spread", Total: "1", How: "x"}, "how"},
		"no percentage":         {amounts.Change{Do: "scale", Percent: "much"}, "percent"},
		"a part that is all":    {amounts.Change{Do: "part", Percent: "100", Lines: []string{works}, Line: amounts.Added{Code: "90"}}, "percent"},
		"a part of two lines":   {amounts.Change{Do: "part", Percent: "50", Line: amounts.Added{Code: "90"}}, "line"},
		"to a line that is":     {amounts.Change{Do: "copy", Lines: []string{works}, Line: amounts.Added{Code: "20"}}, "cost_code"},
		"to no code":            {amounts.Change{Do: "copy", Lines: []string{works}, Line: amounts.Added{Code: "77"}}, "cost_code"},
		"to another currency":   {amounts.Change{Do: "copy", Lines: []string{works}, Line: amounts.Added{Code: "90", Currency: "NOK"}}, "currency"},
		"of no line":            {amounts.Change{Do: "clear", Lines: []string{"x"}}, "line"},
		"shifted by nothing":    {amounts.Change{Do: "shift"}, "by"},
		"shifted into the past": {amounts.Change{Do: "shift", By: -1}, "by"},
		"repeated for ever":     {amounts.Change{Do: "repeat", Years: 99}, "years"},
		"from no period":        {amounts.Change{Do: "clear", From: "x"}, "from"},
	} {
		_, err := room.Preview(ctx, a, moment(t, o), "P", "forecast", c.change)
		var misfit *office.Misfit
		require.ErrorAs(t, err, &misfit, name)
		require.Equal(t, c.column, misfit.Column, name)
	}
	require.NoError(t, room.Keep(ctx, a, moment(t, o), "P", "forecast", map[string]amounts.Typed{works + "/2026-03": {Was: "150", Text: "many"}}))
	_, c := table(t, o, a, "P", "forecast").Cell(works + "/2026-03")
	require.NotEmpty(t, c.Wrong)
	_, err := room.Send(ctx, a, moment(t, o), "P", "forecast")
	require.ErrorContains(t, err, "10 Works, Mar 2026")
	require.NoError(t, room.Drop(ctx, a, moment(t, o), "P", "forecast"))
	require.Zero(t, officetest.LastBatch(t, o)-lastBefore(t, o))
	lead := right.Actor{Account: 3, Name: "Ada", Role: right.Lead}
	_, err = room.Table(ctx, lead, moment(t, o), "P", "forecast", "")
	var denied *right.Denied
	require.ErrorAs(t, err, &denied)
	executive := right.Actor{Account: 4, Name: "Tor", Role: right.Executive}
	require.False(t, amounts.May(executive, moment(t, o), "P", &amounts.Kinds[0]))
	_, err = room.Table(ctx, a, moment(t, o), "P", "x", "")
	require.ErrorIs(t, err, office.ErrRefused)
}

func lastBefore(t *testing.T, o *office.Office) int64 {
	t.Helper()
	return officetest.LastBatch(t, o)
}

// TestApprovedWhileTyping: a plan that was approved while someone typed in it is not typed over.
func TestApprovedWhileTyping(t *testing.T) {
	o := typing(t)
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "writer9", right.Analyst), amounts.In(o)
	require.NoError(t, room.Keep(ctx, a, moment(t, o), "P", "plan", map[string]amounts.Typed{works + "/2026-03": {Was: "100", Text: "200"}}))
	officetest.GatherMap(t, o, map[string]string{"baselines.csv": "project,baseline,approved,reason,approver\nP,1,2026-01-01,first,Someone\n"})
	_, err := room.Send(ctx, a, moment(t, o), "P", "plan")
	require.ErrorContains(t, err, "approved")
	_, err = room.Preview(ctx, a, moment(t, o), "P", "plan", amounts.Change{Do: "scale", Percent: "50"})
	require.ErrorContains(t, err, "approved")
}

// TestPlainModel: after any sequence of typing and changes, kept and sent, the table is that of
// a plain map of amounts, to the cent, and so are the readings.
func TestPlainModel(t *testing.T) {
	if testing.Short() {
		t.Skip("it takes many statements")
	}
	r := rand.New(rand.NewPCG(22, 7))
	o := typing(t)
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "writer10", right.Analyst), amounts.In(o)
	model := map[string]int64{works + "/2026-03": 15000, works + "/2026-04": 5000}
	months := []string{"2026-03", "2026-04", "2026-05", "2026-06"}
	for step := range 60 {
		if r.IntN(3) > 0 {
			typed := make(map[string]amounts.Typed)
			x := table(t, o, a, "P", "forecast")
			for range 1 + r.IntN(4) {
				field := []string{works, fees}[r.IntN(2)] + "/" + months[r.IntN(4)]
				n := r.Int64N(100_000) - 20_000
				_, c := x.Cell(field)
				typed[field] = amounts.Typed{Was: c.Shown(), Text: money.Format(n, "EUR")}
				model[field] = n
			}
			require.NoError(t, room.Keep(ctx, a, moment(t, o), "P", "forecast", typed))
		} else {
			c := amounts.Change{Do: []string{"scale", "spread", "shift"}[r.IntN(3)], Percent: fmt.Sprint(r.IntN(300)), Total: fmt.Sprint(r.IntN(1000)), By: 1, From: "2026-03", To: "2026-05", Lines: []string{works}}
			before := int64(0)
			for _, m := range months {
				before += model[works+"/"+m]
			}
			p, err := room.Preview(ctx, a, moment(t, o), "P", "forecast", c)
			if err != nil {
				require.True(t, errors.Is(err, office.ErrRefused), err)
				continue
			}
			_, err = room.Apply(ctx, a, moment(t, o), "P", "forecast", c, p.Seen)
			require.NoError(t, err)
			x, after := table(t, o, a, "P", "forecast"), int64(0)
			for _, m := range months {
				_, cell := x.Cell(works + "/" + m)
				n, err := money.Parse(orZero(cell.Value()), "EUR")
				require.NoError(t, err)
				model[works+"/"+m] = n
				after += n
			}
			if c.Do == "shift" {
				require.Equal(t, before, after, "what is shifted stays whole")
			}
		}
		x := table(t, o, a, "P", "forecast")
		var sum int64
		for field, want := range model {
			_, c := x.Cell(field)
			got, err := money.Parse(orZero(c.Value()), "EUR")
			require.NoError(t, err)
			require.Equal(t, want, got, "step %d: %s", step, field)
			sum += want
		}
		if r.IntN(4) == 0 {
			if _, err := room.Send(ctx, a, moment(t, o), "P", "forecast"); err == nil {
				m := officetest.Moment(t, o, office.Ask{At: "2026-02"})
				require.Equal(t, 18000+sum, officetest.ReadingOf(m, "P").Value(figure.EACStated).N, "step %d", step)
			}
		}
	}
}

// TestOtherCurrencies: what is typed in crowns follows in euros, cell by cell, as the figures
// have it once it is sent. Plan rate 0.1, February 0.125; March, not yet known, takes
// February's.
func TestOtherCurrencies(t *testing.T) {
	o := typing(t)
	officetest.GatherMap(t, o, map[string]string{
		"rates.csv": "currency,period,set,rate\nNOK,2026-01,plan,0.1\nNOK,2026-01,period,0.11\nNOK,2026-02,period,0.125\n",
		"costs.csv": "project,cost_code,kind,period,version,amount,currency\nP,20,actual,2026-02,,200.00,NOK\nP,20,forecast,2026-03,2026-01,40.00,NOK\n",
	})
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "writer11", right.Analyst), amounts.In(o)
	totals := func() map[string]int64 {
		out := make(map[string]int64)
		for _, f := range table(t, o, a, "P", "forecast").Totals() {
			out[f.Title] = f.Value
		}
		return out
	}
	const crowns = "20~cost~~~~NOK"
	require.NoError(t, room.Keep(ctx, a, moment(t, o), "P", "forecast", map[string]amounts.Typed{
		crowns + "/2026-03": {Was: shown(t, o, a, crowns+"/2026-03"), Text: "100.04"},
		crowns + "/2026-04": {Text: "0.04"},
	}))
	got := totals()
	// 150.00 + 50.00 of euros, 100.04 × 0.125 = 12.505 to the even 12.50, and 0.005 to 0.00.
	require.Equal(t, int64(20000+1250), got["Still to come"])
	// Booked are 100.00 + 80.00 and 200.00 × 0.125.
	require.Equal(t, int64(18000+2500+21250), got["Outlook"])
	_, err := room.Send(ctx, a, moment(t, o), "P", "forecast")
	require.NoError(t, err)
	r := officetest.ReadingOf(moment(t, o), "P")
	require.Equal(t, r.Value(figure.EACStated).N, got["Outlook"])
	x := table(t, o, a, "P", "forecast")
	require.Empty(t, x.Unrated())
	_, err = room.Add(ctx, a, moment(t, o), "P", "forecast", amounts.Added{Code: "20", Currency: "CHF"})
	require.NoError(t, err)
	x = table(t, o, a, "P", "forecast")
	require.Equal(t, []money.Currency{"CHF"}, x.Unrated())
}

func shown(t *testing.T, o *office.Office, a right.Actor, field string) string {
	t.Helper()
	_, c := table(t, o, a, "P", "forecast").Cell(field)
	return c.Shown()
}

// TestBesideAKeptVersion: what held when a version was kept stands beside what holds now, by
// the name that it was kept under or was given since.
func TestBesideAKeptVersion(t *testing.T) {
	o := typing(t)
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "writer12", right.Analyst), amounts.In(o)
	set := func(text string) {
		require.NoError(t, room.Keep(ctx, a, moment(t, o), "P", "forecast", map[string]amounts.Typed{works + "/2026-03": {Was: shown(t, o, a, works+"/2026-03"), Text: text}}))
		_, err := room.Send(ctx, a, moment(t, o), "P", "forecast")
		require.NoError(t, err)
	}
	set("160.00")
	require.NoError(t, closing.In(o).MakeCut(ctx, a, moment(t, o), "Before the talk"))
	set("170.00")
	require.NoError(t, closing.In(o).MakeCut(ctx, a, moment(t, o), "After it"))
	set("180.00")
	besides := table(t, o, a, "P", "forecast").Besides
	require.Equal(t, []string{"Kept: Before the talk, Feb 2026", "Kept: After it, Feb 2026"}, []string{besides[len(besides)-2].Name, besides[len(besides)-1].Name})
	for i, want := range []string{"160", "170"} {
		code := besides[len(besides)-2+i].Code
		x, err := room.Table(ctx, a, moment(t, o), "P", "forecast", code)
		require.NoError(t, err)
		require.Equal(t, code, x.Beside)
		_, c := x.Cell(works + "/2026-03")
		require.Equal(t, []string{"180", want}, []string{c.Value(), c.Beside})
		_, c = x.Cell(works + "/2026-04")
		require.Equal(t, "50", c.Beside, "the same then")
	}
	require.NoError(t, baseline.In(o).NameVersion(ctx, a, moment(t, o), change.Unseen, "statement~~2026-01", "First talk", ""))
	x := table(t, o, a, "P", "forecast")
	require.Equal(t, "First talk, Forecast of Jan 2026", x.Besides[slices.IndexFunc(x.Besides, func(b amounts.Beside) bool { return b.Code == "forecast-2026-01" })].Name)
	require.Equal(t, "forecast-2026-01", x.Beside, "the usual one stays what was stated before")
}

// TestDepth: plans of a stage are typed on the level of codes that it asks for; on others no
// line is added, and those that are there stay.
func TestDepth(t *testing.T) {
	o := typing(t)
	officetest.GatherMap(t, o, map[string]string{
		"cost_codes.csv": "cost_code,name,parent\n11,Piles,10\n12,Caps,10\n111,Steel,11\n",
		"projects.csv":   "project,name,stage\nQ,Quay,proposal\nR,Ramp,build\n",
		"depths.csv":     "stage,level\nproposal,1\nbuild,2\n",
	})
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "writer13", right.Analyst), amounts.In(o)
	codes := func(project string) (out []string) {
		for _, l := range table(t, o, a, project, "plan").Lines {
			out = append(out, l.Code)
		}
		return out
	}
	require.Equal(t, []string{"10", "20", "90"}, codes("Q"))
	require.Equal(t, []string{"11", "12", "20", "90"}, codes("R"), "20 and 90 have none below")
	add := func(project, code string) error {
		_, err := room.Add(ctx, a, moment(t, o), project, "plan", amounts.Added{Code: code, Class: "opex"})
		return err
	}
	require.ErrorContains(t, add("Q", "111"), "plans of the stage proposal are estimated on codes of level 1; take 10 Works")
	require.ErrorContains(t, add("R", "10"), "level 2; take one below 10: 11, 12")
	require.ErrorContains(t, add("R", "111"), "take 11 Piles")
	require.NoError(t, add("R", "20"))
	require.NoError(t, room.Keep(ctx, a, moment(t, o), "R", "plan", map[string]amounts.Typed{"11~cost~~~~EUR/2026-03": {Text: "5"}}))
	officetest.GatherMap(t, o, map[string]string{"costs.csv": "project,cost_code,kind,period,version,amount\nR,10,plan,2026-03,1,7\n"})
	x := table(t, o, a, "R", "plan")
	require.Equal(t, 1, x.Elsewhere)
	require.Equal(t, []any{"build", 2}, []any{x.Stage, x.Depth})
	require.Zero(t, table(t, o, a, "P", "plan").Depth, "a stage that asks for nothing")
}

// TestBeyondWhatIsShown: what was forecast for later than the table shows stays, when the first
// cell of a period's forecast is sent; signs that part keys may be in codes.
func TestBeyondWhatIsShown(t *testing.T) {
	o := typing(t)
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "far", right.Analyst), amounts.In(o)
	officetest.GatherMap(t, o, map[string]string{
		"costs.csv": "project,cost_code,kind,period,version,cost_centre,amount\nP,10,forecast,2034-01,2026-01,A~B/C%7E,7.00\nP,10,forecast,2026-03,2026-01,A~B/C%7E,3.00\n",
	})
	x := table(t, o, a, "P", "forecast")
	require.Len(t, x.Beyond, 1)
	at := -1
	for i, l := range x.Lines {
		if l.Centre == "A~B/C%7E" {
			at = i
		}
	}
	require.GreaterOrEqual(t, at, 0)
	key := x.Lines[at].Key
	require.Equal(t, "EUR", x.Lines[at].Money)
	require.NoError(t, room.Keep(ctx, a, moment(t, o), "P", "forecast", map[string]amounts.Typed{key + "/2026-03": {Was: "3", Text: "4.5"}}))
	_, err := room.Send(ctx, a, moment(t, o), "P", "forecast")
	require.NoError(t, err)
	// 180.00 came; 150.00, 50.00, 4.50 and 7.00 are to come.
	require.Equal(t, int64(39150), officetest.ReadingOf(officetest.Moment(t, o, office.Ask{At: "2026-02"}), "P").Value(figure.EACStated).N)
}

// TestLead: who states a project types what is to come and what is ordered; the plan and what
// came are the office's, and of another project nothing is theirs.
func TestLead(t *testing.T) {
	o := typing(t)
	ctx, room := t.Context(), amounts.In(o)
	lead := officetest.Admitted(t, o, "lead", right.Lead, "P")
	for _, kind := range []string{"forecast", "commitment"} {
		field := works + "/2026-03"
		_, c := table(t, o, lead, "P", kind).Cell(field)
		require.NoError(t, room.Keep(ctx, lead, moment(t, o), "P", kind, map[string]amounts.Typed{field: {Was: c.Is, Text: "1.25"}}), kind)
		_, err := room.Send(ctx, lead, moment(t, o), "P", kind)
		require.NoError(t, err, kind)
	}
	var denied *right.Denied
	for project, kinds := range map[string][]string{"P": {"plan", "accrual", "actual"}, "Q": {"forecast", "commitment", "plan"}} {
		for _, kind := range kinds {
			_, err := room.Table(ctx, lead, moment(t, o), project, kind, "")
			require.ErrorAs(t, err, &denied, kind)
			require.False(t, amounts.May(lead, moment(t, o), project, amounts.KindNamed(kind)))
		}
	}
}

// TestBeforeAnythingIsStated: the plan of the first project of an office is typed before any
// period says anything.
func TestBeforeAnythingIsStated(t *testing.T) {
	o := officetest.NewOffice(t)
	officetest.GatherMap(t, o, map[string]string{
		"projects.csv": "project,name,start,finish\nP,Piling,2026-01-01,2026-03-31\n", "cost_codes.csv": "cost_code,name\n10,Works\n",
	})
	ctx, a, room := t.Context(), officetest.Admitted(t, o, "first", right.Analyst), amounts.In(o)
	m := officetest.Moment(t, o, office.Ask{})
	require.True(t, m.Empty)
	key, err := room.Add(ctx, a, m, "P", "plan", amounts.Added{Code: "10"})
	require.NoError(t, err)
	require.NoError(t, room.Keep(ctx, a, m, "P", "plan", map[string]amounts.Typed{key + "/2026-02": {Text: "12.5"}}))
	_, err = room.Send(ctx, a, m, "P", "plan")
	require.NoError(t, err)
	x, err := room.Table(ctx, a, officetest.Moment(t, o, office.Ask{}), "P", "plan", "")
	require.NoError(t, err)
	require.Equal(t, map[string]string{"2026-02": "12.50"}, shows(x, key))
}
