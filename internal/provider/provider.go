// Package provider signs people in by OpenID Connect: it sends them to the provider that
// the office trusts, and reads who they are from what it signs.
package provider

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/coreos/go-oidc/v3/oidc"
	"golang.org/x/oauth2"
)

// Settings name a provider, and what it knows this office by.
type Settings struct {
	Issuer         string // such as https://login.example
	Client, Secret string
	Name           string            // what the button says; "": the issuer's host
	Claim          string            // that lists roles or groups; "": roles
	Roles          map[string]string // role by what the claim says of it
}

// Check tells what is wrong with settings, or nothing.
func (s *Settings) Check() error {
	u, err := url.Parse(s.Issuer)
	switch {
	case err != nil || u.Host == "" || u.Scheme != "https" && !loopback(u):
		return fmt.Errorf("the issuer %q is not like https://login.example", s.Issuer)
	case s.Client == "":
		return errors.New("the provider knows this office by no client; name it with TURRET_OIDC_CLIENT")
	case len(s.Roles) == 0:
		return errors.New("nothing that the provider says makes a role; say it with TURRET_OIDC_ROLES, such as analyst=pmo,lead=project-leads")
	}
	return nil
}

// loopback tells that an address is of this machine, where nothing travels.
func loopback(u *url.URL) bool { return u.Hostname() == "127.0.0.1" || u.Hostname() == "localhost" }

// ParseRoles reads which roles are given by what a claim says, as role=value with commas
// between them; known are the roles that there are.
func ParseRoles(text string, known []string) (map[string]string, error) {
	out := make(map[string]string)
	for pair := range strings.SplitSeq(text, ",") {
		role, value, ok := strings.Cut(strings.TrimSpace(pair), "=")
		if strings.TrimSpace(pair) == "" {
			continue
		}
		role, value = strings.TrimSpace(role), strings.TrimSpace(value)
		if !ok || value == "" || !slices.Contains(known, role) {
			return nil, fmt.Errorf("%q is not like analyst=pmo; roles are %s", pair, strings.Join(known, ", "))
		}
		if was := out[value]; was != "" && was != role {
			return nil, fmt.Errorf("%q gives two roles, %s and %s", value, was, role)
		}
		out[value] = role
	}
	return out, nil
}

// Provider is one that people sign in at. It is asked what it offers when somebody first
// goes there, so that the server starts without it.
type Provider struct {
	settings Settings
	client   *http.Client
	mu       sync.Mutex
	found    *oidc.Provider
}

// patience is how long the provider may take for one answer.
const patience = 10 * time.Second

// New gives a provider.
func New(s Settings) (*Provider, error) {
	if err := s.Check(); err != nil {
		return nil, err
	}
	return &Provider{settings: s, client: &http.Client{Timeout: patience}}, nil
}

// Name is what people know it by.
func (p *Provider) Name() string {
	if p.settings.Name != "" {
		return p.settings.Name
	}
	u, err := url.Parse(p.settings.Issuer)
	if err != nil {
		return p.settings.Issuer
	}
	return u.Host
}

// ErrSilent is the error of a provider that does not answer.
var ErrSilent = errors.New("the provider does not answer")

// ErrRefused is the error of a sign-in that the provider refused, or that is not what was
// asked for.
var ErrRefused = errors.New("the provider did not sign in who was sent there")

func (p *Provider) discover(ctx context.Context) (*oidc.Provider, error) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.found != nil {
		return p.found, nil
	}
	// Its keys are fetched later too, with this context.
	found, err := oidc.NewProvider(oidc.ClientContext(context.WithoutCancel(ctx), p.client), p.settings.Issuer)
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrSilent, err)
	}
	p.found = found
	return found, nil
}

func (p *Provider) config(found *oidc.Provider, back string) *oauth2.Config {
	return &oauth2.Config{
		ClientID: p.settings.Client, ClientSecret: p.settings.Secret, Endpoint: found.Endpoint(), RedirectURL: back,
		Scopes: []string{oidc.ScopeOpenID, "profile", "email"},
	}
}

