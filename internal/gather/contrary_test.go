package gather

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestContradictions: where titles, names and heads contradict each other it is asked,
// and what was said settles it.
func TestContradictions(t *testing.T) {
	for name, c := range map[string]struct{ file, body, about string }{
		"another month":          {"Forecast October 2026.csv", "Forecast November 2026\nProject,Cost code,Dec 2026\nQS-01,210,5\n", "fixed.version"},
		"one month":              {"Forecast November 2026.csv", "Forecast Nov 26\nProject,Cost code,Dec 2026\nQS-01,210,5\n", ""},
		"when it was printed":    {"Forecast November 2026.csv", "Forecast\nPrinted 2 Dec 2026\nProject,Cost code,Jan 2027\nQS-01,210,5\n", ""},
		"a plan called forecast": {"Forecast November 2026.csv", "Project,Cost code,Month,Budget\nQS-01,210,2026-12,5\n", "fixed.kind"},
		"a plan":                 {"Budget 2026.csv", "Project,Cost code,Month,Budget\nQS-01,210,2026-12,5\n", ""},
	} {
		u := understand(t, c.file, []byte(c.body), knowing(), Mapping{})[0]
		if c.about == "" {
			require.Empty(t, u.Questions, name)
			continue
		}
		require.Len(t, u.Questions, 1, name)
		require.Equal(t, c.about, u.Questions[0].About, name)
		require.Len(t, u.Questions[0].Choices, 2, name)
		for _, answer := range u.Questions[0].Choices {
			u := understand(t, c.file, []byte(c.body), knowing(), Mapping{Fixed: map[string]string{c.about[len("fixed."):]: answer}})[0]
			require.Empty(t, u.Questions, "%s: %s", name, answer)
		}
	}
}

// TestTitlesLikeTotals: a risk or a task may begin as a sum does; a row that says
// nothing else is one.
func TestTitlesLikeTotals(t *testing.T) {
	body := "Title,Risk ID,Project,Probability,Impact\nTotal loss of power,R1,QS-01,3,4\nReport late,R2,QS-01,2,2\nOverall delay,R3,QS-01,1,1\nTotal,,,6,\n"
	u := understand(t, "Risks November 2026.csv", []byte(body), knowing(), Mapping{})[0]
	require.Empty(t, u.Questions)
	rows, refused := rowsOf(t, u, knowing())
	require.Len(t, rows, 3)
	require.Empty(t, refused)
}
