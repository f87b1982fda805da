package brief

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// TestCSV: a file per table, readable as it was, the same bytes each time.
func TestCSV(t *testing.T) {
	tables := []Table{
		{Name: "Projects", Columns: []Column{{Head: "Code"}, {Head: "Plan"}}, Rows: [][]Cell{
			{{Text: "=A1"}, {Type: Money, Number: "12.50"}}, {{Text: "comma, \"quoted\"\nline"}, {Type: Money}}, {{Text: "short"}},
		}},
		{Name: "What/moved", Columns: []Column{{Head: "Day"}}, Rows: [][]Cell{{{Type: Day, Number: "2026-01-31"}}}},
	}
	made := time.Date(2026, 2, 3, 4, 5, 6, 0, time.UTC)
	guard := func(s string) string {
		if s != "" && s[0] == '=' {
			return "'" + s
		}
		return s
	}
	body, err := CSV(made, tables, guard)
	require.NoError(t, err)
	again, err := CSV(made, tables, guard)
	require.NoError(t, err)
	require.Equal(t, body, again)
	z, err := zip.NewReader(bytes.NewReader(body), int64(len(body)))
	require.NoError(t, err)
	read := func(i int) [][]string {
		f, err := z.File[i].Open()
		require.NoError(t, err)
		rows, err := csv.NewReader(f).ReadAll()
		require.NoError(t, err)
		return rows
	}
	require.Equal(t, []string{"01 Projects.csv", "02 What moved.csv"}, []string{z.File[0].Name, z.File[1].Name})
	require.Equal(t, [][]string{{"Code", "Plan"}, {"'=A1", "12.50"}, {"comma, \"quoted\"\nline", ""}, {"short", ""}}, read(0))
	require.Equal(t, [][]string{{"Day"}, {"2026-01-31"}}, read(1))
}
