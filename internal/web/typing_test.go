package web

import (
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
)

// TestTypedForms: what is typed into a form waits for its writer alone, at its page and
// whatever the month, until it is sent or dropped.
func TestTypedForms(t *testing.T) {
	app := newApp(newOffice(t, small))
	una, ines := signedIn(t, app, office.Administrator), signedIn(t, app, office.Analyst)
	keep := func(who *browser, at, form, fields string) (int, string) {
		status, body, _ := who.post("/typed", url.Values{"at": {at}, "form": {form}, "title": {"Programmes"}, "fields": {fields}})
		return status, body
	}
	const page, form = "/setup/records/programmes", "/setup/records/programmes"
	shows := func(who *browser, at string) bool {
		_, body, _ := who.get(at)
		return strings.Contains(body, "half a <name>") || strings.Contains(body, `half a \u003cname\u003e`)
	}
	status, _ := keep(una, page+"?at=2026-01&done=x", form, `[["cell.name","half a <name>"],["mark","1"]]`)
	require.Equal(t, http.StatusNoContent, status)
	require.True(t, shows(una, page))
	require.True(t, shows(una, page+"?vs=2026-01&trail=X%2Fcpi"), "whatever the month")
	require.False(t, shows(una, page+"?of=G"), "another record's form is another place")
	require.False(t, shows(una, "/setup/records/projects"))
	require.False(t, shows(ines, page), "what one types nobody else sees")
	_, body, _ := una.get("/account")
	require.Contains(t, body, `href="/setup/records/programmes">Programmes</a>`)

	draft := page + " " + form
	refused := url.Values{"cell.programme": {""}, "cell.name": {"half a <name>"}, "mark": {"1"}, "_draft": {draft}}
	status, _, _ = una.post(page, refused)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.True(t, shows(una, page), "what was refused still waits")
	sent := url.Values{"cell.programme": {"NEW"}, "cell.name": {"half a <name>"}, "mark": {mark(una, page)}, "_draft": {"/elsewhere " + form}}
	status, _, _ = una.post(page, sent)
	require.Equal(t, http.StatusSeeOther, status)
	_, body, _ = una.get(page)
	require.Contains(t, body, `id="typed"`, "another form was sent")
	sent.Set("cell.programme", "NEWER")
	sent.Set("mark", mark(una, page))
	sent.Set("_draft", draft)
	status, _, _ = una.post(page, sent)
	require.Equal(t, http.StatusSeeOther, status)
	_, body, _ = una.get(page)
	require.NotContains(t, body, `id="typed"`, "what was sent is forgotten")

	keep(una, page, form, `[["cell.name","again"]]`)
	status, _, head := una.post("/typed", url.Values{"at": {page}, "form": {form}, "back": {"/account"}})
	require.Equal(t, http.StatusSeeOther, status)
	require.Contains(t, head.Get("Location"), "/account?done=")
	_, body, _ = una.get(page)
	require.NotContains(t, body, `id="typed"`, "what was dropped is forgotten")
	status, _, _ = una.post("/typed", url.Values{"at": {page}, "form": {form}, "back": {"//elsewhere"}})
	require.Equal(t, http.StatusNoContent, status, "it leads nowhere else")

	for fields, why := range map[string]string{
		"{":                 "did not come as names and values",
		`[["a"],{"b":"c"}]`: "did not come as names and values",
	} {
		status, body = keep(una, page, form, fields)
		require.Equal(t, http.StatusUnprocessableEntity, status)
		require.Contains(t, body, why)
	}
	for _, at := range []string{"", "https://elsewhere.example", "%zz"} {
		status, _ = keep(una, at, form, `[]`)
		require.Equal(t, http.StatusBadRequest, status, at)
	}
}
