package web

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/brief"
	"turret/internal/office/entry"
	"turret/internal/office/intake"
	"turret/internal/web/shell"
)

// small is a portfolio of one project with a plan, and one whose currency has
// no rate and whose name would break a careless page.
var small = map[string]string{
	"programmes.csv": "programme,name\nG,Group\n",
	"cost_codes.csv": "cost_code,name\n10,Labour\n",
	"projects.csv":   "project,name,programme,currency\nA/1 ä,Alpha,G,EUR\nB,<script>alert(1)</script>,,NOK\n",
	"activities.csv": "project,activity,name,baseline_start,baseline_finish\nA/1 ä,1,One,2026-01-05,2026-03-27\n",
	"costs.csv":      "project,cost_code,kind,period,version,amount\nA/1 ä,10,plan,2026-01,1,100.00\nA/1 ä,10,actual,2026-01,,40.00\nB,10,plan,2026-01,1,7.00\n",
	"progress.csv":   "project,activity,period,percent\nA/1 ä,1,2026-01,50\n",
}

func TestPages(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, small)), office.Analyst)
	for _, c := range []struct {
		path   string
		status int
		says   string
	}{
		{"/healthz", 200, "ok"},
		{"/", 303, ""},
		{"/board", 200, "Outside the sums: B: there is no rate for NOK"},
		{"/board", 200, "1 project stands against a plan of "},
		{"/board?in=project&against=original", 200, "original plan"},
		{"/board?at=1999-01", 200, "Nothing is stated for Jan 1999"},
		{"/board?at=nonsense", 200, "does not exist"},
		{"/board?against=best", 200, "only latest and original"},
		{"/board?scope=G", 200, "Programme"},
		{"/board?scope=H", 200, "There is no programme"},
		{"/board?sort=nope", 200, "cannot be sorted by"},
		{"/board?cols=overall,nope", 200, "There is no column nope"},
		{"/board?cols=cpi,spi,lead,currency,stated,milestone_date,sponsor,stage,state", 200, "Cost performance index"},
		{"/board?q=alp&group=lead", 200, "1 of 2 projects"},
		{"/board?standing=watch", 200, "No project is like this"},
		{"/board?group=none&sort=-at_stake", 200, "aria-sort=\"descending\""},
		{"/board?trail=A%2F1+%C3%A4%2Fcpi", 200, "Whole page"},
		{"/board?trail=nonsense", 200, "Project"},
		{"/board?trail=X%2Fcpi", 200, "There is no project or programme"},
		{"/board?add=cpi", 303, ""},
		{"/project/A%2F1%20%C3%A4", 200, "Alpha"},
		{"/project/A%2F1%20%C3%A4?curve=period&vs=2026-01", 200, "cumulative"},
		{"/project/A%2F1%20%C3%A4?shut=10&trail=A%2F1+%C3%A4%2Fac", 200, "costs.csv, row 3"},
		{"/project/B", 200, "&lt;script&gt;"},
		{"/project/C", 404, "There is no project C"},
		{"/trail/A%2F1%20%C3%A4/cpi", 200, "50.00</a><span> ÷ </span>"},
		{"/trail/A%2F1%20%C3%A4/ac", 200, "costs.csv, row 3"},
		{"/trail/*/bac", 200, "the whole portfolio"},
		{"/trail/*/bac?q=alp", 200, "1 project of the whole portfolio"},
		{"/trail/G/ev", 200, "programme Group"},
		{"/trail/B/cpi", 200, "Not known"},
		{"/trail/B/nope", 404, "There is no figure"},
		{"/trail/row/1.1", 200, ""},
		{"/trail/row/x", 404, "There is no such row"},
		{"/trail/row/999.1", 404, "There is no such file"},
		{"/check", 200, "No rate for a currency"},
		{"/check?severity=error", 200, "No rate for a currency"},
		{"/check?cause=no-rate", 200, "There is no rate for NOK"},
		{"/check?cause=nothing", 200, "these are all causes"},
		{"/check?cause=no-rate&said=accepted", 200, "these are all causes"},
		{"/check?show=all&lead=Nobody", 200, "No finding is like this"},
		{"/check/B/no-rate?record=currency+NOK", 200, "Send it back"},
		{"/check/B/no-rate?record=currency+SEK", 404, "This finding is gone"},
		{"/check/Z/none", 404, "This finding is gone"},
		{"/standings", 200, "None is set"},
		{"/standings?of=B", 200, "Set a standing"},
		{"/baselines", 200, "on its original baseline"},
		{"/baselines?of=B", 200, "Propose a baseline"},
		{"/baselines?of=NONE", 404, "There is no project"},
		{"/baseline?of=B&version=2", 404, "has no baseline 2 beside its original"},
		{"/baseline?of=B&version=x", 404, "has no baseline x"},
		{"/close", 200, "open before Jan 2026 can close"},
		{"/cuts", 200, "No cut was made yet"},
		{"/cuts/compare?a=0&b=0", 200, "hold the same, to the letter"},
		{"/cuts/compare?a=7&b=0", 404, "There is no cut 7"},
		{"/cuts/compare", 404, "Choose two cuts"},
		{"/history", 200, "gathered"},
		{"/history?project=B&table=projects", 200, "The history of this row"},
		{"/history?project=none", 422, "There is no project"},
		{"/history?who=nobody", 200, "Nothing fits"},
		{"/history/2", 200, "Look at one project of it"},
		{"/history/999", 404, "There is no such batch"},
		{"/exceptions", 200, "Underruns 1"},
		{"/exceptions?over=0&cause=over", 200, "none of 2 projects"},
		{"/exceptions?under=30", 200, "Nothing stands out"},
		{"/exceptions?over=x&cause=luck", 200, "There is no exception called luck"},
		{"/exceptions?over=x", 200, "is a number from 0 to 1000"},
		{"/exceptions?running=1.5&in=project", 200, "is a whole number from 1 to 12"},
		{"/exceptions?trail=B%2Fbac", 200, "Whole page"},
		{"/map", 200, "No project has both figures here"},
		{"/map?x=bac&y=cpi", 200, "1 project by plan at completion"},
		{"/map?x=luck&size=mood", 200, "There is no figure &#34;luck&#34;"},
		{"/map?x=bac&y=cpi&box=1,2", 200, "it is four values with commas"},
		{"/map?x=bac&y=cpi&box=5,6,7,8", 200, "No project lies in this box"},
		{"/map?x=bac&y=cpi&of=B", 200, "is not on this map"},
		{"/map?x=finish_planned&y=cpi", 200, "by finish, planned"},
		{"/drivers", 200, "too few to say"},
		{"/drivers?by=mood", 200, "There is no attribute"},
		{"/drivers?by=lead&value=Nobody", 200, "No project here has"},
		{"/drivers?by=lead&value=no+lead", 200, "Alpha"},
		{"/drivers?by=code&value=10+Labour", 200, "No project here has"},
		{"/forecasts", 200, "No forecast is old enough"},
		{"/explain", 200, "for words on"},
		{"/words/*", 200, "The pen"},
		{"/contacts", 200, "Whom to ask"},
		{"/feedback?about=/board", 200, "About /board"},
		{"/trend?figure=cpi", 200, "Cost performance index, Whole portfolio"},
		{"/explain/B", 200, "What the figures say"},
		{"/explain/NO", 404, "There is no project NO here"},
		{"/funding", 200, "No money is recorded as authorised"},
		{"/ledger", 200, "no source has told a total"},
		{"/packs", 200, "No pack is set up yet"},
		{"/page", 200, "The portfolio in a sentence"},
		{"/shared/none", 404, "This link does not open anything"},
		{"/forecasts?ahead=2", 200, "not of &#34;2&#34;"},
		{"/forecasts?of=A%2F1+%C3%A4", 200, "no forecast was stated up to this period"},
		{"/forecasts?of=NONE", 404, "There is no project NONE"},
		{"/timeline", 200, "on the line"},
		{"/timeline?per=weeks&from=yesterday", 200, "is no day such as"},
		{"/timeline?leaf=x", 200, "There is no page"},
		{"/timeline?leaf=99", 200, "No project here"},
		{"/timeline?open=NONE&of=NONE/A", 200, "There is no activity NONE/A"},
		{"/timeline/push?of=NONE/A", 422, "there is no project NONE"},
		{"/timeline/link?of=NONE/A&other=B/1", 422, "there is no project"},
		{"/roadmap", 200, "The same as a table"},
		{"/roadmap?group=lead&sort=slip&per=3&show=plain", 200, "With interfaces"},
		{"/calendar", 200, "Month after"},
		{"/calendar?month=nonsense", 200, "is no month such as"},
		{"/calendar?month=2026-12&per=sunday&only=raised", 200, "Week from Monday"},
		{"/calendar.ics", 200, "BEGIN:VCALENDAR"},
		{"/dates", 200, "finished within 31 days"},
		{"/dates?show=luck&by=Nobody", 200, "There is no list called"},
		{"/dates/gone", 200, "raised"},
		{"/dates/gone?of=luck", 200, "raised"},
		{"/interfaces", 200, "Deliverables"},
		{"/backlog", 200, "run by a backlog"},
		{"/backlog?of=NONE", 404, "No project here is called NONE"},
		{"/money", 200, "The portfolio"},
		{"/money?rows=mood&amounts=luck&per=day&span=x&beside=cut9&flow=up&open=y", 200, "Rows cannot go by &#34;mood&#34;"},
		{"/money?of=NONE", 404, "There is no project"},
		{"/money?row=nothing", 200, "is not in this table"},
		{"/money/cell?column=99&cause=running", 404, "no such row or column"},
		{"/money/cell?column=x", 404, "names no cell"},
		{"/money/cell?column=0&cause=luck", 404, "no amount that is made of cells"},
		{"/money/bridge", 404, "choose under Beside what this is compared with"},
		{"/money/bridge?beside=original&row=none", 404, "There is no such row"},
		{"/baselines?of=B", 200, "as it was at first"},
		{"/baselines?of=NONE", 404, "There is no project"},
		{"/money.pdf", 404, "There is no page"},
		{"/setup/periods", 200, "so they stay months"},
		{"/setup/calendars", 200, "Monday to Friday"},
		{"/setup/rules", 200, "by rule set"},
		{"/setup/rules?cause=cost%7Ccpi%7C", 200, "Change Cost performance index"},
		{"/setup/checks?cause=forecast-not-credible", 200, "distance of TCPI(EAC) from CPI"},
		{"/find?q=alph", 200, "Alpha"},
		{"/find?q=zzz", 200, "Nothing is called"},
		{"/find", 200, "Type a code"},
		{"/views", 200, "No view is saved yet"},
		{"/account", 200, "Account of The analyst"},
		{"/nowhere", 404, "There is no page /nowhere"},
	} {
		status, body, head := b.get(c.path)
		require.Equal(t, c.status, status, c.path)
		require.True(t, strings.Contains(body, c.says), "%s does not say %q", c.path, c.says)
		require.Equal(t, policy, head.Get("Content-Security-Policy"), c.path)
		require.False(t, strings.Contains(body, "<script>"), c.path)
		require.False(t, strings.Contains(body, "style="), c.path)
		require.False(t, strings.Contains(body, "ZgotmplZ"), c.path)
		if c.path != "/healthz" {
			require.Equal(t, "no-store", head.Get("Cache-Control"), c.path)
		}
	}
}

