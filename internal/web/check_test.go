package web

import (
	"context"
	"html"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
)

// faulty has a percentage that went back, a lead too hopeful, and a text that
// would break a careless page.
var faulty = map[string]string{
	"cost_codes.csv": "cost_code,name\n10,Labour\n",
	"projects.csv":   "project,name,lead,currency\nA,<b>Alpha</b>,Ada,EUR\nB,Beta,Ben,EUR\n",
	"activities.csv": "project,activity,name,baseline_start,baseline_finish\nA,1,\"<script>One\",2026-01-05,2026-05-29\nB,1,Two,2026-01-05,2026-05-29\n",
	"costs.csv":      "project,cost_code,kind,period,version,amount\nA,10,plan,2026-01,1,100.00\nB,10,plan,2026-01,1,100.00\nA,10,actual,2026-01,,40.00\nB,10,actual,2026-01,,10.00\nA,10,forecast,2026-03,2026-02,60.00\nB,10,forecast,2026-03,2026-02,90.00\n",
	"progress.csv":   "project,activity,period,percent,actual_start\nA,1,2026-01,50,2026-01-05\nA,1,2026-02,40,\nB,1,2026-01,10,2026-01-05\nB,1,2026-02,12,\n",
}

const gone = "/check/A/progress-back?record=activity+1"

