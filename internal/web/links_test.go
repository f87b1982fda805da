package web

import (
	"context"
	"html"
	"net/url"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/demo"
)

var hrefs = regexp.MustCompile(`(?:href|hx-get|action)="([^"]*)"`)

// TestEveryLinkLeadsSomewhere follows all links of the demonstration's pages.
func TestEveryLinkLeadsSomewhere(t *testing.T) {
	o, err := demo.Make(context.Background(), filepath.Join(t.TempDir(), "demo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { o.Close() })
	b := newBrowser(t, newApp(o))
	who := demo.SignIns[3] // the administrator sees most
	b.post("/sign-in", url.Values{"login": {who.Login}, "password": {who.Password}})
	seen := make(map[string]string)
	for _, start := range []string{"/board?vs=2026-10", "/board?group=lead&standing=watch&trail=*%2Fbac", "/project/FR-01?trail=FR-01%2Fac", "/project/FR-01?vs=2026-10&trail=FR-01%2Fac%3A110", "/trail/FR-01/cpi", "/find?q=a", "/views", "/account", "/setup/accounts", "/setup/mappings", "/gather", "/gather?show=owing", "/gather/refused", "/gather/codes", "/gather/run/50", "/brief", "/brief?of=QS&pages=board,first", "/brief?of=FR-01&leaf=2"} {
		status, body, _ := b.get(start)
		require.Equal(t, 200, status, start)
		for _, m := range hrefs.FindAllStringSubmatch(body, -1) {
			u, err := url.Parse(html.UnescapeString(m[1]))
			require.NoError(t, err, m[1])
			if u.Scheme != "" || u.Path == "" {
				continue // an icon within the page, or a place on it
			}
			u.Fragment = ""
			seen[u.String()] = start
		}
	}
	require.Greater(t, len(seen), 400)
	alike := make(map[string]int)
	for link, from := range seen {
		if k := kind(t, link); alike[k] == 3 || strings.HasPrefix(link, "/sign-out") {
			continue // three of a kind are enough
		} else {
			alike[k]++
		}
		status, body, head := b.get(link)
		if status == 303 {
			require.True(t, strings.HasPrefix(head.Get("Location"), "/"), link)
			continue
		}
		require.Equal(t, 200, status, "%s from %s", link, from)
		require.False(t, strings.Contains(body, "ZgotmplZ"), link)
	}
}

// kind tells links apart by what they ask for, not by of which project.
func kind(t *testing.T, link string) string {
	u, err := url.Parse(link)
	require.NoError(t, err)
	dir, last, _ := strings.Cut(strings.TrimPrefix(u.Path, "/"), "/")
	if _, name, ok := strings.Cut(last, "/"); ok {
		dir += "/" + name
	}
	q := u.Query()
	for k := range q {
		if k != "sort" && k != "group" && k != "trail" {
			q.Set(k, "")
		}
	}
	if _, name, ok := strings.Cut(q.Get("trail"), "/"); ok {
		q.Set("trail", strings.TrimRight(name, "0123456789.")) // a row is a row
	}
	return dir + "?" + q.Encode()
}
