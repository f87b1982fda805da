package web

import (
	"context"
	"net/http"
	"net/url"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/demo"
	"turret/internal/office"
	"turret/internal/office/letters"
)

// TestAskingWithoutScripts: a question is put from a trail, stands on the lead's desk, is
// answered there and closed by who asked, all by plain forms.
func TestAskingWithoutScripts(t *testing.T) {
	if testing.Short() {
		t.Skip("it makes the demonstration")
	}
	o, err := demo.Make(context.Background(), filepath.Join(t.TempDir(), "demo.db"))
	require.NoError(t, err)
	defer o.Close()
	app := newApp(o)
	people := make(map[office.Role]*browser)
	for _, s := range demo.SignIns {
		people[s.Role] = newBrowser(t, app)
		status, _, _ := people[s.Role].post("/sign-in", url.Values{"login": {s.Login}, "password": {s.Password}})
		require.Equal(t, http.StatusSeeOther, status)
	}
	ines, ada, tor := people[office.Analyst], people[office.Lead], people[office.Executive]
	_, body, _ := ines.get("/trail/FR-01/cpi")
	require.Contains(t, body, `href="/ask/FR-01?about=figure&#43;cpi"`)
	_, body, _ = ines.get("/trail/*/cpi")
	require.NotContains(t, body, "/ask/", "nobody leads the portfolio")
	_, body, _ = ines.get("/ask/FR-01?about=figure+cpi")
	require.Contains(t, body, "Ask about Cost performance index")
	require.Contains(t, body, "Whoever leads it: Ada Brannock")
	status, body, _ := ines.post("/ask/FR-01?about=figure+cpi", url.Values{"about": {"figure cpi"}, "to": {""}, "text": {" "}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, "write something first")
	require.Contains(t, body, `name="about" value="figure cpi"`, "what it is about is kept")
	status, _, head := ines.post("/ask/FR-01", url.Values{"about": {"figure cpi"}, "to": {""}, "text": {"Why <b>below</b> one?"}})
	require.Equal(t, http.StatusSeeOther, status)
	question, _, _ := strings.Cut(head.Get("Location"), "?")
	require.Equal(t, "/question/FR-01/Q2", question)

	_, body, _ = ada.get("/desk")
	require.Contains(t, body, "Why &lt;b&gt;below&lt;/b&gt; one?")
	require.Contains(t, body, "Questions<sup>2</sup>")
	_, body, _ = ada.get(question)
	require.Contains(t, body, "waits for you")
	require.NotContains(t, body, "Close the question", "who is asked does not close it")
	status, _, _ = ada.post(question, url.Values{"do": {"close"}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	status, _, _ = ada.post(question, url.Values{"do": {"answer"}, "text": {"The hull steel came early."}})
	require.Equal(t, http.StatusSeeOther, status)

	_, body, _ = ines.get("/questions?show=mine")
	require.Contains(t, body, question)
	_, body, _ = tor.get(question)
	require.Contains(t, body, "The hull steel came early.")
	require.Contains(t, body, "waits for Ines Marlow")
	status, _, _ = ines.post(question, url.Values{"do": {"close"}, "text": {"Thank you."}})
	require.Equal(t, http.StatusSeeOther, status)
	_, body, _ = ines.get(question)
	require.Contains(t, body, "Q2, closed.")
	require.Contains(t, body, "Thank you.")
	status, body, _ = ada.post(question, url.Values{"do": {"answer"}, "text": {"One more."}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, "closed meanwhile")
	_, body, _ = ines.get("/project/FR-01")
	require.Contains(t, body, `id="questions"`)
	require.Contains(t, body, question)
	status, _, _ = ines.get("/question/FR-01/Q99")
	require.Equal(t, http.StatusNotFound, status)
	status, _, _ = ines.get("/ask/NONE")
	require.Equal(t, http.StatusNotFound, status)

	status, body, _ = ada.post("/account", url.Values{"do": {"letters"}, "address": {"nowhere"}, "letters": {"daily"}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, "is not a mail address")
	status, _, _ = ada.post("/account", url.Values{"do": {"letters"}, "address": {"ada@office.example"}, "letters": {letters.Daily}})
	require.Equal(t, http.StatusSeeOther, status)
	_, body, _ = ada.get("/account")
	require.Contains(t, body, "<option selected>daily</option>")
	_, body, _ = ines.get("/setup/letters")
	require.Contains(t, body, "No mail server is named")
	status, _, _ = ines.post("/setup/letters", url.Values{"do": {"remind"}, "before": {"1"}, "after": {"x"}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
}
