package ledger_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/ledger"
	"turret/internal/office/officetest"
	"turret/internal/right"
)

func TestSourceOf(t *testing.T) {
	for name, want := range map[string]string{
		"Ledger 2026-11.csv":               "ledger",
		"ledger_2026-12.xlsx":              "ledger",
		"Hauptbuch Quays Okt 2026 (2).csv": "hauptbuch quays",
		"ledger.nov26.v2.csv":              "ledger",
		`C:\post\Ledger P08 FY27.csv`:      "ledger",
		"KW48_journal.txt":                 "journal",
		"202611.csv":                       "202611",
		"Mayflower yard 2026-05.csv":       "mayflower yard", // no month
		"Decommissioning Dec.csv":          "decommissioning",
	} {
		require.Equal(t, want, ledger.SourceOf(name), name)
	}
}

// booked is an office whose ledger sent five rows for February: 100.00 and 50.00 on 10, 0.03
// on a code that nobody knows, 7.00 of a day that is none, and 20.00 NOK on 11, below 10.
func booked(t *testing.T) *office.Office {
	t.Helper()
	o := officetest.NewOffice(t)
	officetest.GatherMap(t, o, map[string]string{
		"projects.csv":   "project,name\nP,Piling\nQ,Quay\n",
		"cost_codes.csv": "cost_code,name,parent\n10,Works,\n11,Piles,10\n20,Fees,\n",
		"rates.csv":      "currency,period,rate\nNOK,2026-01,0.1\n",
		"progress.csv":   "project,activity,period,percent\n",
	})
	r := officetest.Take(t, o, entry.Options{}, officetest.File("ledger-2026-02.csv", "posting,date,period,project,cost_code,amount,currency\n"+
		"1,2026-02-03,2026-02,P,10,100.00,EUR\n2,2026-02-04,2026-02,Q,10,50.00,EUR\n3,2026-02-05,2026-02,P,79,0.03,EUR\n"+
		"4,2026-02-31,2026-02,P,10,7.00,EUR\n5,2026-02-06,2026-02,P,11,20.00,NOK\n6,2026-01-06,2026-01,P,10,999.00,EUR\n7,2026-01-07,2026-01,P,88,11.00,EUR\n"))
	require.Len(t, r.Refusals, 3)
	return o
}

