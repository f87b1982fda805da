package web

import (
	"fmt"
	"html"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
)

// moneyed has two programmes; a project in kroner that re-states its forecast, one
// with income, and a tree of codes with a reserve.
var moneyed = map[string]string{
	"programmes.csv": "programme,name\nG,Green\nH,Heavy\n",
	"cost_codes.csv": "cost_code,name,parent,reserve\n1,Works,,\n11,<b>Piles</b>,1,\n12,Deck,1,\n9,Rest,,management\n",
	"rates.csv":      "currency,period,set,rate\nNOK,2026-01,plan,0.1\nNOK,2026-01,period,0.1\nNOK,2026-02,period,0.11\nGBP,2026-01,period,1.25\n",
	"projects.csv":   "project,name,programme,currency\nP,Pier,G,EUR\nN,Nordic,H,NOK\nS,Shop,H,EUR\n",
	"activities.csv": "project,activity,name,baseline_start,baseline_finish\nP,1,Drive,2026-01-05,2026-03-27\nN,1,Drive,2026-01-05,2026-03-27\n",
	"costs.csv": `project,cost_code,kind,flow,class,period,version,amount
P,11,plan,cost,capex,2026-01,1,100000.00
P,12,plan,cost,opex,2026-02,1,60000.00
P,9,plan,cost,opex,2026-02,1,5000.00
P,11,actual,cost,capex,2026-01,,110000.00
P,12,forecast,cost,opex,2026-02,2026-01,60000.00
P,12,actual,cost,opex,2026-02,,75000.00
P,12,forecast,cost,opex,2026-03,2026-02,9000.00
N,11,plan,cost,capex,2026-01,1,1000000.00
N,11,actual,cost,capex,2026-01,,1000000.00
N,11,forecast,cost,capex,2026-03,2026-01,50000.00
N,11,forecast,cost,capex,2026-03,2026-02,80000.00
S,12,plan,income,opex,2026-01,1,30000.00
S,12,actual,income,opex,2026-01,,20000.00
S,12,plan,cost,opex,2026-01,1,10000.00
S,12,actual,cost,opex,2026-01,,10000.00
`,
	"progress.csv": "project,activity,period,percent,actual_start\nP,1,2026-01,50,2026-01-05\nP,1,2026-02,80,\nN,1,2026-01,40,2026-01-05\nN,1,2026-02,50,\n",
}

// words are the text of a page's sentence.
func words(t *testing.T, body, class string) string {
	t.Helper()
	m := regexp.MustCompile(`(?s)<(?:p|h1) class="` + class + `">(.*?)</(?:p|h1)>`).FindStringSubmatch(body)
	require.NotNil(t, m, "a sentence")
	return html.UnescapeString(regexp.MustCompile(`<[^>]*>`).ReplaceAllString(m[1], ""))
}

// TestMoneySentences writes out what the money table and its bridges say.
func TestMoneySentences(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, moneyed)), office.Analyst)
	for _, c := range []struct{ path, says string }{
		// 110 + 75 + 9 of the pier, 100 + 8.8 of the kroner at 0.11, 10 of the shop
		{"/money?at=2026-02", "The portfolio will have spent €312,800 in FY26, €42,800 more than planned."},
		{"/money?at=2026-02&of=P", "Pier will have spent €194,000 in FY26, €34,000 more than planned."},
		{"/money?at=2026-02&of=P&span=2026-01", "Pier spent €110,000 in Jan 2026, €10,000 more than planned."},
		{"/money?at=2026-02&of=P&vs=2026-01", "Pier will have spent €194,000 in FY26, €24,000 more than it said in Jan 2026."},
		{"/money?at=2026-02&of=S&flow=income", "Shop brings in €20,000 in FY26, €10,000 less than planned."},
		{"/money?at=2026-02&of=S&flow=margin", "Shop makes €10,000 in FY26, €10,000 less than planned."},
		{"/money?at=2026-02&of=S", "Shop will have spent €10,000 in FY26, as planned."},
		{"/money/bridge?at=2026-02&vs=2026-01&of=P&per=completion", "Pier will have spent €194,000 in all, €24,000 more than Jan 2026 said: forecast turned actual +€15,000, more or less of the same +€9,000."},
		{"/money/bridge?at=2026-02&vs=2026-01&of=S&per=completion", "Shop will have spent €10,000 in all, as Jan 2026 said."},
		{"/money/bridge?at=2026-02&vs=2026-01&of=P&per=completion&amounts=plan", "Pier is planned at €0.2 M in all, as Jan 2026 said."},
		{"/money/bridge?at=2026-02&of=P&flow=margin&vs=2026-01", "A bridge is of cost, income or benefit"},
		{"/money/bridge?at=2026-02&amounts=outlook", "A bridge leads from one version to another"},
	} {
		status, body, _ := b.get(c.path)
		require.Contains(t, []int{200, 404}, status, c.path)
		said := words(t, body, "sentence")
		require.True(t, strings.HasPrefix(said, c.says), "%s says %q", c.path, said)
	}
}

