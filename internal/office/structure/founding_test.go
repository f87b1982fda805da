package structure_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
	"turret/internal/office/structure"
	"turret/internal/right"
)

// TestAnOfficeBegins: what it is called, reports in and begins its fiscal years with is
// typed, by those who may, until something is stated.
func TestAnOfficeBegins(t *testing.T) {
	o, _ := officetest.BareOffice(t)
	in, ctx := structure.In(o), t.Context()
	una := right.Actor{Name: "Una", Role: right.Administrator, Account: 9}
	for _, who := range []right.Role{right.Lead, right.Executive} {
		require.Error(t, in.Found(ctx, right.Actor{Name: "X", Role: who}, 0, structure.Typed{Name: "Tarn", Currency: "EUR", Month: "4"}))
	}
	for field, typed := range map[string][2]string{"name": {"", "EUR"}, "currency": {"Tarn", "kroner"}} {
		err := in.Found(ctx, una, 0, structure.Typed{Name: typed[0], Currency: typed[1], Month: "4"})
		var bad *office.Misfit
		require.ErrorAs(t, err, &bad)
		require.Equal(t, field, bad.Column)
	}
	steps := func() (done []string) {
		f, err := in.Founding(ctx, una)
		require.NoError(t, err)
		for _, s := range f.Steps {
			if s.Done {
				done = append(done, s.What)
			}
		}
		return done
	}
	rev, err := o.Revision(ctx, una)
	require.NoError(t, err)
	require.NoError(t, in.Found(ctx, una, rev, structure.Typed{Name: " Tarn Works ", Currency: "nok", Month: "10"}))
	f, err := in.Founding(ctx, una)
	require.NoError(t, err)
	require.Equal(t, []any{"Tarn Works", "NOK", 10, false, true}, []any{f.Name, string(f.Reporting), f.Fiscal, f.Stated, f.May})
	require.Equal(t, []string{"office"}, steps())
	kept, err := o.Revision(ctx, una)
	require.NoError(t, err)
	require.NoError(t, in.Found(ctx, una, kept, structure.Typed{Name: "Tarn Works", Currency: "NOK", Month: "10", Reads: map[string]string{"lead": "all"}}))
	same, err := o.Revision(ctx, una)
	require.NoError(t, err)
	require.Equal(t, kept, same, "what stays as it is says nothing")
	f, err = in.Founding(ctx, right.Actor{Name: "X", Role: right.Lead})
	require.NoError(t, err)
	require.False(t, f.May)

	officetest.Take(t, o, entry.Options{},
		officetest.File("programmes.csv", "programme,name\nG,Group\n"), officetest.File("cost_codes.csv", "cost_code,name\n10,Works\n"),
		officetest.File("projects.csv", "project,name,programme\nA,Alpha,G\n"),
		officetest.File("costs.csv", "project,cost_code,kind,period,version,amount\nA,10,plan,2026-01,1,100.00\n"))
	require.Equal(t, []string{"office", "codes", "programmes", "projects", "statements"}, steps())
	rev, err = o.Revision(ctx, una)
	require.NoError(t, err)
	require.NoError(t, in.Found(ctx, una, rev, structure.Typed{Name: "Tarn", Currency: "NOK", Month: "10"}), "its name can change still")
	require.ErrorContains(t, in.Found(ctx, una, rev+1, structure.Typed{Name: "Tarn", Currency: "EUR", Month: "10"}), "cannot change")
	require.ErrorContains(t, in.Found(ctx, una, rev+1, structure.Typed{Name: "Tarn", Currency: "NOK", Month: "1"}), "cannot change")
}

// TestRateOfPresentValues: it is set, stays while others change, is refused where it is none, and
// taken away again.
func TestRateOfPresentValues(t *testing.T) {
	o := officetest.NewOffice(t)
	in := structure.In(o)
	typed := structure.Typed{Name: "Tarn", Currency: "EUR", Month: "4", Rate: "3.5%"}
	found := func(rate string) error {
		typed.Rate = rate
		seen, err := o.Revision(t.Context(), officetest.Operator)
		require.NoError(t, err)
		return in.Found(t.Context(), officetest.Operator, seen, typed)
	}
	rate := func() string {
		f, err := in.Founding(t.Context(), officetest.Operator)
		require.NoError(t, err)
		return f.Rate
	}
	require.Empty(t, rate())
	require.NoError(t, found("3.5%"))
	require.Equal(t, "3.5", rate())
	for _, wrong := range []string{"much", "-1", "101"} {
		require.Error(t, found(wrong), wrong)
	}
	require.NoError(t, found("0"))
	require.Equal(t, "0", rate())
	require.NoError(t, found(""))
	require.Empty(t, rate())
}
