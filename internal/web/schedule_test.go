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

// TestSubscription: an address that an account makes answers without a session, with what
// that account sees, until it is taken back.
func TestSubscription(t *testing.T) {
	o := newOffice(t, nil)
	gatherFiles(t, o, map[string]string{
		"projects.csv":   "project,name\nQ,Quay & co\n",
		"activities.csv": "project,activity,name,kind,level,start,finish\nQ,m,Opening,milestone,portfolio,,2026-12-15\nQ,w,Walls,task,,2026-12-01,2026-12-09\n",
		"progress.csv":   "project,activity,period,percent\nQ,w,2026-11,0\n",
	})
	app := newApp(o)
	b := signedIn(t, app, office.Executive)
	status, body, _ := b.post("/calendar?only=raised", url.Values{"do": {"subscribe"}})
	require.Equal(t, http.StatusOK, status)
	address := regexp.MustCompile(`/calendar/\w+\.ics`).FindString(body)
	require.NotEmpty(t, address)
	require.Contains(t, body, "only=raised")
	_, body, _ = b.get("/calendar")
	require.NotContains(t, body, strings.TrimSuffix(address, ".ics"), "the token is told once")

	anyone := newBrowser(t, app)
	status, file, head := anyone.get(address)
	require.Equal(t, http.StatusOK, status)
	require.Equal(t, "text/calendar; charset=utf-8", head.Get("Content-Type"))
	require.Contains(t, file, "SUMMARY:Q Quay & co: Opening due")
	require.Contains(t, file, "DTSTART;VALUE=DATE:20261215")
	require.Contains(t, file, "DTEND;VALUE=DATE:20261216")
	require.NotContains(t, file, "Walls", "raised milestones alone")
	for _, wrong := range []string{"/calendar/AAAA.ics", strings.TrimSuffix(address, ".ics"), "/calendar/.ics"} {
		status, _, _ = anyone.get(wrong)
		require.Equal(t, http.StatusNotFound, status, wrong)
	}
	id := regexp.MustCompile(`name="id" value="(\d+)"`).FindStringSubmatch(body)[1]
	other := signedIn(t, app, office.Analyst)
	other.post("/calendar", url.Values{"do": {"revoke"}, "id": {id}})
	status, _, _ = anyone.get(address)
	require.Equal(t, http.StatusOK, status, "nobody else takes it back")
	status, _, _ = b.post("/calendar", url.Values{"do": {"revoke"}, "id": {id}})
	require.Equal(t, http.StatusSeeOther, status)
	status, _, _ = anyone.get(address)
	require.Equal(t, http.StatusNotFound, status)
}

// TestDatesOfASchedule: an office that has gathered a schedule and nothing for a period sees
// its dates all the same.
func TestDatesOfASchedule(t *testing.T) {
	o := newOffice(t, nil)
	gatherFiles(t, o, map[string]string{
		"projects.csv":   "project,name\nQ,Quay\nN,Nothing yet\n",
		"activities.csv": "project,activity,name,kind,level,baseline_start,baseline_finish,start,finish\nQ,w,Walls,task,,2030-01-01,2030-02-01,2030-01-01,2030-02-01\nQ,m,Opening,milestone,portfolio,,2030-03-01,,2030-03-04\n",
	})
	b := signedIn(t, newApp(o), office.Analyst)
	for _, path := range []string{"/timeline?open=Q", "/roadmap", "/calendar?month=2030-03", "/dates", "/interfaces", "/dates/gone", "/backlog", "/timeline/push?of=Q/w&finish=2030-04-01", "/timeline/link?of=Q/w&other=Q/m&way=before"} {
		status, body, _ := b.get(path)
		require.Equal(t, http.StatusOK, status, path)
		require.NotContains(t, body, "Nothing is stated yet", path)
	}
	_, body, _ := b.get("/dates/gone")
	require.Less(t, len(body), 60_000, "one period is looked at, not all there ever were")
	_, body, _ = b.get("/calendar?month=2030-03")
	require.Contains(t, body, "Opening")
	_, body, _ = b.get("/timeline?open=Q")
	require.Contains(t, body, "Walls")
}
