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

// weighed has ten projects of two leads: those of Ben cost a fifth more than they
// earn, state nothing of it, and are late; those of Ann go as planned.
var weighed = func() map[string]string {
	files := map[string]string{
		"programmes.csv": "programme,name\nN,North\n", "cost_codes.csv": "cost_code,name\n1,Works\n",
		"projects.csv": "project,name,lead,programme,stage,state\nZ,Cancelled one,Ben,N,build,cancelled\n", "activities.csv": "project,activity,name,baseline_start,baseline_finish\n",
		"costs.csv": "project,cost_code,kind,period,version,amount\n", "progress.csv": "project,activity,period,percent,finish\n", "narratives.csv": "project,period,section,text,stated_standing\n",
		"postings.csv": "posting,date,project,cost_code,amount,currency,supplier\n",
	}
	for i, code := range strings.Split("ABCDEFGHIK", "") {
		lead, spent, finish, supplier := "Ann", 250, "2026-04-30", "Orran"
		if i >= 5 {
			lead, spent, finish, supplier = "Ben", 300, "2026-06-30", "Brae"
		}
		files["projects.csv"] += fmt.Sprintf("%s,Quay %s,%s,N,build,active\n", code, code, lead)
		files["activities.csv"] += code + ",1,All,2026-01-01,2026-04-30\n"
		for m := 1; m <= 4; m++ {
			files["costs.csv"] += fmt.Sprintf("%s,1,plan,2026-0%d,1,250000\n", code, m)
			if m > 3 {
				continue
			}
			files["postings.csv"] += fmt.Sprintf(
				"%s%d,2026-0%d-11,%s,1,%d000,EUR,%s\n",
				code,
				m,
				m,
				code,
				spent,
				supplier,
			)
			files["progress.csv"] += fmt.Sprintf("%s,1,2026-0%d,%d,%s\n", code, m, 25*m, finish)
			for q := m + 1; q <= 4; q++ {
				files["costs.csv"] += fmt.Sprintf("%s,1,forecast,2026-0%d,2026-0%d,250000\n", code, q, m)
			}
		}
		files["narratives.csv"] += code + ",2026-03,summary,Goes on.,steady\n"
	}
	return files
}()

// text is a page without its tags.
func text(body string) string {
	return strings.Join(
		strings.Fields(html.UnescapeString(regexp.MustCompile(`<[^>]*>`).ReplaceAllString(body, " "))),
		" ",
	)
}

// linksTo are the addresses in a page that hold a text.
func linksTo(body, holding string) (out []string) {
	for _, m := range regexp.MustCompile(`href="([^"]*)"`).FindAllStringSubmatch(body, -1) {
		if to := html.UnescapeString(m[1]); strings.Contains(to, holding) {
			out = append(out, to)
		}
	}
	return out
}

// TestExceptionsPage: each reason names its figures, which open their trails; the
// form of limits keeps what is filtered; the list goes into the brief.
func TestExceptionsPage(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, weighed)), office.Analyst)
	_, body, _ := b.get("/exceptions?at=2026-03&lead=Ben")
	require.Equal(t, "5 of 5 projects stand out; Quay F has the most at stake, €0.2 M.", words(t, body, "sentence"))
	require.Contains(t, text(body), "The computed outlook of €1.2 M is €0.2 M (20.0%) over the plan of €1.0 M.")
	require.Contains(t, text(body), "The lead states Steady, and the figures say Act")
	require.NotContains(t, text(body), "Cancelled one")
	require.Contains(t, body, `<input type="hidden" name="lead" value="Ben">`)
	require.NotContains(t, body, `<input type="hidden" name="over"`, "a limit is asked for itself")
	_, panel, _ := b.get(linksTo(body, "trail=F%2Feac_computed")[0])
	require.Contains(t, text(panel), "Computed outlook 1,200,000.00 EUR")
	_, one, _ := b.get("/exceptions?at=2026-03&cause=over&over=20.1")
	require.Contains(t, words(t, one, "sentence"), "Overruns: none of 10 projects")
	_, one, _ = b.get("/exceptions?at=2026-03&cause=over&by=share")
	require.Contains(t, text(one), "By money By percent")
	require.Contains(t, one, `name="over" value="5"`)
	require.Contains(t, one, `type="hidden" name="running"`, "limits of other kinds travel along")

	brief := linksTo(one, "found%3A")
	require.Len(t, brief, 1)
	_, page, _ := b.get(brief[0])
	require.Contains(t, text(page), "Exceptions: Overruns")
}