func TestPartsOfPages(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, small)), office.Analyst)
	for path, target := range map[string]string{"/board?trail=G%2Fbac": "trail", "/project/B?trail=B%2Fbac": "trail", "/find?q=a": "found"} {
		b.header.Set("HX-Target", target)
		_, body, _ := b.get(path)
		require.NotContains(t, body, "<html", path)
		require.Contains(t, body, `id="`+target+`"`, path)
		b.header.Set("HX-History-Restore-Request", "true") // then the whole page is wanted
		_, body, _ = b.get(path)
		require.Contains(t, body, "<html", path)
		b.header.Del("HX-History-Restore-Request")
	}
}

// TestLongBoardsComeInWindows: the first rows, then the next ones, each once.
func TestLongBoardsComeInWindows(t *testing.T) {
	var projects strings.Builder
	projects.WriteString("project,name,currency\n")
	for i := range 450 {
		fmt.Fprintf(&projects, "P%03d,Project,EUR\n", i)
	}
	files := map[string]string{
		"projects.csv":   projects.String(),
		"cost_codes.csv": "cost_code,name\n1,One\n",
		"costs.csv":      "project,cost_code,kind,period,version,amount\nP000,1,plan,2026-01,1,1\nP000,1,actual,2026-01,,1\n",
	}
	b := signedIn(t, newApp(newOffice(t, files)), office.Analyst)
	status, body, _ := b.get("/board?show=all")
	require.Equal(t, 200, status, body[:min(len(body), 300)])
	require.Equal(t, 450, strings.Count(body, `<span class="code">P`))
	seen := 0
	path := "/board"
	for n := 0; path != ""; n++ {
		require.Less(t, n, 4)
		_, body, _ := b.get(path)
		seen += strings.Count(body, `<span class="code">P`)
		b.header.Set("HX-Target", "more")
		_, after, more := strings.Cut(body, `hx-get="/board?show=from`)
		path = ""
		if more {
			rest, _, _ := strings.Cut(after, `"`)
			path = "/board?show=from" + rest
		}
	}
	require.Equal(t, 450, seen)
}

