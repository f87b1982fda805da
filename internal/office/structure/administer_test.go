package structure_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/history"
	"turret/internal/office/officetest"
	"turret/internal/office/structure"
	"turret/internal/right"
)

// TestAdministerSome: who administers a programme says who reads and states there, and
// nothing else; others do by no door.
func TestAdministerSome(t *testing.T) {
	o, _ := officetest.BareOffice(t)
	officetest.Take(t, o, entry.Options{},
		officetest.File("programmes.csv", "programme,name,parent\nH,Harbour,\nHP,Piers,H\nS,Sheds,\n"),
		officetest.File("projects.csv", "project,name,programme,currency\nP1,Pier,HP,EUR\nS1,Shed,S,EUR\n"),
		officetest.File("rights.csv", "account,right,scope\nwarden,administer,H\nother,read,S1\n"),
		officetest.File("stating.csv", "project,account,from_period\nS1,other,2026-01\n"),
	)
	officetest.Admitted(t, o, "una", office.Administrator)
	ines := officetest.Admitted(t, o, "ines", office.Analyst)
	warden := officetest.Admitted(t, o, "warden", office.Executive)
	require.Equal(t, []string{"H"}, warden.Administers)
	require.Nil(t, warden.Sight, "to administer limits nothing that is read")

	room := structure.In(o)
	save := func(a right.Actor, table string, cells map[string]string) error {
		r, err := o.Revision(t.Context(), officetest.Ines)
		require.NoError(t, err)
		return room.SaveRecord(t.Context(), a, r, table, cells)
	}
	reads := func(scope, what string) map[string]string {
		return map[string]string{"account": "tor", "right": what, "scope": scope, "kinds": ""}
	}
	states := func(project string) map[string]string {
		return map[string]string{"account": "tor", "project": project, "from": "2026-02"}
	}
	for _, c := range []struct {
		table string
		cells map[string]string
		may   bool
	}{
		{"rights", reads("P1", "read"), true},
		{"rights", reads("HP", "approve"), true},
		{"rights", reads("H", "read"), true},
		{"rights", reads("S1", "read"), false},
		{"rights", reads("S", "read"), false},
		{"rights", reads("*", "read"), false},
		{"rights", reads("HP", "administer"), false},
		{"stating", states("P1"), true},
		{"stating", states("S1"), false},
		{"programmes", map[string]string{"programme": "HX", "name": "x", "parent": "HP"}, false},
		{"projects", map[string]string{"project": "P1", "name": "x"}, false},
	} {
		err := save(warden, c.table, c.cells)
		if c.may {
			require.NoError(t, err, "%v", c.cells)
			continue
		}
		require.ErrorAs(t, err, new(*right.Denied), "%s %v", c.table, c.cells)
	}
	list, err := room.Register(t.Context(), warden, "rights")
	require.NoError(t, err)
	require.True(t, list.May)
	require.Len(t, list.Rows, 3, "theirs alone, without who administers")
	list, err = room.Register(t.Context(), warden, "stating")
	require.NoError(t, err)
	require.Len(t, list.Rows, 1)
	limited := warden
	limited.Sight = portfolio.Sight{}
	_, err = room.Register(t.Context(), limited, "programmes")
	require.ErrorAs(t, err, new(*right.Denied))

	// An analyst gives no rights: not by form, by file, or by taking back.
	require.ErrorAs(t, save(ines, "rights", reads("P1", "approve")), new(*right.Denied))
	_, err = entry.In(o).Gather(t.Context(), ines, []entry.File{officetest.File("rights.csv", "account,right,scope\nines,approve,P1\n")}, nil, entry.Options{})
	require.ErrorAs(t, err, new(*right.Denied))
	_, err = history.In(o).Undo(t.Context(), ines, officetest.LastBatch(t, o), false)
	require.NoError(t, err, "who states is the analysts' to found, and to take back")
	given := officetest.LastBatch(t, o) - 2
	_, err = history.In(o).Undo(t.Context(), ines, given, false)
	require.ErrorAs(t, err, new(*right.Denied))
	require.ErrorContains(t, err, "administer accounts")
}
