package web

import (
	"context"
	"log/slog"
	"net/http"
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/provider"
	"turret/internal/provider/standin"
)

// TestSignInElsewhere goes through the door by a provider: who comes first gets an account
// with the role that is said of them, and comes back to it, with a role that changed.
func TestSignInElsewhere(t *testing.T) {
	s, err := standin.New()
	require.NoError(t, err)
	t.Cleanup(s.Close)
	p, err := provider.New(provider.Settings{
		Issuer: s.URL, Client: standin.Client, Secret: standin.Secret, Name: "Harbour sign-in",
		Roles: map[string]string{"pmo": "analyst", "board": "executive", "pl": "lead", "it": "administrator"},
	})
	require.NoError(t, err)
	o := newOffice(t, small)
	app := New(o, Options{BodyLimit: 1 << 16, Session: time.Hour, Origin: "http://turret.example", Log: slog.New(slog.DiscardHandler), Provider: p})
	come := func(b *browser, says map[string]any) (int, string, http.Header) {
		s.Say(says)
		status, _, head := b.get("/sign-in/with?next=%2Fproject%2FB")
		require.Equal(t, http.StatusSeeOther, status)
		c := http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
		r, err := c.Get(head.Get("Location"))
		require.NoError(t, err)
		r.Body.Close()
		to, err := url.Parse(r.Header.Get("Location"))
		require.NoError(t, err)
		require.Equal(t, "turret.example", to.Host)
		return b.get(to.RequestURI())
	}
	role := func(login string) office.Role {
		list, _, err := account.In(o).Accounts(context.Background(), operator)
		require.NoError(t, err)
		for _, a := range list {
			if a.Login == login {
				return a.Role
			}
		}
		return ""
	}

	b := newBrowser(t, app)
	_, body, _ := b.get("/sign-in?next=/money")
	require.Contains(t, body, `href="/sign-in/with?next=%2fmoney">Sign in at Harbour sign-in`)
	ada := map[string]any{"sub": "ada-7", "preferred_username": "Ada.Wren", "name": "Ada Wren", "roles": []string{"pmo"}}
	status, _, head := come(b, ada)
	require.Equal(t, http.StatusSeeOther, status)
	require.Equal(t, "/project/B", head.Get("Location"))
	require.Equal(t, office.Analyst, role("ada.wren"))
	status, body, _ = b.get("/gather")
	require.Equal(t, http.StatusOK, status, body)

	again := newBrowser(t, app)
	ada["preferred_username"], ada["roles"] = "Other.Name", []string{"board"} // the subject tells who it is
	status, _, _ = come(again, ada)
	require.Equal(t, http.StatusSeeOther, status)
	require.Equal(t, office.Executive, role("ada.wren"))
	require.Empty(t, role("other.name"))

	for name, c := range map[string]struct {
		says map[string]any
		want string
	}{
		"no role":            {map[string]any{"sub": "x", "preferred_username": "cook"}, "gives you a role here"},
		"somebody's name":    {map[string]any{"sub": "thief", "preferred_username": "administrator1", "roles": []string{"it"}}, "There is an account &#34;administrator1&#34; here already"},
		"a name in capitals": {map[string]any{"sub": "thief", "preferred_username": "ADMINISTRATOR1", "roles": []string{"it"}}, "here already"},
	} {
		b := newBrowser(t, app)
		status, body, _ := come(b, c.says)
		require.NotEqual(t, http.StatusSeeOther, status, name)
		require.Contains(t, body, c.want, name)
		status, _, _ = b.get("/board")
		require.Equal(t, http.StatusSeeOther, status, "%s: nobody is signed in", name)
	}

	// Once it is said whose the account is, they come to it.
	list, _, err := account.In(o).Accounts(context.Background(), operator)
	require.NoError(t, err)
	require.NoError(t, account.In(o).Link(context.Background(), operator, list[0].ID, s.URL, "una-1"))
	require.ErrorIs(t, account.In(o).Link(context.Background(), operator, list[1].ID, s.URL, "una-1"), office.ErrRefused)
	status, _, _ = come(newBrowser(t, app), map[string]any{"sub": "una-1", "preferred_username": "whoever", "roles": []string{map[office.Role]string{office.Administrator: "it", office.Analyst: "pmo", office.Lead: "pl", office.Executive: "board"}[list[0].Role]}})
	require.Equal(t, http.StatusSeeOther, status)

	// Whoever is shut out stays outside, also if the provider lets them in.
	for _, a := range list {
		if a.Login == "ada.wren" {
			require.NoError(t, account.In(o).Disable(context.Background(), operator, a.ID, true))
		}
	}
	_, body, _ = come(newBrowser(t, app), ada)
	require.Contains(t, body, "shut out")

	// What was not asked for here signs nobody in.
	stranger := newBrowser(t, app)
	status, body, _ = stranger.get("/sign-in/back?code=x&state=y")
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, "did not sign you in")
	status, _, _ = stranger.get("/sign-in/back?error=access_denied&state=y")
	require.Equal(t, http.StatusUnprocessableEntity, status)
	status, _, _ = stranger.get("/board")
	require.Equal(t, http.StatusSeeOther, status)
	s.Close()
	silent, err := provider.New(provider.Settings{Issuer: s.URL, Client: "x", Roles: map[string]string{"a": "lead"}})
	require.NoError(t, err)
	app = New(o, Options{BodyLimit: 1 << 16, Session: time.Hour, Log: slog.New(slog.DiscardHandler), Provider: silent})
	_, body, _ = newBrowser(t, app).get("/sign-in/with")
	require.Contains(t, body, "does not answer")
	status, body, _ = newBrowser(t, newApp(o)).get("/sign-in")
	require.Equal(t, http.StatusOK, status)
	require.NotContains(t, body, "/sign-in/with")
}
