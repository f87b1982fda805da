package web

import (
	"context"
	"fmt"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/account"
	"turret/internal/office/entry"
)

func TestSignInGoesOnWithinTheApplicationOnly(t *testing.T) {
	o := newOffice(t, small)
	for next, want := range map[string]string{
		"/project/B?vs=2026-01": "/project/B?vs=2026-01", "": "/board", "https://elsewhere.example/": "/board", "//elsewhere.example": "/board",
		"/\\elsewhere.example": "/board", "javascript:alert(1)": "/board", "board": "/board", "/board\r\nX: y": "/board",
	} {
		b := newBrowser(t, newApp(o))
		status, _, head := b.post("/sign-in", url.Values{"login": {"analyst1"}, "password": {password}, "next": {next}})
		require.Equal(t, http.StatusSeeOther, status)
		require.Equal(t, want, head.Get("Location"), next)
	}
}

func TestSignInAgainSkipsTheDoor(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, small)), office.Lead)
	status, _, head := b.get("/sign-in?next=/account")
	require.Equal(t, http.StatusSeeOther, status)
	require.Equal(t, "/account", head.Get("Location"))
	old := b.cookies["turret"]
	status, _, _ = b.post("/sign-out", url.Values{})
	require.Equal(t, http.StatusSeeOther, status)
	b.cookies["turret"] = old
	status, _, _ = b.get("/board")
	require.Equal(t, http.StatusSeeOther, status, "the old session does not come back")
}

// TestEachSignInHasItsOwnKey: a key that someone planted before is not taken
// over.
func TestEachSignInHasItsOwnKey(t *testing.T) {
	app := newApp(newOffice(t, small))
	b := newBrowser(t, app)
	b.get("/sign-in")
	b.cookies["turret"] = "planted"
	b.post("/sign-in", url.Values{"login": {"lead1"}, "password": {password}})
	require.NotEqual(t, "planted", b.cookies["turret"])
	thief := newBrowser(t, app)
	thief.cookies["turret"] = "planted"
	status, _, _ := thief.get("/board")
	require.Equal(t, http.StatusSeeOther, status)
}

// TestFormsThatComeTooLateAreShownAgain: those of a session that is over, or of someone
// else's, with what was typed, and without doing it. A restart ends none.
func TestFormsThatComeTooLateAreShownAgain(t *testing.T) {
	o := newOffice(t, small)
	b := signedIn(t, newApp(o), office.Administrator)
	b.get("/setup/accounts")
	other := signedIn(t, b.app, office.Administrator)
	other.get("/setup/accounts")
	own := b.cookies["turret_form"]
	require.NotEqual(t, own, other.cookies["turret_form"])
	b.cookies["turret_form"] = other.cookies["turret_form"] // planted, and believed of nobody
	form := url.Values{
		"_csrf": {b.cookies["turret_form"]},
		"do":    {"invite"},
		"name":  {`Wren "W" Tolliver`},
		"login": {"wren"},
		"role":  {"lead"},
	}
	b.app = newApp(o) // restarted
	status, body, _ := b.postStale("/setup/accounts", form)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, "send it again")
	require.Contains(t, body, "Wren &#34;W&#34; Tolliver")
	list, _, err := account.In(o).Accounts(context.Background(), operator)
	require.NoError(t, err)
	require.Len(t, list, 4, "nothing was done")
	require.Equal(t, own, b.cookies["turret_form"])
	form.Set("_csrf", own)
	status, body, _ = b.postStale("/setup/accounts", form)
	require.Equal(t, http.StatusOK, status)
	require.Contains(t, body, "/welcome/")

	b = newBrowser(t, newApp(o))
	status, body, _ = b.postStale("/sign-in", url.Values{"login": {"analyst1"}, "password": {password}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, `value="analyst1"`)
	require.NotContains(t, body, password)
	require.Empty(t, b.cookies["turret"])
}

func TestFormsOfOtherSitesAreRefused(t *testing.T) {
	o := newOffice(t, small)
	b := signedIn(t, newApp(o), office.Administrator)
	for name, value := range map[string]string{"Origin": "https://elsewhere.example", "origin": "null", "Sec-Fetch-Site": "cross-site"} {
		b.header = http.Header{http.CanonicalHeaderKey(name): {value}}
		status, body, _ := b.post("/setup/accounts", url.Values{"do": {"disable"}, "account": {"2"}})
		require.Equal(t, http.StatusForbidden, status, value)
		require.Contains(t, body, "a page of another place")
	}
	list, _, err := account.In(o).Accounts(context.Background(), operator)
	require.NoError(t, err)
	for _, a := range list {
		require.False(t, a.Disabled)
	}
}