// Asked is what is remembered of somebody who was sent to the provider.
type Asked struct{ State, Nonce, Verifier string }

// Begin gives where somebody is sent to sign in, and what is to be remembered of them until
// they come back.
func (p *Provider) Begin(ctx context.Context, back string) (Asked, string, error) {
	found, err := p.discover(ctx)
	if err != nil {
		return Asked{}, "", err
	}
	a := Asked{State: rand.Text(), Nonce: rand.Text(), Verifier: oauth2.GenerateVerifier()}
	to := p.config(found, back).AuthCodeURL(a.State, oidc.Nonce(a.Nonce), oauth2.S256ChallengeOption(a.Verifier))
	return a, to, nil
}

// Person is who came back. Subject tells them apart for ever; the rest may change.
type Person struct {
	Issuer, Subject string
	Login, Name     string
	Role            string // "": what the provider says gives none
}

// order of roles: of several that a claim gives, the first holds.
var order = []string{"administrator", "analyst", "executive", "lead"}

// Finish reads who came back from the provider with a state and a code, and what it says
// of them. What was not asked for, or is not signed for this office, is ErrRefused.
func (p *Provider) Finish(ctx context.Context, a Asked, back, state, code string) (Person, error) {
	if a.State == "" || state != a.State || code == "" {
		return Person{}, fmt.Errorf("%w: it was not asked for here, or too long ago", ErrRefused)
	}
	found, err := p.discover(ctx)
	if err != nil {
		return Person{}, err
	}
	token, err := p.config(found, back).Exchange(oidc.ClientContext(ctx, p.client), code, oauth2.VerifierOption(a.Verifier))
	if err != nil {
		var said *oauth2.RetrieveError
		if errors.As(err, &said) {
			return Person{}, fmt.Errorf("%w: %w", ErrRefused, err)
		}
		return Person{}, fmt.Errorf("%w: %w", ErrSilent, err)
	}
	raw, ok := token.Extra("id_token").(string)
	if !ok {
		return Person{}, fmt.Errorf("%w: it says nothing of who it was", ErrRefused)
	}
	id, err := found.Verifier(&oidc.Config{ClientID: p.settings.Client}).Verify(ctx, raw)
	if err != nil {
		return Person{}, fmt.Errorf("%w: %w", ErrRefused, err)
	}
	if id.Nonce != a.Nonce {
		return Person{}, fmt.Errorf("%w: it answers another question", ErrRefused)
	}
	claims := make(map[string]any)
	if err := id.Claims(&claims); err != nil {
		return Person{}, fmt.Errorf("%w: %w", ErrRefused, err)
	}
	return p.person(id, claims), nil
}

func (p *Provider) person(id *oidc.IDToken, claims map[string]any) Person {
	text := func(names ...string) string {
		for _, n := range names {
			if s, ok := claims[n].(string); ok && s != "" {
				return s
			}
		}
		return ""
	}
	out := Person{Issuer: id.Issuer, Subject: id.Subject, Login: text("preferred_username", "email"), Name: text("name", "preferred_username", "email")}
	given := make(map[string]bool)
	for _, v := range listed(claims, p.settings.Claim) {
		if role := p.settings.Roles[v]; role != "" {
			given[role] = true
		}
	}
	for _, role := range order {
		if given[role] {
			out.Role = role
			break
		}
	}
	return out
}

// listed gives what a claim lists, or says alone. Its name may lead into others, with dots
// between them.
func listed(claims map[string]any, name string) (out []string) {
	if name == "" {
		name = "roles"
	}
	at, there := claims[name] // which may have dots of its own
	if !there {
		at = claims
		for step := range strings.SplitSeq(name, ".") {
			in, _ := at.(map[string]any)
			at = in[step]
		}
	}
	switch v := at.(type) {
	case string:
		return strings.Fields(v)
	case []any:
		for _, x := range v {
			if s, ok := x.(string); ok {
				out = append(out, s)
			}
		}
	}
	return out
}
