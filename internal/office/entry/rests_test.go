package entry_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/history"
	"turret/internal/office/officetest"
)

// TestWhatABatchRestsOn: many postings are planned beside another process that writes. What
// it writes elsewhere lets them through as they were planned; what they rest on has them
// planned again. Either way the outcome is that of one after the other.
func TestWhatABatchRestsOn(t *testing.T) {
	ctx := context.Background()
	var b strings.Builder
	b.WriteString("posting,date,period,project,cost_code,amount,text\n")
	for i := range 1200 {
		fmt.Fprintf(&b, "S%d,2026-01-03,2026-01,P1,10,%d.25,%s\n", i, i%90+1, strings.Repeat("of stone ", 10))
	}
	postings := b.String()
	b.Reset()
	b.WriteString("project,activity,name,start,finish,note_of_ours\n")
	for i := range 1200 {
		fmt.Fprintf(&b, "P1,A%d,Work %d,2026-01-05,2026-02-0%d,%s\n", i, i, i%9+1, strings.Repeat("x", 80))
	}
	activities := b.String()
	untidy := strings.Replace(postings, "posting,date,period,project,cost_code,amount,text", "Booking,Date,Month,Project,Code,Amount,Text", 1)
	for _, c := range []struct {
		name, file, body, meanwhile string
		plans                       int
	}{
		{"nothing", "postings", postings, "", 1},
		{"another cost code", "postings", postings, "cost_codes: cost_code,name\n20,Other\n30,New\n", 1},
		{"a statement of the project", "postings", postings, "narratives: project,period,section,text\nP1,2026-01,summary,Fine.\n", 1},
		{"a standing", "postings", postings, "overrides: project,dimension,from_period,standing,reason\nP1,cost,2026-01,watch,So\n", 1},
		{"another project", "postings", postings, "projects: project,name\nP2,Renamed\n", 1},
		{"its cost code", "postings", postings, "cost_codes: cost_code,name\n10,Renamed\n", 2},
		{"its project", "postings", postings, "projects: project,name\nP1,Renamed\n", 2},
		{"its currency's setting", "postings", postings, "settings: setting,value\nname,Quay\n", 2},
		{"a rate", "postings", postings, "rates: currency,period,set,rate\nUSD,2026-01,period,0.9\n", 2},
		{"a period that closes", "postings", postings, "periods: period,state\n2026-01,closed\n", 2},
		{"a posting", "postings", postings, "postings: posting,date,period,project,cost_code,amount\nX1,2026-01-03,2026-01,P2,20,5.00\n", 2},
		{"its own posting", "postings", postings, "postings: posting,date,period,project,cost_code,amount\nS7,2026-01-03,2026-01,P2,20,5.00\n", 2},
		{"an undo", "postings", postings, "undo", 2},
		{"the same file, so that nothing is left to write", "postings", postings, "same", 1},
		{"heads that are not Turret's", "postings", untidy, "cost_codes: cost_code,name\n20,Other\n", 2},
		{"activities, and a cost code", "activities", activities, "cost_codes: cost_code,name\n10,Renamed\n", 1},
		{"activities, and one of them", "activities", activities, "activities: project,activity,name\nP1,A2,Other\n", 2},
		{"activities, and those of another", "activities", activities, "activities: project,activity,name\nP2,A2,Other\n", 1},
	} {
		t.Run(c.name, func(t *testing.T) {
			quay := func() *office.Office {
				o, _ := officetest.BareOffice(t)
				officetest.Take(t, o, entry.Options{},
					officetest.File("projects.csv", "project,name,currency\nP1,Pier,EUR\nP2,Shed,EUR\n"),
					officetest.File("cost_codes.csv", "cost_code,name\n10,Works\n20,Fees\n"))
				officetest.Take(t, o, entry.Options{}, officetest.File("narratives.csv", "project,period,section,text\nP2,2026-01,summary,Good.\n"))
				return o
			}
			one := quay()
			two, err := office.Open(ctx, officetest.Operator, one.Store().Path(), false)
			require.NoError(t, err)
			t.Cleanup(func() { two.Close() })
			other := func(o *office.Office) {
				switch table, rows, _ := strings.Cut(c.meanwhile, ": "); {
				case c.meanwhile == "":
				case table == "undo":
					_, err := history.In(o).Undo(ctx, officetest.Operator, officetest.LastBatch(t, o), false)
					require.NoError(t, err)
				case table == "same":
					officetest.Take(t, o, entry.Options{}, officetest.File(c.file+".csv", c.body))
				default:
					officetest.Take(t, o, entry.Options{}, officetest.File(table+".csv", rows))
				}
			}
			plans := 0
			watch := entry.Watch{Met: func(entry.Met) {
				if plans++; plans == 1 {
					other(two)
				}
			}}
			report := officetest.Take(t, one, entry.Options{Watch: watch}, officetest.File(c.file+".csv", c.body))
			require.Equal(t, c.plans, plans)
			require.Equal(t, c.meanwhile != "same", report.Written || len(report.Refusals) > 0)

			// One after the other it is the same.
			in := quay()
			other(in)
			officetest.Take(t, in, entry.Options{}, officetest.File(c.file+".csv", c.body))
			require.Equal(t, officetest.Exported(t, in), officetest.Exported(t, one))
			require.Equal(t, officetest.Readings(t, in, "2026-01", portfolio.Latest, true), officetest.Readings(t, two, "2026-01", portfolio.Latest, true))
		})
	}
}