// TestMoneyPage: rows, menus and files answer to the address, what it asks for and
// is not there is told, and a name is no page of its own.
func TestMoneyPage(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, moneyed)), office.Analyst)
	has := func(path string, wanted ...string) string {
		t.Helper()
		status, body, _ := b.get(path)
		require.Equal(t, 200, status, path)
		for _, w := range wanted {
			require.True(t, strings.Contains(body, w), "%s: %s", path, w)
		}
		require.False(t, strings.Contains(body, "<b>Piles</b></a>"), path)
		return body
	}
	has("/money?of=P", "&lt;b&gt;Piles", "Works", "Management reserve of 5,000.00 EUR is outside the plan.")
	has("/money?of=P&level=1", "Works")
	require.False(t, strings.Contains(has("/money?of=P&level=1"), "Deck</a>"), "down to a level")
	has("/money?of=P&currency=GBP", "GBP thousand")
	has("/money?of=P&currency=XYZ", "&#34;XYZ&#34; has no rates, so money shows in EUR.")
	has("/money?of=N&in=project", "NOK thousand")
	has("/money?of=P&plan=7", "P has no baseline &#34;7&#34;")
	has("/money?beside=baseline2", "a version of one project&#39;s money")
	has("/money?rates=plan&at=2026-02", "constant plan rates")
	has("/money?only=differs&vs=2026-01&at=2026-02", "Jan 2026 said")
	menu := has(
		"/money?rows=code&vs=2026-01&at=2026-02",
		"the level of your role",
		"income less cost",
		"all versions, and their names",
	)
	for _, m := range regexp.MustCompile(`class="dropdown-item" href="(/money\?[^"]*)"`).FindAllStringSubmatch(menu, -1) {
		status, _, _ := b.get(html.UnescapeString(m[1]))
		require.Equal(t, 200, status, m[1])
	}
	_, text, head := b.get("/money.tsv?of=P&per=completion&open=9")
	require.Contains(t, head.Get("Content-Type"), "tab-separated")
	require.Contains(t, text, "1\t1\tWorks\t185000.00\t9000.00\t194000.00\n")
	status, _, _ := b.get("/money.pdf")
	require.Equal(t, http.StatusNotFound, status)
}

// TestManyRowsOfMoney: a long table comes in windows, each leading to the next.
func TestManyRowsOfMoney(t *testing.T) {
	files := map[string]string{
		"cost_codes.csv": "cost_code,name\n",
		"projects.csv":   "project,name\nP,Pier\n",
		"costs.csv":      "project,cost_code,kind,period,amount\n",
	}
	for i := range 340 {
		files["cost_codes.csv"] += fmt.Sprintf("C%03d,Code %03d\n", i, i)
		files["costs.csv"] += fmt.Sprintf("P,C%03d,actual,2026-01,%d.00\n", i, i+1)
	}
	b := signedIn(t, newApp(newOffice(t, files)), office.Analyst)
	seen := make(map[string]bool)
	path, pages := "/money?of=P", 0
	for path != "" && pages < 9 {
		_, body, _ := b.get(path)
		pages++
		for _, m := range regexp.MustCompile(`Code (\d{3})</a>`).FindAllStringSubmatch(body, -1) {
			seen[m[1]] = true
		}
		next := regexp.MustCompile(`id="more" hx-get="([^"]*)"`).FindStringSubmatch(body)
		path = ""
		if next != nil {
			path = html.UnescapeString(next[1])
		}
	}
	require.Len(t, seen, 340)
	require.Equal(t, 4, pages, "windows of 100 rows")
}

