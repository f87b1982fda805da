package closing_test

import (
	"context"
	"maps"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
	"turret/internal/right"
	"turret/internal/tell"
)

// TestCloseOver: open points are told; each takes a reason, which the cut keeps.
func TestCloseOver(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File(
			"postings.csv",
			"posting,date,period,project,cost_code,amount\nX1,2026-02-20,2026-02,K1,7990,5.00\n",
		),
	)
	m := officetest.February(t, o)
	c, err := closing.In(o).Closing(ctx, officetest.Operator, m)
	require.NoError(t, err)
	kinds := make(map[string]closing.Point)
	for _, p := range c.Points {
		kinds[p.Kind] = p
	}
	require.Equal(t, []string{"cost code 7990"}, kinds[closing.RefusedRows].Names)
	require.Equal(t, []string{"K1"}, kinds[closing.OpenErrors].Names)
	require.Contains(t, kinds, closing.Unanswered)
	require.Len(t, c.Holds.Hash, 64)
	require.Equal(t, 2, c.Holds.Projects)
	require.Positive(t, c.Holds.Findings)

	reasons := map[string]string{}
	for i, p := range c.Points { // one reason after the other
		_, err := closing.In(o).CloseOver(ctx, officetest.Operator, officetest.February(t, o), "2026-02", reasons)
		require.ErrorIs(t, err, office.ErrRefused, i)
		require.ErrorContains(t, err, "say why the period closes over it")
		reasons[p.Kind] = "reason " + p.Kind
	}
	reasons[closing.OpenErrors] = "  "
	_, err = closing.In(o).CloseOver(ctx, officetest.Operator, officetest.February(t, o), "2026-02", reasons)
	require.ErrorContains(t, err, "Errors:", "blanks are no reason")
	reasons[closing.OpenErrors] = "the yard will credit it"
	sum, err := closing.In(o).CloseOver(ctx, officetest.Operator, officetest.February(t, o), "2026-02", reasons)
	require.NoError(t, err)
	require.Equal(t, c.Holds.Hash, sum.Hash, "what was told is what was made")
	cuts, err := closing.In(o).Cuts(ctx, officetest.Operator, officetest.February(t, o))
	require.NoError(t, err)
	require.Equal(t, [3]any{"2026-02", true, false}, [3]any{cuts[0].Period, cuts[0].InForce, cuts[0].Hand})
	require.Len(t, cuts[0].Over, len(c.Points))
	require.Contains(
		t,
		cuts[0].Over,
		closing.Over{Kind: closing.OpenErrors, Point: "1 project has errors open", Reason: "the yard will credit it"},
	)
	c, err = closing.In(o).Closing(ctx, officetest.Operator, officetest.February(t, o))
	require.NoError(t, err)
	require.Equal(t, "Feb 2026 is closed.", c.Why)
	c, err = closing.In(o).Closing(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-04", Own: true}))
	require.NoError(t, err)
	require.Contains(t, c.Why, "lies ahead")
}

// TestReasonsComeBack: what a period was closed over stands in the form again once it is
// open again; not while it is closed.
func TestReasonsComeBack(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	read := func() *closing.Closing {
		c, err := closing.In(o).Closing(ctx, officetest.Operator, officetest.February(t, o))
		require.NoError(t, err)
		return c
	}
	require.Empty(t, read().Said, "it was never closed")
	reasons := make(map[string]string)
	for _, p := range read().Points {
		reasons[p.Kind] = "because of " + p.Kind
	}
	require.Greater(t, len(reasons), 1)
	_, err := closing.In(o).CloseOver(ctx, officetest.Operator, officetest.February(t, o), "2026-02", reasons)
	require.NoError(t, err)
	require.Empty(t, read().Said)
	require.NoError(t, closing.In(o).ReopenCode(ctx, officetest.Operator, "2026-02", "an invoice"))
	require.Equal(t, reasons, read().Said)
}

// TestCloseFor: all that is open is told at once; reasons count for their kind alone.
func TestCloseFor(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	c, err := closing.In(o).Closing(ctx, officetest.Operator, officetest.February(t, o))
	require.NoError(t, err)
	_, err = closing.In(o).CloseFor(ctx, officetest.Operator, "2026-02", nil)
	require.ErrorIs(t, err, office.ErrRefused)
	require.ErrorContains(t, err, tell.Plural(len(c.Points), "point is open", "points are open"))
	reasons := make(map[string]string)
	for _, p := range c.Points {
		require.ErrorContains(t, err, p.Kind+": "+p.String())
		reasons[p.Kind] = "known"
	}
	require.ErrorContains(t, err, "errors: 1 project has errors open (K1)")
	require.NotContains(t, reasons, closing.RefusedRows)
	for kind, says := range map[string]string{"weather": `no kind of open point "weather"`, closing.RefusedRows: `nothing is open of "refused"`} {
		more := maps.Clone(reasons)
		more[kind] = "it rains"
		_, err = closing.In(o).CloseFor(ctx, officetest.Operator, "2026-02", more)
		require.ErrorContains(t, err, says)
	}
	_, err = closing.In(o).CloseFor(ctx, right.Actor{Role: right.Lead}, "2026-02", reasons)
	require.Error(t, err)
	_, err = closing.In(o).CloseFor(ctx, officetest.Operator, "2026-02", reasons)
	require.NoError(t, err)
	cuts, err := closing.In(o).Cuts(ctx, officetest.Operator, officetest.February(t, o))
	require.NoError(t, err)
	require.Len(t, cuts[0].Over, len(c.Points))
}