func TestCookiesTravelByHTTPSBeyondThisMachine(t *testing.T) {
	app := New(
		newOffice(t, small),
		Options{
			BodyLimit: 1 << 16,
			Session:   time.Hour,
			Secure:    true,
			Origin:    "https://turret.example",
			Log:       slog.New(slog.DiscardHandler),
		},
	)
	b := newBrowser(t, app)
	b.header.Set("Origin", "https://turret.example")
	_, _, head := b.get("/sign-in")
	require.Contains(t, strings.ToLower(head.Get("Set-Cookie")), "secure")
	require.Contains(t, head.Get("Strict-Transport-Security"), "max-age=31536000")
	status, _, head := b.post("/sign-in", url.Values{"login": {"administrator1"}, "password": {password}})
	require.Equal(t, http.StatusSeeOther, status, "forms of the origin are its own")
	for _, c := range head.Values("Set-Cookie") {
		require.Contains(t, strings.ToLower(c), "secure")
		require.Contains(t, c, "__Host-turret")
		require.NotContains(t, strings.ToLower(c), "domain")
	}
	_, body, _ := b.post(
		"/setup/accounts",
		url.Values{"do": {"invite"}, "login": {"new"}, "name": {"New"}, "role": {"lead"}},
	)
	require.Contains(t, body, "https://turret.example/welcome/", "links name the outside")
}

func TestTooManyAttempts(t *testing.T) {
	app := newApp(newOffice(t, small))
	signedIn(t, app, office.Lead) // those who get in are not counted
	b := newBrowser(t, app)
	for i := range 5 {
		status, body, _ := b.post("/sign-in", url.Values{"login": {"analyst1"}, "password": {"a guess"}})
		require.Equal(t, http.StatusUnprocessableEntity, status, i)
		require.Contains(t, body, "not right")
	}
	for _, p := range []string{"a guess", password} {
		status, body, _ := b.post("/sign-in", url.Values{"login": {"analyst1"}, "password": {p}})
		require.Equal(t, http.StatusTooManyRequests, status)
		require.Contains(t, body, "too many attempts")
	}
}

func TestLargeFormsAreRefused(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, small)), office.Analyst)
	status, _, _ := b.post("/views", url.Values{"do": {"save"}, "name": {"x"}, "query": {strings.Repeat("y", 1<<17)}})
	require.Equal(t, http.StatusRequestEntityTooLarge, status)
}

func TestViewsOverHTTP(t *testing.T) {
	o := newOffice(t, small)
	app := newApp(o)
	b := signedIn(t, app, office.Analyst)
	status, _, head := b.post(
		"/views",
		url.Values{"do": {"save"}, "name": {"Acts"}, "query": {"standing=act&at=2026-01&trail=x"}, "first": {"1"}},
	)
	require.Equal(t, http.StatusSeeOther, status)
	require.Contains(t, head.Get("Location"), "standing=act")
	status, _, head = b.get("/board?vs=2026-01")
	require.Equal(t, http.StatusSeeOther, status)
	require.Equal(
		t,
		"/board?vs=2026-01&standing=act&view=1.675a6226",
		head.Get("Location"),
		"a view keeps what is listed, not the period",
	)
	status, _, _ = b.get("/board?view=plain")
	require.Equal(t, http.StatusOK, status)
	for _, form := range []url.Values{{"do": {"drop"}, "view": {"99"}}, {"do": {"default"}, "view": {"99"}}, {"do": {"dance"}}, {"do": {"save"}, "name": {""}}} {
		status, _, _ = b.post("/views", form)
		require.Equal(t, http.StatusUnprocessableEntity, status, form)
	}
	other := signedIn(t, app, office.Executive)
	status, body, _ := other.post("/views", url.Values{"do": {"drop"}, "view": {"1"}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, "only its owner")
	status, _, _ = b.post("/views", url.Values{"do": {"drop"}, "view": {"1"}})
	require.Equal(t, http.StatusSeeOther, status)
	status, _, _ = b.get("/board")
	require.Equal(t, http.StatusOK, status)
}

// TestOnePageArrangedTwice: whoever keeps a page that was kept otherwise since they opened it is
// told, with the way to that one, and says what they want.
func TestOnePageArrangedTwice(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, small)), office.Executive)
	keep := func(blocks, seen string) (status int, body string, to url.Values) {
		t.Helper()
		status, body, head := b.post("/views", url.Values{"do": {"save"}, "of": {"page"}, "name": {"Tuesday"}, "query": {"blocks=" + blocks}, "seen": {seen}})
		at, err := url.Parse(head.Get("Location"))
		require.NoError(t, err)
		return status, body, at.Query()
	}
	status, _, at := keep("12:sum", "")
	require.Equal(t, http.StatusSeeOther, status)
	_, mark, _ := strings.Cut(at.Get("view"), ".")
	_, page, _ := b.get("/page?" + at.Encode())
	require.Contains(t, page, `name="seen" value="`+mark+`"`)
	require.Contains(t, page, `maxlength="60" value="Tuesday"`)
	at.Set("blocks", "12:sum 6:decide")
	_, page, _ = b.get("/page?" + at.Encode())
	require.Contains(t, text(page), "Tuesday, changed and not kept yet")

	// Two windows, each opened from the same: the one keeps, the other is asked.
	status, _, _ = keep("6:decide", mark)
	require.Equal(t, http.StatusSeeOther, status)
	status, page, _ = keep("6:moved", mark)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, text(page), "You keep a view \"Tuesday\" already, and it is not as you opened it")
	require.Contains(t, page, "Keep this one in its place")
	require.Contains(t, linksTo(page, "/page?")[0], "decide")
	_, rest, _ := strings.Cut(page, `name="seen" value="`)
	status, _, at = keep("6:moved", rest[:8])
	require.Equal(t, http.StatusSeeOther, status)
	require.Equal(t, "6:moved", at.Get("blocks"))
	_, list, _ := b.get("/views")
	require.Len(t, linksTo(list, "/page?"), 1)
}

