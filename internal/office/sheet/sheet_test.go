package sheet_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/officetest"
	"turret/internal/office/sheet"
	"turret/internal/office/trail"
)

// TestSheet shows what stands beside the readings.
func TestSheet(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	s, err := sheet.In(o).
		Sheet(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-11", Vs: "2026-10"}), "K3")
	require.NoError(t, err)
	require.Equal(t, 2, s.Baseline)
	require.Len(t, s.Milestones, 3)
	require.NotEmpty(t, s.Risks)
	require.NotEmpty(t, s.History)
	require.Contains(t, s.History[len(s.History)-1].What, "activities")
	require.NotNil(t, s.Before)
	s, err = sheet.In(o).Sheet(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-11"}), "A1")
	require.NoError(t, err)
	require.Nil(t, s, "a programme has no sheet")
}

// TestSheetAgrees: tables and curves of the sheet add up to the figures, in
// both currencies, against both baselines, at every period.
func TestSheetAgrees(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	for _, ask := range []office.Ask{{At: "2026-11"}, {At: "2026-11", In: "project"}, {At: "2026-05", Against: "original"}, {At: "2026-08", In: "project", Against: "original"}} {
		m := officetest.Moment(t, o, ask)
		list, err := board.In(o).List(ctx, officetest.Operator, m, board.Order{Group: "none"})
		require.NoError(t, err)
		require.NotEmpty(t, list.Codes)
		for _, code := range list.Codes {
			s, err := sheet.In(o).Sheet(ctx, officetest.Operator, m, code)
			require.NoError(t, err)
			is := func(id figure.ID, got int64, what string) {
				if v := s.Now.Value(id); v.Known {
					require.Equal(t, v.N, got, "%s: %s of %s, %+v", what, figure.Get(id).Name, code, ask)
				}
			}
			if s.CodesWhy == "" {
				var plan, spent, order, toGo int64
				for _, c := range s.Codes {
					if c.Depth > 0 {
						continue
					}
					if !c.Reserve {
						plan += c.Plan
					}
					spent, order, toGo = spent+c.Spent, order+c.OnOrder, toGo+c.ToGo
				}
				is(figure.BAC, plan, "codes")
				is(figure.AC, spent, "codes")
				is(figure.OnOrder, order, "codes")
				if s.Forecast {
					is(figure.EACStated, spent+toGo, "codes")
				}
			}
			c := s.Curve
			if c.Plan != nil {
				is(figure.BAC, c.Plan[len(c.Plan)-1], "curve")
				is(figure.PV, c.Plan[min(c.Now, len(c.Plan)-1)], "curve")
			}
			if len(c.Earned) > 0 && c.Known[len(c.Known)-1] {
				is(figure.EV, c.Earned[len(c.Earned)-1], "curve")
			}
			if len(c.Actual) > 0 {
				is(figure.AC, c.Actual[len(c.Actual)-1], "curve")
			}
			if len(c.Stated) > 0 {
				is(figure.EACStated, c.Stated[len(c.Stated)-1], "curve")
			}
			if c.Finish > 0 {
				is(figure.EACComputed, c.Computed, "curve")
			}
			for i := 1; i < len(s.Activities); i++ {
				require.LessOrEqual(t, s.Activities[i].Depth, s.Activities[i-1].Depth+1, "a child follows its parent")
			}
			for _, x := range s.Milestones {
				if x.Raised && len(x.Stated) > 0 {
					require.Len(t, x.Stated, len(s.Dated))
				}
			}
		}
	}
}

func TestSourceRow(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	m := officetest.Moment(t, o, office.Ask{At: "2026-11"})
	tr, err := trail.In(o).Trail(ctx, officetest.Operator, m, false, "K1", figure.AC)
	require.NoError(t, err)
	looked := 0
	for _, f := range tr.Facts {
		if f.Place == "" {
			continue
		}
		x, err := trail.In(o).SourceRow(ctx, officetest.Operator, f.Source.File, f.Source.Row)
		require.NoError(t, err)
		require.Contains(t, f.Place, x.File)
		require.Contains(t, x.Head, "project")
		require.Equal(t, "K1", x.Cells[0])
		looked++
	}
	require.NotZero(t, looked)
	x, err := trail.In(o).SourceRow(ctx, officetest.Operator, 9999, 1)
	require.NoError(t, err)
	require.Nil(t, x)
	x, err = trail.In(o).SourceRow(ctx, officetest.Operator, 1, 99999)
	require.NoError(t, err)
	require.Empty(t, x.Cells)
}

// TestCodeTrails: what a cost code shows on the sheet is the sum of the rows in
// its trail, whatever the currency.
func TestCodeTrails(t *testing.T) {
	ctx := context.Background()
	o := officetest.Example(t)
	looked := 0
	for _, ask := range []office.Ask{{At: "2026-11"}, {At: "2026-06", In: "project"}} {
		m := officetest.Moment(t, o, ask)
		for _, project := range []string{"K1", "K2", "K3"} {
			s, err := sheet.In(o).Sheet(ctx, officetest.Operator, m, project)
			require.NoError(t, err)
			for _, c := range s.Codes {
				for id, want := range map[figure.ID]int64{figure.BAC: c.Plan, figure.AC: c.Spent, figure.OnOrder: c.OnOrder, figure.BeyondOrders: c.ToGo - c.OnOrder, figure.EACStated: c.Spent + c.ToGo} {
					if c.Reserve || c.Code == "" {
						continue
					}
					tr, err := trail.In(o).CodeTrail(ctx, officetest.Operator, m, false, project, id, c.Code)
					require.NoError(t, err)
					require.Equal(t, want, tr.Value.N, "%s of %s on %s, %+v", figure.Get(id).Name, project, c.Code, ask)
					var sum int64
					for _, f := range tr.Facts {
						sum += f.Value.N
					}
					if tr.Omitted == 0 {
						require.Equal(t, want, sum)
					}
					looked++
				}
			}
		}
		tr, err := trail.In(o).CodeTrail(ctx, officetest.Operator, m, false, "K1", figure.CPI, "11")
		require.NoError(t, err)
		require.Nil(t, tr, "an index is of no cost code")
	}
	require.Greater(t, looked, 40)
}
