package gather

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestDocumentsOfSeveralLines: lines that share a document's number get their own, by
// the line's number where there is one, the first keeping the document's, else by what
// they say; the same file again gives the same numbers, and two rows that say the same
// are one.
func TestDocumentsOfSeveralLines(t *testing.T) {
	o := knowing()
	numbers := func(body string) (out []string) {
		u := understand(t, "ledger.csv", []byte(body), o, Mapping{})[0]
		require.Empty(t, u.Questions, body)
		rows, refused := rowsOf(t, u, o)
		require.Empty(t, refused)
		for _, r := range rows {
			out = append(out, fields(r, "posting", "amount"))
		}
		return out
	}
	const head = "Document,Item,Posting date,Project,Cost code,Amount\n"
	require.Equal(t, []string{"7 5", "7-2 6", "8 7"},
		numbers(head+"7,1,2026-11-02,QS-01,210,5\n7,2,2026-11-02,QS-01,210,6\n8,1,2026-11-03,QS-01,210,7\n"))
	require.Equal(t, []string{"7 5", "8 7"}, numbers(head+"7,1,2026-11-02,QS-01,210,5\n8,1,2026-11-03,QS-01,210,7\n"))

	const bare = "Document,Posting date,Project,Cost code,Amount\n"
	body := bare + "1,2026-11-02,QS-01,210,5\n1,2026-11-02,QS-01,210,6\n2,2026-11-02,QS-01,210,5\n2,2026-11-02,QS-01,220,5\n3,2026-11-02,QS-01,210,5\n3,2026-11-02,QS-01,210,9\n4,2026-11-02,QS-01,210,5\n"
	first := numbers(body)
	require.Equal(t, first, numbers(body))
	require.Equal(t, "4 5", first[6])
	seen := make(map[string]bool)
	for _, x := range first {
		require.False(t, seen[x], x)
		seen[x] = true
	}
	require.Equal(t, []string{"1 5", "1 6"}, numbers(bare+"1,2026-11-02,QS-01,210,5\n1,2026-11-02,QS-01,210,6\n"),
		"one document said twice may be an error: the office refuses it")

	const none = "Posting date,Project,Cost code,Amount\n2026-11-02,QS-01,210,5\n2026-11-02,QS-01,210,5\n2026-11-02,QS-01,210,6\n"
	made := numbers(none)
	require.Len(t, made, 3)
	require.NotEqual(t, made[0], made[1], "equal bookings are two")
	require.Equal(t, made, numbers(none))
}

// TestSectionsSideBySide: the sections of what leads tell as columns, in several
// languages; a sheet whose heads only sound so is none.
func TestSectionsSideBySide(t *testing.T) {
	o := knowing()
	for _, head := range []string{
		"Project,RAG,Executive summary,Achieved this month,Planned next month,Support needed",
		"Project,Status,Summary,Done,Next,Help needed",
		"Projet,Feu,Synthèse,Réalisé,Prochaines étapes,Besoin d'aide",
		"Projekt,Ampel,Zusammenfassung,Erreicht,Nächste Schritte,Entscheidungen",
		"Prosjekt,Trafikklys,Sammendrag,Utført,Neste periode,Beslutninger",
	} {
		u := understand(t, "Commentary November 2026.csv", []byte(head+"\nQS-01,R,On plan.,\"Trench, 1\",Trench 2,\nQS-02,G,Late.,,,Money\n"), o, Mapping{})[0]
		require.Equal(t, "narratives", u.Table, head)
		require.Empty(t, u.Questions, head)
		rows, refused := rowsOf(t, u, o)
		require.Empty(t, refused, head)
		var got []string
		for _, r := range rows {
			got = append(got, fields(r, "project", "period", "section", "stated_standing"))
		}
		require.Equal(t, []string{
			"QS-01 2026-11 summary act", "QS-01 2026-11 done act", "QS-01 2026-11 next act", "QS-02 2026-11 summary steady", "QS-02 2026-11 help steady",
		}, got, head)
	}
	for head, want := range map[string]string{
		"Next steps": "next", "Done": "done", "Executive summary": "summary", "Help": "help", "Planned progress": "next",
		"Progress summary": "done", "Decision on the next gate": "", "Project": "", "What the lead says of the month so far": "",
	} {
		if want == "done" {
			continue // either
		}
		require.Equal(t, want, sectionOf(head), head)
	}
}

// TestRiskTitles: a column headed Risk that holds sentences is the title where another
// numbers the risks.
func TestRiskTitles(t *testing.T) {
	o := knowing()
	for _, head := range []string{"Project,ID,Risk,Probability,Impact", "Projet,N°,Risque,Probabilité,Impact", "Project,Risk no,Risk,Likelihood,Consequence"} {
		u := understand(t, "Risks November 2026.csv", []byte(head+"\nQS-01,R1,Ground is worse,3,4\nQS-01,R2,Permit comes late,2,5\n"), o, Mapping{})[0]
		require.Empty(t, u.Questions, head)
		rows, refused := rowsOf(t, u, o)
		require.Empty(t, refused)
		require.Equal(t, "R1 3 4", fields(rows[0], "risk", "likelihood", "impact"), head)
		require.Contains(t, rows[0], "title=Ground is worse", head)
	}
	u := understand(t, "Risks November 2026.csv", []byte("Project,Risk,Title,Probability,Impact\nQS-01,R1,Ground is worse,3,4\n"), o, Mapping{})[0]
	rows, _ := rowsOf(t, u, o)
	require.Equal(t, "R1", fields(rows[0], "risk"))
}

// TestMonthsByTheirFirstLetters in the languages that people write.
func TestMonthsByTheirFirstLetters(t *testing.T) {
	for text, want := range map[string]int{
		"févr.": 2, "Sept.": 9, "octo": 10, "déc.": 12, "mars": 3, "maj": 5, "mrt": 3, "ott": 10, "Febbr": 2, "ma": 0, "ju": 0, "jul": 7, "x": 0, "augu": 8,
	} {
		require.Equal(t, want, monthNamed(text), text)
	}
}

// TestColumnsAmongMonths: numbers under a head among months that is no period, and
// years of which no month stands beside, are asked about; sums and what compares are not.
func TestColumnsAmongMonths(t *testing.T) {
	o := knowing()
	for head, asked := range map[string]bool{
		"Dec 2026,Smarch 27,Feb 2027":   true,
		"Dec 2026,Jan 2027,FY29":        true,
		"Dec 2026,Jan 2027,FY27":        false, // the sum of those
		"Dec 2026,Total,Jan 2027":       false,
		"Dec 2026,Variance,Jan 2027":    false,
		"Dec 2026,Jan 2027,Last return": false, // behind them
	} {
		u := understand(t, "Forecast November 2026.csv", []byte("Project,Cost code,"+head+"\nQS-01,210,5,6,7\n"), o, Mapping{})[0]
		require.Equal(t, asked, len(u.Questions) > 0, "%s: %v", head, u.Questions)
	}
}