func TestWelcome(t *testing.T) {
	o := newOffice(t, small)
	app := newApp(o)
	admin := signedIn(t, app, office.Administrator)
	_, body, _ := admin.post(
		"/setup/accounts",
		url.Values{"do": {"invite"}, "login": {"wren"}, "name": {"Wren"}, "role": {"executive"}},
	)
	_, rest, _ := strings.Cut(body, "/welcome/")
	code := rest[:26]
	b := newBrowser(t, app)
	for _, form := range []url.Values{{"password": {"long enough one"}, "password2": {"long enough two"}}, {"password": {"short"}, "password2": {"short"}}} {
		status, body, _ := b.post("/welcome/"+code, form)
		require.Equal(t, http.StatusUnprocessableEntity, status)
		require.NotContains(t, body, "long enough")
	}
	status, _, _ := b.post(
		"/welcome/"+code,
		url.Values{"password": {"long enough one"}, "password2": {"long enough one"}},
	)
	require.Equal(t, http.StatusSeeOther, status)
	status, body, _ = b.get("/board")
	require.Equal(t, http.StatusOK, status)
	require.Contains(t, body, "Account of Wren")
	status, _, _ = newBrowser(t, app).get("/welcome/" + code)
	require.Equal(t, http.StatusNotFound, status)
}

// TestSwappedPagesGoToTheDoorWhole: a part of a page that is asked for after
// the session has ended sends the whole page to sign in.
func TestSwappedPagesGoToTheDoorWhole(t *testing.T) {
	b := newBrowser(t, newApp(newOffice(t, small)))
	b.header.Set("HX-Request", "true")
	b.header.Set("HX-Current-URL", "http://localhost/project/B?vs=2026-01")
	status, body, head := b.get("/project/B?trail=B%2Fbac")
	require.Equal(t, http.StatusNoContent, status)
	require.Empty(t, body)
	require.Equal(t, "/sign-in?next=%2Fproject%2FB%3Fvs%3D2026-01", head.Get("HX-Redirect"))
}

// TestOtherMethods: what neither reads a page nor sends a form is refused with a page, from
// whoever it comes, and so is a form that is sent where there is none.
func TestOtherMethods(t *testing.T) {
	app := newApp(newOffice(t, small))
	for who, b := range map[string]*browser{"nobody": newBrowser(t, app), "an analyst": signedIn(t, app, office.Analyst)} {
		for _, method := range []string{"PUT", "DELETE", "PATCH", "OPTIONS", "TRACE", "CONNECT"} {
			for _, path := range []string{"/board", "/sign-in", "/nowhere", "/healthz"} {
				status, body, head := b.send(httptest.NewRequest(method, path, strings.NewReader("x=1")))
				require.Equal(t, http.StatusMethodNotAllowed, status, "%s %s of %s", method, path, who)
				require.Equal(t, "GET, HEAD, POST", head.Get("Allow"))
				require.Contains(t, body, "Nothing of the kind is done at "+path)
				require.Contains(t, body, "<html")
			}
		}
	}
	b := signedIn(t, app, office.Analyst)
	status, body, _ := b.post("/board", url.Values{})
	require.Equal(t, http.StatusMethodNotAllowed, status)
	require.Contains(t, body, "nothing was changed")
}

