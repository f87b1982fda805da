package web

import (
	"bytes"
	"html"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
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
		status, body, _ = b.post(draft, url.Values{"do": {"say"}, "sheet": {"Hauptbuch.csv"}, field: {text}})
		require.Equal(t, http.StatusUnprocessableEntity, status)
		require.Contains(t, says(body), text)
	}
	status, _, head = b.post(
		draft,
		url.Values{
			"do":             {"say"},
			"sheet":          {"Hauptbuch.csv"},
			"place":          {"s0"},
			"form.datum":     {"day first"},
			"was.form.datum": {""},
			"keep":           {"Ledger print"},
		},
	)
	require.Equal(t, http.StatusSeeOther, status)
	require.Equal(t, draft+"#s0", head.Get("Location"))
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
