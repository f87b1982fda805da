package entry_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/costs"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
)

// classed lists the amounts of project A, of a kind, by code, month and class.
func classed(t *testing.T, o *office.Office, kind costs.Kind, period string) string {
	t.Helper()
	s, err := o.Book().Snapshot(t.Context())
	require.NoError(t, err)
	at, err := s.Office.Periods.Parse(period)
	require.NoError(t, err)
	var out []string
	why, err := s.EachCost(t.Context(), "A", at, portfolio.Latest, "", costs.Usual, func(_ *portfolio.Project, x *costs.Cell) {
		if x.Kind == kind && x.Amount != 0 { // a booking that moved leaves a sum of none
			out = append(out, fmt.Sprintf("%s %s %s %d", x.Key.Code, s.Office.Periods.Code(x.Period)[5:], x.Key.Class, x.Amount/100))
		}
	})
	require.NoError(t, err)
	require.Empty(t, why)
	slices.Sort(out)
	return strings.Join(out, ", ")
}

const (
	planned = "project,cost_code,kind,period,version,class,amount\nA,20,plan,2026-01,1,capex,100.00\nA,30,plan,2026-01,1,capex,1.00\nA,30,plan,2026-01,1,opex,1.00\n"
	codes   = "cost_code,name\n20,Works\n30,Fees\n"
	bare    = "project,cost_code,kind,period,version,amount\n"
	full    = "project,cost_code,kind,period,version,class,amount\n"
	ledger  = "posting,date,project,cost_code,amount\n"
)

