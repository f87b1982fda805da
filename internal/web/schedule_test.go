package web

import (
	"fmt"
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

// everyRow goes down a timeline, window by window, and finds each of its activities once.
func everyRow(t *testing.T, b *browser, path string, many int) {
	t.Helper()
	seen := make(map[string]int)
	below := regexp.MustCompile(`href="([^"]+)" data-key="s"`)
	for windows := 1; path != ""; windows++ {
		require.LessOrEqual(t, windows, many/mostInWindow+1)
		status, body, _ := b.get(path)
		require.Equal(t, http.StatusOK, status, path)
		_, table, _ := strings.Cut(body, "The same as a table")
		for _, m := range regexp.MustCompile(`>(Wall \d+)|</span> (Wall \d+)<`).FindAllStringSubmatch(table, -1) {
			seen[m[1]+m[2]]++
		}
		path = ""
		if m := below.FindStringSubmatch(body); m != nil {
			path = strings.ReplaceAll(m[1], "&amp;", "&")
		}
	}
	require.Len(t, seen, many)
	for name, times := range seen {
		require.Equal(t, 1, times, name)
	}
	_, body, _ := b.get("/timeline?open=Q&top=9000")
	require.Contains(t, body, "Rows 2801 to 3101 of 3101", "there are not so many: the last window")
	_, body, _ = b.get("/timeline?open=Q&top=none")
	require.Contains(t, body, "is no row; these are the first")
}

// mostInWindow is how many rows a window of the timeline has.
const mostInWindow = 400

// TestASchedulePastAllBounds: a project with more activities than a page can list still has
// all its pages, each of which says how much it leaves out; a chain that is pushed is taken
// together past the rows that are listed.
func TestASchedulePastAllBounds(t *testing.T) {
	const many = 3100
	activities, links := "project,activity,name,kind,start,finish\n", "project,from,to,type,lag\n"
	for i := range many {
		activities += fmt.Sprintf("Q,%d,Wall %d,task,2026-01-05,2026-01-09\n", i, i)
		if i > 0 {
			links += fmt.Sprintf("Q,%d,%d,SS,0\n", i-1, i)
		}
	}
	o := newOffice(t, nil)
	gatherFiles(t, o, map[string]string{"projects.csv": "project,name\nQ,Quay\n", "activities.csv": activities, "links.csv": links, "progress.csv": "project,activity,period,percent\nQ,0,2026-01,0\n"})
	b := signedIn(t, newApp(o), office.Analyst)
	for path, says := range map[string]string{
		"/project/Q":         "These are the first; 2100 more are on the timeline",
		"/plan/Q/activities": "rows, more than can be typed on one page",
		"/state/Q/progress":  "These are 3100 rows, more than can be typed on one page",
		"/timeline?open=Q":   "Rows 1 to 400 of 3101",
	} {
		status, body, _ := b.get(path)
		require.Equal(t, http.StatusOK, status, path)
		require.Contains(t, body, says, path)
		require.Less(t, len(body), 2_500_000, path)
	}
	everyRow(t, b, "/timeline?open=Q", many)
	push := "/timeline/push?of=Q/0&start=2026-02-09&finish=2026-02-13"
	status, body, _ := b.get(push)
	require.Equal(t, http.StatusOK, status)
	require.Contains(t, body, "3099 activities move", regexp.MustCompile(`(?s)class="sentence".{0,400}`).FindString(body))
	require.Contains(t, body, "and 2700 more, which are taken together or not at all")
	rest := regexp.MustCompile(`value="(rest\|[^"]+)"`).FindStringSubmatch(body)
	require.Len(t, rest, 2)
	mark := regexp.MustCompile(`name="mark" value="(\d+)"`).FindStringSubmatch(body)[1]
	form := func(rest string) url.Values {
		return url.Values{"of": {"Q/0"}, "start": {"2026-02-09"}, "finish": {"2026-02-13"}, "mark": {mark}, "take": {rest}}
	}
	status, body, _ = b.post(push, form("rest|2700|0123456789abcdef"))
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, "Dates have moved since this was shown")
	status, _, _ = b.post(push, form(rest[1]))
	require.Equal(t, http.StatusSeeOther, status)
	_, body, _ = b.get("/timeline?open=Q&of=Q/3099")
	require.Contains(t, body, "9 Feb 2026 to 13 Feb 2026")
	_, body, _ = b.get("/timeline?open=Q&of=Q/399")
	require.Contains(t, body, "<dd>5 Jan 2026 to 9 Jan 2026</dd>", "it was listed, and not ticked")
}