// TestMapPage: every project with both figures is a mark that leads to its row;
// a box lists what is in it, and says so.
func TestMapPage(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, weighed)), office.Analyst)
	_, body, _ := b.get("/map?at=2026-03")
	require.Equal(t, 10, strings.Count(body, "<circle"))
	require.Equal(
		t,
		"Of 10 projects 5 are beyond the limits of both computed outlook over plan and finish slip; the largest is Quay F.",
		words(t, body, "sentence"),
	)
	require.Contains(t, text(body), "Beyond both limits 5")
	require.Contains(t, text(body), "Within both 5")
	both := linksTo(body, "box=")[0]
	_, chosen, _ := b.get(strings.TrimSuffix(both, "#rows"))
	require.Equal(t, 5, strings.Count(chosen, `<tr><th scope="row">`), "the rows of what is chosen")
	require.Len(t, regexp.MustCompile(`<circle class="[^"]*chosen"`).FindAllString(chosen, -1), 5)
	require.Contains(t, chosen, `class="box"`)
	_, typed, _ := b.get("/map?at=2026-03&box=" + url.QueryEscape("-5,5,-100,100"))
	require.Contains(t, typed, `data-box size="9" value="-5"`, "a box shows again where it is typed")
	rows := text(typed[strings.Index(typed, `id="rows"`):])
	require.Contains(t, rows, "A Quay A")
	require.NotContains(t, rows, "F Quay F")
	_, one, _ := b.get("/map?at=2026-03&of=G")
	require.Equal(t, 1, strings.Count(one, `<tr><th scope="row">`))

	// Of many marks the keyboard takes none: the table says the same.
	many := map[string]string{
		"cost_codes.csv": weighed["cost_codes.csv"],
		"projects.csv":   "project,name\n",
		"costs.csv":      "project,cost_code,kind,period,version,amount\n",
	}
	for i := range 70 {
		many["projects.csv"] += fmt.Sprintf("P%02d,Many %d\n", i, i)
		many["costs.csv"] += fmt.Sprintf(
			"P%02d,1,plan,2026-01,1,%d\nP%02d,1,actual,2026-01,,%d\n",
			i,
			1000+i,
			i,
			900+7*i,
		)
	}
	b = signedIn(t, newApp(newOffice(t, many)), office.Executive)
	_, body, _ = b.get("/map?x=bac&y=ac")
	require.Equal(t, 70, strings.Count(body, `tabindex="-1" aria-hidden="true"`))
	require.Contains(t, body, "List 30 more")
}

// TestDriversPage: the attribute that explains most comes first, its values lead to
// their projects, and what all have alike is said to be so.
func TestDriversPage(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, weighed)), office.Analyst)
	_, body, _ := b.get("/drivers?at=2026-03")
	require.Contains(
		t,
		words(t, body, "sentence"),
		"Overruns go most with lead, which explains 100% of their spread: Ben with +20.0% on average.",
	)
	require.Contains(t, text(body), "Programme — all have the same")
	require.Contains(t, text(body), "Ben 5 5,000 +20.0% ± 0.0%")
	ben := linksTo(body, "value=Ben")
	require.NotEmpty(t, ben)
	_, rows, _ := b.get(strings.TrimSuffix(ben[0], "#rows"))
	require.Contains(t, text(rows), "lead Ben 5")
	require.Equal(t, 5, strings.Count(rows[strings.Index(rows, `id="rows"`):], `<tr><th scope="row">`))
	_, code, _ := b.get("/drivers?at=2026-03&by=code&value=" + url.QueryEscape("1 Works"))
	require.Contains(t, text(code), "K Quay K Ben 1,000 1,150 +15.0%")
	require.NotEmpty(t, linksTo(code, "of=K&per=completion"))
	_, supplier, _ := b.get("/drivers?at=2026-03&by=supplier")
	require.Contains(t, text(supplier), "Brae 5 5,000")
}

// TestForecastsPage: errors by person and project, and every statement behind one.
func TestForecastsPage(t *testing.T) {
	o := newOffice(t, weighed)
	b := signedIn(t, newApp(o), office.Analyst)
	_, body, _ := b.get("/forecasts?at=2026-03&ahead=1")
	require.Equal(
		t,
		"Said 1 period ahead, cost missed what came by 8.3% on average, and was 8.3% too low. Ben missed most: by 16.7%.",
		words(t, body, "sentence"),
	)
	pairs := linksTo(body, "of=F&ahead=1")
	require.NotEmpty(t, pairs)
	_, one, _ := b.get(strings.TrimSuffix(pairs[0], "#pairs"))
	require.Contains(t, text(one), "Jan 2026 Feb 2026 250,000.00 300,000.00 −16.7%")
	require.Contains(t, text(one), "Feb 2026 Mar 2026 250,000.00 300,000.00 −16.7%")
	_, far, _ := b.get("/forecasts?at=2026-03&ahead=12")
	require.Contains(t, words(t, far, "sentence"), "No forecast is old enough")
	gatherFiles(t, o, map[string]string{"narratives.csv": "project,period,section,text\nA,2026-04,summary,Later.\n"})
	_, board, _ := b.get("/board?at=2026-04&cols=overall,forecast_error&sort=-forecast_error&group=none")
	require.Contains(t, text(board), "Forecast error, 3 ahead")
	require.Contains(t, text(board), "50.0%", "750,000 said for the 500,000 that came")
	require.NotEmpty(t, linksTo(board, "/forecasts?at=2026-04&of=A&ahead=3"))
}

