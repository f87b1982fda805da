package gather

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestSections: rows stand under the project that a heading names, by code or by
// name, with the heads again or without, and with totals between.
func TestSections(t *testing.T) {
	o := options()
	o.Names = someNames()
	want := []string{
		"N-100 120 2026-12 5", "N-100 110 2026-12 6", "0043 120 2026-12 7",
	}
	for name, body := range map[string]string{
		"code and name": "Forecast November 2026\nAccount,Dec 2026,Jan 2027\nN-100 Northgate Substation,,\n120,5,\n110,6,\nSubtotal,11,\n0043 Staff Portal,,\n120,7,\nSubtotal,7,\nGrand total,18,\n",
		"names alone":   "Forecast November 2026\nAccount,Dec 2026,Jan 2027\nNorthgate Substation,,\n120,5,\n110,6,\nSubtotal,11,\nStaff Portal,,\n120,7,\n",
		"labels":        "Forecast November 2026\nAccount,Dec 2026,Jan 2027\nProject:,N-100,\n120,5,\n110,6,\n,,\nProject:,Staff Portal,\n120,7,\n",
		"heads again":   "Forecast November 2026\nN-100 Northgate Substation,,\nAccount,Dec 2026,Jan 2027\n120,5,\n110,6,\nTotal,11,\n,,\nStaff Portal,,\nAccount,Dec 2026,Jan 2027\n120,7,\nTotal,7,\n",
	} {
		u := understand(t, "stack.csv", []byte(body), o, Mapping{})[0]
		require.Empty(t, u.Questions, name)
		rows, refused := rowsOf(t, u, o)
		require.Empty(t, refused, name)
		var got []string
		for _, r := range rows {
			got = append(got, fields(r, "project", "cost_code", "period", "amount"))
		}
		require.Equal(t, want, got, name)
	}
}

// TestNobodysRows: rows before the first heading, and those under one that names
// several projects or one that is not known, are refused, not taken for the project
// before; a heading of codes changes nothing.
func TestNobodysRows(t *testing.T) {
	o := options()
	o.Names = someNames()
	body := "Forecast November 2026\nAccount,Dec 2026,Jan 2027\n110,3,\nN-100,,\n120,5,\nOwn staff,,\n110,6,\nN-100 and 0043,,\n110,7,\n" +
		"0043 Staff Portal,,\n110,8,\nThe rates of N-100 rose in the spring,,\n120,10,\nX-999 Somewhere else,,\n110,9,\n"
	u := understand(t, "stack.csv", []byte(body), o, Mapping{})[0]
	require.Empty(t, u.Questions)
	rows, refused := rowsOf(t, u, o)
	var got, not []string
	for _, r := range rows {
		got = append(got, fields(r, "project", "amount"))
	}
	for _, r := range refused {
		not = append(not, fmt.Sprintf("%d %s", r.Row, r.Value))
	}
	require.Equal(t, []string{"N-100 5", "N-100 6", "0043 8", "0043 10"}, got)
	require.Equal(t, []string{"3 ", "9 N-100 and 0043", "15 X-999 Somewhere else"}, not)
}

// fields takes some values from a row as rowsOf writes it.
func fields(row string, names ...string) string {
	var out []string
	for _, n := range names {
		for _, part := range strings.Fields(row) {
			if v, ok := strings.CutPrefix(part, n+"="); ok {
				out = append(out, v)
			}
		}
	}
	return strings.Join(out, " ")
}
