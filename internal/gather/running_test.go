package gather

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestWhatRunsOn: only a title or a head that says so makes amounts run on.
func TestWhatRunsOn(t *testing.T) {
	for text, want := range map[string]string{
		"Cumulative actual cost to date (EUR)": ToDate,
		"Actuals_to_date":                      ToDate,
		"Kumulierte Istkosten":                 ToDate,
		"Actual YTD":                           YearToDate,
		"Year-to-date spend":                   YearToDate,
		"Please keep this file up to date":     "",
		"Actual cost":                          "",
		"Due date":                             "",
		"All leads say by the third working day what was booked to date and why it was so": "",
	} {
		require.Equal(t, want, runningIn(text), text)
	}
}

// TestAmountsThatRunOn: they are asked about, and lessened where they run on.
func TestAmountsThatRunOn(t *testing.T) {
	o := knowing()
	body := []byte(
		"Cumulative actual cost (EUR),,,,\nProject,Cost code,Mar 26,Feb 26,Apr 26\nQS-01,210,300,100,350.5\nQS-01,220,30,10,20\n",
	)
	u := understand(t, "cost.csv", body, o, Mapping{})[0]
	require.Len(t, u.Questions, 1)
	require.Equal(t, "running", u.Questions[0].About)
	require.Equal(t, []string{ToDate, Single}, u.Questions[0].Choices)

	amounts := func(how string) (out []string) {
		u := understand(t, "cost.csv", body, o, Mapping{Running: how})[0]
		require.Empty(t, u.Questions)
		rows, refused := rowsOf(t, u, o)
		require.Empty(t, refused)
		return rows
	}
	require.ElementsMatch(t, []string{
		"3: project=QS-01 cost_code=210 kind=actual period=2026-02 amount=100 currency=EUR",
		"3: project=QS-01 cost_code=210 kind=actual period=2026-03 amount=200 currency=EUR",  // 300 − 100
		"3: project=QS-01 cost_code=210 kind=actual period=2026-04 amount=50.5 currency=EUR", // 350.5 − 300
		"4: project=QS-01 cost_code=220 kind=actual period=2026-02 amount=10 currency=EUR",
		"4: project=QS-01 cost_code=220 kind=actual period=2026-03 amount=20 currency=EUR",
		"4: project=QS-01 cost_code=220 kind=actual period=2026-04 amount=-10 currency=EUR", // 20 − 30
	}, amounts(ToDate))
	require.Contains(
		t,
		amounts(Single),
		"3: project=QS-01 cost_code=210 kind=actual period=2026-03 amount=300 currency=EUR",
	)
	require.Contains(
		t,
		amounts(YearToDate),
		"3: project=QS-01 cost_code=210 kind=actual period=2026-04 amount=350.5 currency=EUR",
		"the fiscal year begins in April",
	)

	long := []byte(
		"Actual cost year to date,,,\nProject,Cost code,Period,Actual\nQS-01,210,2026-04,100\nQS-01,210,2026-03,70\nQS-01,210,2026-05,130\n",
	)
	u = understand(t, "cost.csv", long, o, Mapping{Running: ToDate})[0]
	rows, refused := rowsOf(t, u, o)
	require.Equal(t, []string{
		"3: project=QS-01 cost_code=210 kind=actual period=2026-04 amount=100",
		"5: project=QS-01 cost_code=210 kind=actual period=2026-05 amount=30",
	}, rows)
	require.Len(t, refused, 1)
	require.Contains(t, refused[0].Reason, "sort the rows by period")
}
