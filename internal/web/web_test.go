package web

import (
	"context"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"strings"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"

	"turret/internal/office"
)

var analyst = office.Actor{Name: "test", Role: office.Operator}

// newApp serves a small portfolio: one project with a plan, and one whose
// currency has no rate and whose name would break a careless page.
func newApp(t testing.TB, files map[string]string) *fiber.App {
	t.Helper()
	o, err := office.Init(context.Background(), analyst, filepath.Join(t.TempDir(), "turret.db"), office.Settings{Name: "Test & Co", Reporting: "EUR", FiscalStart: 1})
	require.NoError(t, err)
	t.Cleanup(func() { o.Close() })
	var list []office.File
	for name, body := range files {
		list = append(list, office.File{Name: name, Body: []byte(body)})
	}
	r, err := o.Gather(context.Background(), analyst, list, nil, office.GatherOptions{})
	require.NoError(t, err)
	require.Empty(t, r.Refusals)
	return New(o, analyst, Options{BodyLimit: 1 << 16, Log: slog.New(slog.DiscardHandler)})
}

var small = map[string]string{
	"programmes.csv": "programme,name\nG,Group\n",
	"cost_codes.csv": "cost_code,name\n10,Labour\n",
	"projects.csv":   "project,name,programme,currency\nA/1 ä,Alpha,G,EUR\nB,<script>alert(1)</script>,,NOK\n",
	"activities.csv": "project,activity,name,baseline_start,baseline_finish\nA/1 ä,1,One,2026-01-05,2026-03-27\n",
	"costs.csv":      "project,cost_code,kind,period,version,amount\nA/1 ä,10,plan,2026-01,1,100.00\nA/1 ä,10,actual,2026-01,,40.00\nB,10,plan,2026-01,1,7.00\n",
	"progress.csv":   "project,activity,period,percent\nA/1 ä,1,2026-01,50\n",
}

func get(t testing.TB, app *fiber.App, path string) (int, string, http.Header) {
	t.Helper()
	res, err := app.Test(httptest.NewRequest(http.MethodGet, path, nil))
	require.NoError(t, err)
	b, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return res.StatusCode, string(b), res.Header
}

func TestPages(t *testing.T) {
	app := newApp(t, small)
	for _, c := range []struct {
		path   string
		status int
		says   string
	}{
		{"/healthz", 200, "ok"},
		{"/", 303, ""},
		{"/board", 200, "Left out of the sums: B: there is no rate for NOK"},
		{"/board?in=project&against=original", 200, "in own currencies"},
		{"/board?at=1999-01", 200, "Nothing is stated for Jan 1999"},
		{"/board?at=nonsense", 200, "does not exist"},
		{"/board?against=best", 200, "only latest and original"},
		{"/project/A%2F1%20%C3%A4", 200, "Alpha"},
		{"/project/B", 200, "&lt;script&gt;"},
		{"/project/C", 404, "There is no project C"},
		{"/trail/A%2F1%20%C3%A4/cpi", 200, "50.00</a><span> ÷ </span>"},
		{"/trail/A%2F1%20%C3%A4/ac", 200, "costs.csv, row 3"},
		{"/trail/*/bac", 200, "the whole portfolio"},
		{"/trail/G/ev", 200, "programme Group"},
		{"/trail/B/cpi", 200, "Not known"},
		{"/trail/B/nope", 404, "There is no figure"},
		{"/nowhere", 404, "There is no page /nowhere"},
	} {
		status, body, head := get(t, app, c.path)
		require.Equal(t, c.status, status, c.path)
		require.Contains(t, body, c.says, c.path)
		require.Equal(t, policy, head.Get("Content-Security-Policy"), c.path)
		require.NotContains(t, body, "<script", c.path)
		require.NotContains(t, body, "style=", c.path)
		require.NotContains(t, body, "ZgotmplZ", c.path)
		if strings.HasPrefix(c.path, "/board") {
			require.Equal(t, "no-store", head.Get("Cache-Control"))
		}
	}
}

func TestEmptyDatabaseSaysWhatToDo(t *testing.T) {
	app := newApp(t, nil)
	for path, says := range map[string]string{"/board": "turret gather", "/project/A": "There is no project A", "/trail/A/cpi": "Nothing is stated yet"} {
		_, body, _ := get(t, app, path)
		require.Contains(t, body, says, path)
	}
}

func TestAssetsAreKeptForEver(t *testing.T) {
	app := newApp(t, nil)
	_, body, _ := get(t, app, "/board")
	from := strings.Index(body, "/assets/")
	path := body[from : from+strings.Index(body[from:], `"`)]
	status, css, head := get(t, app, path)
	require.Equal(t, 200, status)
	require.Contains(t, head.Get("Cache-Control"), "immutable")
	require.Contains(t, css, "--brass")
	require.NotContains(t, css, "url(archivo)")
}

func TestLongHeadIsRead(t *testing.T) {
	app := newApp(t, small)
	status, _, _ := get(t, app, "/board?x="+strings.Repeat("y", readBuffer/2))
	require.Equal(t, 200, status)
}
