package web

import (
	"html"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
)

// TestSheetsAndTrailsAreInTheProjectsCurrency, and say so, with the amounts in the
// reporting one beside; all in that where the address asks for it by name.
func TestSheetsAndTrailsAreInTheProjectsCurrency(t *testing.T) {
	files := make(map[string]string)
	paths, err := filepath.Glob("../office/officetest/testdata/example/tables/*.csv")
	require.NoError(t, err)
	require.NotEmpty(t, paths)
	for _, path := range paths {
		body, err := os.ReadFile(path)
		require.NoError(t, err)
		files[filepath.Base(path)] = string(body)
	}
	b := signedIn(t, newApp(newOffice(t, files)), office.Analyst)
	for _, c := range []struct {
		path       string
		has, hasNo []string
	}{
		{
			"/project/K2",
			[]string{"Amounts are in GBP, the project's own currency. In EUR: plan €", ">All in EUR</a>", "£ M, cumulative", "pence per pound"},
			[]string{"All in GBP", "own currency ▾"},
		},
		{
			"/project/K2?in=reporting",
			[]string{"Amounts are shown in EUR; shares, indices and dates are those of the project's own currency, GBP.", ">All in GBP</a>", "€ M, cumulative", "pence per pound"},
			[]string{"All in EUR", "per euro"},
		},
		{"/project/K1", nil, []string{"own currency.", "All in EUR"}},
		{"/trail/K2/bac", []string{"In GBP, the project's own currency; in EUR 7"}, nil},
		{"/trail/K2/bac?in=reporting", []string{"<small>EUR</small>"}, []string{"own currency; in"}},
		{"/trail/K2/cpi", []string{"Of amounts in GBP, the project's own currency. The amounts as shown in EUR would give ", " of that is currency."}, nil},
		{"/trail/K2/cpi?in=reporting", []string{"Of amounts in GBP, the project's own currency. The amounts as shown in EUR would give "}, nil},
		{"/trail/K2/finish_slip", nil, []string{"Of amounts in"}},
		{"/trail/K1/bac", nil, []string{"own currency;", "own currency."}},
		{"/board?trail=K2/bac", []string{"In GBP, the project's own currency; in EUR 7"}, nil},
	} {
		status, body, _ := b.get(c.path)
		require.Equal(t, 200, status, c.path)
		body = html.UnescapeString(body)
		for _, s := range c.has {
			require.Contains(t, body, s, c.path)
		}
		for _, s := range c.hasNo {
			require.NotContains(t, body, s, c.path)
		}
	}
}
