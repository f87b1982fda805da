package main

import (
	"bytes"
	"context"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office/closing"
)

// cli runs a command and gives its exit code and what it printed.
func cli(args ...string) (code int, out, errs string) {
	var o, e bytes.Buffer
	code = run(context.Background(), args, &o, &e)
	return code, o.String(), e.String()
}

// TestMonth does an office's month on the command line.
func TestMonth(t *testing.T) {
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	db := at("a.db")
	code, _, errs := cli("template", at("t"))
	require.Equal(t, done, code, errs)
	code, _, errs = cli("init", "--db", db, "--currency", "EUR", "--fiscal-start", "4", "--name", "Test")
	require.Equal(t, done, code, errs)
	code, out, errs := cli("gather", "--db", db, at("t/example"))
	require.Equal(t, done, code, errs)
	require.Contains(t, out, "postings")
	code, _, errs = cli("gather", "--db", db, at("t/example"))
	require.Equal(t, done, code)
	require.Contains(t, errs, "nothing changed")

	code, out, errs = cli("readings", "--db", db, "--period", "2026-10", "--json")
	require.Equal(t, done, code, errs)
	var rows []map[string]any
	require.NoError(t, json.Unmarshal([]byte(out), &rows))
	require.Len(t, rows, 3)
	for _, key := range strings.Fields("kind code name period currency bac pv ev ac sv cv eac_stated eac_plan eac_cpi eac_cpi3 eac_cpi_spi eac_computed vac at_stake on_order earned_share planned_share spent_share elapsed_share late_share stated_share spi cpi spi_t tcpi_bac tcpi_eac es at sv_t finish_planned finish_stated finish_computed finish_slip standings stated_standing reasons") {
		require.Contains(t, rows[0], key)
	}
	require.Equal(t, "watch", rows[0]["stated_standing"])
	before := out

	bad := at("progress.csv")
	require.NoError(t, os.WriteFile(bad, []byte("project,activity,period,percent\nEX-1,A1,2026-10,140\n"), 0o600))
	code, _, errs = cli("gather", "--db", db, bad)
	require.Equal(t, refusals, code)
	require.Contains(t, errs, "progress.csv, row 2, percent: 140 is not between 0 and 100")
	code, out, _ = cli("gather", "--db", db, "--dry-run", "--json", bad)
	require.Equal(t, refusals, code)
	require.Contains(t, out, `"Row":2`)

	for _, format := range []string{"table", "csv", "json"} {
		code, out, errs = cli("check", "--db", db, "--period", "2026-10", "--format", format)
		require.Contains(t, errs, "warnings and")
		require.Contains(t, []int{done, refusals}, code)
		require.Equal(t, code == refusals, !strings.Contains(errs, "0 errors"), "open errors are refusals")
		require.NotEmpty(t, out)
	}
	code, _, errs = cli("check", "--db", db, "--period", "2026-10", "--scope", "NOPE")
	require.Equal(t, wrongUse, code)
	require.Contains(t, errs, "neither a project nor a programme")
	code, _, errs = cli("check", "--db", db, "--period", "soon")
	require.Equal(t, wrongUse, code, errs)
	code, _, _ = cli("check", "--db", db, "--period", "2026-10", "--format", "prose")
	require.Equal(t, wrongUse, code)

	code, _, errs = cli("close", "--db", db, "--period", "2026-10")
	require.Equal(t, refusals, code)
	require.Contains(t, errs, "nothing was closed")
	over := []string{"close", "--db", db, "--period", "2026-10"}
	for _, kind := range closing.PointKinds {
		if strings.Contains(errs, "\n  "+kind+": ") {
			over = append(over, "--over", kind+"=known")
		}
	}
	code, _, errs = cli(append(over, "--over", "errors")...)
	require.Equal(t, wrongUse, code)
	require.Contains(t, errs, "--over takes KIND=REASON")
	code, out, errs = cli(over...)
	require.Equal(t, done, code, errs)
	require.Contains(t, out, "2026-10 is closed")
	code, _, errs = cli("close", "--db", db, "--period", "2026-10")
	require.Equal(t, refusals, code)
	require.Contains(t, errs, "closed already")
	code, out, _ = cli("readings", "--db", db, "--period", "2026-10", "--json")
	require.Equal(t, done, code)
	require.Equal(t, before, out)

	code, _, errs = cli("export", "--db", db, at("all.zip"))
	require.Equal(t, done, code, errs)
	code, _, _ = cli("init", "--db", at("b.db"))
	require.Equal(t, done, code)
	code, _, errs = cli("gather", "--db", at("b.db"), at("all.zip"))
	require.Equal(t, done, code, errs)
	code, out, _ = cli("readings", "--db", at("b.db"), "--period", "2026-10", "--json")
	require.Equal(t, done, code)
	require.Equal(t, before, out, "the same readings from what was exported, the period closed there too")
	code, _, errs = cli("close", "--db", at("b.db"), "--period", "2026-10")
	require.Equal(t, refusals, code, errs)

	code, _, errs = cli("reopen", "--db", db, "--period", "2026-10", "--reason", "a late invoice")
	require.Equal(t, done, code, errs)
	code, _, errs = cli("backup", "--db", db, at("copy.db"))
	require.Equal(t, done, code, errs)
	code, _, errs = cli("restore", at("copy.db"), "--db", at("c.db"))
	require.Equal(t, done, code, errs)
	code, _, _ = cli("restore", at("copy.db"), "--db", at("c.db"))
	require.Equal(t, refusals, code)
	for _, format := range []string{"table", "csv"} {
		code, out, _ = cli("readings", "--db", at("c.db"), "--period", "2026-10", "--scope", "EX-1", "--format", format)
		require.Equal(t, done, code)
		require.Equal(t, 2, strings.Count(out, "\n"))
	}
}