// What states no class takes that of the plan on its code, whichever comes first; what was
// stated is one amount, with a class or without.
func TestClassOfThePlan(t *testing.T) {
	costsFile, postings := func(s string) entry.File { return officetest.File("costs.csv", s) }, func(s string) entry.File { return officetest.File("postings.csv", s) }
	plan := costsFile(planned)
	for _, c := range []struct {
		name    string
		kind    costs.Kind
		runs    [][]entry.File
		want    string
		refused string
	}{
		{"a booking of what is planned as capex", costs.Actual, [][]entry.File{{plan}, {postings(ledger + "L1,2026-01-05,A,20,5\n")}}, "20 01 capex 5", ""},
		{"the plan comes in the same run", costs.Actual, [][]entry.File{{postings(ledger + "L1,2026-01-05,A,20,5\n"), plan}}, "20 01 capex 5", ""},
		{"the plan comes later", costs.Actual, [][]entry.File{{postings(ledger + "L1,2026-01-05,A,20,5\n")}, {plan}}, "20 01 capex 5", ""},
		{"the plan has none there, or both", costs.Actual, [][]entry.File{{plan, postings(ledger + "L1,2026-01-05,A,10,5\nL2,2026-01-05,A,30,7\n")}}, "10 01 opex 5, 30 01 opex 7", ""},
		{"the ledger says it", costs.Actual, [][]entry.File{{plan, postings("posting,date,project,cost_code,class,amount\nL1,2026-01-05,A,20,opex,5\nL2,2026-01-05,A,20,,7\n")}}, "20 01 capex 7, 20 01 opex 5", ""},
		{"a posting says it later", costs.Actual, [][]entry.File{
			{plan, postings(ledger + "L1,2026-01-05,A,20,5\n")}, {postings("posting,date,project,cost_code,class,amount\nL1,2026-01-05,A,20,opex,5\n")},
		}, "20 01 opex 5", ""},
		{"a posting that said it says nothing later", costs.Actual, [][]entry.File{
			{plan, postings("posting,date,project,cost_code,class,amount\nL1,2026-01-05,A,20,opex,5\n")}, {postings(ledger + "L1,2026-01-05,A,20,6\n")},
		}, "20 01 opex 6", ""},
		{"a forecast", costs.Forecast, [][]entry.File{{plan, costsFile(bare + "A,20,forecast,2026-02,2026-01,50\nA,10,forecast,2026-02,2026-01,9\n")}}, "10 02 opex 9, 20 02 capex 50", ""},
		{"stated again without a class", costs.Forecast, [][]entry.File{
			{plan, costsFile(full + "A,20,forecast,2026-02,2026-01,opex,50\n")}, {costsFile(bare + "A,20,forecast,2026-02,2026-01,60\n")},
		}, "20 02 opex 60", ""},
		{"stated again with a class", costs.Forecast, [][]entry.File{
			{plan, costsFile(bare + "A,20,forecast,2026-02,2026-01,50\n")}, {costsFile(full + "A,20,forecast,2026-02,2026-01,opex,60\n")},
		}, "20 02 opex 60", ""},
		{"stated again the same", costs.Forecast, [][]entry.File{
			{plan, costsFile(bare + "A,20,forecast,2026-02,2026-01,50\n")}, {costsFile(bare + "A,20,forecast,2026-02,2026-01,55\n")},
		}, "20 02 capex 55", ""},
		{"one with a class beside one without", costs.Forecast, [][]entry.File{
			{plan, costsFile(full + "A,30,forecast,2026-02,2026-01,capex,50\nA,30,forecast,2026-02,2026-01,,7\n")},
			{costsFile(full + "A,30,forecast,2026-02,2026-01,,8\nA,30,forecast,2026-02,2026-01,capex,51\n")},
		}, "30 02 capex 51, 30 02 opex 8", ""},
		{"one without a class before one with", costs.Forecast, [][]entry.File{
			{plan, costsFile(full + "A,30,forecast,2026-02,2026-01,,7\nA,30,forecast,2026-02,2026-01,capex,50\n")},
		}, "30 02 capex 50, 30 02 opex 7", ""},
		{"which of two it is, is asked", costs.Forecast, [][]entry.File{
			{plan, costsFile(full + "A,30,forecast,2026-02,2026-01,capex,50\nA,30,forecast,2026-02,2026-01,opex,7\n")},
			{costsFile(bare + "A,30,forecast,2026-02,2026-01,8\n")},
		}, "30 02 capex 50, 30 02 opex 7", "as capex and as opex; say which"},
		{"twice without a class", costs.Forecast, [][]entry.File{{plan, costsFile(bare + "A,20,forecast,2026-02,2026-01,50\nA,20,forecast,2026-02,2026-01,51\n")}}, "", "neither was taken"},
		{"twice without a class, of what had one", costs.Forecast, [][]entry.File{
			{plan, costsFile(full + "A,20,forecast,2026-02,2026-01,opex,40\n")},
			{costsFile(bare + "A,20,forecast,2026-02,2026-01,50\nA,20,forecast,2026-02,2026-01,51\n")},
		}, "20 02 opex 40", "neither was taken"},
	} {
		t.Run(c.name, func(t *testing.T) {
			o := officetest.WithBase(t)
			officetest.Take(t, o, entry.Options{}, officetest.File("cost_codes.csv", codes))
			var refused []string
			for _, files := range c.runs {
				r := officetest.Take(t, o, entry.Options{}, files...)
				for _, x := range r.Refusals {
					refused = append(refused, x.Reason)
				}
			}
			require.Equal(t, c.want, classed(t, o, c.kind, "2026-01"))
			if c.refused == "" {
				require.Empty(t, refused)
			} else {
				require.Contains(t, strings.Join(refused, "\n"), c.refused)
			}
		})
	}
}

// What was stated without a class goes out as it came, and comes back the same.
func TestClassStaysUnstated(t *testing.T) {
	o := officetest.WithBase(t)
	r := officetest.Take(t, o, entry.Options{},
		officetest.File("cost_codes.csv", codes), officetest.File("costs.csv", planned),
		officetest.File("postings.csv", ledger+"L1,2026-01-05,A,20,5\n"))
	require.Empty(t, r.Refusals)
	files := officetest.Exported(t, o)
	require.Contains(t, files["postings.csv"], "L1,2026-01-05,2026-01,A,20,,")
	again := officetest.NewOffice(t)
	var list []entry.File
	for name, body := range files {
		list = append(list, officetest.File(name, body))
	}
	officetest.Take(t, again, entry.Options{}, list...)
	require.Equal(t, "20 01 capex 5", classed(t, again, costs.Actual, "2026-01"))
	require.Equal(t, files["postings.csv"], officetest.Exported(t, again)["postings.csv"])
}
