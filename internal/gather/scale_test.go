package gather

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestScales: words of five steps are numbers; those that three steps have too are
// not, unless a word beside them tells.
func TestScales(t *testing.T) {
	for words, want := range map[string]string{
		"Possible,Likely,Unlikely,Almost certain": "3,4,2,5",
		"major,severe,moderate,minor":             "4,5,3,2",
		"Very low,High,Medium":                    "1,4,3",
		"Low,High":                                "?,?", // 2 and 4, or 1 and 3
		"H,M,L":                                   "?,?,?",
		"4 - High,2,(3) possible":                 "4,2,3",
		"sehr hoch,mittel":                        "5,3",
		"Høy,Svært lav":                           "4,1",
		"Severe,Significant":                      "5,4",
		"Severe,Catastrophic":                     "5,5",
		"Likely,Whatever":                         "?,?",
		"Unlikely,Possible":                       "?,?", // 2 and 3, or 1 and 2 of three
	} {
		all := make(map[string]bool)
		for w := range strings.SplitSeq(words, ",") {
			if n, word := stepOf(w); n == "" {
				all[word] = true
			}
		}
		means := scaleOf(all)
		var got []string
		for w := range strings.SplitSeq(words, ",") {
			n, word := stepOf(w)
			if n == "" {
				if n = means[word]; len(n) != 1 {
					n = "?"
				}
			}
			got = append(got, n)
		}
		require.Equal(t, want, strings.Join(got, ","), words)
	}
}

// TestRiskWords: a register in words is read, and "n/a" says nothing.
func TestRiskWords(t *testing.T) {
	o := knowing()
	body := "Risk ID,Description,Probability,Impact,Due date\nR1,Ground,Possible,4 - Major,n/a\nR2,Outage,Almost certain,5,2026-12-01\n"
	u := understand(t, "Risk register QS-01 Nov 2026.csv", []byte(body), o, Mapping{})[0]
	require.Empty(t, u.Questions)
	rows, refused := rowsOf(t, u, o)
	require.Empty(t, refused)
	require.Len(t, rows, 2)
	require.Equal(t, "R1 3 4", fields(rows[0], "risk", "likelihood", "impact"))
	require.NotContains(t, rows[0], "due")
	require.Equal(t, "R2 5 5 2026-12-01", fields(rows[1], "risk", "likelihood", "impact", "due"))

	u = understand(t, "Risk register QS-01 Nov 2026.csv", []byte("Risk ID,Description,Probability,Impact\nR1,Ground,High,Low\n"), o, Mapping{})[0]
	rows, refused = rowsOf(t, u, o)
	require.Empty(t, rows, "of three steps or of five")
	require.Len(t, refused, 1)
}
