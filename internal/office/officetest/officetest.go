// Package officetest makes offices for the tests of rooms.
package officetest

import (
	"context"
	"embed"
	"io/fs"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/entry"
	"turret/internal/right"
)

// BareOffice makes an empty office, with fiscal years from January, whose clock stands
// still until it is moved.
func BareOffice(t *testing.T) (o *office.Office, wait func(time.Duration)) {
	t.Helper()
	o = opened(t, 1)
	now := time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)
	o.SetClock(func() time.Time { return now })
	return o, func(d time.Duration) { now = now.Add(d) }
}

const GoodPassword = "slack water at six"

// Admitted makes an account with a password.
func Admitted(t *testing.T, o *office.Office, login string, role office.Role, projects ...string) office.Actor {
	t.Helper()
	ctx := context.Background()
	code, err := account.In(o).
		Invite(ctx, Operator, account.Account{Login: login, Name: "The " + login, Role: role, Projects: projects})
	require.NoError(t, err)
	id, err := account.In(o).Enter(ctx, code, "", "", GoodPassword)
	require.NoError(t, err)
	a, ok, err := account.In(o).ActorOf(ctx, id)
	require.NoError(t, err)
	require.True(t, ok)
	return a
}

func GatherMap(t testing.TB, o *office.Office, files map[string]string) *entry.Report {
	t.Helper()
	var list []entry.File
	for name, body := range files {
		list = append(list, entry.File{Name: name, Body: []byte(body)})
	}
	r, err := entry.In(o).Gather(context.Background(), Operator, list, nil, entry.Options{})
	require.NoError(t, err)
	require.Empty(t, r.Refusals)
	return r
}

var Operator = right.Actor{Name: "test", Role: right.Operator}

// NewOffice makes an empty office in EUR with fiscal years from April.
func NewOffice(t testing.TB) *office.Office {
	t.Helper()
	return opened(t, 4)
}

// made are the databases of empty offices, by the month in which their fiscal year
// begins: each is made once, and every test works on a copy.
var made sync.Map

func opened(t testing.TB, fiscal int) *office.Office {
	t.Helper()
	once, _ := made.LoadOrStore(fiscal, sync.OnceValues(func() ([]byte, error) { return empty(fiscal) }))
	db, err := once.(func() ([]byte, error))()
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "turret.db")
	require.NoError(t, os.WriteFile(path, db, 0o600))
	o, err := office.Open(context.Background(), Operator, path, false)
	require.NoError(t, err)
	t.Cleanup(func() { o.Close() })
	return o
}

// empty is the database of a new office that nothing was gathered into.
func empty(fiscal int) ([]byte, error) {
	dir, err := os.MkdirTemp("", "turret-empty-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	path := filepath.Join(dir, "turret.db")
	s := office.Settings{Name: "Test", Reporting: "EUR", FiscalStart: fiscal}
	o, err := office.Init(context.Background(), Operator, path, s)
	if err != nil {
		return nil, err
	}
	if err := o.Close(); err != nil {
		return nil, err
	}
	return os.ReadFile(path)
}

// GatherPaths gathers what lies at paths.
func GatherPaths(t testing.TB, o *office.Office, opts entry.Options, paths ...string) *entry.Report {
	t.Helper()
	files, refused, err := gather.Collect(paths, gather.DefaultLimits)
	require.NoError(t, err)
	r, err := entry.In(o).Gather(context.Background(), Operator, files, refused, opts)
	require.NoError(t, err)
	return r
}

func File(name, body string) entry.File { return entry.File{Name: name, Body: []byte(body)} }

func Take(t testing.TB, o *office.Office, opts entry.Options, files ...entry.File) *entry.Report {
	t.Helper()
	r, err := entry.In(o).Gather(context.Background(), Operator, files, nil, opts)
	require.NoError(t, err)
	return r
}

//go:embed testdata/example
var example embed.FS

// ExampleDir writes the worked example, with its tables and the readings that they
// give, and tells where.
func ExampleDir(t testing.TB) string {
	t.Helper()
	files, err := fs.Sub(example, "testdata/example")
	require.NoError(t, err)
	dir := t.TempDir()
	require.NoError(t, os.CopyFS(dir, files))
	return dir
}

// Example makes an office with the worked example.
func Example(t testing.TB) *office.Office {
	t.Helper()
	o := NewOffice(t)
	require.Empty(t, GatherPaths(t, o, entry.Options{}, filepath.Join(ExampleDir(t), "tables")).Refusals)
	return o
}