func TestEmptyDatabaseSaysWhatToDo(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, nil)), office.Analyst)
	for path, says := range map[string]string{"/board": "turret gather", "/project/A": "There is no project A", "/trail/A/cpi": "Nothing is stated yet", "/board?trail=A%2Fcpi": "turret gather", "/find?q=cpi": "cpi", "/check": "nothing to check", "/standings": "nothing is stated", "/money": "no money to show", "/money/cell": "names no cell", "/baselines": "there is no plan", "/money/bridge": "nothing to compare", "/exceptions": "nothing to find", "/map": "nothing to map", "/drivers": "nothing drives", "/forecasts": "no forecast was right", "/funding": "nothing to fund", "/explain": "nothing to explain", "/words/*": "nothing to explain", "/trend": "no figure has moved", "/feedback": "Nobody has said anything", "/contacts": "Whom to ask", "/explain/A": "There is no project A", "/ledger": "there is no ledger", "/packs": "No pack is set up yet", "/page": "nothing to put on a page", "/setup/periods": "so they can be drawn anew", "/setup/calendars": "There is no calendar yet", "/setup/rates": "come with the first period", "/setup/codes": "There is no cost code yet", "/setup/centres": "There is no cost centre yet", "/setup/shares": "No project is shared out", "/setup/rules": "come with the first period", "/setup/checks": "come with the first period"} {
		_, body, _ := b.get(path)
		require.Contains(t, strings.ToLower(body), strings.ToLower(says), path)
	}
}

