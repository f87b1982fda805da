package web

import (
	"context"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/access"
)

// TestWarden: who reads little and administers a programme finds its rights under Setup, and
// nothing else; what they give is in the log of access, and holds.
func TestWarden(t *testing.T) {
	files := map[string]string{"rights.csv": "account,right,scope,kinds,state\nexecutive1,read,SEE-1,,given\nexecutive1,administer,SP,,given\nlead1,read,HID-1,,given\n"}
	for k, v := range quay {
		files[k] = v
	}
	o := newOffice(t, files)
	app := newApp(o)
	warden := signedIn(t, app, office.Executive)
	_, body, _ := warden.get("/board")
	require.Contains(t, body, `href="/setup/records/rights"`)
	_, body, _ = warden.get("/setup/records/rights")
	require.Contains(t, body, "executive1")
	require.NotContains(t, body, "HID-1")
	require.NotContains(t, body, "/setup/rules")
	require.Contains(t, body, "/setup/records/stating")
	for _, path := range []string{"/setup/rules", "/setup/records/projects", "/setup/accounts", "/setup/access"} {
		status, _, _ := warden.get(path)
		require.Equal(t, http.StatusForbidden, status, path)
	}
	give := func(b *browser, account, right, scope string) int {
		_, page, _ := b.get("/setup/records/rights")
		mark := "0"
		if _, rest, ok := strings.Cut(page, `name="mark" value="`); ok {
			mark, _, _ = strings.Cut(rest, `"`)
		}
		status, _, _ := b.post("/setup/records/rights", url.Values{
			"mark": {mark}, "cell.account": {account}, "cell.right": {right}, "cell.scope": {scope}, "cell.kinds": {"dates"}, "cell.state": {"given"},
		})
		return status
	}
	require.Equal(t, http.StatusSeeOther, give(warden, "lead1", "read", "SEE-1"))
	require.Equal(t, http.StatusForbidden, give(warden, "lead1", "read", "HID-1"))
	require.Equal(t, http.StatusForbidden, give(warden, "executive1", "read", "HP"))
	require.Equal(t, http.StatusForbidden, give(warden, "executive1", "administer", "SEE-1"))
	require.Equal(t, http.StatusForbidden, give(signedIn(t, app, office.Analyst), "analyst1", "approve", "SEE-1"))

	_, body, _ = signedIn(t, app, office.Lead).get("/board")
	require.Contains(t, body, "SEE-1")
	log, err := access.In(o).Log(context.Background(), operator, access.Ask{What: access.Rights})
	require.NoError(t, err)
	require.Equal(t, "right: account lead1, right read, scope SEE-1, kinds dates, state given", log.Entries[0].Detail)
}
