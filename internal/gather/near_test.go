package gather

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestNearest: one letter of six may differ; two names that are as near are both given.
func TestNearest(t *testing.T) {
	n := NewNames([]Name{
		{Column: "project", Code: "A", Name: "North quay piling"},
		{Column: "project", Code: "B", Name: "South quay piling"},
		{Column: "project", Code: "C", Name: "Crane"},
	})
	for _, c := range []struct {
		text  string
		codes []string
		off   int
	}{
		{"North quay pilling", []string{"A"}, 1},     // 18 letters: three may differ
		{"Nouth quay piling", []string{"A", "B"}, 1}, // u for r, or N for S
		{"North quay", nil, 0},
		{"Cranes", []string{"C"}, 1},
		{"Crabs", nil, 0}, // five letters: none may
	} {
		codes, off := n.nearest("project", c.text)
		require.Equal(t, c.codes, codes, c.text)
		require.Equal(t, c.off, off, c.text)
	}
}

func TestDiffering(t *testing.T) {
	for _, c := range []struct {
		a, b string
		want int
	}{{"abc", "abc", 0}, {"abc", "abd", 1}, {"abc", "ab", 1}, {"abc", "xabc", 1}, {"abc", "cba", 2}, {"", "ab", 2}} {
		require.Equal(t, c.want, differing(c.a, c.b, 9), c.a+" "+c.b)
		require.Equal(t, min(c.want, 2), differing(c.a, c.b, 2), c.a+" "+c.b)
	}
}

// TestSameLineTwice: it is taken once, and told.
func TestSameLineTwice(t *testing.T) {
	o := knowing()
	u := understand(t, "Forecast Nov 2026.csv",
		[]byte("Project,Cost code,Text,Dec 2026\nQS-01,100,Office,5\nQS-01,100,Planner,7\nQS-01,100,Planner,7\n"), o, Mapping{})[0]
	require.Contains(t, u.Notes, "1 row says the same as another in every cell: each is taken once.")
	require.Contains(t, u.Notes, "1 cell has several rows of their own: they are added up.")
	rows, refused := rowsOf(t, u, o)
	require.Empty(t, refused)
	require.Len(t, rows, 2)
}