func TestAssetsAreKeptForEver(t *testing.T) {
	b := newBrowser(t, newApp(newOffice(t, nil)))
	_, body, _ := b.get("/sign-in")
	from := strings.Index(body, "/assets/")
	path := body[from : from+strings.Index(body[from:], `"`)]
	status, css, head := b.get(path)
	require.Equal(t, 200, status)
	require.Contains(t, head.Get("Cache-Control"), "immutable")
	require.Contains(t, css, "--brass")
	require.NotContains(t, css, "url(archivo)")
	require.NotContains(t, css, "@charset")
	require.Equal(t, 16, strings.Count(body, "<script "), "htmx, what moves in Bootstrap, and fourteen modules")
}

func TestLongHeadIsRead(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, small)), office.Analyst)
	status, _, _ := b.get("/board?x=" + strings.Repeat("y", readBuffer/2))
	require.Equal(t, 200, status)
}

// TestRoutesByRole walks every route as everyone.
func TestRoutesByRole(t *testing.T) {
	declareBerths(t)
	o := newOffice(t, small)
	app := newApp(o)
	anyone := newBrowser(t, app)
	people := map[office.Role]*browser{}
	for _, r := range office.Roles {
		people[r] = signedIn(t, app, r)
	}
	admin := func(r office.Role) bool { return r == office.Administrator }
	all := func(office.Role) bool { return true }
	analyst := func(r office.Role) bool { return r == office.Analyst }
	maps := func(r office.Role) bool { return analyst(r) || admin(r) }
	states := analyst // and leads, of their own projects
	ctx := context.Background()
	_, err := entry.In(o).
		Gather(ctx, operator, []entry.File{{Name: "baselines.csv", Body: []byte("project,baseline,state,proposer\nB,2,proposed,Someone\n")}, {Name: "questions.csv", Body: []byte("project,question,text,by\nB,Q1,Why?,someone\n")}}, nil, entry.Options{})
	require.NoError(t, err)
	_, err = intake.In(o).
		SaveDraft(ctx, operator, []entry.File{{Name: "x.csv", Body: []byte("programme,name\nH,Other\n")}})
	require.NoError(t, err)
	_, err = brief.In(o).Make(ctx, operator, brief.Spec{}, nil)
	require.NoError(t, err)
	require.NoError(t, entry.In(o).SaveMapping(ctx, operator, entry.NamedMapping{Name: "Yard", Look: "a|b"}))
	walked := make(map[string]bool)
	for _, c := range []struct {
		route, path string
		may         func(office.Role) bool
	}{
		{"/", "/", all},
		{"/board", "/board", all},
		{"/project/:code", "/project/B", all},
		{"/trail/:scope/:figure", "/trail/B/bac", all},
		{"/find", "/find?q=b", all},
		{"/views", "/views", all},
		{"/account", "/account", all},
		{"/setup/accounts", "/setup/accounts", admin},
		{"/gather", "/gather", all},
		{"/gather/draft/:id", "/gather/draft/1", analyst},
		{"/gather/run/:batch", "/gather/run/2", all},
		{"/gather/refused", "/gather/refused", all},
		{"/gather/refused.xlsx", "/gather/refused.xlsx", all},
		{"/gather/codes", "/gather/codes", all},
		{"/brief", "/brief", all},
		{"/brief/now.:form", "/brief/now.pdf", all},
		{"/brief/:id.:form", "/brief/1.pdf", all},
		{"/board.xlsx", "/board.xlsx", all},
		{"/check", "/check", all},
		{"/check/:project/:check", "/check/B/no-rate?record=currency+NOK", all},
		{"/standings", "/standings", all},
		{"/money", "/money", all},
		{"/money/cell", "/money/cell?column=0&cause=running", all},
		{"/money.:form", "/money.csv", all},
		{"/baselines", "/baselines?of=B", all},
		{"/baseline", "/baseline?of=B&version=2", all},
		{"/versions", "/versions", all},
		{"/exceptions", "/exceptions", all},
		{"/map", "/map", all},
		{"/drivers", "/drivers", all},
		{"/forecasts", "/forecasts", all},
		{"/funding", "/funding", all},
		{"/explain", "/explain", all},
		{"/words/:group", "/words/*", all},
		{"/trend", "/trend", all},
		{"/feedback", "/feedback", all},
		{"/contacts", "/contacts", all},
		{"/take", "/take", all},
		{"/explain/:project", "/explain/B", all},
		{"/ledger", "/ledger", all},
		{"/packs", "/packs", analyst},
		{"/page", "/page", all},
		{"/timeline", "/timeline?open=B&per=months", all},
		{"/timeline/push", "/timeline/push", all},
		{"/timeline/link", "/timeline/link", all},
		{"/roadmap", "/roadmap", all},
		{"/calendar", "/calendar", all},
		{"/calendar.ics", "/calendar.ics", all},
		{"/dates", "/dates", all},
		{"/dates/gone", "/dates/gone", all},
		{"/interfaces", "/interfaces", all},
		{"/backlog", "/backlog", all},
		{"/money/bridge", "/money/bridge?beside=original&amounts=plan&against=latest", all},
		{"/close", "/close", all},
		{"/cuts", "/cuts", all},
		{"/cuts/compare", "/cuts/compare?a=0&b=0", all},
		{"/history", "/history", all},
		{"/history/:batch", "/history/2", all},
		{"/setup/periods", "/setup/periods", all},
		{"/setup/calendars", "/setup/calendars", all},
		{"/setup/rates", "/setup/rates", all},
		{"/setup/office", "/setup/office", all},
		{"/setup/codes", "/setup/codes", all},
		{"/setup/centres", "/setup/centres", all},
		{"/setup/shares", "/setup/shares", all},
		{"/setup/rules", "/setup/rules", all},
		{"/desk", "/desk", all},
		{"/state/:project/:part", "/state/B/progress", states},
		{"/amounts/:project/:kind", "/amounts/B/forecast", states},
		{"/questions", "/questions", all},
		{"/begin", "/begin", maps},
		{"/typed", "/typed", all},
		{"/setup/access", "/setup/access", admin},
		{"/account/second", "/account/second", all},
		{"/plan/:project/:part", "/plan/B/activities", maps},
		{"/setup/letters", "/setup/letters", maps},
		{"/question/:project/:question", "/question/B/Q1", all},
		{"/ask/:project", "/ask/B", all},
		{"/setup/records/:table", "/setup/records/berths", all},
		{"/setup/checks", "/setup/checks", all},
		{"/setup/mappings", "/setup/mappings", maps},
		{"/setup/mappings/:id", "/setup/mappings/1", maps},
	} {
		walked[c.route] = true
		status, _, head := anyone.get(c.path)
		require.Equal(t, http.StatusSeeOther, status, c.path)
		require.Contains(t, head.Get("Location"), "/sign-in?next=", c.path)
		for r, b := range people {
			status, body, _ := b.get(c.path)
			if c.may(r) {
				require.Less(t, status, 400, "%s %s", r, c.path)
				continue
			}
			require.Equal(t, http.StatusForbidden, status, "%s %s", r, c.path)
			require.Contains(t, body, "may not")
		}
	}
	for _, c := range []struct {
		path string
		form url.Values
		may  func(office.Role) bool
	}{
		{"/setup/accounts", url.Values{"do": {"invite"}, "login": {"new"}, "name": {"New"}, "role": {"lead"}}, admin},
		{"/setup/accounts", url.Values{"do": {"disable"}, "account": {"1"}}, admin},
		{"/setup/access", url.Values{"days": {"1"}}, admin},
		{"/setup/accounts", url.Values{"do": {"role"}, "account": {"2"}, "role": {"administrator"}}, admin},
		{"/setup/accounts", url.Values{"do": {"reset"}, "account": {"2"}}, admin},
		{"/gather", url.Values{"pasted": {"programme\nX\n"}}, analyst},
		{"/gather/draft/1", url.Values{"do": {"accept"}}, analyst},
		{"/gather/run/2", url.Values{"do": {"undo"}}, analyst},
		{"/gather/refused", url.Values{"do": {"send"}, "row": {"1"}}, analyst},
		{"/gather/codes", url.Values{"column": {"cost_code"}, "code": {"1"}, "to": {"10"}}, analyst},
		{"/state/B/progress", url.Values{"do": {"keep"}, "f:1/percent": {"5"}}, states},
		{"/explain/B", url.Values{"do": {"keep"}, "f:summary/text": {"All well"}}, states},
		{"/state/B/send", url.Values{"do": {"send"}}, states},
		{"/amounts/B/forecast", url.Values{"do": {"keep"}, "f:10~cost~~~~EUR/2026-03": {"5"}}, states},
		{"/amounts/B/forecast", url.Values{"do": {"add"}, "cost_code": {"10"}, "flow": {"income"}}, states},
		{"/typed", url.Values{"at": {"/board"}, "form": {"x"}, "fields": {"[]"}}, all},
		{"/brief?at=2026-01", url.Values{"do": {"make"}}, analyst},
		{"/brief", url.Values{"do": {"withdraw"}, "brief": {"1"}, "why": {"x"}}, analyst},
		{"/check", url.Values{"do": {"accept"}, "all": {"1"}, "reason": {"x"}, "until": {"2026-02"}}, analyst},
		{"/check/B/no-rate?record=currency+NOK", url.Values{"do": {"ask"}, "question": {"x"}}, analyst},
		{"/check/B/no-rate?record=currency+NOK", url.Values{"do": {"correct"}, "cell.amount": {"x"}}, analyst},
		{"/check/B/no-rate?record=currency+NOK", url.Values{"do": {"off"}, "reason": {"x"}}, analyst},
		{"/standings", url.Values{"do": {"set"}, "project": {"B"}, "dimension": {"overall"}, "standing": {"act"}, "until": {"2026-02"}, "reason": {"x"}}, analyst},
		{"/close", url.Values{"do": {"close"}}, analyst},
		{"/close", url.Values{"do": {"cut"}, "name": {"x"}}, analyst},
		{"/close", url.Values{"do": {"checking"}}, analyst},
		{"/close", url.Values{"do": {"opening"}}, analyst},
		{"/setup/periods", url.Values{"do": {"draw"}, "pattern": {"4-4-5"}, "first": {"2026-01-05"}, "year": {"26"}, "years": {"1"}, "leap": {"never"}}, maps},
		{"/setup/periods", url.Values{"do": {"look"}, "list": {"FY26-P01 2026-01-05 2026-02-01"}}, maps},
		{"/setup/periods", url.Values{"do": {"keep"}, "list": {"FY26-P01 2026-01-05 2026-02-01"}}, maps},
		{"/setup/periods", url.Values{"do": {"months"}, "month": {"4"}}, maps},
		{"/setup/periods", url.Values{"do": {"due"}, "due.progress": {"3"}}, maps},
		{"/interfaces", url.Values{"project": {"B"}, "from": {"A/1"}, "to": {"1"}}, maps},
		{"/timeline?of=B/1", url.Values{"of": {"B/1"}, "level": {"portfolio"}}, maps},
		{"/timeline/push?of=B/1", url.Values{"of": {"B/1"}, "finish": {"2026-09-01"}, "do": {"only"}, "own": {"B|1|2026-08-01|2026-09-01"}}, analyst},
		{"/timeline/link?of=B/1", url.Values{"way": {"after"}, "other": {"B/2"}, "do": {"only"}}, analyst},
		{"/setup/rates", url.Values{"currency": {"NOK"}, "from": {"2026-01"}, "set": {"period"}, "rate": {"0.1"}}, analyst},
		{"/setup/codes", url.Values{"do": {"save"}, "code": {"99"}}, analyst},
		{"/setup/office", url.Values{"name": {"Test & Co"}, "currency": {"EUR"}, "month": {"4"}}, maps},
		{"/setup/records/programmes", url.Values{"cell.programme": {"X"}}, maps},
		{"/setup/records/berths", url.Values{"cell.berth": {"N9"}}, analyst},
		{"/setup/codes", url.Values{"do": {"levels"}, "level.lead": {"1"}}, analyst},
		{"/setup/centres", url.Values{"do": {"save"}, "code": {"99"}}, analyst},
		{"/setup/shares", url.Values{"do": {"save"}, "project": {"B"}}, analyst},
		{"/setup/calendars", url.Values{"do": {"keep"}, "calendar": {"office"}, "week": {"mon"}}, maps},
		{"/setup/calendars", url.Values{"do": {"follow"}, "project": {"*"}, "follows": {"office"}}, maps},
		{"/close", url.Values{"do": {"reopen"}, "why": {"x"}}, analyst},
		{"/versions", url.Values{"version": {"statement~~2026-01"}, "name": {"x"}}, analyst},
		{"/baselines?of=B", url.Values{"money": {"stated"}, "reason": {"x"}}, analyst},
		{"/baseline?of=B&version=2", url.Values{"do": {"approve"}, "day": {"2026-02-03"}, "mark": {"999"}}, func(r office.Role) bool { return analyst(r) || r == office.Executive }},
		{"/history/2", url.Values{"do": {"undo"}}, analyst},
		{"/history/2", url.Values{"do": {"rest"}}, analyst},
		{"/standings", url.Values{"do": {"end"}, "project": {"B"}, "dimension": {"overall"}}, analyst},
		{"/funding", url.Values{"do": {"authorise"}, "scope": {"B"}, "source": {"Council"}, "period": {"2026-02"}, "amount": {"5"}, "decision": {"x"}}, maps},
		{"/packs", url.Values{"do": {"send"}, "pack": {"X"}, "at": {"2026-01"}}, analyst},
		{"/packs", url.Values{"do": {"revoke"}, "id": {"1"}}, analyst},
		{"/packs", url.Values{"do": {"again"}, "id": {"1"}}, analyst},
		{"/ledger", url.Values{"source": {"ledger"}, "period": {"2026-02"}, "amount": {"5"}}, analyst},
		{"/funding", url.Values{"do": {"move"}, "transfer": {"T-1"}, "from": {"B"}, "to": {"A"}, "from_period": {"2026-02"}, "moved": {"5"}, "reason": {"x"}}, maps},
		{"/setup/rules", url.Values{"do": {"save"}, "table": {"rules"}, "dimension": {"cost"}, "reading": {"cpi"}, "from": {"2026-01"}}, analyst},
		{"/setup/rules", url.Values{"do": {"preview"}, "table": {"rules"}, "dimension": {"cost"}, "reading": {"cpi"}, "from": {"2026-01"}}, analyst},
		{"/setup/checks", url.Values{"do": {"save"}, "check": {"no-rate"}, "severity": {"note"}, "from": {"2026-01"}}, analyst},
		{"/setup/mappings", url.Values{"do": {"word"}, "word": {"x"}, "column": {"project"}}, maps},
		{"/setup/mappings/1", url.Values{"do": {"save"}, "name": {"y"}, "rules": {"{}"}}, maps},
		{"/feedback", url.Values{"do": {"give"}, "about": {"/board"}, "text": {"Well made"}}, all},
		{"/feedback", url.Values{"do": {"answer"}, "code": {"B1"}, "answer": {"Thanks"}}, analyst},
		{"/page?blocks=12:sum", url.Values{"do": {"first"}, "role": {"lead"}}, func(r office.Role) bool { return r == office.Analyst || r == office.Administrator }},
		{"/words/*", url.Values{"do": {"agree"}, "digest": {"x"}}, analyst},
		{"/words/*", url.Values{"do": {"send"}, "f:summary": {"Well"}, "w:summary": {""}}, analyst},
		{"/views", url.Values{"do": {"save"}, "name": {"Mine"}, "query": {"standing=act"}}, all},
		{"/views", url.Values{"do": {"save"}, "name": {"Ours"}, "query": {"standing=act"}, "shared": {"1"}}, func(r office.Role) bool { return r == office.Analyst || r == office.Administrator }},
	} {
		anyone.get("/sign-in")
		status, _, head := anyone.post(c.path, c.form)
		require.Equal(t, http.StatusSeeOther, status)
		require.Contains(t, head.Get("Location"), "/sign-in")
		for _, r := range []office.Role{office.Lead, office.Executive} {
			status, body, _ := people[r].post(c.path, c.form)
			if c.may(r) {
				require.Less(t, status, 400, "%s %v", r, c.form)
			} else {
				require.Contains(t, []int{http.StatusForbidden, http.StatusUnprocessableEntity}, status, "%s %v", r, c.form)
				require.Contains(t, body, "may not", "%s %v", r, c.form)
			}
		}
	}
	public := map[string]bool{"/sign-in": true, "/sign-in/code": true, "/sign-out": true, "/welcome/:code": true, "/calendar/:token": true, "/shared/:token": true, "/shared/:token/:form": true, "/healthz": true}
	for _, r := range app.GetRoutes(true) {
		if r.Method == http.MethodGet && !strings.HasPrefix(r.Path, "/assets/") {
			require.True(t, walked[r.Path] || public[r.Path], "the route %s is not walked", r.Path)
		}
	}
}