func reconcile(t *testing.T, o *office.Office) *ledger.Reconciled {
	t.Helper()
	x, err := ledger.In(o).Reconcile(t.Context(), officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-02"}))
	require.NoError(t, err)
	return x
}

// TestReconcile: 157.03 were told and 150.00 taken: 0.03 wait for a code and 7.00 were
// refused, so nothing is left unexplained. On 10 the ledger told 150.01: a cent never came.
func TestReconcile(t *testing.T) {
	o := booked(t)
	x := reconcile(t, o)
	require.Equal(t, 2, x.Untold, "euros, and crowns")
	require.Zero(t, x.Off)
	officetest.GatherMap(t, o, map[string]string{
		"controls.csv": "source,period,cost_code,amount\nLedger,2026-02,,157.03\nledger,2026-02,10,150.01\nledger,2026-02,79,0.03\nledger,2026-01,,1.00\n",
	})
	x = reconcile(t, o)
	require.Len(t, x.Lines, 4)
	all, ten, unknown, crowns := x.Lines[0], x.Lines[2], x.Lines[1], x.Lines[3]
	require.Equal(t, []any{"ledger", "", int64(15703), int64(15000), int64(703), int64(3), int64(700), int64(0)},
		[]any{all.Source, all.Code, all.Control, all.Taken, all.Difference(), all.Waits, all.Refused, all.Unexplained()})
	require.Equal(t, []any{"10", int64(1), int64(1)}, []any{ten.Code, ten.Difference(), ten.Unexplained()})
	require.Equal(t, []any{"79", int64(3), int64(0), int64(3)}, []any{unknown.Code, unknown.Difference(), unknown.Unexplained(), unknown.Waits})
	require.NotEmpty(t, unknown.Why)
	require.Equal(t, []any{false, int64(2000), "NOK"}, []any{crowns.Told, crowns.Taken, string(crowns.Currency)})
	require.Equal(t, 3, x.Off)
	require.Len(t, all.Left, 2)
	require.Equal(t, "79", all.Left[0].Value)
	require.True(t, all.Left[0].Code)
	require.Equal(t, 5, all.Left[1].Line, "the row of the file")
	require.Equal(t, 2, all.Files[0].Rows)

	// It stands in the way of a close.
	c, err := closing.In(o).Closing(t.Context(), officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-02", Own: true}))
	require.NoError(t, err)
	var points []string
	for _, p := range c.Points {
		points = append(points, p.Text)
	}
	require.Contains(t, points, "3 control totals differ from the ledger")

	// A code below another counts in it.
	officetest.GatherMap(t, o, map[string]string{"controls.csv": "source,period,cost_code,amount,currency\nledger,2026-02,10,20.00,NOK\n"})
	x = reconcile(t, o)
	for _, l := range x.Lines {
		if l.Currency == "NOK" && l.Code == "10" {
			require.True(t, l.Told)
			require.Zero(t, l.Difference())
		}
	}
	r := officetest.Take(t, o, entry.Options{}, officetest.File("controls.csv", "source,period,amount\nledger,2026-02,1.005\nledger,2026-03,99999999999999999999\nledger,soon,1\n,2026-02,1\n"))
	require.Len(t, r.Refusals, 4)
}

// TestTotals: the lead states 30.00 for February on 10, where the ledger has 100.00.
func TestTotals(t *testing.T) {
	o := booked(t)
	officetest.GatherMap(t, o, map[string]string{
		"costs.csv": "project,cost_code,kind,period,amount\nP,10,actual,2026-02,30.00\nP,10,actual,2026-03,9.00\nQ,20,actual,2026-02,5.00\n",
	})
	x := reconcile(t, o)
	require.Len(t, x.Totals, 1, "on 20 the ledger says nothing")
	y := x.Totals[0]
	require.Equal(t, []any{"P", "10", int64(3000), int64(109900)}, []any{y.Project, y.Code, y.Lead, y.Ledger}) // with January's 999.00
	require.Len(t, y.Both, 1)
}

// TestWhoReadsSome: totals of a source are not told to who reads some of the projects.
func TestWhoReadsSome(t *testing.T) {
	o := booked(t)
	_, err := ledger.In(o).Reconcile(t.Context(), right.Actor{}, officetest.Moment(t, o, office.Ask{At: "2026-02"}))
	require.Error(t, err)
}

// TestReconcileByCurrency: a source that posts in two currencies tells a total of each; one
// that is told with and without its currency is told twice.
func TestReconcileByCurrency(t *testing.T) {
	o := booked(t)
	officetest.GatherMap(t, o, map[string]string{
		"controls.csv": "source,period,amount,currency\nledger,2026-02,157.03,\nledger,2026-02,20.01,NOK\n",
	})
	x := reconcile(t, o)
	require.Len(t, x.Lines, 2)
	require.Zero(t, x.Untold)
	euros, crowns := x.Lines[0], x.Lines[1]
	require.Equal(t, []any{"EUR", int64(703)}, []any{string(euros.Currency), euros.Difference()})
	require.Equal(t, []any{"NOK", int64(1), int64(1)}, []any{string(crowns.Currency), crowns.Difference(), crowns.Unexplained()})
	officetest.GatherMap(t, o, map[string]string{"controls.csv": "source,period,amount,currency\nledger,2026-02,157.03,EUR\n"})
	x = reconcile(t, o)
	require.Len(t, x.Lines, 3)
	require.Contains(t, x.Lines[0].Why+x.Lines[1].Why, "told twice")
}

// TestSourceByItsMapping: files of any name that the mapping "Main books" reads are of one source;
// totals that were told by their files' names keep holding, and those of the mapping go before.
func TestSourceByItsMapping(t *testing.T) {
	o := booked(t)
	head := "Beleg;Buchungstag;Periode;Projekt;Kostenart;Betrag\n"
	uses := map[string]string{
		"Beleg": "posting", "Buchungstag": "date", "Periode": "period", "Projekt": "project", "Kostenart": "cost_code", "Betrag": "amount",
	}
	require.NoError(t, entry.In(o).SaveMapping(t.Context(), officetest.Operator, entry.NamedMapping{
		Name: "Main books", Look: "beleg|buchungstag|periode|projekt|kostenart|betrag",
		Mapping: gather.Mapping{Table: "postings", Columns: uses},
	}))
	for _, f := range []string{"export_a", "dump-b"} {
		r := officetest.Take(t, o, entry.Options{Map: "Main books"}, officetest.File(f+" 2026-02.csv", head+f+"1;2026-02-03;2026-02;P;10;30.00\n"+f+"2;2026-02-03;2026-02;P;77;0.50\n"))
		require.Len(t, r.Refusals, 1)
	}
	line := func(source string) *ledger.Line {
		x := reconcile(t, o)
		i := slices.IndexFunc(x.Lines, func(l ledger.Line) bool { return l.Source == source && l.Currency == "EUR" })
		if i < 0 {
			return nil
		}
		return &x.Lines[i]
	}
	books := line("main books")
	require.Equal(t, []int64{60_00, 1_00}, []int64{books.Taken, books.Waits})
	require.Len(t, books.Files, 2)
	require.Nil(t, line("export a"))

	// A total of a file's name alone takes that file; one of the mapping takes both again.
	officetest.GatherMap(t, o, map[string]string{"controls.csv": "source,period,amount\nExport A,2026-02,30.50\n"})
	require.Equal(t, []int64{30_00, 50, 0}, []int64{line("export a").Taken, line("export a").Waits, line("export a").Unexplained()})
	require.Equal(t, int64(30_00), line("main books").Taken)
	officetest.GatherMap(t, o, map[string]string{"controls.csv": "source,period,amount\nmain books,2026-02,61.00\n"})
	require.Equal(t, []int64{60_00, 0}, []int64{line("main books").Taken, line("main books").Unexplained()})
	require.Zero(t, line("export a").Taken)
}