// TestCompareCuts: reopened, changed and closed again, the two cuts differ
// figure by figure and input by input; a cut equals itself.
func TestCompareCuts(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-02")
	require.NoError(t, err)
	closeIt := func() int64 {
		t.Helper()
		_, err := closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
		require.NoError(t, err)
		cuts, err := closing.In(o).Cuts(ctx, officetest.Operator, officetest.February(t, o))
		require.NoError(t, err)
		return cuts[0].ID
	}
	first := closeIt()
	refused := officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("costs.csv", "project,cost_code,kind,period,amount\nK2,10,actual,2026-02,12.50\n"),
	)
	require.Contains(t, refused.Refusals[0].Reason, "is closed", "a late file")
	require.NoError(t, closing.In(o).ReopenPeriod(ctx, officetest.Operator, p, "late invoice of the yard"))
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("costs.csv", "project,cost_code,kind,period,amount\nK2,10,actual,2026-02,12.50\n"),
		officetest.File(
			"progress.csv",
			"project,activity,period,percent\nK1,A,2026-02,55\n",
		),
		officetest.File("projects.csv", "project,name\nK2,South quay renamed\n"),
	)
	second := closeIt()

	d, err := closing.In(o).CompareCuts(ctx, officetest.Operator, officetest.February(t, o), first, second)
	require.NoError(t, err)
	require.False(t, d.SameHash)
	require.Equal(t, "late invoice of the yard", d.A.Reopened)
	changes := make(map[string]closing.CutChange)
	for _, c := range d.Changes {
		changes[c.Code] = c
	}
	require.Contains(t, changes["K2"].Figures, figure.AC)
	require.Equal(t, int64(1250), changes["K2"].Is.Value(figure.AC).N-changes["K2"].Was.Value(figure.AC).N)
	require.Equal(
		t,
		int64(1250),
		changes["*"].Is.Value(figure.AC).N-changes["*"].Was.Value(figure.AC).N,
		"the whole moves with its parts",
	)
	require.Contains(t, changes["K1"].Figures, figure.EV)
	require.Equal(t, 1, changes["K1"].Settled, "progress went back no more")
	inputs := make(map[string][2]string)
	for _, x := range d.Inputs {
		inputs[x.Project+" "+x.Table+" "+x.Row()+" "+x.Column] = [2]string{x.Was, x.Is}
	}
	require.Equal(t, map[string][2]string{
		"K2 costs 10, 2026-02, actual amount":   {"", "12.50 EUR"},
		"K1 progress A, stated 2026-02 percent": {"35", "55"},
		"K2 projects  name":                     {"South quay", "South quay renamed"},
	}, inputs)

	same, err := closing.In(o).CompareCuts(ctx, officetest.Operator, officetest.February(t, o), second, second)
	require.NoError(t, err)
	require.True(t, same.SameHash)
	require.Empty(t, same.Changes)
	require.Empty(t, same.Inputs)
	now, err := closing.In(o).CompareCuts(ctx, officetest.Operator, officetest.February(t, o), first, 0)
	require.NoError(t, err)
	require.Equal(t, len(d.Inputs), len(now.Inputs), "now is as the second cut")
	_, err = closing.In(o).CompareCuts(ctx, officetest.Operator, officetest.February(t, o), 999, 0)
	require.ErrorContains(t, err, "There is no cut 999")
	scoped, err := closing.In(o).
		CompareCuts(ctx, officetest.Operator, officetest.Moment(t, o, office.Ask{At: "2026-02", Scope: "Q"}), first, second)
	require.NoError(t, err)
	require.Less(t, len(scoped.Inputs), len(d.Inputs)+1)
}

// TestCutByHand: with a name, at any time; it does not close anything, and
// answers for itself.
func TestCutByHand(t *testing.T) {
	ctx := context.Background()
	o := officetest.CheckedOffice(t)
	require.ErrorContains(
		t,
		closing.In(o).MakeCut(ctx, officetest.Operator, officetest.February(t, o), " "),
		"needs a name",
	)
	require.NoError(t, closing.In(o).MakeCut(ctx, officetest.Operator, officetest.February(t, o), "Before the board"))
	m := officetest.February(t, o)
	require.False(t, m.Period.Closed)
	cuts, err := closing.In(o).Cuts(ctx, officetest.Operator, m)
	require.NoError(t, err)
	require.Equal(t, [3]any{"Before the board", true, false}, [3]any{cuts[0].Name, cuts[0].Hand, cuts[0].InForce})
	officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("progress.csv", "project,activity,period,percent\nK1,A,2026-02,60\n"),
	)
	d, err := closing.In(o).CompareCuts(ctx, officetest.Operator, officetest.February(t, o), cuts[0].ID, 0)
	require.NoError(t, err)
	require.Len(t, d.Inputs, 1)
	p, err := o.ParsePeriod(ctx, officetest.Operator, "2026-02")
	require.NoError(t, err)
	_, err = closing.In(o).ClosePeriod(ctx, officetest.Operator, p)
	require.NoError(t, err)
	require.NoError(t, closing.In(o).MakeCut(ctx, officetest.Operator, officetest.February(t, o), "After it"))
	before := officetest.ReadingOf(officetest.February(t, o), "K1").Value(figure.EV)
	require.True(t, before.Known)
	cuts, err = closing.In(o).Cuts(ctx, officetest.Operator, officetest.February(t, o))
	require.NoError(t, err)
	require.True(t, cuts[1].InForce, "the close's cut answers for the period")
	require.NoError(t, closing.In(o).ReopenPeriod(ctx, officetest.Operator, p, "again"))
	cuts, err = closing.In(o).Cuts(ctx, officetest.Operator, officetest.February(t, o))
	require.NoError(t, err)
	require.Empty(t, cuts[0].Reopened, "one made by hand is not reopened")
	require.Equal(t, [2]string{"again", officetest.Operator.Name}, [2]string{cuts[1].Reopened, cuts[1].By})
}
