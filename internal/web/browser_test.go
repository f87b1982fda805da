package web

import (
	"cmp"
	"context"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/entry"
	"turret/internal/office/export"
)

var operator = office.Actor{Name: "test", Role: office.Operator}

// admitted is a database with an account of each role, made once: hashing
// passwords takes long on purpose.
var admitted = sync.OnceValues(func() ([]byte, error) {
	ctx := context.Background()
	dir, err := os.MkdirTemp("", "turret-test-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	path := filepath.Join(dir, "turret.db")
	o, err := office.Init(ctx, operator, path, office.Settings{Name: "Test & Co", Reporting: "EUR", FiscalStart: 1})
	if err != nil {
		return nil, err
	}
	for _, role := range office.Roles {
		code, err := account.In(o).
			Invite(ctx, operator, account.Account{Login: string(role) + "1", Name: "The " + string(role), Role: role})
		if err != nil {
			return nil, err
		}
		if _, err := account.In(o).Enter(ctx, code, "", "", password); err != nil {
			return nil, err
		}
	}
	copied := filepath.Join(dir, "copy.db")
	if err := errors.Join(export.In(o).Backup(ctx, operator, copied), o.Close()); err != nil {
		return nil, err
	}
	return os.ReadFile(copied)
})

// newOffice gives an office with files gathered, and an account of each role.
func newOffice(t testing.TB, files map[string]string) *office.Office {
	t.Helper()
	body, err := admitted()
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "turret.db")
	require.NoError(t, os.WriteFile(path, body, 0o600))
	o, err := office.Open(context.Background(), operator, path, false)
	require.NoError(t, err)
	t.Cleanup(func() { o.Close() })
	gatherFiles(t, o, files)
	return o
}

func gatherFiles(t testing.TB, o *office.Office, files map[string]string) {
	t.Helper()
	var list []entry.File
	for name, body := range files {
		list = append(list, entry.File{Name: name, Body: []byte(body)})
	}
	r, err := entry.In(o).Gather(context.Background(), operator, list, nil, entry.Options{})
	require.NoError(t, err)
	require.Empty(t, r.Refusals)
}

const password = "quite long enough"

func newApp(o *office.Office) *fiber.App {
	return New(o, Options{BodyLimit: 1 << 16, Session: time.Hour, Log: slog.New(slog.DiscardHandler)})
}

// browser keeps cookies, and sends forms as the pages do.
type browser struct {
	t       testing.TB
	app     *fiber.App
	cookies map[string]string
	header  http.Header
}

func newBrowser(t testing.TB, app *fiber.App) *browser {
	return &browser{t: t, app: app, cookies: make(map[string]string), header: make(http.Header)}
}

// signedIn is a browser of someone with a role.
func signedIn(t testing.TB, app *fiber.App, role office.Role) *browser {
	b := newBrowser(t, app)
	status, _, head := b.post("/sign-in", url.Values{"login": {string(role) + "1"}, "password": {password}})
	require.Equal(t, http.StatusSeeOther, status)
	home := map[bool]string{true: "/desk", false: "/board"}[role == office.Lead]
	require.Equal(t, home, head.Get("Location"))
	return b
}

func (b *browser) get(path string) (int, string, http.Header) {
	return b.send(httptest.NewRequest(http.MethodGet, path, nil))
}

// post opens the page of a form and then sends it.
func (b *browser) post(path string, form url.Values) (int, string, http.Header) {
	if b.key() == "" {
		b.get(path)
	}
	form.Set("_csrf", b.key())
	return b.postStale(path, form)
}

// key is that of the forms that it has.
func (b *browser) key() string {
	return cmp.Or(b.cookies["turret_form"], b.cookies["__Host-turret_form"])
}

// postStale sends a form as it is.
func (b *browser) postStale(path string, form url.Values) (int, string, http.Header) {
	r := httptest.NewRequest(http.MethodPost, path, strings.NewReader(form.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	return b.send(r)
}

func (b *browser) send(r *http.Request) (int, string, http.Header) {
	b.t.Helper()
	for name, value := range b.cookies {
		r.AddCookie(&http.Cookie{Name: name, Value: value})
	}
	for k, v := range b.header {
		r.Header[k] = v
	}
	res, err := b.app.Test(r, fiber.TestConfig{Timeout: 20 * time.Second})
	require.NoError(b.t, err)
	body, err := io.ReadAll(res.Body)
	require.NoError(b.t, err)
	for _, c := range res.Cookies() {
		require.True(b.t, c.HttpOnly, c.Name)
		require.Equal(b.t, http.SameSiteLaxMode, c.SameSite, c.Name)
		b.cookies[c.Name] = c.Value
		if c.MaxAge < 0 || !c.Expires.IsZero() && c.Expires.Before(time.Now()) {
			delete(b.cookies, c.Name)
		}
	}
	return res.StatusCode, string(body), res.Header
}

// mark is the revision that a page's form was shown at.
func mark(b *browser, path string) string {
	b.t.Helper()
	_, body, _ := b.get(path)
	m := regexp.MustCompile(`name="mark" value="(\d+)"`).FindStringSubmatch(body)
	require.NotNil(b.t, m, path)
	return m[1]
}

func init() { slog.SetDefault(slog.New(slog.DiscardHandler)) } // who comes and goes in tests says nothing
