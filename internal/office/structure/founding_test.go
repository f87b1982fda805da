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
		require.Error(t, in.Found(ctx, right.Actor{Name: "X", Role: who}, 0, "Tarn", "EUR", "4", nil))
	}
	for field, typed := range map[string][2]string{"name": {"", "EUR"}, "currency": {"Tarn", "kroner"}} {
		err := in.Found(ctx, una, 0, typed[0], typed[1], "4", nil)
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
	require.NoError(t, in.Found(ctx, una, rev, " Tarn Works ", "nok", "10", nil))
	f, err := in.Founding(ctx, una)
	require.NoError(t, err)
	require.Equal(t, []any{"Tarn Works", "NOK", 10, false, true}, []any{f.Name, string(f.Reporting), f.Fiscal, f.Stated, f.May})
	require.Equal(t, []string{"office"}, steps())
	kept, err := o.Revision(ctx, una)
	require.NoError(t, err)
	require.NoError(t, in.Found(ctx, una, kept, "Tarn Works", "NOK", "10", map[string]string{"lead": "all"}))
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
	require.NoError(t, in.Found(ctx, una, rev, "Tarn", "NOK", "10", nil), "its name can change still")
	require.ErrorContains(t, in.Found(ctx, una, rev+1, "Tarn", "EUR", "10", nil), "cannot change")
	require.ErrorContains(t, in.Found(ctx, una, rev+1, "Tarn", "NOK", "1", nil), "cannot change")
}
