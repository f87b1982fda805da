package provider_test

import (
	"context"
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/provider"
	"turret/internal/provider/standin"
)

const back = "http://127.0.0.1:8484/sign-in/back"

var roles = map[string]string{"pmo": "analyst", "pl": "lead", "board": "executive", "it": "administrator"}

func start(t *testing.T, claim string) (*standin.Provider, *provider.Provider) {
	s, err := standin.New()
	require.NoError(t, err)
	t.Cleanup(s.Close)
	p, err := provider.New(provider.Settings{Issuer: s.URL, Client: standin.Client, Secret: standin.Secret, Claim: claim, Roles: roles})
	require.NoError(t, err)
	return s, p
}

// there goes to the provider and gives what it sends back.
func there(t *testing.T, to string) url.Values {
	c := http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	r, err := c.Get(to)
	require.NoError(t, err)
	r.Body.Close()
	u, err := r.Location()
	require.NoError(t, err)
	require.Equal(t, "/sign-in/back", u.Path)
	return u.Query()
}

func TestSignIn(t *testing.T) {
	for name, c := range map[string]struct {
		claim string
		says  map[string]any
		want  provider.Person
	}{
		"all of it":         {"", map[string]any{"sub": "7", "preferred_username": "ada", "name": "Ada Wren", "roles": []string{"pl"}}, provider.Person{Subject: "7", Login: "ada", Name: "Ada Wren", Role: "lead"}},
		"by mail":           {"", map[string]any{"sub": "7", "email": "ada@harbour.example", "roles": "pmo other"}, provider.Person{Subject: "7", Login: "ada@harbour.example", Name: "ada@harbour.example", Role: "analyst"}},
		"the first role":    {"groups", map[string]any{"sub": "7", "groups": []any{"pl", 7, "it", "pmo"}}, provider.Person{Subject: "7", Role: "administrator"}},
		"below another":     {"realm.roles", map[string]any{"sub": "7", "realm": map[string]any{"roles": []string{"board"}}}, provider.Person{Subject: "7", Role: "executive"}},
		"with dots":         {"https://x.example/roles", map[string]any{"sub": "7", "https://x.example/roles": []string{"board"}}, provider.Person{Subject: "7", Role: "executive"}},
		"no role":           {"", map[string]any{"sub": "7", "roles": []string{"cook"}}, provider.Person{Subject: "7"}},
		"none are listed":   {"", map[string]any{"sub": "7"}, provider.Person{Subject: "7"}},
		"something else":    {"", map[string]any{"sub": "7", "roles": 12}, provider.Person{Subject: "7"}},
		"a role's own name": {"", map[string]any{"sub": "7", "roles": []string{"analyst"}}, provider.Person{Subject: "7"}},
	} {
		t.Run(name, func(t *testing.T) {
			s, p := start(t, c.claim)
			s.Say(c.says)
			asked, to, err := p.Begin(t.Context(), back)
			require.NoError(t, err)
			q := there(t, to)
			got, err := p.Finish(t.Context(), asked, back, q.Get("state"), q.Get("code"))
			require.NoError(t, err)
			c.want.Issuer = s.URL
			require.Equal(t, c.want, got)
			_, err = p.Finish(t.Context(), asked, back, q.Get("state"), q.Get("code"))
			require.ErrorIs(t, err, provider.ErrRefused, "a code is good once")
		})
	}
}

// TestNotBelieved: whoever comes back with something that was not asked for, or that is not
// signed for this office, is nobody.
func TestNotBelieved(t *testing.T) {
	s, p := start(t, "")
	says := map[string]any{"sub": "7", "roles": []string{"pmo"}}
	for name, change := range map[string]func(a *provider.Asked, q url.Values){
		"another state":    func(_ *provider.Asked, q url.Values) { q.Set("state", "x") },
		"no state":         func(a *provider.Asked, q url.Values) { a.State = ""; q.Set("state", "") },
		"no code":          func(_ *provider.Asked, q url.Values) { q.Del("code") },
		"another code":     func(_ *provider.Asked, q url.Values) { q.Set("code", "x") },
		"another verifier": func(a *provider.Asked, _ url.Values) { a.Verifier += "x" },
		"another nonce":    func(a *provider.Asked, _ url.Values) { a.Nonce = "x" },
		"another key":      func(*provider.Asked, url.Values) { s.Forge() },
		"for another":      func(*provider.Asked, url.Values) { s.Lie(func(c map[string]any) { c["aud"] = "other" }) },
		"of another": func(*provider.Asked, url.Values) {
			s.Lie(func(c map[string]any) { c["iss"] = "https://other.example" })
		},
		"too old":  func(*provider.Asked, url.Values) { s.Lie(func(c map[string]any) { c["exp"] = 1 }) },
		"no nonce": func(*provider.Asked, url.Values) { s.Lie(func(c map[string]any) { delete(c, "nonce") }) },
	} {
		t.Run(name, func(t *testing.T) {
			s.Say(says)
			asked, to, err := p.Begin(t.Context(), back)
			require.NoError(t, err)
			q := there(t, to)
			change(&asked, q)
			_, err = p.Finish(t.Context(), asked, back, q.Get("state"), q.Get("code"))
			require.ErrorIs(t, err, provider.ErrRefused)
		})
	}
}

func TestSilent(t *testing.T) {
	s, p := start(t, "")
	s.Close()
	_, _, err := p.Begin(context.Background(), back)
	require.ErrorIs(t, err, provider.ErrSilent)
}

func TestSettings(t *testing.T) {
	good := provider.Settings{Issuer: "https://login.example", Client: "turret", Roles: roles}
	require.NoError(t, good.Check())
	for _, change := range []func(*provider.Settings){
		func(s *provider.Settings) { s.Issuer = "http://login.example" },
		func(s *provider.Settings) { s.Issuer = "login" },
		func(s *provider.Settings) { s.Client = "" },
		func(s *provider.Settings) { s.Roles = nil },
	} {
		bad := good
		change(&bad)
		require.Error(t, bad.Check())
		_, err := provider.New(bad)
		require.Error(t, err)
	}
	known := []string{"analyst", "lead"}
	got, err := provider.ParseRoles(" analyst=pmo, lead = project leads ,", known)
	require.NoError(t, err)
	require.Equal(t, map[string]string{"pmo": "analyst", "project leads": "lead"}, got)
	for _, text := range []string{"analyst", "analyst=", "cook=x", "analyst=x,lead=x"} {
		_, err := provider.ParseRoles(text, known)
		require.Error(t, err, text)
	}
}
