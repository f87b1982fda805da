package main

import (
	"path/filepath"
	"strings"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"
)

// TestAccountsOnTheCommandLine: they are made, listed, reset and disabled; the last
// administrator stays; what was run stands in the log, whose altering shows.
func TestAccountsOnTheCommandLine(t *testing.T) {
	db := filepath.Join(t.TempDir(), "a.db")
	ok := func(args ...string) string {
		t.Helper()
		code, out, errs := cli(append(args, "--db", db)...)
		require.Equal(t, done, code, errs)
		return out
	}
	ok("init", "--currency", "EUR")
	require.Regexp(t, `^/welcome/\w+\n$`, ok("account", "make", "una", "--name", "Una Quill", "--role", "administrator"))
	ok("account", "make", "ada", "--name", "Ada Brannock")
	require.Regexp(t, `una +Una Quill +administrator +- +waits for a password`, ok("account", "list"))
	first := ok("account", "reset", "ADA")
	require.NotEqual(t, first, ok("account", "reset", "ada"))
	ok("account", "disable", "ada")
	require.Regexp(t, `ada .* disabled`, ok("account", "list"))
	ok("account", "enable", "ada")
	for _, args := range [][]string{{"account", "disable", "nobody"}, {"account", "make", "ada", "--name", "Other"}, {"account", "make", "eve", "--name", "Eve", "--role", "king"}} {
		code, _, errs := cli(append(args, "--db", db)...)
		require.Equal(t, refusals, code)
		require.NotEmpty(t, errs)
	}
	require.Contains(t, ok("verify"), "is sound")
	x, err := sqlx.Open("sqlite", db)
	require.NoError(t, err)
	var ran []string
	require.NoError(t, x.Select(&ran, "SELECT detail FROM access WHERE what = 'ran' AND source LIKE '% on %'"))
	require.Contains(t, strings.Join(ran, "\n"), "turret account disable ada")
	_, err = x.Exec("UPDATE access SET detail = 'turret account list' WHERE detail = 'turret account disable ada'")
	require.NoError(t, err)
	require.NoError(t, x.Close())
	code, _, errs := cli("verify", "--db", db)
	require.Equal(t, refusals, code)
	require.Contains(t, errs, "the log of access was altered")
}
