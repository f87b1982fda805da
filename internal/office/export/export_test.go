package export_test

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/office/officetest"
	"turret/internal/record"
)

// TestExport: a directory and a zip hold the same files, a table each and what
// describes them; gathered into an office of its own they read the same, and nothing
// half-written is left beside them.
func TestExport(t *testing.T) {
	o := officetest.Example(t)
	at := t.TempDir()
	dir, packed := filepath.Join(at, "all"), filepath.Join(at, "all.zip")
	require.NoError(t, export.In(o).Export(t.Context(), officetest.Operator, dir))
	require.NoError(t, export.In(o).Export(t.Context(), officetest.Operator, packed))
	left, err := filepath.Glob(filepath.Join(at, "*.part"))
	require.NoError(t, err)
	require.Empty(t, left)

	z, err := zip.OpenReader(packed)
	require.NoError(t, err)
	defer z.Close()
	names := map[string]bool{}
	for _, f := range z.File {
		names[f.Name] = true
		r, err := f.Open()
		require.NoError(t, err)
		var b bytes.Buffer
		_, err = b.ReadFrom(r)
		require.NoError(t, err)
		want, err := os.ReadFile(filepath.Join(dir, f.Name))
		require.NoError(t, err)
		require.Equal(t, string(want), b.String(), f.Name)
	}
	require.True(t, names["projects.csv"] && names["datapackage.json"], names)
	var pack struct {
		Resources []struct {
			Path   string
			Schema struct{ Fields []struct{ Name string } }
		}
	}
	described, err := os.ReadFile(filepath.Join(dir, "datapackage.json"))
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(described, &pack))
	require.Len(t, pack.Resources, len(names)-1)
	for _, r := range pack.Resources {
		body, err := os.ReadFile(filepath.Join(dir, r.Path))
		require.NoError(t, err)
		head, err := csv.NewReader(bytes.NewReader(body)).Read()
		require.NoError(t, err)
		var fields []string
		for _, f := range r.Schema.Fields {
			fields = append(fields, f.Name)
		}
		require.Equal(t, head, fields, r.Path)
	}

	other := officetest.NewOffice(t)
	require.Empty(t, officetest.GatherPaths(t, other, entry.Options{}, dir).Refusals)
	for _, against := range []portfolio.Against{portfolio.Latest, portfolio.Original} {
		require.Equal(t, officetest.Readings(t, o, "2026-11", against, true), officetest.Readings(t, other, "2026-11", against, true))
	}
	require.Error(t, export.In(o).Export(t.Context(), officetest.Operator, packed), "nothing is written over")
	require.Error(t, export.In(o).Export(t.Context(), officetest.Operator, filepath.Join(at, "none", "all.zip")))
}

// TestReadingsAsFiles: JSON, CSV and a table say the same figures; a scope is a
// programme with all below it, or one project.
func TestReadingsAsFiles(t *testing.T) {
	o := officetest.Example(t)
	p, err := o.ParsePeriod(t.Context(), officetest.Operator, "2026-11")
	require.NoError(t, err)
	rows, err := export.In(o).Readings(t.Context(), officetest.Operator, export.Query{Period: p, Reporting: true})
	require.NoError(t, err)
	var j, c, text bytes.Buffer
	require.NoError(t, export.In(o).WriteJSON(t.Context(), &j, "2026-11", rows))
	require.NoError(t, export.In(o).WriteCSV(t.Context(), &c, "2026-11", rows))
	require.NoError(t, export.In(o).WriteTable(t.Context(), &text, "2026-11", rows))
	list := officetest.Decode(t, j.Bytes())
	lines, err := csv.NewReader(&c).ReadAll()
	require.NoError(t, err)
	require.Len(t, lines, len(list)+1)
	require.Equal(t, len(list)+1, strings.Count(text.String(), "\n"))
	at := map[string]int{}
	for i, name := range lines[0] {
		at[name] = i
	}
	for i, x := range list {
		require.Equal(t, x["code"], lines[i+1][at["code"]])
		require.Equal(t, x["kind"], lines[i+1][at["kind"]])
		require.Contains(t, text.String(), x["code"].(string))
	}

	var groups, projects int
	for _, r := range rows {
		if r.Group {
			groups++
		} else {
			projects++
		}
	}
	require.Positive(t, groups)
	for _, r := range rows {
		some, err := export.In(o).Readings(t.Context(), officetest.Operator, export.Query{Period: p, Scope: r.Code})
		require.NoError(t, err)
		switch {
		case r.Code == "*":
			require.Len(t, some, len(rows))
		case r.Group:
			require.Less(t, len(some), len(rows))
			require.NotEmpty(t, some)
		default:
			require.Len(t, some, 1)
		}
	}
	_, err = export.In(o).Readings(t.Context(), officetest.Operator, export.Query{Period: p, Scope: "none"})
	require.ErrorIs(t, err, office.ErrUnknownScope)
}