func TestRouteListIsWalkedAsPosted(t *testing.T) {
	app := newApp(newOffice(t, nil))
	for _, r := range app.GetRoutes(true) {
		if r.Method != http.MethodPost {
			continue
		}
		b := signedIn(t, app, office.Administrator)
		status, body, _ := b.postStale(
			strings.NewReplacer(":code", "X", ":id", "1", ":batch", "1", ":project", "X", ":check", "y").
				Replace(r.Path),
			url.Values{"do": {"invite"}, "name": {"Kept <name>"}, "login": {"kept"}},
		)
		require.Contains(t, []int{303, 422, 404, 403}, status, r.Path)
		if status == 422 {
			require.Contains(t, body, "send it again", r.Path)
		}
		require.NotContains(t, body, "<name>", r.Path)
	}
}

// TestADiskThatRefuses is told in a sentence, whoever comes across it.
func TestADiskThatRefuses(t *testing.T) {
	app := fiber.New(
		fiber.Config{
			ErrorHandler: func(c fiber.Ctx, err error) error { return fail(c, &shell.Site{}, slog.New(slog.DiscardHandler), err) },
		},
	)
	app.Get("/full", func(fiber.Ctx) error { return fmt.Errorf("gather: %w", office.ErrFull) })
	app.Get("/read-only", func(fiber.Ctx) error { return fmt.Errorf("gather: %w", office.ErrReadOnly) })
	app.Post("/form", func(c fiber.Ctx) error {
		return shell.Settle(
			c,
			fmt.Errorf("save: %w", office.ErrFull),
			func(c fiber.Ctx) error { return c.SendString("the form again") },
			"/done",
		)
	})
	for _, x := range []struct {
		method, path, says string
		status             int
	}{
		{"GET", "/full", "The disk is full: nothing was written", 507},
		{"GET", "/read-only", "Check the rights of its file and directory", 507},
		{"POST", "/form", "the form again", 422},
	} {
		ask := httptest.NewRequest(x.method, x.path, nil)
		ask.Header.Set("Accept", "text/plain")
		r, err := app.Test(ask)
		require.NoError(t, err)
		body, err := io.ReadAll(r.Body)
		require.NoError(t, err)
		require.Equal(t, x.status, r.StatusCode, x.path)
		require.Contains(t, string(body), x.says)
	}
}

