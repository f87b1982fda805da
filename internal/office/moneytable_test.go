package office_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/costs"
	"turret/internal/core/figure"
	"turret/internal/office"
)

func moneyTable(t testing.TB, o *office.Office, m *office.Moment, ask office.MoneyAsk) *office.MoneyTable {
	t.Helper()
	table, err := o.MoneyTable(context.Background(), operator, m, ask)
	require.NoError(t, err)
	return table
}

// TestMoneyIsWhatTheFiguresSay: what the table sums to date and at completion is
// what the readings say of every project and group, in both currencies and
// against both baselines.
func TestMoneyIsWhatTheFiguresSay(t *testing.T) {
	o := example(t)
	for _, at := range []string{"2026-05", "2026-08", "2026-11"} {
		for _, against := range []string{"", "original"} {
			for _, in := range []string{"", "project"} {
				m := moment(t, o, office.Ask{At: at, Against: against, In: in})
				codes := []string{"*"}
				for _, x := range m.Programmes() {
					codes = append(codes, x.Code)
				}
				for _, x := range m.ProjectNames() {
					codes = append(codes, x[0])
				}
				for _, code := range codes {
					r, _ := m.Find(code)
					if r.Group && in != "" {
						continue
					}
					ask := office.MoneyAsk{Per: "completion", Rows: "code,class", Show: "plan,spent,running,commitment"}
					scoped := m
					if r.Group {
						scoped = moment(t, o, office.Ask{At: at, Against: against, Scope: r.Code})
					} else {
						ask.Project = r.Code
					}
					table := moneyTable(t, o, scoped, ask)
					for _, c := range []struct {
						id      figure.ID
						measure costs.Measure
						column  int
					}{{figure.BAC, costs.Planned, 2}, {figure.PV, costs.Planned, 0}, {figure.AC, costs.Spent, 0}, {figure.EACStated, costs.Running, 2}, {figure.OnOrder, costs.OnOrder, 2}} {
						v := r.Value(c.id)
						if !v.Known || r.Group && c.id == figure.EACStated && len(table.Unstated) > 0 {
							continue // a group counts the computed outlook of those that state none
						}
						n, ok := table.Value(table.Root, 0, c.measure, c.column)
						require.True(t, ok)
						require.Equal(t, v.N, n, "%s of %s at %s against %q in %q", figure.Get(c.id).Name, r.Code, at, against, in)
					}
				}
			}
		}
	}
}