// TestTemplate: every table that people send, with an example that is taken whole.
func TestTemplate(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "template")
	require.NoError(t, export.Template(officetest.Operator, dir))
	for _, k := range record.Kinds() {
		_, err := os.Stat(filepath.Join(dir, "empty", k.Name+".csv"))
		require.NoError(t, err, k.Name)
	}
	require.Empty(t, officetest.GatherPaths(t, officetest.NewOffice(t), entry.Options{}, filepath.Join(dir, "example")).Refusals)
	require.Error(t, export.Template(officetest.Operator, dir), "nothing is written over")
}

// TestNoCellIsRun: of texts that a spreadsheet would run none begins a cell, numbers keep
// their sign, and what is gathered again is what there was.
func TestNoCellIsRun(t *testing.T) {
	o := officetest.NewOffice(t)
	officetest.GatherMap(t, o, map[string]string{
		"cost_codes.csv": "cost_code,name\n10,Labour\n",
		"projects.csv":   "project,name,lead,currency,note\n'=P,'+Pier,''=Ada,EUR,'@sum(A1)\nQ,'quoted',-,EUR,plain\n",
		"narratives.csv": "project,period,text\n'=P,2026-01,\"'-5 % of it, 'he said'\"\n",
		"costs.csv":      "project,cost_code,kind,period,amount\n'=P,10,actual,2026-01,-12.50\n",
	})
	first, second := filepath.Join(t.TempDir(), "first"), filepath.Join(t.TempDir(), "second")
	require.NoError(t, export.In(o).Export(t.Context(), officetest.Operator, first))
	projects, err := os.ReadFile(filepath.Join(first, "projects.csv"))
	require.NoError(t, err)
	for _, cell := range []string{"'=P", "'+Pier", "''=Ada", "'@sum(A1)", "'quoted'"} {
		require.Contains(t, string(projects), cell)
	}
	amounts := 0
	files, err := filepath.Glob(filepath.Join(first, "*.csv"))
	require.NoError(t, err)
	again := map[string]string{}
	for _, path := range files {
		body, err := os.ReadFile(path)
		require.NoError(t, err)
		again[filepath.Base(path)] = string(body)
		rows, err := csv.NewReader(bytes.NewReader(body)).ReadAll()
		require.NoError(t, err)
		for _, row := range rows {
			for i, cell := range row {
				switch {
				case cell == "" || cell == "-":
				case rows[0][i] == "amount" && strings.HasPrefix(cell, "-"):
					amounts++
				default:
					require.NotContains(t, "=+-@", cell[:1], "%s: %q", path, cell)
				}
			}
		}
	}
	require.Equal(t, 1, amounts)
	p := officetest.NewOffice(t)
	officetest.GatherMap(t, p, again)
	require.NoError(t, export.In(p).Export(t.Context(), officetest.Operator, second))
	for name, body := range again {
		got, err := os.ReadFile(filepath.Join(second, name))
		require.NoError(t, err)
		require.Equal(t, body, string(got), name)
	}
}