// TestBaselineForms: a proposal and its decision through the forms, with what is
// refused shown again as it was typed.
func TestBaselineForms(t *testing.T) {
	app := newApp(newOffice(t, moneyed))
	ann, tor := signedIn(t, app, office.Analyst), signedIn(t, app, office.Executive)
	status, body, _ := ann.post(
		"/baselines?of=P",
		url.Values{"money": {"stated"}, "dates": {"kept"}, "mark": {mark(ann, "/baselines?of=P")}},
	)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.True(
		t,
		strings.Contains(body, `value="stated" checked`) && strings.Contains(body, "say why the plan should change"),
	)
	status, _, head := ann.post(
		"/baselines?of=P",
		url.Values{
			"money":  {"stated"},
			"dates":  {"kept"},
			"reason": {"Softer <ground>"},
			"mark":   {mark(ann, "/baselines?of=P")},
		},
	)
	require.Equal(t, http.StatusSeeOther, status)
	to := head.Get("Location")
	require.Contains(t, to, "/baseline?of=P&version=2")
	_, body, _ = ann.get(to)
	require.True(t, strings.Contains(body, "You proposed it") && strings.Contains(body, "Softer &lt;ground&gt;"))
	// 110 + 75 + 9 is 34 more than the planned 160
	require.Contains(t, words(t, body, "sentence"), "Baseline 2 of Pier would add €34,000 (21.2%) to the plan.")
	_, body, _ = tor.get("/baselines")
	require.Equal(
		t,
		"1 baseline waits for a decision; 0 approved ones changed a plan so far.",
		words(t, body, "sentence"),
	)
	// What is to be decided is named where executives begin, on screen and on paper.
	const decide = "P Pier Baseline 2 is to be approved or rejected: it adds €34,000 (21.2%) to the plan; proposed by The analyst on "
	_, body, _ = tor.get("/board")
	require.Contains(t, text(body), "To decide "+decide)
	require.Contains(t, body, `id="decide"`)
	require.NotEmpty(t, linksTo(body, "/baseline?of=P&version=2"))
	_, body, _ = tor.get("/brief")
	require.Contains(t, text(body), strings.Replace(decide, "P Pier ", "P Pier: ", 1))
	_, body, _ = tor.get("/board?scope=NONE&q=nothing")
	require.Contains(t, body, `id="decide"`, "a filter of the list hides no decision")

	here := "/baseline?of=P&version=2"
	status, body, _ = tor.post(
		here,
		url.Values{"do": {"approve"}, "day": {"tomorrow"}, "remark": {"Kept <remark>"}, "mark": {mark(tor, here)}},
	)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.True(t, strings.Contains(body, "Kept &lt;remark&gt;") && strings.Contains(body, "write the day from which"))
	status, body, _ = tor.post(here, url.Values{"do": {"wait"}, "mark": {mark(tor, here)}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, "did not say what to do")
	old := mark(tor, here)
	status, _, _ = tor.post(here, url.Values{"do": {"approve"}, "day": {"2026-02-10"}, "mark": {old}})
	require.Equal(t, http.StatusSeeOther, status)
	status, body, _ = tor.post(here, url.Values{"do": {"reject"}, "remark": {"late"}, "mark": {old}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, "is approved already, by The executive")
	_, body, _ = tor.get("/board")
	require.NotContains(t, body, "To decide", "it is decided")
	_, body, _ = ann.get(here + "&at=2026-02")
	require.Contains(t, words(t, body, "sentence"), "Baseline 2 of Pier adds €34,000 (21.2%) to the plan.")
	_, body, _ = ann.get("/money/bridge?of=P&plan=2&beside=baseline1&amounts=plan&per=completion&at=2026-02")
	require.Contains(t, words(t, body, "sentence"), "approved baseline changes +€34,000")
	status, body, _ = ann.get("/baseline?of=P&version=1")
	require.Equal(t, http.StatusNotFound, status)
	require.Contains(t, body, "has no baseline 1 beside its original")
}

// TestMoneyEnds: the pier planned 160, the reserve aside, spent 110 in January and states 60 to
// come: 170 in the year, 10 more than its plan has, and 50 left at 36.67 a period.
func TestMoneyEnds(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, moneyed)), office.Analyst)
	_, body, _ := b.get("/money?at=2026-01&of=P&ends=year")
	said := text(body)
	require.Contains(t, said, "Outlook FY26 Carried over Periods left")
	require.Contains(t, said, "All cost 110 60 0 0 0 0 0 0 0 0 0 0 170 170 −10 1.36")
	require.Contains(t, body, `class="sum act"`)
	_, body, _ = b.get("/money?at=2026-01&of=P")
	require.NotContains(t, body, "Carried over")
	require.Contains(t, body, "ends=year", "it is offered")
}
