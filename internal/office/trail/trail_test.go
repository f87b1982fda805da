package trail_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
	"turret/internal/office/trail"
)

// TestTrailAddsUp: the rows behind a sum add up to it, in both currencies, and
// the postings behind a cell to the cell.
func TestTrailAddsUp(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	for _, in := range []string{"project", "reporting"} {
		m := officetest.Moment(t, o, office.Ask{At: "2026-11", In: in})
		for _, scope := range []string{"K1", "K2", "K3", "K4", "K5", "K6", "A", "B", "*"} {
			for _, id := range []figure.ID{figure.BAC, figure.PV, figure.AC, figure.OnOrder} {
				tr, err := trail.In(o).Trail(ctx, officetest.Operator, m, false, scope, id)
				require.NoError(t, err)
				require.Empty(t, tr.Drift)
				var sum int64
				for _, f := range tr.Facts {
					if f.Value.Known {
						sum += f.Value.N
					}
					if f.Posted == nil {
						continue
					}
					require.NotEmpty(t, f.Postings, "%s %s", scope, f.What)
					var posted int64
					for _, p := range f.Postings {
						var amount, cur string
						_, err := fmt.Sscan(p.Amount, &amount, &cur)
						require.NoError(t, err)
						n, err := money.Parse(strings.NewReplacer(",", "", "−", "-").Replace(amount), money.Currency(cur))
						require.NoError(t, err)
						posted += n
						require.Contains(t, p.Place, "postings.csv, row")
					}
					if f.From == "" {
						require.Equal(t, f.Value.N, posted)
					}
				}
				require.Equal(t, tr.Value.N, sum, "%s %s in %s", scope, tr.Entry.Name, in)
				if !tr.Scope.Group && tr.Value.N != 0 {
					require.NotEmpty(t, tr.Files)
				}
			}
		}
	}
}

// TestWhatIsAskedFirstComesFirst: what is booked is told newest first, postings too; what is
// planned the largest first; and a derived figure tells what its inputs are made of.
func TestWhatIsAskedFirstComesFirst(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	officetest.Take(t, o, entry.Options{}, officetest.File("postings.csv",
		"posting,date,period,project,cost_code,amount\nN1,2026-02-03,2026-02,K1,10,1.00\nN2,2026-02-25,2026-02,K1,10,2.00\nN3,2026-02-25,2026-02,K1,10,9.00\n"))
	m := officetest.February(t, o)
	told := func(id figure.ID) *trail.Trail {
		tr, err := trail.In(o).Trail(ctx, officetest.Operator, m, false, "K1", id)
		require.NoError(t, err)
		return tr
	}
	periods := func(list []trail.Fact) (out []string) {
		for _, f := range list {
			out = append(out, f.Period)
		}
		return out
	}
	ac := told(figure.AC)
	require.Equal(t, []string{"Feb 2026", "Feb 2026", "Jan 2026"}, periods(ac.Facts))
	var codes []string
	for _, f := range ac.Facts {
		for _, p := range f.Postings {
			codes = append(codes, p.Code)
		}
	}
	require.Equal(t, []string{"N3", "N2", "L2", "N1", "L1"}, codes, "the newest first, then the larger")
	var sizes []int64
	for _, f := range told(figure.BAC).Facts {
		sizes = append(sizes, f.Value.N)
	}
	require.Equal(t, []int64{30000, 30000}, sizes)
	cpi := told(figure.CPI)
	require.Empty(t, cpi.Facts)
	var behind []string
	for _, b := range cpi.Behind {
		behind = append(behind, b.Entry.Name)
		require.LessOrEqual(t, len(b.Facts), 8)
	}
	require.Contains(t, behind, "ac")
}

// TestTrailOfEveryFigure: each figure of each scope answers, with a value, or
// the reason why there is none, and agrees with the readings.
func TestTrailOfEveryFigure(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-11", Vs: "2026-05"})
	for _, scope := range []string{"K3", "K6", "A1", "*"} {
		now, before := m.Find(scope)
		for i := range figure.Len() {
			id := figure.ID(i)
			for _, compared := range []bool{false, true} {
				want := now
				if compared {
					want = before
				}
				tr, err := trail.In(o).Trail(ctx, officetest.Operator, m, compared, scope, id)
				require.NoError(t, err)
				require.Empty(t, tr.Drift)
				require.True(t, tr.Value.Equal(want.Value(id)))
				require.True(t, tr.Value.Known || tr.Value.Why != "", "%s of %s says nothing", tr.Entry.Name, scope)
				require.NotEmpty(t, tr.Formula)
			}
		}
	}
	tr, err := trail.In(o).Trail(ctx, officetest.Operator, m, false, "NOPE", figure.CPI)
	require.NoError(t, err)
	require.Nil(t, tr)
}