// TestCheckActions: what forms do, what they refuse, and that nothing of a
// person's text is taken for a page.
func TestCheckActions(t *testing.T) {
	o := newOffice(t, faulty)
	b := signedIn(t, newApp(o), office.Analyst)
	status, body, _ := b.get("/check?show=all")
	require.Equal(t, 200, status)
	require.False(t, strings.Contains(body, "<script>One"), "<script>One")
	require.True(t, strings.Contains(body, "&lt;script&gt;One"), "&lt;script&gt;One")
	keys := regexp.MustCompile(`name="finding" value="([^"]+)"`).FindAllStringSubmatch(body, -1)
	require.NotEmpty(t, keys)

	for form, want := range map[string]string{
		"do=accept&reason=x&until=2026-04":                         "Choose the findings first",
		"do=accept&all=1&until=2026-04":                            "needs a reason",
		"do=accept&all=1&reason=x&until=2020-01":                   "before the first",
		"do=ask&all=1":                                             "needs a reason",
		"do=dance&all=1":                                           "did not say what to do",
		"do=ask&question=x&finding=" + url.QueryEscape("p=A&c=zz"): "gone meanwhile",
		"do=ask&question=x&finding=%25zz":                          "Choose the findings first",
	} {
		values, err := url.ParseQuery(form)
		require.NoError(t, err)
		status, body, _ := b.post("/check?show=all", values)
		require.Equal(t, http.StatusUnprocessableEntity, status, form)
		require.True(t, strings.Contains(body, want), form)
	}
	status, _, head := b.post(
		"/check?show=all",
		url.Values{"do": {"ask"}, "question": {"Why <now>?"}, "finding": {html.UnescapeString(keys[0][1])}},
	)
	require.Equal(t, http.StatusSeeOther, status)
	require.Contains(t, head.Get("Location"), "show=all&done=1+finding+is+sent+back")

	status, body, _ = b.post(gone, url.Values{"do": {"preview"}, "cell.percent": {"55"}})
	require.Equal(t, 200, status)
	require.True(t, strings.Contains(body, "What it changes"), "What it changes")
	require.True(t, strings.Contains(body, `value="55"`), "what was typed stays")
	status, body, _ = b.post(gone, url.Values{"do": {"preview"}, "cell.percent": {"155"}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.True(
		t,
		strings.Contains(body, "Percent: 155 is not between 0 and 100"),
		"Percent: 155 is not between 0 and 100",
	)
	status, _, head = b.post(gone, url.Values{"do": {"correct"}, "cell.percent": {"45"}})
	require.Equal(t, http.StatusSeeOther, status, "45 is still below 50")
	require.Contains(t, head.Get("Location"), "still+there")
	status, _, head = b.post(gone, url.Values{"do": {"correct"}, "cell.percent": {"60"}})
	require.Equal(t, http.StatusSeeOther, status)
	require.Contains(t, head.Get("Location"), "done=The+finding+is+corrected")
	status, body, _ = b.post(gone, url.Values{"do": {"correct"}, "cell.percent": {"70"}})
	require.Equal(t, http.StatusNotFound, status)
	require.True(t, strings.Contains(body, "This finding is gone"))
	_, body, _ = b.get("/gather")
	require.True(t, strings.Contains(body, "Progress, entered by"), "a correction is a run")
}

// TestAfterAFindingComesTheNext: what is dealt with leads to the next that waits, from the
// last to the first, and to the list once none does; what is withdrawn stays.
func TestAfterAFindingComesTheNext(t *testing.T) {
	o := newOffice(t, faulty)
	gatherFiles(t, o, map[string]string{
		"activities.csv": "project,activity,name,baseline_start,baseline_finish\nA,2,Three,2026-01-05,2026-05-29\n",
		"progress.csv":   "project,activity,period,percent,actual_start\nB,1,2026-02,5,\nA,2,2026-01,30,2026-01-05\nA,2,2026-02,20,\n",
	})
	b := signedIn(t, newApp(o), office.Analyst)
	m, err := o.Moment(context.Background(), operator, office.Ask{})
	require.NoError(t, err)
	n := m.Waiting()
	require.Greater(t, n, 2)
	_, body, _ := b.get("/check?said=unexplained&show=all&severity=warning")
	links := linksTo(body, "/check/")
	require.NotEmpty(t, links)
	at := links[len(links)-1] // not the first: those before it come too
	seen := make(map[string]bool)
	for i := range n {
		require.False(t, seen[at], at)
		seen[at] = true
		do := url.Values{"do": {"accept"}, "until": {"2026-04"}, "reason": {"known"}}
		if i%2 == 1 {
			do = url.Values{"do": {"ask"}, "question": {"why?"}}
		}
		status, body, head := b.post(at, do)
		require.Equal(t, http.StatusSeeOther, status, body)
		to, err := url.Parse(head.Get("Location"))
		require.NoError(t, err)
		done := to.Query().Get("done")
		if i == n-1 {
			require.Equal(t, "/check", to.Path)
			require.Contains(t, done, "No error or warning waits for an answer any more.")
			break
		}
		require.Contains(t, done, "This is the next that waits for an answer.")
		q := to.Query()
		q.Del("done")
		to.RawQuery = q.Encode()
		at = to.String()
	}
	_, body, _ = b.get(at)
	mark := regexp.MustCompile(`name="mark" value="(\d+)"`).FindStringSubmatch(body)
	require.NotNil(t, mark)
	status, body, head := b.post(at, url.Values{"do": {"withdraw"}, "mark": {mark[1]}})
	require.Equal(t, http.StatusSeeOther, status, text(body))
	require.Contains(t, head.Get("Location"), "done=The+finding+is+open+again")
}

// TestRuleActions: previews change nothing; refusals are shown with what was
// typed.
func TestRuleActions(t *testing.T) {
	o := newOffice(t, faulty)
	b := signedIn(t, newApp(o), office.Analyst)
	form := url.Values{
		"table":     {"rules"},
		"dimension": {"cost"},
		"reading":   {"spent_share"},
		"direction": {"above"},
		"watch":     {"0.2"},
		"act":       {"0.3"},
		"from":      {"2026-02"},
	}
	with := func(pairs ...string) url.Values {
		out := url.Values{}
		for k, v := range form {
			out[k] = v
		}
		for i := 0; i < len(pairs); i += 2 {
			out.Set(pairs[i], pairs[i+1])
		}
		return out
	}
	status, body, _ := b.post("/setup/rules", with("do", "preview"))
	require.Equal(t, 200, status)
	require.True(t, strings.Contains(body, "What it would do"), "What it would do")
	require.Regexp(t, `<span class="code">A</span>`, body)
	_, body, _ = b.get("/setup/rules")
	require.False(t, strings.Contains(body, "Feb 2026</td><td><a"), "nothing is kept")
	status, body, _ = b.post("/setup/rules", with("do", "save", "act", "0.1"))
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.True(t, strings.Contains(body, "swap them"), "swap them")
	require.True(
		t,
		strings.Contains(body, `name="act" size="6" value="0.1"`),
		`name="act" size="6" value="0.1"`,
	)
	status, body, _ = b.post("/setup/rules", with("do", "save", "expression", "cpii < <b>", "title", "x"))
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.False(t, strings.Contains(body, "<b>,"), "<b>,")
	status, _, _ = b.post("/setup/rules", with("do", "save"))
	require.Equal(t, http.StatusSeeOther, status)
	_, body, _ = b.get("/setup/rules")
	require.True(t, strings.Contains(body, "watch above 20%, act 30%"), "as its reading is written")
}

// TestTwoFormsOfOneRule: the second of two forms is refused with what it says
// still in it, and then taken.
func TestTwoFormsOfOneRule(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, small)), office.Analyst)
	form := func(watch, mark string) url.Values {
		return url.Values{
			"do":        {"save"},
			"table":     {"rules"},
			"dimension": {"cost"},
			"reading":   {"cpi"},
			"direction": {"below"},
			"watch":     {watch},
			"act":       {"0.8"},
			"from":      {"2026-01"},
			"mark":      {mark},
		}
	}
	const page = "/setup/rules?cause=cost%7Ccpi%7C"
	b.get(page)
	status, body, _ := b.post(page, form("0.97", "0"))
	require.Equal(t, http.StatusSeeOther, status, says(body))
	b.get(page)
	status, body, _ = b.post(page, form("0.98", "0"))
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, says(body), "The analyst changed the rule cost, cpi, 2026-01 meanwhile")
	require.Contains(t, body, `value="0.98"`)
	mark := regexp.MustCompile(`name="mark" value="(\d+)"`).FindStringSubmatch(body)
	require.NotNil(t, mark)
	status, body, _ = b.post(page, form("0.98", mark[1]))
	require.Equal(t, http.StatusSeeOther, status, says(body))
}
