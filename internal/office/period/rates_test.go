package period_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/history"
	"turret/internal/office/officetest"
	"turret/internal/office/period"
)

// pricedOffice has projects in kroner, pounds and yen: kroner with both sets of
// rates, pounds with period rates only, yen with none.
func pricedOffice(t *testing.T) *office.Office {
	t.Helper()
	o := officetest.NewOffice(t)
	require.Empty(
		t,
		officetest.Take(
			t,
			o,
			entry.Options{},
			officetest.File("cost_codes.csv", "cost_code,name\n1,One\n"),
			officetest.File(
				"rates.csv",
				"currency,period,set,rate\nNOK,2026-01,plan,0.1\nNOK,2027-02,plan,0.12\nNOK,2026-01,period,0.1\nNOK,2026-03,period,0.11\nGBP,2026-02,period,1.2\n",
			),
			officetest.File(
				"projects.csv",
				"project,name,currency\nN,Nordic,NOK\nB,British,GBP\nJ,Japanese,JPY\nM,More,NOK\n",
			),
			officetest.File(
				"costs.csv",
				"project,cost_code,kind,period,version,amount\nN,1,plan,2026-01,1,100\nB,1,plan,2026-01,1,100\nJ,1,plan,2026-01,1,100\nM,1,plan,2026-01,1,100\n",
			),
			officetest.File(
				"narratives.csv",
				"project,period,section,text\nN,2026-01,summary,Well\nN,2026-04,summary,Well\n",
			),
		).Refusals,
	)
	return o
}

func rates(t *testing.T, o *office.Office, at string) *period.RateBook {
	t.Helper()
	b, err := period.In(o).Rates(context.Background(), officetest.Operator, officetest.Moment(t, o, office.Ask{At: at}))
	require.NoError(t, err)
	return b
}

// TestRatesInForce: what is in force by year and period, what goes on from an earlier
// one, what is missing, and what that keeps out of totals.
func TestRatesInForce(t *testing.T) {
	o := pricedOffice(t)
	b := rates(t, o, "2026-04")
	require.Equal(t, "EUR", b.Reporting)
	require.Equal(t, []string{"FY26", "FY27"}, b.Years)
	type cell struct {
		rate   string
		stated bool
	}
	line := func(list []period.RateCell) (out []cell) {
		for _, c := range list {
			out = append(out, cell{c.Rate, c.Stated})
		}
		return out
	}
	for _, c := range []struct {
		currency     string
		projects     int
		plan, period []cell
		none         bool
	}{
		{"GBP", 1, []cell{{"", false}, {"", false}}, []cell{{"1.2", false}, {"1.2", true}, {"1.2", false}, {"1.2", false}}, false}, // before its first, the first
		{"JPY", 1, []cell{{"", false}, {"", false}}, []cell{{"", false}, {"", false}, {"", false}, {"", false}}, true},
		{"NOK", 2, []cell{{"0.1", true}, {"0.12", true}}, []cell{{"0.1", true}, {"0.1", false}, {"0.11", true}, {"0.11", false}}, false},
	} {
		var x period.RateRow
		for _, r := range b.Currencies {
			if r.Currency == c.currency {
				x = r
			}
		}
		require.Equal(
			t,
			[]any{c.projects, c.plan, c.period, c.none},
			[]any{x.Projects, line(x.Plan), line(x.Period), x.None},
			c.currency,
		)
	}
	require.Equal(
		t,
		[]string{
			"GBP has no plan rates: its plans convert at period rates.",
			"JPY has no rate at all; the money of 1 project is in it.",
		},
		b.Missing,
	)
	require.Equal(t, []string{"J"}, b.LeftOut)
}

// TestSetRate: a rate is stated from an open period on, and what cannot be is
// refused with a sentence.
func TestSetRate(t *testing.T) {
	ctx := context.Background()
	o := pricedOffice(t)
	for _, p := range []string{"2026-01", "2026-02", "2026-03"} {
		at, err := o.ParsePeriod(ctx, officetest.Operator, p)
		require.NoError(t, err)
		_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, at)
		require.NoError(t, err)
	}
	mark := func() int64 {
		n, err := o.Revision(ctx, officetest.Operator)
		require.NoError(t, err)
		return n
	}
	for says, err := range map[string]error{
		"what one unit is worth": period.In(o).SetRate(ctx, officetest.Operator, mark(), "JPY", "2026-04", "period", " "),
		"Currency":               period.In(o).SetRate(ctx, officetest.Operator, mark(), "kroner", "2026-04", "period", "1"),
		"whose rate is always 1": period.In(o).SetRate(ctx, officetest.Operator, mark(), "eur", "2026-04", "period", "1"),
		"Period":                 period.In(o).SetRate(ctx, officetest.Operator, mark(), "JPY", "soon", "period", "1"),
		"Set":                    period.In(o).SetRate(ctx, officetest.Operator, mark(), "JPY", "2026-04", "guess", "1"),
		"Rate":                   period.In(o).SetRate(ctx, officetest.Operator, mark(), "JPY", "2026-04", "period", "0"),
		"may not gather":         period.In(o).SetRate(ctx, officetest.Tor, mark(), "JPY", "2026-04", "period", "0.006"),
	} {
		require.ErrorContains(t, err, says)
	}
	require.Equal(t, []string{"J"}, rates(t, o, "2026-04").LeftOut)
	require.NoError(t, period.In(o).SetRate(ctx, officetest.Operator, mark(), " jpy ", "2026-04", "period", "0.006"))
	require.ErrorContains(
		t,
		period.In(o).SetRate(ctx, officetest.Operator, 0, "JPY", "2026-04", "period", "0.007"),
		"changed the rate JPY, 2026-04, period meanwhile",
	)
	b := rates(t, o, "2026-04")
	require.Empty(t, b.LeftOut)
	require.Equal(t, []string{"J"}, rates(t, o, "2026-03").LeftOut, "what was closed stays as it was")
	history := officetest.Batches(t, o, history.Ask{Table: "rates"})
	require.Equal(t, "rates stated", history[0].How())
}
