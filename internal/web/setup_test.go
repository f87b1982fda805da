package web

import (
	"cmp"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
)

// form sends a form of a page as it stands there, with its mark.
func form(t *testing.T, b *browser, path string, values url.Values) (status int, body, location string) {
	t.Helper()
	_, page, _ := b.get(path)
	if m := regexp.MustCompile(`name="mark" value="(\d+)"`).FindStringSubmatch(page); m != nil && !values.Has("mark") {
		values.Set("mark", m[1])
	}
	status, body, head := b.post(path, values)
	return status, body, head.Get("Location")
}

// TestSetupForms: every form of Setup keeps what is right and says so, refuses
// what is not, at the field, and shows it as it was typed.
func TestSetupForms(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, moneyed)), office.Analyst)
	for _, c := range []struct {
		name, path string
		values     url.Values
		status     int
		says, then string // of the page that answers; of the page after it was kept
	}{
		{"a code", "/setup/codes", url.Values{"do": {"save"}, "code": {"13"}, "name": {"Rails <new>"}, "parent": {"1"}, "reserve": {"none"}}, 303, "13 is kept.", "Rails &lt;new&gt;"},
		{"a code without one", "/setup/codes", url.Values{"do": {"save"}, "name": {"Kept name"}}, 422, "Cost code: write the code.", ""},
		{"a code under itself", "/setup/codes?of=1", url.Values{"do": {"save"}, "code": {"1"}, "name": {"Works"}, "parent": {"13"}}, 422, "loop of parents", ""},
		{"a code under nothing", "/setup/codes", url.Values{"do": {"save"}, "code": {"14"}, "parent": {"77"}}, 422, "is not known", ""},
		{"no reserve", "/setup/codes", url.Values{"do": {"save"}, "code": {"14"}, "reserve": {"some"}}, 422, "Reserve", ""},
		{"levels", "/setup/codes", url.Values{"do": {"levels"}, "level.executive": {"1"}}, 303, "levels are kept", `name="level.executive" size="4" inputmode="numeric" value="1"`},
		{"no level", "/setup/codes", url.Values{"do": {"levels"}, "level.lead": {"deep"}}, 422, "&#34;deep&#34; is no level", ""},
		{"nothing to do", "/setup/codes", url.Values{}, 422, "did not say what to do", ""},
		{"a centre", "/setup/centres", url.Values{"do": {"save"}, "code": {"C1"}, "name": {"Coast"}}, 303, "C1 is kept.", "Coast"},
		{"levels are of codes", "/setup/centres", url.Values{"do": {"levels"}}, 422, "did not say what to do", ""},
		{"shares", "/setup/shares", url.Values{"do": {"save"}, "project": {"P"}, "code": {"1"}, "from": {"2026-01"}, "shares": {"C1 25.5\nElse where 74.5"}}, 303, "shares are kept", "C1 25.5% · Else where 74.5%"},
		{"shares that do not add up", "/setup/shares", url.Values{"do": {"save"}, "project": {"P"}, "from": {"2026-01"}, "shares": {"C1 25.5"}}, 422, "add up to 25.5%", ""},
		{"shares of nobody", "/setup/shares", url.Values{"do": {"save"}, "project": {"P"}, "from": {"2026-01"}, "shares": {"100"}}, 422, "needs a cost centre", ""},
		{"a rate", "/setup/rates", url.Values{"currency": {"gbp"}, "from": {"2026-02"}, "set": {"plan"}, "rate": {"1.3"}}, 303, "The rate is kept", "1.3"},
		{"a rate of nothing", "/setup/rates", url.Values{"currency": {"GBP"}, "from": {"2026-02"}, "set": {"plan"}, "rate": {"0"}}, 422, "above zero", ""},
		{"a version", "/versions", url.Values{"version": {"statement~~2026-01"}, "name": {"First"}, "note": {"of <all>"}}, 303, "The name is kept.", "of &lt;all&gt;"},
		{"a version's name taken back", "/versions", url.Values{"version": {"statement~~2026-01"}}, 303, "no name any more", "as stated in Jan 2026"},
		{"a version that is gone", "/versions", url.Values{"version": {"cut~~7"}, "name": {"x"}}, 422, "That version is gone", ""},
	} {
		status, body, to := form(t, b, c.path, c.values)
		require.Equal(t, c.status, status, c.name)
		if status == http.StatusSeeOther {
			_, body, _ = b.get(to)
			require.True(t, strings.Contains(body, c.then), "%s: %s", c.name, c.then)
		} else {
			for k, v := range c.values { // what was typed is still there
				if k == "name" || k == "code" && !strings.HasSuffix(c.path, "shares") {
					require.True(t, strings.Contains(body, `value="`+v[0]+`"`), "%s keeps %s", c.name, k)
				}
			}
		}
		require.True(t, strings.Contains(body, c.says), "%s: %s", c.name, c.says)
		require.False(t, strings.Contains(body, "<new>") || strings.Contains(body, "<all>"), c.name)
	}
}

// TestSetupFormsOfTwo: what another changed since the page was opened is not
// overwritten unseen.
func TestSetupFormsOfTwo(t *testing.T) {
	app := newApp(newOffice(t, moneyed))
	one := signedIn(t, app, office.Analyst)
	for path, values := range map[string]url.Values{ // the field of that name is another in the second
		"/setup/codes":   {"do": {"save"}, "code": {"15"}, "name": {"Mine"}, "other": {"name"}},
		"/setup/centres": {"do": {"save"}, "code": {"C2"}, "name": {"Mine"}, "other": {"name"}},
		"/setup/shares":  {"do": {"save"}, "project": {"P"}, "from": {"2026-01"}, "shares": {"A 100"}, "other": {"shares"}, "theirs": {"A 60\nB 40"}},
		"/setup/rates":   {"currency": {"GBP"}, "from": {"2026-02"}, "set": {"period"}, "rate": {"1.26"}, "other": {"rate"}, "theirs": {"1.27"}},
		"/versions":      {"version": {"statement~~2026-01"}, "name": {"Mine"}, "other": {"name"}},
	} {
		first := url.Values{}
		for k, v := range values {
			first[k] = v
		}
		values[values.Get("other")] = []string{cmp.Or(values.Get("theirs"), "Theirs")}
		status, _, _ := form(t, one, path, first)
		require.Equal(t, http.StatusSeeOther, status, path)
		values.Set("mark", "0")
		status, body, _ := form(t, one, path, values)
		require.Equal(t, http.StatusUnprocessableEntity, status, path)
		require.True(t, strings.Contains(body, "meanwhile"), path)
	}
}
