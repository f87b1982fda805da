package web

import (
	"bytes"
	"context"
	"fmt"
	"html"
	"math/big"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"unicode"

	"github.com/stretchr/testify/require"

	"turret/internal/core/figure"
	"turret/internal/demo"
	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/brief"
	"turret/internal/readback"
)

// textOf reads a PDF with another program's reader: its words, without the
// spaces between them.
func textOf(t testing.TB, body []byte) (pages []string) {
	t.Helper()
	for _, text := range readback.PDF(t, body) {
		pages = append(pages, tight(text))
	}
	return pages
}

// tight writes a text as the reader gives it: without spaces, and of each
// character the low byte alone.
func tight(s string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsSpace(r) {
			return -1
		}
		return r & 0xff
	}, s)
}

var cellTexts = regexp.MustCompile(
	`(?s)<td class="[^"]*c-(computed_over|at_stake|finish_stated|finish_slip)[^"]*"[^>]*>(.*?)</td>`,
)

// TestTheBriefSaysWhatTheScreensSay: the sentence, every cell of the board, and
// each project's own sentence, in the text of the PDF.
func TestTheBriefSaysWhatTheScreensSay(t *testing.T) {
	ctx := context.Background()
	o, err := demo.Make(ctx, filepath.Join(t.TempDir(), "demo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { o.Close() })
	b := newBrowser(t, newApp(o))
	who := demo.SignIns[0]
	b.post("/sign-in", map[string][]string{"login": {who.Login}, "password": {who.Password}})
	for _, at := range []string{"2026-10", "2026-11"} {
		spec := brief.Spec{At: at, Vs: "2026-08"}
		br, err := brief.In(o).Brief(ctx, operator, spec)
		require.NoError(t, err)
		body, err := br.Write(brief.FormPDF)
		require.NoError(t, err)
		pages := textOf(t, body)
		require.Len(t, pages, len(br.Sheets))
		all := strings.Join(pages, "\n")

		_, board, _ := b.get("/board?at=" + at + "&vs=2026-08")
		require.Contains(t, pages[0], tight(sentenceOf(t, board)), at)
		n := 0
		for _, m := range cellTexts.FindAllStringSubmatch(board, -1) {
			said, _, _ := strings.Cut(m[2], `<span class="was"`)
			text := tight(html.UnescapeString(tags.ReplaceAllString(said, "")))
			require.Contains(t, all, text, "%s: a cell of the board", at)
			n++
		}
		require.Greater(t, n, 100)
		for i := range br.Sheets {
			entry := br.Sheets[i].Entries[0]
			code, _, ok := strings.Cut(entry.Title, " ")
			if entry.Depth == 0 || !ok {
				continue
			}
			_, sheet, _ := b.get("/project/" + code + "?at=" + at)
			require.Contains(t, pages[i], tight(sentenceOf(t, sheet)), code)
		}
		for i, p := range pages {
			require.Contains(t, p, tight(fmt.Sprintf("%d of %d", i+1, len(pages))))
			require.Contains(t, p, "comparedwithAug2026")
		}
		again, err := brief.In(o).Brief(ctx, operator, spec)
		require.NoError(t, err)
		same, err := again.Write(brief.FormPDF)
		require.NoError(t, err)
		require.True(t, bytes.Equal(body, same), "the same brief gives the same bytes")
		for _, form := range []string{brief.FormHTML, brief.FormXLSX} {
			x, err := br.Write(form)
			require.NoError(t, err)
			y, err := again.Write(form)
			require.NoError(t, err)
			require.True(t, bytes.Equal(x, y), form)
		}
		if at == "2026-10" {
			require.Contains(t, pages[0], tight(fmt.Sprintf("cut %x", br.Hash[:4])))
		} else {
			require.Contains(t, pages[0], "openperiod,asof")
		}
	}
}

// TestSpreadsheetsAddUp: another program's reader finds the values of the
// totals to be the sums of their columns, and the readings of the portfolio.
func TestSpreadsheetsAddUp(t *testing.T) {
	ctx := context.Background()
	o, err := demo.Make(ctx, filepath.Join(t.TempDir(), "demo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { o.Close() })
	m, err := o.Moment(ctx, operator, office.Ask{At: "2026-11"})
	require.NoError(t, err)
	body, err := brief.In(o).BoardWorkbook(ctx, operator, m, board.Order{})
	require.NoError(t, err)
	sheet := readback.XLSX(t, body)[0]
	head := 2
	total := len(sheet) - 1
	whole, _ := m.Find("*")
	checked := 0
	for c := range sheet[total] {
		cell := sheet[total][c]
		if cell.Formula == "" {
			continue
		}
		sum := new(big.Rat)
		for r := head + 1; r < total; r++ {
			if v, ok := new(big.Rat).SetString(sheet[r][c].Value); ok {
				sum.Add(sum, v)
			}
		}
		value, ok := new(big.Rat).SetString(cell.Value)
		require.True(t, ok, cell.Value)
		require.Equal(t, sum.FloatString(2), value.FloatString(2), "the formula's saved value is the sum")
		title := sheet[head][c]
		for i := range figure.Len() {
			if id := figure.ID(i); figure.Get(id).Title == title.Value {
				require.Equal(t, whole.Value(id).Text(whole.Currency), value.FloatString(2), title.Value)
				checked++
			}
		}
	}
	require.Equal(t, 6, checked)
}

// TestBriefsOfWhatIsThere: a scope that does not exist, or without projects, a
// page of no brief, and names and words of any script print or fall back.
func TestBriefsOfWhatIsThere(t *testing.T) {
	ctx := context.Background()
	files := map[string]string{
		"programmes.csv": "programme,name\nG,Ομάδα\nE,Empty\n",
		"cost_codes.csv": "cost_code,name\n10,Łódź\n",
		"projects.csv":   "project,name,programme,currency,lead\nA,Паром 😀 <b>&,G,EUR,=cmd|' /C calc'!A0\n",
		"activities.csv": "project,activity,name,level,kind,baseline_start,baseline_finish\nA,1,Ein Übergang,,task,2026-01-05,2026-04-30\nA,M,مرحلة 里程碑,portfolio,milestone,2026-03-02,2026-03-02\n",
		"costs.csv":      "project,cost_code,kind,period,version,amount\n" + plan("A") + "A,10,actual,2026-02,,900000\n",
		"progress.csv":   "project,activity,period,percent\nA,1,2026-02,20\n",
		"narratives.csv": "project,period,section,text\nA,2026-02,summary,\"" + strings.Repeat("Слово and words ", 1400) + "\u202e\u0000\"\n",
	}
	files["narratives.csv"] = strings.ReplaceAll(files["narratives.csv"], "\x00", "")
	o := newOffice(t, files)
	for _, scope := range []string{"", "G", "A", "E"} {
		br, err := brief.In(o).Brief(ctx, operator, brief.Spec{Scope: scope, At: "2026-02"})
		require.NoError(t, err, scope)
		for _, form := range []string{brief.FormPDF, brief.FormHTML, brief.FormXLSX} {
			body, err := br.Write(form)
			require.NoError(t, err, "%s %s", scope, form)
			switch {
			case form == brief.FormPDF && (scope == "A" || scope == "G"):
				all := strings.Join(textOf(t, body), "")
				require.Contains(t, all, tight("Паром▯<b>&"), "what no font has is a box")
				require.Contains(t, all, tight("Слово"))
			case form == brief.FormHTML:
				require.NotContains(t, string(body), "<b>&,")
			}
		}
		if scope == "E" {
			require.Contains(t, strings.Join(textOf(t, mustWrite(t, br)), ""), "NoprojectbelongshereinFeb2026")
		}
	}
	for spec, says := range map[*brief.Spec]string{
		{Scope: "Z", At: "2026-02"}:                       "There is no programme and no project",
		{At: "1999-01"}:                                   "Nothing is stated for",
		{At: "2026-02", Parts: []string{"first", "poem"}}: `no page "poem"`,
	} {
		_, err := brief.In(o).Brief(ctx, operator, *spec)
		require.ErrorIs(t, err, office.ErrRefused)
		require.ErrorContains(t, err, says)
	}
	_, err := brief.In(newOffice(t, nil)).Brief(ctx, operator, brief.Spec{})
	require.ErrorContains(t, err, "Nothing is stated yet")
}

func mustWrite(t *testing.T, b *brief.Brief) []byte {
	t.Helper()
	body, err := b.Write(brief.FormPDF)
	require.NoError(t, err)
	return body
}

// TestBriefsStayAsTheyWereMade: what is gathered later changes a new brief, and
// not one that was made.
func TestBriefsStayAsTheyWereMade(t *testing.T) {
	ctx := context.Background()
	o := newOffice(t, small)
	id, err := brief.In(o).Make(ctx, operator, brief.Spec{At: "2026-01"}, nil)
	require.NoError(t, err)
	_, first, err := brief.In(o).Form(ctx, operator, id, brief.FormPDF)
	require.NoError(t, err)
	gatherFiles(
		t,
		o,
		map[string]string{
			"costs.csv": "project,cost_code,kind,period,version,amount\nA/1 ä,10,actual,2026-01,,77.00\n",
		},
	)
	_, later, err := brief.In(o).Form(ctx, operator, id, brief.FormPDF)
	require.NoError(t, err)
	require.True(t, bytes.Equal(first, later))
	other, err := brief.In(o).Make(ctx, operator, brief.Spec{At: "2026-01"}, nil)
	require.NoError(t, err)
	_, changed, err := brief.In(o).Form(ctx, operator, other, brief.FormPDF)
	require.NoError(t, err)
	require.False(t, bytes.Equal(first, changed))
	list, err := brief.In(o).List(ctx, operator)
	require.NoError(t, err)
	require.NotEqual(t, list[0].Hash, list[1].Hash)
	require.ErrorIs(t, brief.In(o).Withdraw(ctx, operator, id, ""), office.ErrRefused)
	require.NoError(t, brief.In(o).Withdraw(ctx, operator, id, "wrong"))
	require.ErrorIs(t, brief.In(o).Withdraw(ctx, operator, id, "again"), office.ErrRefused)
	require.ErrorIs(t, brief.In(o).Withdraw(ctx, operator, 99, "x"), office.ErrRefused)
}
