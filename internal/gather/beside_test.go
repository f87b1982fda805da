package gather

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestKindsSideBySide: columns of amounts that each name a kind give a row for each;
// two of one kind are asked about.
func TestKindsSideBySide(t *testing.T) {
	body := "Project,Cost code,Month,Budget,Actual,Forecast\nQS-01,210,2026-11,5,6,\nQS-01,210,2026-12,5,,0\n"
	u := understand(t, "Cost lines November 2026.csv", []byte(body), knowing(), Mapping{})[0]
	require.Empty(t, u.Questions)
	rows, refused := rowsOf(t, u, knowing())
	require.Empty(t, refused)
	var got []string
	for _, r := range rows {
		got = append(got, fields(r, "kind", "period", "version", "amount"))
	}
	require.Equal(t, []string{
		"plan 2026-11 5", "actual 2026-11 6", "plan 2026-12 5", "forecast 2026-12 2026-11 0",
	}, got)

	u = understand(t, "Cost lines November 2026.csv", []byte("Project,Cost code,Month,Budget,Planned cost\nQS-01,210,2026-11,5,6\n"), knowing(), Mapping{})[0]
	require.Len(t, u.Questions, 1)
	require.Contains(t, u.Questions[0].Text, `"Budget" and "Planned cost" both can be amount`)
}

// TestOrderOfDays: what both orders fit is settled by the period beside it, by another
// column of days, or by the day of the week; else it is asked.
func TestOrderOfDays(t *testing.T) {
	for body, want := range map[string]string{
		"Document,Date,Period,Project,Cost code,Amount\n1,03/11/2026,2026-11,QS-01,210,5\n":                                   "2026-11-03",
		"Document,Date,Period,Project,Cost code,Amount\n1,03/11/2026,Mar 2026,QS-01,210,5\n":                                  "2026-03-11",
		"Document,Date,Period,Project,Cost code,Amount\n1,03/11/2026,2026-11,QS-01,210,5\n2,03/12/2026,2026-03,QS-01,210,5\n": "?",
		"Document,Date,Period,Project,Cost code,Amount\n1,03/11/2026,2026-08,QS-01,210,5\n":                                   "?",
		"Document,Date,Project,Cost code,Amount\n1,03/11/2026,QS-01,210,5\n":                                                  "?",
		"Document,Date,Project,Cost code,Amount\n1,Tue 03/11/2026,QS-01,210,5\n":                                              "2026-11-03",
		"Document,Date,Project,Cost code,Amount\n1,Wed 03/11/2026,QS-01,210,5\n":                                              "2026-03-11",
		"Document,Date,Project,Cost code,Amount\n1,Sun 03/11/2026,QS-01,210,5\n":                                              "?", // neither is one
	} {
		u := understand(t, "ledger.csv", []byte(body), knowing(), Mapping{})[0]
		if want == "?" {
			require.Len(t, u.Questions, 1, body)
			require.Equal(t, "forms", u.Questions[0].About)
			continue
		}
		require.Empty(t, u.Questions, body)
		rows, _ := rowsOf(t, u, knowing())
		require.Equal(t, want, fields(rows[0], "date"), body)
	}
	body := "Project,Activity,Start,Finish\nQS-01,A1,03/11/2026,27/11/2026\n"
	u := understand(t, "schedule.csv", []byte(body), knowing(), Mapping{Table: "activities"})[0]
	require.Empty(t, u.Questions)
	rows, _ := rowsOf(t, u, knowing())
	require.Equal(t, "2026-11-03 2026-11-27", fields(rows[0], "start", "finish"))
}

// TestWeekdays: whole or short, and nothing where languages differ.
func TestWeekdays(t *testing.T) {
	for text, want := range map[string]int{
		"Monday": 1, "Mo": 1, "Di": -1, "Die": 2, "mer": 3, "Do": -1, "Don": 4, "fredag": 5, "Sa": 6, "So": 7, "ma": -1, "Nov": 0, "12": 0, "x": 0,
	} {
		require.Equal(t, want, weekdayNamed(text), text)
	}
}

// TestCodesAcross: cost codes as heads, with their names or without, give a row for
// each; a table with a column of codes has none across.
func TestCodesAcross(t *testing.T) {
	o := options()
	o.Names = someNames()
	for _, head := range []string{"Project,Month,120,210,Total", "Project,Month,120 Contractors,210 Steel,Total", "Project,Month,Contractors,Steel,Total"} {
		u := understand(t, "Actual costs.csv", []byte(head+"\nN-100,2026-10,5,6,11\nN-100,2026-11,,7,7\nTotal,,5,13,18\n"), o, Mapping{})[0]
		require.Empty(t, u.Questions, head)
		rows, refused := rowsOf(t, u, o)
		require.Empty(t, refused, head)
		var got []string
		for _, r := range rows {
			got = append(got, fields(r, "cost_code", "kind", "period", "amount"))
		}
		require.Equal(t, []string{"120 actual 2026-10 5", "210 actual 2026-10 6", "210 actual 2026-11 7"}, got, head)
		for _, x := range u.Sums {
			require.True(t, x.Agrees, "%s: %+v", head, x)
		}
	}
}
