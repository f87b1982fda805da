package gather

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func someNames() *Names {
	return NewNames([]Name{
		{Column: "project", Code: "N-100", Name: "Northgate Substation"},
		{Column: "project", Code: "0042", Name: "Ticketing Platform"},
		{Column: "project", Code: "0043", Name: "Staff Portal"},
		{Column: "project", Code: "H-210", Name: "Quay"},
		{Column: "project", Code: "H-211", Name: "Quay Wall"},
		{Column: "project", Code: "A-1", Name: "Twins"},
		{Column: "project", Code: "A1", Name: "Twins"},
		{Column: "cost_code", Code: "110", Name: "Own staff"},
		{Column: "cost_code", Code: "0110", Name: ""},
		{Column: "cost_code", Code: "120", Name: "Contractors"},
		{Column: "cost_code", Code: "210", Name: "Steel"},
	})
}

// TestFind: a code in another dress, or an exact name; where several fit, all of them.
func TestFind(t *testing.T) {
	n := someNames()
	for text, want := range map[string][]string{
		"N-100":                {"N-100"},
		"n100":                 {"N-100"},
		"N 100":                {"N-100"},
		" n_100 ":              {"N-100"},
		"42":                   {"0042"},
		"42.0":                 {"0042"},
		"00042":                {"0042"},
		"4.2":                  nil,
		"northgate substation": {"N-100"},
		"Northgate":            nil,
		"A-1":                  {"A-1"}, // the code itself
		"a 1":                  {"A-1", "A1"},
		"Twins":                {"A-1", "A1"},
		"":                     nil,
	} {
		require.Equal(t, want, n.Find("project", text), text)
	}
	require.Equal(t, []string{"110"}, n.Find("cost_code", "110"))
	require.Equal(t, []string{"110", "0110"}, n.Find("cost_code", "110.0"))
	require.Equal(t, []string{"120"}, n.Find("cost_code", "contractors"))
	require.Nil(t, n.Find("programme", "110"))
	require.Nil(t, (*Names)(nil).Find("project", "N-100"))
	require.False(t, (*Names)(nil).Known("project", "N-100"))
	require.True(t, n.Known("project", "n-100"))
	require.False(t, n.Known("project", "n100"))
	require.True(t, n.Called("project", "H-211", "quay  wall"))
	require.False(t, n.Called("project", "H-211", "Quay"))
}

// TestMentioned: the projects that a text names, the longest name of all that fit.
func TestMentioned(t *testing.T) {
	n := someNames()
	for text, want := range map[string][]string{
		"Cost report - Northgate Substation":   {"N-100"},
		"N-100 Northgate Substation":           {"N-100"},
		"n_100_forecast_2026-11":               {"N-100"},
		"Quay Wall, status":                    {"H-211"},
		"Quay, status":                         {"H-210"},
		"0043 Staff Portal":                    {"0043"},
		"Northgate Substation and Quay Wall":   {"N-100", "H-211"},
		"Northgate, a substation":              nil,
		"Forecast November 2026 (EUR)":         nil,
		"The Northgate Substations of the day": nil,
	} {
		require.Equal(t, want, n.Mentioned(text), text)
	}
}

// TestNamesInRows: projects and codes are taken by name and with lost zeros, what fits
// several or none is refused, and Turret's own tables are read to the letter.
func TestNamesInRows(t *testing.T) {
	o := options()
	o.Names = someNames()
	u := understand(t, "forecast 2026-11.csv", []byte("Project,Account,Dec 2026\nNorthgate Substation,Contractors,5\n42,120,6\nTwins,120,7\n"), o, Mapping{})[0]
	rows, _ := rowsOf(t, u, o)
	require.Equal(t, []string{
		"2: project=N-100 cost_code=120 kind=forecast period=2026-12 version=2026-11 amount=5",
		"3: project=0042 cost_code=120 kind=forecast period=2026-12 version=2026-11 amount=6",
		"4: project=Twins cost_code=120 kind=forecast period=2026-12 version=2026-11 amount=7", // the office refuses it
	}, rows)

	u = understand(t, "projects.csv", []byte("project,name\n42,Another\n"), o, Mapping{})[0]
	rows, _ = rowsOf(t, u, o)
	require.Equal(t, []string{"2: project=42 name=Another"}, rows)

	u = understand(t, "list.csv", []byte("Project No,Project title,Project manager\n42,Ticketing Platform,Eva\n43,Another,Eva\n"), o, Mapping{Table: "projects"})[0]
	rows, refused := rowsOf(t, u, o)
	require.Len(t, rows, 1)
	require.Contains(t, rows[0], "project=0042")
	require.Len(t, refused, 1)
	require.Equal(
		t,
		`"43" can be project 0043, which has another name than "Another"; write its whole code`,
		refused[0].Reason,
	)
}