// TestLeadsReadTheirOwn: where the office says so, a lead reads no more than what they
// state for: pages of their projects, and those that show each reader what is theirs. All
// else is refused, by any address, with a word why.
func TestLeadsReadTheirOwn(t *testing.T) {
	o := newOffice(t, small)
	app := newApp(o)
	gatherFiles(t, o, map[string]string{
		"stating.csv":   "project,account,kinds,from,until\nB,lead1,progress,2025-01,\n",
		"questions.csv": "project,question,text,by\nA/1 ä,Q1,Why so?,someone\nB,Q1,How come?,someone\n",
	})
	lead := signedIn(t, app, office.Lead)
	status, _, _ := lead.get("/board")
	require.Equal(t, http.StatusOK, status, "without the setting they read all")
	status, body, _ := signedIn(t, app, office.Administrator).post("/setup/office", url.Values{"name": {"Test & Co"}, "currency": {"EUR"}, "read_lead": {"own"}})
	require.Equal(t, http.StatusSeeOther, status, body)

	theirs := map[string]bool{
		"/": true, "/desk": true, "/account": true, "/account/second": true, "/typed": true, "/questions": true, "/find": true, "/find?q=a": true,
		"/project/B": true, "/trail/B/bac": true, "/project/B?trail=B%2Fbac": true, "/question/B/Q1": true, "/ask/B": true,
		"/state/B/progress": true, "/amounts/B/forecast": false, // they state its progress alone
		"/history?project=B": true, "/history/2?project=B": true, "/check/B/no-rate?record=currency+NOK": true,

		"/board": true, "/exceptions": true, "/drivers": true, "/forecasts": true, "/funding": true, "/page": true, "/explain": true, "/words/*": true, "/trend": true, "/feedback": true, "/contacts": true, "/take": true, "/explain/B": true, "/explain/A%2F1%20%C3%A4": false, "/timeline": true, "/timeline/push": true, "/timeline/link": true, "/roadmap": true, "/calendar": true, "/dates": true, "/dates/gone": true, "/interfaces": true, "/backlog": true, "/map": true, "/money": true, "/baselines": true, "/views": true, // with no more than what is theirs: TestSightByRoute
		"/money?of=B": true, "/money.csv?of=B": true, "/baselines?of=B": true, "/money.csv": true, "/board.xlsx": true, "/brief/now.pdf": true, "/project/B?trail=%2A%2Fbac": true,
		"/gather/refused.xlsx": false, "/project/A%2F1%20%C3%A4": false, "/project/nope": false, "/project/B%2F..%2FA": false,
		"/question/A%2F1%20%C3%A4/Q1": false, "/ask/A%2F1%20%C3%A4": false, "/state/A%2F1%20%C3%A4/progress": false,
		"/history": false, "/history?project=A%2F1+%C3%A4": false, "/history/2": false, "/history/2?project=A%2F1+%C3%A4": false, "/check/A%2F1%20%C3%A4/no-rate": false,
	}
	for _, r := range app.GetRoutes(true) { // what is not said above is not theirs
		path := strings.NewReplacer(":form", "csv", ":batch", "2", ":table", "projects", ":id", "1", ":figure", "bac").Replace(r.Path)
		if r.Method != http.MethodGet || strings.ContainsAny(path, ":*") || strings.Contains(path, ".") ||
			path == "/healthz" || strings.HasPrefix(path, "/money/") || strings.HasPrefix(path, "/sign-") { // cells and bridges are of what is asked for
			continue
		}
		if _, said := theirs[path]; !said {
			theirs[path] = false
		}
	}
	require.Greater(t, len(theirs), 55)
	for path, may := range theirs {
		status, body, _ := lead.get(path)
		if may {
			require.Less(t, status, 400, path)
			continue
		}
		require.Equal(t, http.StatusForbidden, status, path)
		require.Contains(t, body, "may not", path)
	}
	r, err := entry.In(o).Gather(context.Background(), operator, []entry.File{{Name: "costs.csv", Body: []byte("project,cost_code,kind,period,amount\nA/1 ä,10,actual,2026-01,77\n")}}, nil, entry.Options{})
	require.NoError(t, err)
	require.Empty(t, r.Refusals)
	status, body, _ = lead.get(fmt.Sprintf("/history/%d?project=B", r.Revision))
	require.Equal(t, http.StatusNotFound, status, "of a batch that says nothing of their project not even who made it")
	require.NotContains(t, body, "costs.csv")
	_, body, _ = lead.get("/questions?show=all")
	require.Contains(t, body, "How come?")
	require.NotContains(t, body, "Why so?")
	_, body, _ = lead.get("/find?q=a")
	require.NotContains(t, body, "/project/A%2F1%20%C3%A4")
	require.NotContains(t, body, "scope=")
	_, body, _ = lead.get("/find?q=alert")
	require.Contains(t, body, "/project/B")
	_, body, _ = lead.get("/desk")
	for _, not := range []string{`href="/gather`, `href="/check`, `href="/brief`, `href="/setup`, "Whole portfolio", " Steady", " Watch"} {
		require.NotContains(t, body, not)
	}
}
