package web

import (
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
)

// TestSectionsOfWords: what belongs into a section stands above the pen, and that it is longer
// than wanted; what was said last stands beside what was said before, word by word; closing tells
// whose words are missing.
func TestSectionsOfWords(t *testing.T) {
	o := newOffice(t, map[string]string{
		"cost_codes.csv": "cost_code,name\n1,Works\n",
		"projects.csv":   "project,name\nP,Pier\nQ,Quay\n",
		"activities.csv": "project,activity,name,baseline_start,baseline_finish\nP,1,Drive,2026-01-05,2026-03-27\nQ,1,Drive,2026-01-05,2026-03-27\n",
		"costs.csv":      "project,cost_code,kind,period,version,amount\nP,1,plan,2026-01,1,100.00\nQ,1,plan,2026-01,1,100.00\nP,1,actual,2026-01,,300.00\nQ,1,actual,2026-01,,300.00\nP,1,actual,2026-02,,1.00\n",
		"progress.csv":   "project,activity,period,percent,actual_start\nP,1,2026-01,50,2026-01-05\nQ,1,2026-01,50,2026-01-05\nP,1,2026-02,60,\nQ,1,2026-02,60,\n",
		"narratives.csv": "project,period,section,text\nP,2026-01,summary,The pier costs too much.\nP,2026-02,summary,The pier costs far too much <now>.\n",
		"sections.csv":   "section,note,words\nsummary,What the board must know & no more.,4\ndone,,\n",
	})
	b := signedIn(t, newApp(o), office.Analyst)
	_, body, _ := b.get("/explain/P?at=2026-02")
	said := text(body)
	require.Contains(t, said, "Summary What the board must know & no more. 7 words, wanted are 4 at most")
	require.Contains(t, body, "The pier costs <ins>far</ins> too <del class=\"quiet\">much.</del> <ins>much &lt;now&gt;.</ins>")
	require.Contains(t, said, "beside Jan 2026")
	_, body, _ = b.get("/explain/Q?at=2026-02")
	require.NotContains(t, text(body), "wanted are", "nothing is written, so nothing is too long")
	_, body, _ = b.get("/close?at=2026-02")
	require.Contains(t, text(body), "No words yet of Q, the whole:")
}
