package web

import (
	"html"
	"log/slog"
	"net/http"
	"net/url"
	"regexp"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/require"

	"turret/internal/office"
)

// TestSecondFactor: it is turned on with a code of the moment; signing in then asks for one,
// takes each once, and a recovery code once; a new link ends it.
func TestSecondFactor(t *testing.T) {
	o := newOffice(t, small)
	app := newApp(o)
	ines := signedIn(t, app, office.Analyst)
	_, body, _ := ines.get("/account/second")
	secret := regexp.MustCompile(`name="secret" value="(\w+)"`).FindStringSubmatch(body)[1]
	require.Contains(t, body, "data:image/png;base64,")
	code := func(at time.Duration) string {
		text, err := totp.GenerateCode(secret, time.Now().Add(at))
		require.NoError(t, err)
		return text
	}
	on := func(secret, code string) (int, string) {
		status, body, _ := ines.post("/account/second", url.Values{"do": {"on"}, "secret": {secret}, "code": {code}})
		return status, body
	}
	status, body := on(secret, "000000")
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, secret, "the application need not be made anew")
	status, _ = on("short", code(0))
	require.Equal(t, http.StatusUnprocessableEntity, status)
	status, body = on(secret, code(-30*time.Second))
	require.Equal(t, http.StatusOK, status)
	recovery := regexp.MustCompile(`<code>(\w{5}-\w{5}-\w{5})</code>`).FindAllStringSubmatch(body, -1)
	require.Len(t, recovery, 10)

	enter := func(code string) (*browser, int) {
		b := newBrowser(t, app)
		status, _, head := b.post("/sign-in", url.Values{"login": {"analyst1"}, "password": {password}, "next": {"/check"}})
		require.Equal(t, http.StatusSeeOther, status)
		require.Equal(t, "/sign-in/code?next=%2Fcheck", head.Get("Location"))
		status, _, _ = b.get("/board")
		require.Equal(t, http.StatusSeeOther, status, "half the way opens nothing")
		status, _, head = b.post("/sign-in/code", url.Values{"code": {code}, "next": {"/check"}})
		if status == http.StatusSeeOther {
			require.Equal(t, "/check", head.Get("Location"))
			status, _, _ = b.get("/board")
			require.Equal(t, http.StatusOK, status)
		}
		return b, status
	}
	_, status = enter(code(-30 * time.Second))
	require.Equal(t, http.StatusUnprocessableEntity, status, "it was used when it was turned on")
	_, status = enter(code(0))
	require.Equal(t, http.StatusOK, status)
	_, status = enter(code(0))
	require.Equal(t, http.StatusUnprocessableEntity, status, "a code is good once")
	_, status = enter(recovery[3][1])
	require.Equal(t, http.StatusOK, status)
	_, status = enter(recovery[3][1])
	require.Equal(t, http.StatusUnprocessableEntity, status, "a recovery code too")
	_, body, _ = ines.get("/account")
	require.Contains(t, body, "9 recovery codes are left")
	guest := newBrowser(t, app)
	status, _, head := guest.get("/sign-in/code")
	require.Equal(t, http.StatusSeeOther, status)
	require.Equal(t, "/sign-in?next=", head.Get("Location"))

	status, _, _ = ines.post("/account/second", url.Values{"do": {"off"}, "code": {"123456"}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	status, _, _ = ines.post("/account/second", url.Values{"do": {"off"}, "code": {recovery[0][1]}})
	require.Equal(t, http.StatusSeeOther, status)
	signedIn(t, app, office.Analyst)
}

// TestSecondFactorIsAskedFor: who has none, of a role that is asked for one, does nothing else
// before; it cannot be turned off, and a new link takes it away with the password.
func TestSecondFactorIsAskedFor(t *testing.T) {
	app := newApp(newOffice(t, small))
	una, tor := signedIn(t, app, office.Administrator), signedIn(t, app, office.Executive)
	status, _, _ := una.post("/setup/accounts", url.Values{"do": {"second"}, "asked": {"executive"}, "mark": {mark(una, "/setup/accounts")}})
	require.Equal(t, http.StatusSeeOther, status)
	for _, path := range []string{"/board", "/setup/rules", "/board.xlsx"} {
		status, _, head := tor.get(path)
		require.Equal(t, http.StatusSeeOther, status, path)
		require.Equal(t, "/account/second", head.Get("Location"))
	}
	status, _, _ = una.get("/board")
	require.Equal(t, http.StatusOK, status, "nobody asks administrators")
	_, body, _ := tor.get("/account/second")
	require.Contains(t, body, "asks every executive")
	secret := regexp.MustCompile(`name="secret" value="(\w+)"`).FindStringSubmatch(body)[1]
	code, err := totp.GenerateCode(secret, time.Now())
	require.NoError(t, err)
	_, body, _ = tor.post("/account/second", url.Values{"do": {"on"}, "secret": {secret}, "code": {code}})
	recovery := regexp.MustCompile(`<code>(\w{5}-\w{5}-\w{5})</code>`).FindStringSubmatch(body)[1]
	status, _, _ = tor.get("/board")
	require.Equal(t, http.StatusOK, status)
	status, body, _ = tor.post("/account/second", url.Values{"do": {"off"}, "code": {recovery}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, "so it stays")

	_, body, _ = una.get("/setup/accounts")
	require.Contains(t, body, "second factor</span>")
	id := regexp.MustCompile(`name="account" value="(\d+)"><input type="hidden" name="login" value="The executive"`).FindStringSubmatch(body)[1]
	_, body, _ = una.post("/setup/accounts", url.Values{"do": {"reset"}, "account": {id}})
	link := html.UnescapeString(regexp.MustCompile(`/welcome/\w+`).FindString(body))
	b := newBrowser(t, app)
	status, _, head := b.post(link, url.Values{"password": {"kettles on the hob"}, "password2": {"kettles on the hob"}})
	require.Equal(t, http.StatusSeeOther, status)
	require.NotContains(t, head.Get("Location"), "code", "the old factor went with the password")
	status, _, head = b.get("/board")
	require.Equal(t, http.StatusSeeOther, status)
	require.Equal(t, "/account/second", head.Get("Location"))
}

// TestUnusedSessionsEnd: a session that nobody uses for as long as idle says ends; one that is
// used goes on.
func TestUnusedSessionsEnd(t *testing.T) {
	o := newOffice(t, small)
	app := New(o, Options{BodyLimit: 1 << 16, Session: time.Hour, Idle: 3 * time.Second, Log: slog.New(slog.DiscardHandler)})
	used, left := signedIn(t, app, office.Analyst), signedIn(t, app, office.Lead)
	for range 4 {
		time.Sleep(900 * time.Millisecond)
		status, _, _ := used.get("/questions")
		require.Equal(t, http.StatusOK, status)
	}
	status, _, head := left.get("/questions")
	require.Equal(t, http.StatusSeeOther, status)
	require.Equal(t, "/sign-in?next=%2Fquestions", head.Get("Location"))
}
