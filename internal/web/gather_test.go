package web

import (
	"bytes"
	"html"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/readback"
)

// sendFiles posts files as the page of Gather does.
func (b *browser) sendFiles(files map[string]string) (int, string, http.Header) {
	b.t.Helper()
	b.get("/gather")
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	require.NoError(b.t, w.WriteField("_csrf", b.cookies["turret_form"]))
	for name, text := range files {
		f, err := w.CreateFormFile("files", name)
		require.NoError(b.t, err)
		_, err = f.Write([]byte(text))
		require.NoError(b.t, err)
	}
	require.NoError(b.t, w.Close())
	r := httptest.NewRequest(http.MethodPost, "/gather", &body)
	r.Header.Set("Content-Type", w.FormDataContentType())
	return b.send(r)
}

// settled opens a page until it has done what it waits for, and follows it on.
func (b *browser) settled(path string) (at, body string) {
	b.t.Helper()
	for range 200 {
		status, body, head := b.get(path)
		if status == http.StatusSeeOther {
			path = head.Get("Location")
			continue
		}
		require.Equal(b.t, http.StatusOK, status, path)
		if !strings.Contains(body, `class="waiting"`) {
			return path, body
		}
		time.Sleep(20 * time.Millisecond)
	}
	require.Fail(b.t, "it never settles", path)
	return "", ""
}

// says gives the text of a page, blanks made one.
func says(body string) string {
	return strings.Join(strings.Fields(html.UnescapeString(tags.ReplaceAllString(body, " "))), " ")
}

// ledgerPrint does not tell whether 05/02 is in February or in May.
const ledgerPrint = "Beleg;Datum;Projekt;Konto;Betrag\n" +
	"901;05/02/2026;A;10;1.000,50\n" +
	"902;06/02/2026;A;7990;200,00\n" +
	"903;bald;A;10;7,00\n" +
	"Summe;;;;1.207,50\n"

func withLedger(t *testing.T) (*office.Office, *browser) {
	t.Helper()
	const projects, activities = "project,name,currency,state\n", "project,activity,name,baseline_start,baseline_finish\n"
	o := newOffice(t, map[string]string{
		"cost_codes.csv": codesCSV, "projects.csv": projects + "A,Alpha,EUR,active\n", "activities.csv": activities + "A" + activitiesRow,
		"costs.csv": "project,cost_code,kind,period,version,amount\n" + plan(
			"A",
		), "progress.csv": "project,activity,period,percent\nA,1,2026-02,40\n",
	})
	return o, signedIn(t, newApp(o), office.Analyst)
}