// TestCutsComputeTheSame: whatever changes after a close, the cut's inputs give
// the figures that it keeps.
func TestCutsComputeTheSame(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	for _, code := range []string{"2026-05", "2026-09"} {
		p, err := o.ParsePeriod(ctx, officetest.Operator, code)
		require.NoError(t, err)
		_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
		require.NoError(t, err)
	}
	r := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("projects.csv", "project,name,programme,state\nK1,Other,B,cancelled\nK2,Other,-,on hold\n"),
		officetest.File("rates.csv", "currency,period,set,rate\nGBP,2025-04,plan,2\nNOK,2026-02,period,1\n"),
		officetest.File("calendars.csv", "calendar,kind,day\noffice,holiday,2026-05-04\n"),
		officetest.File("cost_codes.csv", "cost_code,reserve\n12,management\n"),
		officetest.File("activities.csv", "project,activity,rule,baseline_finish\nK1,1,0-100,2026-02-19\n"),
		officetest.File(
			"costs.csv",
			"project,cost_code,kind,class,period,version,amount\nK1,11,plan,opex,2025-09,1,1\nK1,11,actual,opex,2026-10,,5\n",
		),
	)
	require.Empty(t, r.Refusals)
	for _, at := range []string{"2026-05", "2026-09"} {
		for _, in := range []string{"project", "reporting"} {
			m := officetest.Moment(t, o, office.Ask{At: at, In: in})
			require.True(t, m.Period.Closed)
			list, err := board.In(o).List(ctx, officetest.Operator, m, board.Order{})
			require.NoError(t, err)
			require.NotEmpty(t, list.Rows)
			for _, row := range append(list.Rows, list.Total) {
				for i := range figure.Len() {
					tr, err := trail.In(o).Trail(ctx, officetest.Operator, m, false, row.Scope, figure.ID(i))
					require.NoError(t, err)
					require.Empty(t, tr.Drift, "%s of %s at %s", tr.Entry.Name, row.Scope, at)
				}
			}
		}
	}
	open := officetest.Moment(t, o, office.Ask{At: "2026-11"})
	now, _ := open.Find("K1")
	require.Equal(t, "Other", now.Name)
}

func TestMomentAnswersOddAddresses(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	for _, c := range []struct {
		ask   office.Ask
		notes int
		at    string
	}{
		{office.Ask{}, 0, "2026-11"},
		{office.Ask{At: "2026-03"}, 0, "2026-03"},
		{office.Ask{At: "2019-01"}, 1, "2026-11"},
		{office.Ask{At: "x", Vs: "y", In: "z", Against: "w"}, 4, "2026-11"},
		{office.Ask{At: "2026-03", Vs: "2026-03"}, 0, "2026-03"},
	} {
		m, err := o.Moment(ctx, officetest.Operator, c.ask)
		require.NoError(t, err)
		require.Len(t, m.Notes, c.notes, "%+v: %v", c.ask, m.Notes)
		require.Equal(t, c.at, m.Period.Code)
		require.Empty(t, m.Vs.Code)
	}
}

// TestOneProjectInTwoCurrencies: what is about one project is in its own currency unless
// the reporting one is asked for; an amount is told in both, and of a ratio what amounts
// in the other would give.
func TestOneProjectInTwoCurrencies(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	of := func(in, scope string, id figure.ID) (*office.Moment, *trail.Trail) {
		m, err := o.OfOne(ctx, officetest.Moment(t, o, office.Ask{At: "2026-11", Vs: "2026-10", In: in}))
		require.NoError(t, err)
		tr, err := trail.In(o).Trail(ctx, officetest.Operator, m, false, scope, id)
		require.NoError(t, err)
		require.Empty(t, tr.Drift)
		return m, tr
	}
	list := officetest.Moment(t, o, office.Ask{At: "2026-11"})
	shown, err := o.Shown(ctx, list, "K2")
	require.NoError(t, err)
	require.EqualValues(t, "EUR", shown.Currency)

	m, tr := of("", "K2", figure.BAC)
	require.True(t, m.InProject)
	require.EqualValues(t, "GBP", tr.Currency)
	require.Equal(t, "640000.00", tr.Value.Text("GBP"))
	require.Equal(t, shown.Value(figure.BAC).Text("EUR"), tr.Shown.Text("EUR"))
	require.False(t, tr.Divided.Known)
	now, before := m.Find("K2")
	require.EqualValues(t, "GBP", now.Currency)
	require.EqualValues(t, "GBP", before.Currency)

	for _, in := range []string{"", "reporting", "project"} {
		m, tr = of(in, "K2", figure.CPI)
		require.Equal(t, in != "reporting", m.InProject)
		require.EqualValues(t, "GBP", tr.Currency, "a ratio is one of the own currency")
		require.Equal(t, "0.996201", tr.Value.Text(""))
		ev, ac := shown.Value(figure.EV), shown.Value(figure.AC)
		require.Equal(t, figure.Decimals(ev.Ratio().Quo(ac.Ratio()), 6), tr.Divided.Text(""))
		for _, x := range tr.Inputs {
			require.EqualValues(t, "GBP", x.Currency)
		}
	}
	_, tr = of("reporting", "K2", figure.EACCPI)
	require.EqualValues(t, "EUR", tr.Currency)
	require.Equal(t, "744387.95", tr.Value.Text("EUR"))
	require.False(t, tr.Shown.Known)

	_, tr = of("", "K1", figure.BAC) // in the reporting currency anyway
	require.False(t, tr.Shown.Known)
	shown, err = o.Shown(ctx, list, "K1")
	require.NoError(t, err)
	require.Nil(t, shown)
	require.False(t, list.InProject)
}