// TestMeasuresOnTheSheet: the estimates of a project side by side with the one that
// is taken, what is needed against what was achieved, and what is spent.
func TestMeasuresOnTheSheet(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, weighed)), office.Analyst)
	_, body, _ := b.get("/project/F?at=2026-03")
	part := body[strings.Index(body, `id="measures"`):strings.Index(body, `id="codes"`)]
	said := text(part)
	for _, says := range []string{
		"Estimates lie between €1.15 M and €1.2 M , 5.0% of the plan apart. Taken is outlook at CPI: 15% or more is earned",
		"The stated one is not credible : it needs 1.00 , after 0.83.",
		"Stated outlook 1,150,000.00 +15.0%",
		"Outlook at plan 1,150,000.00 +15.0%",
		"Outlook at CPI taken 1,200,000.00 +20.0%",
		"Achieved so far (CPI) 0.83", "Needed to end at plan (TCPI) 2.50", // 250 ÷ 100
		"€0.3 M a period in the last three; what is left of the plan lasts 0.33 periods .",
		"F −16.7% 16.7% — —", // one period ahead; three are not gone
		"1 Works €1.2 M stated, +15.0%",
	} {
		require.Contains(t, said, says)
	}
	require.Equal(t, 1, strings.Count(part, `class="taken`))
	require.Equal(t, 2*3, strings.Count(part, `<rect class="spent`), "three periods, at two widths")

	// Against the period before, and of a project that is cancelled.
	_, then, _ := b.get("/project/A?at=2026-03&vs=2026-02")
	require.Contains(t, text(then), "Every estimate that is known says €1.0 M .")
	_, gone, _ := b.get("/project/Z?at=2026-03")
	require.Contains(t, text(gone), "No estimate of its cost is known.")
	require.Contains(t, text(gone), "Nothing is spent yet.")
}

// TestPlaces: the line under the rail leads between the screens of Weigh, keeps
// what is listed, and is not on a project's page.
func TestPlaces(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, weighed)), office.Lead)
	_, body, _ := b.get("/board?at=2026-03&lead=Ben&sort=-bac&cols=overall,cpi")
	line := body[strings.Index(body, `<nav class="places`):]
	line = line[:strings.Index(line, "</nav>")]
	require.Equal(t, "Board Page Dates Exceptions Map Drivers Trend Forecasts Money Funding", text(line))
	for _, to := range linksTo(line, "/") {
		require.Contains(t, to, "at=2026-03")
		require.NotContains(t, to, "cols=")
		if !strings.HasPrefix(to, "/money") {
			require.Contains(t, to, "lead=Ben", to)
		}
		status, page, _ := b.get(to)
		require.Equal(t, http.StatusOK, status)
		require.Equal(t, 1, strings.Count(page[strings.Index(page, `<nav class="places`):], `aria-current="page"`), to)
	}
	_, sheet, _ := b.get("/project/A?at=2026-03")
	require.NotContains(t, sheet, `<nav class="places`)
}

// TestViewsOfScreens: a state of any screen of Weigh is kept under a name, without
// what was only looked at, opens again on its screen, and is no view of the board.
func TestViewsOfScreens(t *testing.T) {
	b := signedIn(t, newApp(newOffice(t, weighed)), office.Analyst)
	for _, c := range []struct{ of, query, keeps string }{
		{"exceptions", "at=2026-03&cause=over&over=12&show=all&trail=F%2Fcpi", "/exceptions?cause=over&over=12&view="},
		{"map", "at=2026-03&x=cpi&box=0%2C1%2C0%2C1&of=F", "/map?x=cpi&box=0%2C1%2C0%2C1&view="},
		{"drivers", "by=stage&lead=Ben", "/drivers?lead=Ben&by=stage&view="},
		{"forecasts", "at=2026-03&ahead=6&of=F", "/forecasts?ahead=6&view="},
		{"money", "rows=class&row=all", "/money?rows=class&view="},
	} {
		status, _, head := b.post(
			"/views",
			url.Values{"do": {"save"}, "of": {c.of}, "name": {"My " + c.of}, "query": {c.query}, "first": {"1"}},
		)
		require.Equal(t, http.StatusSeeOther, status, c.of)
		require.True(t, strings.HasPrefix(head.Get("Location"), "/"+c.of+"?"), head.Get("Location"))
		_, page, _ := b.get("/" + c.of + "?at=2026-03")
		require.Contains(t, text(page), "My "+c.of)
		_, list, _ := b.get("/views")
		var to string
		for _, x := range linksTo(list, "/"+c.of+"?") {
			to = x
		}
		have, want := strings.Split(
			strings.TrimPrefix(to, "/"+c.of+"?"),
			"&",
		), strings.Split(
			strings.TrimPrefix(c.keeps, "/"+c.of+"?"),
			"&",
		)
		for _, part := range want[:len(want)-1] {
			require.Contains(t, have, part, to)
		}
		require.Len(t, have, len(want), to)
		status, _, _ = b.get(to)
		require.Equal(t, http.StatusOK, status, to)
	}
	_, board, _ := b.get("/board?at=2026-03")
	require.NotContains(t, text(board), "My exceptions", "the board offers its own")
	status, _, head := b.get("/board")
	require.Equal(
		t,
		http.StatusOK,
		status,
		"no other screen becomes what the board opens with: %s",
		head.Get("Location"),
	)
}