// TestAFileFromDropToUndo does over HTTP what an analyst does with a ledger
// print: look, answer, accept, mend, map, drop, undo.
func TestAFileFromDropToUndo(t *testing.T) {
	_, b := withLedger(t)
	status, _, head := b.sendFiles(map[string]string{"Hauptbuch.csv": ledgerPrint})
	require.Equal(t, http.StatusSeeOther, status)
	draft := head.Get("Location")
	require.Regexp(t, `^/gather/draft/\d+$`, draft)
	_, body := b.settled(draft)
	require.Contains(t, says(body), "Hauptbuch.csv read as postings")
	require.Contains(t, body, `value="accept" disabled`, "it is asked which day 05/02 is")
	require.Contains(t, says(body), "Answer what is asked first")

	// Someone who accepts all the same is refused, and the draft waits on.
	b.post(draft, url.Values{"do": {"accept"}})
	at, body := b.settled(draft)
	require.Equal(t, draft, at)
	require.Contains(t, says(body), "Hauptbuch.csv still asks")
	require.Contains(t, body, `value="accept" disabled`)

	// Head row and unit that are no numbers are refused with a sentence.
	for field, text := range map[string]string{"head": "first", "places": "dozens"} {
		status, body, _ = b.post(draft, url.Values{"sheet": {"s1"}, "s1:label": {"Hauptbuch.csv"}, "s1:" + field: {text}})
		require.Equal(t, http.StatusUnprocessableEntity, status)
		require.Contains(t, says(body), text)
	}
	status, _, head = b.post(
		draft,
		url.Values{
			"say":               {"s1"},
			"sheet":             {"s1"},
			"s1:label":          {"Hauptbuch.csv"},
			"s1:form.datum":     {"day first"},
			"s1:was.form.datum": {""},
			"s1:keep":           {"Ledger print"},
		},
	)
	require.Equal(t, http.StatusSeeOther, status)
	require.Equal(t, draft+"#s1", head.Get("Location"))
	_, body = b.settled(draft)
	require.NotContains(t, body, "disabled")
	require.Contains(t, says(body), "1 new · 0 changed · 0 unchanged · 2 refused · 1 totals agree")
	require.Contains(t, body, "05/02/2026")

	b.post(draft, url.Values{"do": {"accept"}})
	run, body := b.settled(draft)
	require.Regexp(t, `^/gather/run/\d+`, run)
	require.Contains(t, says(body), "Hauptbuch.csv")
	_, body, _ = b.get(draft)
	require.Contains(t, says(body), "do not wait any more")

	// The code that nothing matches: its rows and their sum, then mapped.
	_, body, _ = b.get("/gather/codes")
	require.Contains(t, says(body), "7990 Cost code 1 200.00 EUR")
	status, body, _ = b.post("/gather/codes", url.Values{"column": {"cost_code"}, "code": {"7990"}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, says(body), "Choose the code that it stands for.")
	status, _, head = b.post("/gather/codes", url.Values{"column": {"cost_code"}, "code": {"7990"}, "to": {"10"}})
	require.Equal(t, http.StatusSeeOther, status)
	_, body, _ = b.get(head.Get("Location"))
	require.Contains(t, says(body), "1 row was read again and taken.")
	require.Contains(t, says(body), "Every code is known.")

	// The row without a day: mended wrongly, dropped without a reason, with one.
	_, body, _ = b.get("/gather/refused")
	require.Contains(t, says(body), "1 row waits.")
	cell := regexp.MustCompile(`name="(c\.(\d+)\.datum)" value="bald"`).FindStringSubmatch(body)
	require.NotNil(t, cell)
	status, _, head = b.post(
		"/gather/refused",
		url.Values{"do": {"send"}, cell[1]: {"40.02.2026"}, "was." + cell[1]: {"bald"}},
	)
	require.Equal(t, http.StatusSeeOther, status)
	_, body, _ = b.get(head.Get("Location"))
	require.Contains(t, says(body), "0 rows were taken; 1 cell is refused again.")
	require.Contains(t, body, `value="40.02.2026"`, "what was typed is kept")
	id := regexp.MustCompile(`name="row" value="([\d,]+)"`).FindStringSubmatch(body)[1]
	status, body, _ = b.post("/gather/refused", url.Values{"do": {"drop"}, "row": {id}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, says(body), "reason")
	status, sheet, head := b.get("/gather/refused.xlsx")
	require.Equal(t, http.StatusOK, status)
	require.Contains(t, head.Get("Content-Disposition"), "refused rows.xlsx")
	require.NotEmpty(t, readback.XLSX(t, []byte(sheet)))
	status, _, head = b.post("/gather/refused", url.Values{"do": {"drop"}, "row": {id}, "why": {"it came twice"}})
	require.Equal(t, http.StatusSeeOther, status)
	_, body, _ = b.get(head.Get("Location"))
	require.Contains(t, says(body), "No refused row waits for anyone.")

	// The run is undone once what stands on it is: the rows of code 7990.
	path, _, _ := strings.Cut(run, "?")
	status, body, _ = b.post(path, url.Values{"do": {"undo"}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	later := regexp.MustCompile(`postings of A: batch (\d+) of The analyst changed it`).FindStringSubmatch(says(body))
	require.NotNil(t, later, says(body))
	for _, p := range []string{"/gather/run/" + later[1], path} {
		status, body, head = b.post(p, url.Values{"do": {"undo"}})
		require.Equal(t, http.StatusSeeOther, status, says(body))
		_, body, _ = b.get(head.Get("Location"))
		require.Contains(t, says(body), "undone by batch")
	}
	status, body, _ = b.post(path, url.Values{"do": {"undo"}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, says(body), "undone already")

	// The mapping that was kept offers itself for the next print.
	_, _, head = b.sendFiles(map[string]string{"Hauptbuch 2.csv": strings.ReplaceAll(ledgerPrint, "90", "91")})
	_, body = b.settled(head.Get("Location"))
	require.Contains(t, says(body), "mapping Ledger print")
	require.NotContains(t, body, "disabled")
	status, _, head = b.post(head.Get("Location"), url.Values{"do": {"drop"}})
	require.Equal(t, http.StatusSeeOther, status)
	require.Equal(t, "/gather", head.Get("Location"))
}

// TestPastedRows are files too; nothing sent is refused with what to do.
func TestPastedRows(t *testing.T) {
	_, b := withLedger(t)
	status, body, _ := b.post("/gather", url.Values{"pasted": {"  "}})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Contains(t, body, `class="note wrong"`)
	status, _, head := b.post(
		"/gather",
		url.Values{
			"pasted": {"posting\tdate\tproject\tcost_code\tamount\nX1\t2026-02-07\tA\t10\t12.50\n"},
			"name":   {"From the mail"},
		},
	)
	require.Equal(t, http.StatusSeeOther, status)
	draft := head.Get("Location")
	_, body = b.settled(draft)
	require.Contains(t, says(body), "From the mail.tsv read as postings")
	require.Contains(t, says(body), "X1 · A new 12.50 EUR in 2026-02")
	b.post(draft, url.Values{"do": {"accept"}})
	run, body := b.settled(draft)
	require.Contains(t, says(body), "From the mail.tsv")
	for _, form := range []url.Values{{}, {"do": {"dance"}}} {
		for _, path := range []string{"/gather/refused", run} {
			status, _, _ = b.post(path, form)
			require.Equal(t, http.StatusUnprocessableEntity, status, path)
		}
	}
	status, _, _ = b.get("/gather/run/99")
	require.Equal(t, http.StatusNotFound, status)
}

// TestMappingsOverHTTP keeps words and mappings, changes and takes them away.
func TestMappingsOverHTTP(t *testing.T) {
	o, b := withLedger(t)
	require.NoError(
		t,
		entry.In(o).
			SaveMapping(t.Context(), operator, entry.NamedMapping{Name: "Print", Mapping: entry.Mapping{Table: "postings", Columns: map[string]string{"beleg": "posting"}}}),
	)
	for _, form := range []url.Values{{"do": {"word"}, "word": {"Vorgang"}, "column": {"posting"}}} {
		status, _, _ := b.post("/setup/mappings", form)
		require.Equal(t, http.StatusSeeOther, status)
	}
	_, body, _ := b.get("/setup/mappings")
	require.Contains(t, strings.ToLower(says(body)), "vorgang posting")
	link := regexp.MustCompile(`href="(/setup/mappings/\d+)">Print<`).FindStringSubmatch(body)[1]
	_, body, _ = b.get(link)
	require.Contains(t, says(body), "Version 1")
	form := url.Values{
		"do": {
			"save",
		}, "name": {"Print"}, "col.beleg": {"posting"}, "code.0.column": {"cost_code"}, "code.0.match": {"exact"}, "code.0.from": {"7990"}, "code.0.to": {"10"},
		"skip.0.head": {"beleg"}, "skip.0.like": {"carried*"},
	}
	status, _, _ := b.post(link, form)
	require.Equal(t, http.StatusSeeOther, status)
	_, body, _ = b.get(link)
	require.Contains(t, says(body), "Version 2")
	require.Contains(t, body, `value="7990"`)
	require.Contains(t, body, `value="carried*"`)
	form.Set("name", "")
	status, _, _ = b.post(link, form)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	status, _, _ = b.get("/setup/mappings/99")
	require.Equal(t, http.StatusNotFound, status)
	status, _, _ = b.post("/setup/mappings", url.Values{"do": {"drop"}, "id": {link[strings.LastIndex(link, "/")+1:]}})
	require.Equal(t, http.StatusSeeOther, status)
	status, _, _ = b.get(link)
	require.Equal(t, http.StatusNotFound, status)
}

// TestTheMatrixIsFiltered: what is owed and missing stands out.
func TestTheMatrixIsFiltered(t *testing.T) {
	_, b := withLedger(t)
	_, body, _ := b.get("/gather")
	require.Contains(t, says(body), "Alpha today missing")
	_, body, _ = b.get("/gather?show=owing")
	require.Contains(t, says(body), "Alpha today missing")
	_, body, _ = b.get("/gather?show=same")
	require.Contains(t, says(body), "No project is like this.")
}

// formOf gives the fields of the preview's form as a browser would send them.
func formOf(t *testing.T, body string) url.Values {
	t.Helper()
	out := make(url.Values)
	body = body[strings.Index(body, `<form method="post" hx-boost="false" class="split">`):]
	body = body[:strings.Index(body, "</form>")]
	for _, tag := range regexp.MustCompile(`<input[^>]*>`).FindAllString(body, -1) {
		name, value := attribute(tag, "name"), attribute(tag, "value")
		if name == "" || strings.Contains(tag, `type="checkbox"`) && !strings.Contains(tag, " checked") {
			continue
		}
		out.Add(name, value)
	}
	for _, x := range regexp.MustCompile(`(?s)<select[^>]* name="([^"]*)".*?</select>`).FindAllStringSubmatch(body, -1) {
		list := regexp.MustCompile(`<option( value="([^"]*)")?( selected)?>([^<]*)`).FindAllStringSubmatch(x[0], -1)
		at := max(0, slices.IndexFunc(list, func(o []string) bool { return o[3] != "" }))
		value := list[at][4]
		if list[at][1] != "" {
			value = list[at][2]
		}
		out.Add(html.UnescapeString(x[1]), html.UnescapeString(value))
	}
	require.NotEmpty(t, out["sheet"])
	return out
}

func attribute(tag, name string) string {
	m := regexp.MustCompile(` ` + name + `="([^"]*)"`).FindStringSubmatch(tag)
	if m == nil {
		return ""
	}
	return html.UnescapeString(m[1])
}

// TestPreviewKeepsWhatWasChangedInOtherSheets: whatever button is pressed, what was changed
// of any sheet is kept; and it is not accepted before it was looked at.
func TestPreviewKeepsWhatWasChangedInOtherSheets(t *testing.T) {
	const one, two = "Beleg;Datum;Projekt;Konto;Betrag\nB1;05/02/2026;A;10;1,50\n", "Beleg;Datum;Projekt;Konto;Betrag\nB2;06/02/2026;A;10;2,50\n"
	open := func() (*browser, string, url.Values, string) {
		_, b := withLedger(t)
		_, _, head := b.sendFiles(map[string]string{"Erste.csv": one, "Zweite.csv": two})
		draft := head.Get("Location")
		_, body := b.settled(draft)
		f := formOf(t, body)
		first := "s1"
		if f.Get("s1:label") != "Erste.csv" {
			first = "s2"
		}
		require.Contains(t, body, `value="accept" disabled`)
		return b, draft, f, first
	}
	b, draft, f, _ := open()
	for _, id := range f["sheet"] {
		f.Set(id+":form.datum", "day first")
	}
	f.Set("s2:leave", "9")
	f.Set("say", "s1")
	status, _, head := b.post(draft, f)
	require.Equal(t, http.StatusSeeOther, status)
	require.Equal(t, draft+"#s1", head.Get("Location"))
	_, body := b.settled(draft)
	require.NotContains(t, body, "disabled", "both are answered")
	again := formOf(t, body)
	for _, id := range f["sheet"] {
		require.Equal(t, "day first", again.Get(id+":form.datum"))
	}
	require.Equal(t, "9", again.Get("s2:leave"))

	// A change beside the accepting is shown before anything is taken.
	again.Set("s2:without", "1")
	again.Set("do", "accept")
	_, _, head = b.post(draft, again)
	require.Equal(t, draft+"?unseen=1", head.Get("Location"))
	_, body = b.settled(head.Get("Location"))
	require.Contains(t, says(body), "nothing is accepted yet")
	require.Contains(t, says(body), "Nothing of it is taken")
	last := formOf(t, body)
	last.Set("do", "accept")
	_, _, head = b.post(draft, last)
	require.Equal(t, draft, head.Get("Location"))
	at, body := b.settled(draft)
	require.Contains(t, at, "/gather/run/")
	require.Contains(t, says(body), "1 taken. Batch")

	// What is said of all files is kept with it, by any button.
	b, draft, f, first := open()
	f.Set("period", "2026-02")
	f.Set("whole", "1")
	f.Set(first+":form.datum", "month first")
	f.Set("say", first)
	b.post(draft, f)
	_, body = b.settled(draft)
	again = formOf(t, body)
	require.Equal(t, []string{"2026-02", "1", "month first"}, []string{again.Get("period"), again.Get("whole"), again.Get(first + ":form.datum")})
}

// TestLackingProgrammesAreAdded: rows that are refused since their programme is not known
// offer to add it, and are read again.
func TestLackingProgrammesAreAdded(t *testing.T) {
	o, b := withLedger(t)
	_, _, head := b.sendFiles(map[string]string{
		"projects.csv":   "project,name,programme\nB,Beta,FR\nC,Gamma,QS\nD,Delta,FR\nE,Eps,\n",
		"cost_codes.csv": "cost_code,name,parent\n310,Sub,300\n",
	})
	draft := head.Get("Location")
	_, body := b.settled(draft)
	require.Contains(t, says(body), "the office has not 2 programmes: FR, QS. Add these 2")
	require.Contains(t, says(body), "the office has not 1 cost code: 300. Add it")
	for _, table := range []string{"programmes", "cost_codes"} {
		f := formOf(t, body)
		f.Set("add", table)
		status, _, _ := b.post(draft, f)
		require.Equal(t, http.StatusSeeOther, status)
		_, body = b.settled(draft)
	}
	require.NotContains(t, says(body), "the office has not")
	f := formOf(t, body)
	f.Set("do", "accept")
	b.post(draft, f)
	_, body = b.settled(draft)
	require.Contains(t, says(body), "5 taken")
	m, err := o.Moment(t.Context(), office.Actor{Name: "A", Role: office.Analyst, Account: 1}, office.Ask{})
	require.NoError(t, err)
	require.Equal(t, "FR", m.Snapshot().Project("D").Programme)

	f.Set("add", "programmes")
	status, _, _ := b.post(draft, f)
	require.Equal(t, http.StatusNotFound, status, "the draft is gone")
}
