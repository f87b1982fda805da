package figure_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/figure"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// converted is the project of TestFigures in euro and with its amounts in pounds: one is
// worth 2.00 in plans, 1.60 in what was booked and is still to come.
func converted(t *testing.T) (own, shown *figure.Eval) {
	t.Helper()
	b := build().spend(9000, 11000, 12000, 8000).percents(10, 15, 24, 30).forecast(3, 20000, 60000)
	for set, rate := range map[money.Set]string{money.PlanRates: "2", money.PeriodRates: "1.6"} {
		r, err := money.ParseRate(rate)
		require.NoError(t, err)
		b.office.Rates.Put("GBP", set, int(b.jan), r)
	}
	v := portfolio.At(b.office, b.project, b.jan+3, portfolio.Latest)
	own = figure.OfProject(earned.NewProgress(v))
	return own, own.In("GBP")
}

// TestOneProjectOneCPI: in pounds BAC is 1,000 ÷ 2 = 500; 30% of it is 150; spent
// 400 ÷ 1.6 = 250; still to come 800 ÷ 1.6 = 500. Its CPI stays 300 ÷ 400 = 0.75 though
// 150 ÷ 250 = 0.6, its SPI 0.75.
func TestOneProjectOneCPI(t *testing.T) {
	own, shown := converted(t)
	require.Same(t, own, own.Of(figure.CPI))
	require.Same(t, own, shown.Of(figure.CPI))
	require.Same(t, shown, shown.Of(figure.EACCPI))
	require.Equal(t, "0.600000", own.Divided("GBP").Get(figure.CPI).Text("GBP"), "150 ÷ 250")
	require.Same(t, own, shown.In("EUR"))
	for _, c := range []struct {
		id   figure.ID
		want string
	}{
		{figure.BAC, "500.00"},
		{figure.PV, "200.00"},
		{figure.EV, "150.00"},
		{figure.AC, "250.00"},
		{figure.CV, "-100.00"},
		{figure.CPI, "0.750000"},
		{figure.SPI, "0.750000"},
		{figure.SpentShare, "0.400000"},
		{figure.TCPIBAC, "1.166667"},      // 700 ÷ 600, not 350 ÷ 250
		{figure.EACStated, "750.00"},      // 250 + 500
		{figure.EACPlan, "600.00"},        // 250 + 350
		{figure.EACCPI, "716.67"},         // 250 + 350 ÷ 0.75
		{figure.EACCPISPI, "872.22"},      // 250 + 350 ÷ 0.5625
		{figure.EACCPI3, "792.50"},        // 250 + 350 ÷ ((300 − 100) ÷ (400 − 90)) = 250 + 350 × 1.55
		{figure.EACComputed, "716.67"},    // 30% is earned: at CPI
		{figure.VAC, "-216.67"},           // 500 − 716.67
		{figure.AtStake, "216.67"},        // the same
		{figure.ComputedOver, "0.333330"}, // 1,333.33 ÷ 1,000 − 1
	} {
		require.Equal(t, c.want, shown.Get(c.id).Text("GBP"), figure.Get(c.id).Name)
	}
	for i := range figure.Len() {
		if id := figure.ID(i); figure.Get(id).Unit != figure.Money {
			require.True(t, own.Get(id).Equal(shown.Get(id)), figure.Get(id).Name)
		}
	}
}

// TestTrailOfAShownAmount: what an amount in pounds is made of is in pounds, down to the
// CPI, which is made of euro.
func TestTrailOfAShownAmount(t *testing.T) {
	_, shown := converted(t)
	shown.All()
	var walk func(n *figure.Node, in map[figure.ID]money.Currency)
	walk = func(n *figure.Node, in map[figure.ID]money.Currency) {
		in[n.ID] = n.Currency
		for _, x := range n.Inputs {
			walk(x, in)
		}
	}
	n := shown.Trail(figure.EACCPI)
	require.EqualValues(t, "GBP", n.Currency)
	for _, x := range n.Inputs {
		in := make(map[figure.ID]money.Currency)
		walk(x, in)
		want := money.Currency("GBP")
		if x.ID == figure.CPI {
			want = "EUR"
			require.Equal(t, "300.00", x.Inputs[1].Value.Text("EUR"))
		}
		for id, c := range in {
			require.Equal(t, want, c, figure.Get(id).Name)
		}
	}
	require.Equal(t, "716.67", shown.Trail(figure.EACCPI).Value.Text("GBP"), "asked again")
}

// TestFoundBelongsToTheAmountsShown: findings count in the evaluation that they were
// given to.
func TestFoundBelongsToTheAmountsShown(t *testing.T) {
	own, shown := converted(t)
	judged := shown.Judge(figure.Found{Errors: 2, Warnings: 1}, nil)
	require.EqualValues(t, 2, judged.Get(figure.Errors).N)
	require.EqualValues(t, 1, judged.Get(figure.Warnings).N)
	require.False(t, own.Get(figure.Errors).Known)
	require.Equal(t, calendar.Period(own.Period), judged.Period)
}
