package officetest

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/right"
)

// Checked is a portfolio with one fault of each kind of place: a total beside
// the ledger, a percentage that went back, and two invoices alike.
var Checked = map[string]string{
	"programmes.csv": "programme,name\nQ,Quays\n",
	"cost_codes.csv": "cost_code,name\n10,Works\n20,Fees\n",
	"projects.csv":   "project,name,programme,lead,currency\nK1,North quay,Q,Ada,EUR\nK2,South quay,Q,Ben,EUR\n",
	"activities.csv": "project,activity,name,baseline_start,baseline_finish\nK1,A,Piles,2026-01-05,2026-06-26\nK2,A,Piles,2026-01-05,2026-06-26\n",
	"costs.csv": `project,cost_code,kind,period,version,amount
K1,10,plan,2026-01,1,300.00
K1,10,plan,2026-04,1,300.00
K2,10,plan,2026-01,1,600.00
K1,10,actual,2026-02,,100.00
K1,10,forecast,2026-03,2026-02,350.00
K2,10,forecast,2026-03,2026-02,400.00
K1,10,forecast,2026-02,2026-01,400.00
K2,10,forecast,2026-02,2026-01,500.00
`,
	"postings.csv": `posting,date,period,project,cost_code,amount,supplier,text
L1,2026-01-20,2026-01,K1,10,150.00,Yard,One
L2,2026-02-20,2026-02,K1,10,90.00,Yard,Two
L3,2026-02-21,2026-02,K2,20,70.00,Firm,Survey
L4,2026-02-21,2026-02,K2,20,70.00,Firm,Survey
`,
	"progress.csv": "project,activity,period,percent,actual_start\nK1,A,2026-01,40,2026-01-05\nK1,A,2026-02,35,\nK2,A,2026-01,10,2026-01-05\nK2,A,2026-02,20,\n",
}

func CheckedOffice(t testing.TB) *office.Office {
	t.Helper()
	o := NewOffice(t)
	GatherMap(t, o, Checked)
	p, err := o.ParsePeriod(context.Background(), Operator, "2026-01")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(context.Background(), Operator, p)
	require.NoError(t, err)
	return o
}

// Base is a small portfolio that the cases below add to.
var Base = map[string]string{
	"programmes.csv": "programme,name,parent\nG,Group,\n",
	"cost_codes.csv": "cost_code,name,parent\n10,Labour,\n",
	"projects.csv":   "project,name,programme,currency\nA,Alpha,G,EUR\nB,Beta,G,JPY\n",
	"rates.csv":      "currency,period,set,rate\nJPY,2026-01,period,0.0062\n",
	"activities.csv": "project,activity,name,kind,rule,baseline_start,baseline_finish\nA,1,One,task,stated,2026-01-05,2026-03-27\nA,2,Two,task,stated,2026-02-02,2026-04-24\n",
	"costs.csv":      "project,cost_code,kind,period,version,amount\nA,10,plan,2026-01,1,100.00\nA,10,plan,2026-02,1,100.00\n",
}

func WithBase(t testing.TB) *office.Office {
	o := NewOffice(t)
	var files []entry.File
	for name, body := range Base {
		files = append(files, File(name, body))
	}
	r := Take(t, o, entry.Options{}, files...)
	require.Empty(t, r.Refusals)
	return o
}

var (
	Ines = right.Actor{Name: "Ines Dahl", Role: right.Analyst, Account: 1}
	Tor  = right.Actor{Name: "Tor Lindqvist", Role: right.Executive, Account: 2}
)

// Pier is a project with a plan of 100 + 50 and 9 of management reserve, 130
// spent by May, and 60 stated to come; its works slip from June to July.
func Pier(t *testing.T) *office.Office {
	t.Helper()
	o := NewOffice(t)
	o.SetClock(func() time.Time { return time.Date(2026, 5, 20, 9, 0, 0, 0, time.UTC) })
	require.Empty(
		t,
		Take(
			t,
			o,
			entry.Options{},
			File("cost_codes.csv", "cost_code,name,reserve\n1,One,\n2,Two,\n9,Rest,management\n"),
			File(
				"projects.csv",
				"project,name,start,finish\nP,Pier,2026-04-01,2026-09-30\nQ,Quay,2026-04-01,2026-09-30\n",
			),
			File(
				"activities.csv",
				"project,activity,name,budget,baseline_start,baseline_finish\nP,1,Piles,100,2026-04-01,2026-05-29\nP,2,Deck,50,2026-06-01,2026-06-30\n",
			),
			File("costs.csv", `project,cost_code,kind,flow,period,version,amount
P,1,plan,cost,2026-04,1,100
P,2,plan,cost,2026-05,1,50
P,9,plan,cost,2026-06,1,9
P,2,plan,benefit,2026-08,1,400
P,1,actual,cost,2026-04,,110
P,1,accrual,cost,2026-05,,20
P,2,forecast,cost,2026-06,2026-05,60
Q,1,plan,cost,2026-04,1,70
`),
			File(
				"progress.csv",
				"project,activity,period,percent,actual_start,finish\nP,1,2026-04,100,2026-04-01,\nP,2,2026-05,0,,2026-07-31\n",
			),
			File(
				"narratives.csv",
				"project,period,section,text\nP,2026-04,summary,Well\nP,2026-05,summary,Well\n",
			),
		).Refusals,
	)
	return o
}