// TestErrorsArePages: what is refused, not there, or goes wrong is a page of the
// shell, so that a link that is followed in place never leaves an empty one; and
// a part of a page where a part was asked for.
func TestErrorsArePages(t *testing.T) {
	o := newOffice(t, small)
	app := newApp(o)
	app.Get("/broken", func(fiber.Ctx) error { return fmt.Errorf("a cause for the log") })
	app.Get("/damaged", func(fiber.Ctx) error { return fmt.Errorf("read: %w", office.ErrDamaged) })
	app.Get("/panic", func(fiber.Ctx) error { panic("at once") })
	lead := signedIn(t, app, office.Lead)
	for _, c := range []struct {
		path, says string
		status     int
	}{
		{"/nothing", "There is no page /nothing.", 404},
		{"/setup/accounts", "may not administer accounts", 403},
		{"/broken", "Something went wrong", 500},
		{"/damaged", "The database file is damaged", 500},
		{"/panic", "Something went wrong", 500},
		{"/setup/mappings", "may not", 403},
	} {
		for _, target := range []string{"", "page", "trail"} {
			lead.header = http.Header{"Hx-Request": {"true"}, "Hx-Boosted": {"true"}}
			if target != "" {
				lead.header.Set("Hx-Target", target)
			}
			status, body, _ := lead.get(c.path)
			require.Equal(t, c.status, status, c.path)
			require.Contains(t, body, c.says)
			require.NotContains(t, body, "a cause for the log")
			if target == "trail" {
				require.Contains(t, body, `<div id="trail">`)
				continue
			}
			require.Contains(t, body, `<div id="page">`, "%s %s", c.path, target)
			require.Contains(t, body, "To the board")
			require.Contains(t, body, "The lead", "who is signed in stays so")
		}
	}
}