func TestWrongUse(t *testing.T) {
	db := filepath.Join(t.TempDir(), "a.db")
	code, _, _ := cli("init", "--db", db)
	require.Equal(t, done, code)
	for _, args := range [][]string{
		{"frobnicate"},
		{"readings", "--db", db},
		{"readings", "--db", db, "--period", "2026-13"},
		{"readings", "--db", db, "--period", "2026-10", "--scope", "NOPE"},
		{"readings", "--db", db, "--period", "2026-10", "--against", "none"},
		{"readings", "--db", db, "--period", "2026-10", "--currency", "none"},
		{"readings", "--db", db, "--period", "2026-10", "--format", "none"},
		{"readings", "--db", db + ".missing", "--period", "2026-10"},
		{"gather", "--db", db},
		{"gather", "--db", db, "--table", "things", "x.csv"},
		{"gather", "--db", db, "/nowhere"},
		{"init", "--db", db},
		{"init", "--db", db + "2", "--currency", "XYZ"},
		{"init", "--db", db + "2", "--fiscal-start", "13"},
		{"reopen", "--db", db, "--period", "2026-10"},
		{"demo", "--addr", "0.0.0.0:0"},
		{"serve", "--db", db, "--addr", "nonsense"},
	} {
		code, out, errs := cli(args...)
		require.Equal(t, wrongUse, code, "%v: %s", args, errs)
		require.Empty(t, out, args)
		require.NotEmpty(t, errs, args)
	}
	code, out, _ := cli("gather", "--help")
	require.Equal(t, done, code)
	require.Contains(t, out, "--dry-run")
}

func TestReachable(t *testing.T) {
	for addr, want := range map[string]string{"[::]:8484": "localhost:8484", "0.0.0.0:80": "localhost:80", "127.0.0.1:1": "127.0.0.1:1", "10.0.0.7:80": "10.0.0.7:80"} {
		require.Equal(t, want, reachable(addr))
	}
}
