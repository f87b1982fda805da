package web

import (
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
)

// TestLogOfAccess: who comes, who is wrong, what is refused and taken, and which rights are
// changed stand in the log, for those who administer accounts.
func TestLogOfAccess(t *testing.T) {
	o := newOffice(t, small)
	app := newApp(o)
	una, ines := signedIn(t, app, office.Administrator), signedIn(t, app, office.Analyst)
	guest := newBrowser(t, app)
	for _, login := range []string{"analyst1", "a password in the wrong place"} {
		guest.post("/sign-in", url.Values{"login": {login}, "password": {"a guess"}})
	}
	for range 8 { // five are weighed; of those that are held up one is told
		guest.post("/sign-in", url.Values{"login": {"lead1"}, "password": {"a guess"}})
	}
	ines.get("/board.xlsx")
	ines.get("/setup/accounts")
	una.post("/setup/accounts", url.Values{"do": {"role"}, "account": {"2"}, "role": {"executive"}})
	ines.post("/sign-out", url.Values{})

	rows := func(query string) (out []string) {
		t.Helper()
		status, body, _ := una.get("/setup/access" + query)
		require.Equal(t, http.StatusOK, status)
		for _, m := range regexp.MustCompile(`(?s)<tr><td class="nowrap">.*?</td><td>(.*?)</td><td class="code">.*?</td><td[^>]*>(.*?)</td><td>(.*?)</td>`).FindAllStringSubmatch(body, -1) {
			who := strings.NewReplacer(`<span class="quiet">`, "", "</span>", "").Replace(m[1])
			out = append(out, who+" "+m[2]+" "+m[3])
		}
		return out
	}
	all := rows("")
	require.Equal(t, "The analyst signed out ", all[0])
	require.Equal(t, "The administrator rights changed lead1: role set to executive", rows("?what=rights+changed")[0])
	require.Equal(t, []string{"The analyst refused GET /setup/accounts"}, rows("?what=refused"))
	require.Equal(t, []string{"The analyst took /board.xlsx"}, rows("?what=took"))
	require.Equal(t, []string{"nobody held up lead1"}, rows("?what=held+up"))
	wrong := rows("?what=wrong+password")
	require.Len(t, wrong, 7)
	require.Equal(t, "nobody wrong password a name that nobody has", wrong[5], "what may be a password is told nowhere")
	require.Equal(t, "nobody wrong password analyst1", wrong[6])
	require.Len(t, rows("?text=lead1"), 8, "invited, five guesses, held up, and the role")
	require.NotEmpty(t, rows("?text=0.0.0.0"), "where they came from")
	require.Empty(t, rows("?from=2001-01-01&until=2001-02-01"))
	status, body, _ := una.get("/setup/access?from=soon")
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, "is no day such as 2026-11-30")
	status, _, _ = ines.get("/setup/access")
	require.Equal(t, http.StatusSeeOther, status, "she is signed out")

	for days, want := range map[string]int{"7": http.StatusUnprocessableEntity, "400": http.StatusSeeOther} {
		status, _, _ = una.post("/setup/access", url.Values{"days": {days}, "mark": {mark(una, "/setup/access")}})
		require.Equal(t, want, status, days)
	}
	_, body, _ = una.get("/setup/access")
	require.Contains(t, body, "of the last 400 days")
}
