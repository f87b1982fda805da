package main

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

// withExample makes a database with the example's projects, and gives its path
// and a way to write files beside it.
func withExample(t *testing.T) (db string, write func(name, body string) string) {
	t.Helper()
	dir := t.TempDir()
	db = filepath.Join(dir, "a.db")
	for _, args := range [][]string{{"template", filepath.Join(dir, "t")}, {"init", "--db", db}, {"gather", "--db", db, filepath.Join(dir, "t", "example")}} {
		code, _, errs := cli(args...)
		require.Equal(t, done, code, errs)
	}
	return db, func(name, body string) string {
		path := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(path, []byte(body), 0o600))
		return path
	}
}

// TestUntidyFilesAreAskedAbout: what two readings fit is refused until a flag
// says which; the dry run tells how it was understood, as the screen does.
func TestUntidyFilesAreAskedAbout(t *testing.T) {
	db, write := withExample(t)
	code, out, errs := cli("readings", "--db", db, "--period", "2026-10", "--scope", "EX-1", "--json")
	require.Equal(t, done, code, errs)
	var rows []map[string]any
	require.NoError(t, json.Unmarshal([]byte(out), &rows))
	before := rows[0]["ac"]

	print := write("print.txt", "Beleg;Datum;Projekt;Konto;Betrag\nZ1;05/10/2026;EX-1;LAB;1.250\nSumme;;;;1.250\n")
	code, _, errs = cli("gather", "--db", db, print)
	require.Equal(t, refusals, code)
	require.Contains(t, errs, `"05/10/2026" in row 2 can be 5 Oct 2026 or 10 May 2026`)
	require.Contains(t, errs, `"1.250" in row 2 can be read with a decimal point or a decimal comma`)
	require.Contains(t, errs, "to tell how they are read: --dates day-first or month-first; --decimal point or comma")
	code, out, _ = cli("gather", "--db", db, "--dry-run", "--json", print)
	require.Equal(t, refusals, code)
	var told struct {
		Written bool
		Sheets  []struct {
			Table     string
			Questions []struct{ About, Text string }
			Columns   []struct{ Head, As string }
		}
	}
	require.NoError(t, json.Unmarshal([]byte(out), &told), out)
	require.False(t, told.Written)
	require.Len(t, told.Sheets, 1)
	require.Equal(t, "postings", told.Sheets[0].Table)
	require.Len(t, told.Sheets[0].Questions, 2, "which day, and which mark")

	for _, wrong := range [][]string{{"--dates", "backwards"}, {"--decimal", "dot"}, {"--dash", "minus"}, {"--map", "nobody"}, {"--set", "size=large"}} {
		code, _, errs = cli(append([]string{"gather", "--db", db, print}, wrong...)...)
		require.NotEqual(t, done, code, wrong)
		require.NotEmpty(t, errs)
	}
	code, out, errs = cli("gather", "--db", db, "--dates", "day-first", "--decimal", "comma", print)
	require.Equal(t, done, code, errs)
	require.Contains(t, out, "postings")
	_, out, _ = cli("readings", "--db", db, "--period", "2026-10", "--scope", "EX-1", "--json")
	require.NoError(t, json.Unmarshal([]byte(out), &rows))
	require.NotEqual(t, before, rows[0]["ac"])
}

// TestSetSaysWhatAllRowsSay: what a file lacks is said once for all its rows.
func TestSetSaysWhatAllRowsSay(t *testing.T) {
	db, write := withExample(t)
	months := write("months.csv", "Project,Cost code,Nov 2026,Dec 2026\nEX-1,LAB,100,200\n")
	code, _, errs := cli("gather", "--db", db, "--dry-run", months)
	require.Equal(t, refusals, code)
	require.Contains(t, errs, "no column tells kind")
	require.Contains(t, errs, "--set kind=…")
	code, out, errs := cli("gather", "--db", db, "--set", "kind=forecast", "--period", "2026-10", "--dry-run", months)
	require.Equal(t, done, code, errs)
	require.Contains(t, out, "costs")
	require.Contains(t, errs, "rows that would change: 2")
}

// TestBriefOfTheCommandLine: each form is made, twice with the same bytes.
func TestBriefOfTheCommandLine(t *testing.T) {
	db, _ := withExample(t)
	dir := t.TempDir()
	for form, begins := range map[string]string{"pdf": "%PDF-", "html": "<!doctype html>", "xlsx": "PK", "pptx": "PK"} {
		var bodies [2][]byte
		for i := range bodies {
			path := filepath.Join(dir, string(rune('a'+i))+"."+form)
			code, _, errs := cli("brief", "--db", db, "--period", "2026-10", "--out", path)
			require.Equal(t, done, code, errs)
			require.Contains(t, errs, "pages")
			var err error
			bodies[i], err = os.ReadFile(path)
			require.NoError(t, err)
		}
		require.True(t, bytes.HasPrefix(bodies[0], []byte(begins)), form)
		require.True(t, bytes.Equal(bodies[0], bodies[1]), form)
	}
	for _, wrong := range [][]string{{}, {"--out", filepath.Join(dir, "x.doc")}, {"--out", filepath.Join(dir, "x.pdf"), "--scope", "NOPE"}, {"--out", filepath.Join(dir, "x.pdf"), "--pages", "cover"}} {
		code, _, errs := cli(append([]string{"brief", "--db", db, "--period", "2026-10"}, wrong...)...)
		require.NotEqual(t, done, code, wrong)
		require.NotEmpty(t, errs)
		require.NoFileExists(t, filepath.Join(dir, "x.pdf"))
	}
}

// TestDemoPost writes the demonstration's untidy files, and starts nothing.
func TestDemoPost(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "post")
	code, _, errs := cli("demo", "--post", dir, "--only-post")
	require.Equal(t, done, code, errs)
	list, err := os.ReadDir(dir)
	require.NoError(t, err)
	require.Len(t, list, 3)
}
