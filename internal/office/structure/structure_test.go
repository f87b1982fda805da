package structure_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/costs"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/money"
	"turret/internal/office/officetest"
	"turret/internal/office/structure"
	"turret/internal/right"
)

// TestStructure: codes and centres are added, moved and renamed; shares begin,
// change and end; a role reads down to its level. What cannot be is refused with
// a sentence, and nothing is written.
func TestStructure(t *testing.T) {
	ctx := context.Background()
	o := officetest.NewOffice(t)
	mark := func() int64 {
		n, err := o.Revision(ctx, officetest.Ines)
		require.NoError(t, err)
		return n
	}
	book := func() *structure.Structure {
		s, err := structure.In(o).Structure(ctx, officetest.Ines)
		require.NoError(t, err)
		return s
	}
	for _, n := range []structure.Node{{Code: "1", Name: "Works"}, {Code: "11", Name: "Piles", Parent: "1"}, {Code: "111", Name: "Steel", Parent: "11"}, {Code: "9", Name: "Rest", Reserve: "management"}} {
		require.NoError(t, structure.In(o).SaveCode(ctx, officetest.Ines, mark(), n))
	}
	require.NoError(
		t,
		structure.In(o).SaveCentre(ctx, officetest.Ines, mark(), structure.Node{Code: "N", Name: "North"}),
	)
	require.NoError(
		t,
		structure.In(o).SaveCentre(ctx, officetest.Ines, mark(), structure.Node{Code: "A", Name: "Ayr", Parent: "N"}),
	)
	require.Equal(
		t,
		[]structure.Node{
			{Code: "1", Name: "Works", Reserve: "none", Below: 1},
			{Code: "11", Name: "Piles", Parent: "1", Reserve: "none", Depth: 1, Below: 1},
			{Code: "111", Name: "Steel", Parent: "11", Reserve: "none", Depth: 2},
			{Code: "9", Name: "Rest", Reserve: "management"},
		},
		book().Codes,
	)
	require.Equal(
		t,
		[]structure.Node{{Code: "N", Name: "North", Below: 1}, {Code: "A", Name: "Ayr", Parent: "N", Depth: 1}},
		book().Centres,
	)

	for says, err := range map[string]error{
		"loop of parents: 1 → 111 → 11 → 1": structure.In(o).SaveCode(ctx, officetest.Ines, mark(), structure.Node{Code: "1", Name: "Works", Parent: "111"}),
		"write the code":                    structure.In(o).SaveCode(ctx, officetest.Ines, mark(), structure.Node{Name: "Nothing"}),
		`parent "Z" is not known`:           structure.In(o).SaveCentre(ctx, officetest.Ines, mark(), structure.Node{Code: "B", Parent: "Z"}),
		"loop of parents: N → A → N":        structure.In(o).SaveCentre(ctx, officetest.Ines, mark(), structure.Node{Code: "N", Parent: "A"}),
		"changed the cost code 1 meanwhile": structure.In(o).SaveCode(ctx, officetest.Ines, 0, structure.Node{Code: "1", Name: "Else"}),
		"may not gather":                    structure.In(o).SaveCode(ctx, officetest.Tor, mark(), structure.Node{Code: "2"}),
		`"x" is no level`:                   structure.In(o).SaveLevels(ctx, officetest.Ines, mark(), map[right.Role]string{right.Executive: "x"}),
	} {
		require.ErrorContains(t, err, says)
	}
	require.Len(t, book().Codes, 4)
	require.NoError(
		t,
		structure.In(o).SaveCode(ctx, officetest.Ines, mark(), structure.Node{Code: "11", Name: "Deep piles"}),
	)
	require.Equal(
		t,
		structure.Node{Code: "11", Name: "Deep piles", Reserve: "none", Below: 1},
		book().Codes[1],
		"moved to the top with what is below it",
	)
	require.NoError(
		t,
		structure.In(o).SaveCode(ctx, officetest.Ines, mark(), structure.Node{Code: "11", Name: "Piles", Parent: "1"}),
	)

	require.Empty(t, officetest.Take(
		t,
		o,
		entry.Options{},
		officetest.File("projects.csv", "project,name\nP,Pier\n"),
		officetest.File(
			"costs.csv",
			"project,cost_code,kind,period,amount\nP,111,actual,2026-04,100\nP,111,actual,2026-05,10\nP,111,actual,2026-06,1\n",
		),
	).Refusals)
	share := func(code, from, text string) error {
		return structure.In(o).SaveShares(ctx, officetest.Ines, mark(), "P", code, from, text)
	}
	for says, err := range map[string]error{
		"add up to 90%":          share("", "2026-04", "A 60\nN 30"),
		"needs a cost centre":    share("", "2026-04", "60"),
		"A is there twice":       share("", "2026-04", "A 60\nA 40"),
		"choose an open period":  share("", "soon", "A 100"),
		"nothing is shared yet":  share("", "2026-04", " \n"),
		"Percent":                share("", "2026-04", "A sixty"),
		`there is no project "X`: structure.In(o).SaveShares(ctx, officetest.Ines, mark(), "X", "", "2026-04", "A 100"),
	} {
		require.ErrorContains(t, err, says)
	}
	require.NoError(t, share("", "2026-04", "A 60 %\nFar isles 40"))
	require.NoError(t, share("11", "2026-05", "A 100"))
	require.NoError(t, share("11", "2026-06", ""))
	require.NoError(t, share("", "2026-06", "N 100"))
	require.NoError(t, share("", "2026-06", "A 50\nN 50"), "the same set again, others")
	by := func(a right.Actor, ask money.Ask) map[string][]int64 {
		table, err := money.In(o).Table(ctx, a, officetest.Moment(t, o, office.Ask{At: "2026-06"}), ask)
		require.NoError(t, err)
		out := make(map[string][]int64)
		for _, r := range table.Rows {
			for i := range 3 {
				n, _ := table.Value(r.Row, 0, costs.Booked, i)
				out[money.RowKey(r.Row)] = append(out[money.RowKey(r.Row)], n)
			}
		}
		return out
	}
	require.Equal(
		t,
		map[string][]int64{"N": {60_00, 10_00, 1_00}, "N~A": {60_00, 10_00, 50}, "Far+isles": {40_00, 0, 0}},
		by(officetest.Ines, money.Ask{Project: "P", Rows: "centre", Show: "actual", Unfolded: "5"}),
	)
	require.Len(t, book().Shares, 4)

	require.NoError(
		t,
		structure.In(o).
			SaveLevels(ctx, officetest.Ines, mark(), map[right.Role]string{right.Executive: "1", right.Lead: "2"}),
	)
	keys := func(a right.Actor, level string) (out []string) {
		for k := range by(a, money.Ask{Project: "P", Rows: "code", Show: "actual", Level: level, Unfolded: "9"}) {
			out = append(out, k)
		}
		return out
	}
	require.ElementsMatch(t, []string{"1"}, keys(officetest.Tor, ""))
	require.ElementsMatch(t, []string{"1", "1~11", "1~11~111"}, keys(officetest.Tor, "all"))
	require.ElementsMatch(t, []string{"1", "1~11"}, keys(right.Actor{Name: "Ada", Role: right.Lead}, ""))
	require.ElementsMatch(t, []string{"1", "1~11", "1~11~111"}, keys(officetest.Ines, ""))
	require.NoError(t, structure.In(o).SaveLevels(ctx, officetest.Ines, mark(), nil))
	require.Len(t, keys(officetest.Tor, ""), 3)
}
