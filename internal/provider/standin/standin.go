// Package standin is a provider of OpenID Connect for tests: whoever comes is signed in at
// once, as the test says.
package standin

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"maps"
	"net/http"
	"net/http/httptest"
	"net/url"
	"sync"
	"time"

	"github.com/go-jose/go-jose/v4"
)

// Client and Secret are what the stand-in knows the office by.
const (
	Client = "turret"
	Secret = "between the two"
)

// Provider is a stand-in. Claims are what it says of who signs in next; with Lie they may be
// made something that is not to be believed.
type Provider struct {
	*httptest.Server
	mu     sync.Mutex
	claims map[string]any
	lie    func(claims map[string]any)
	forge  bool // it signs with another key
	asked  map[string]url.Values
	key    *ecdsa.PrivateKey
	other  *ecdsa.PrivateKey
}

// New starts one; whoever starts it closes it.
func New() (*Provider, error) {
	p := &Provider{asked: make(map[string]url.Values)}
	var err error
	for _, k := range []**ecdsa.PrivateKey{&p.key, &p.other} {
		if *k, err = ecdsa.GenerateKey(elliptic.P256(), rand.Reader); err != nil {
			return nil, err
		}
	}
	mux := http.NewServeMux()
	mux.HandleFunc("/.well-known/openid-configuration", func(w http.ResponseWriter, _ *http.Request) {
		answer(w, map[string]any{
			"issuer": p.URL, "authorization_endpoint": p.URL + "/authorize", "token_endpoint": p.URL + "/token", "jwks_uri": p.URL + "/keys",
			"id_token_signing_alg_values_supported": []string{"ES256"}, "response_types_supported": []string{"code"}, "subject_types_supported": []string{"public"},
		})
	})
	mux.HandleFunc("/keys", func(w http.ResponseWriter, _ *http.Request) {
		answer(w, jose.JSONWebKeySet{Keys: []jose.JSONWebKey{{Key: p.key.Public(), KeyID: "1", Algorithm: "ES256", Use: "sig"}}})
	})
	mux.HandleFunc("/authorize", p.authorize)
	mux.HandleFunc("/token", p.token)
	p.Server = httptest.NewServer(mux)
	return p, nil
}

// Say sets what is said of who signs in next.
func (p *Provider) Say(claims map[string]any) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.claims, p.lie, p.forge = claims, nil, false
}

// Lie lets claims be changed once they are made.
func (p *Provider) Lie(how func(claims map[string]any)) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.lie = how
}

// Forge lets the next claims be signed with a key that is not the provider's.
func (p *Provider) Forge() {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.forge = true
}

func answer(w http.ResponseWriter, v any) {
	w.Header().Set("Content-Type", "application/json")
	if err := json.NewEncoder(w).Encode(v); err != nil {
		panic(http.ErrAbortHandler)
	}
}

func (p *Provider) authorize(w http.ResponseWriter, r *http.Request) {
	q := r.URL.Query()
	if q.Get("client_id") != Client || q.Get("code_challenge_method") != "S256" {
		http.Error(w, "nobody knows this client", http.StatusBadRequest)
		return
	}
	code := rand.Text()
	p.mu.Lock()
	p.asked[code] = q
	p.mu.Unlock()
	to, err := url.Parse(q.Get("redirect_uri"))
	if err != nil {
		http.Error(w, err.Error(), http.StatusBadRequest)
		return
	}
	to.RawQuery = url.Values{"code": {code}, "state": {q.Get("state")}}.Encode()
	http.Redirect(w, r, to.String(), http.StatusFound)
}

func (p *Provider) token(w http.ResponseWriter, r *http.Request) {
	p.mu.Lock()
	defer p.mu.Unlock()
	client, secret, basic := r.BasicAuth()
	if !basic {
		client, secret = r.FormValue("client_id"), r.FormValue("client_secret")
	}
	if client != Client || secret != url.QueryEscape(Secret) && secret != Secret {
		http.Error(w, `{"error":"invalid_client"}`, http.StatusUnauthorized)
		return
	}
	q, ok := p.asked[r.FormValue("code")]
	delete(p.asked, r.FormValue("code"))
	challenge := sha256.Sum256([]byte(r.FormValue("code_verifier")))
	if !ok || q.Get("code_challenge") != base64.RawURLEncoding.EncodeToString(challenge[:]) || q.Get("redirect_uri") != r.FormValue("redirect_uri") {
		w.Header().Set("Content-Type", "application/json")
		w.WriteHeader(http.StatusBadRequest)
		w.Write([]byte(`{"error":"invalid_grant"}`)) //nolint:errcheck // whoever asked is gone then
		return
	}
	now := time.Now()
	claims := map[string]any{"iss": p.URL, "aud": Client, "iat": now.Unix(), "exp": now.Add(time.Minute).Unix(), "nonce": q.Get("nonce")}
	maps.Copy(claims, p.claims)
	if p.lie != nil {
		p.lie(claims)
	}
	key := p.key
	if p.forge {
		key = p.other
	}
	body, err := json.Marshal(claims)
	if err != nil {
		panic(http.ErrAbortHandler)
	}
	signer, err := jose.NewSigner(jose.SigningKey{Algorithm: jose.ES256, Key: jose.JSONWebKey{Key: key, KeyID: "1"}}, nil)
	if err != nil {
		panic(http.ErrAbortHandler)
	}
	signed, err := signer.Sign(body)
	if err != nil {
		panic(http.ErrAbortHandler)
	}
	raw, err := signed.CompactSerialize()
	if err != nil {
		panic(http.ErrAbortHandler)
	}
	answer(w, map[string]any{"access_token": "unused", "token_type": "Bearer", "expires_in": 60, "id_token": raw})
}
