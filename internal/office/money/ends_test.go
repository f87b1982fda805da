package money_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	core "turret/internal/core/money"
	"turret/internal/office"
	"turret/internal/office/money"
	"turret/internal/office/officetest"
)

// TestEndsAreWhatTheFiguresSay: how the year ends and how long the money lasts is the same in
// the money table and in the figures, of every project and of the whole, in both currencies; a
// table of columns by quarter has the same ends.
func TestEndsAreWhatTheFiguresSay(t *testing.T) {
	o := officetest.Example(t)
	told := map[figure.ID]int{}
	for _, at := range []string{"2026-05", "2026-08", "2026-11"} {
		for _, in := range []string{"", "project"} {
			m := officetest.Moment(t, o, office.Ask{At: at, In: in})
			codes := []string{"*"}
			for _, x := range m.ProjectNames() {
				codes = append(codes, x[0])
			}
			for _, code := range codes {
				r, _ := m.Find(code)
				if r.Group && in != "" {
					continue
				}
				for _, per := range []string{"", "quarter"} {
					ask := money.Ask{Rows: "code,class", Ends: "year", Per: per}
					if !r.Group {
						ask.Project = r.Code
					}
					table := officetest.MoneyTable(t, o, m, ask)
					end := table.Ends.Of(table.Root)
					where := fmt.Sprintf("%s at %s in %q by %q", r.Code, at, in, per)
					for id, n := range map[figure.ID]int64{figure.YearOutlook: end.Outlook, figure.CarryOver: end.Carried} {
						if v := r.Value(id); v.Known {
							told[id]++
							require.Equal(t, v.N, n, "%s of %s", figure.Get(id).Name, where)
						}
					}
					v := r.Value(figure.MonthsLeft)
					require.Equal(t, v.Known, end.Why == "", "%s: %s, %s", where, v.Why, end.Why)
					if v.Known && (in != "" || r.Group) { // a project's ratios are of its own currency
						told[figure.MonthsLeft]++
						require.Zero(t, v.R.Cmp(end.Left), where)
					}
					var outlook int64
					for _, x := range table.Root.Below {
						outlook += table.Ends.Of(x).Outlook
					}
					require.Equal(t, end.Outlook, outlook, "rows add up: %s", where)
				}
			}
		}
	}
	for _, id := range []figure.ID{figure.YearOutlook, figure.CarryOver, figure.MonthsLeft} {
		require.Greater(t, told[id], 12, figure.Get(id).Name)
	}
}

// TestEndsInFiles: a file has the columns of the ends, each row's carried-over among them, and
// leaves what is not known empty.
func TestEndsInFiles(t *testing.T) {
	o := officetest.Example(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-08"})
	ask := money.Ask{Rows: "project", Ends: "year"}
	table := officetest.MoneyTable(t, o, m, ask)
	body, err := money.In(o).File(t.Context(), officetest.Operator, m, ask, "csv")
	require.NoError(t, err)
	rows, err := csv.NewReader(bytes.NewReader(body)).ReadAll()
	require.NoError(t, err)
	at := slices.Index(rows[0], "Carried over")
	require.Equal(t, []string{"Outlook " + table.Year, "Carried over", "Periods left"}, rows[0][at-1:])
	for i, x := range table.Rows {
		end := table.Ends.Of(x.Row)
		require.Equal(t, core.Format(end.Outlook, table.Currency), rows[i+1][at-1])
		require.Equal(t, core.Format(end.Carried, table.Currency), rows[i+1][at])
		require.Equal(t, end.Why != "", rows[i+1][at+1] == "", x.Name)
	}
	require.Nil(t, officetest.MoneyTable(t, o, m, money.Ask{Rows: "project"}).Ends)
}
