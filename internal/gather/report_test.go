package gather

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestReports: a lead's report of labels, with texts beside or below them, is read as a
// row of narratives; what no label tells is told, and a list is no report.
func TestReports(t *testing.T) {
	o := options()
	o.Names = someNames()
	for name, body := range map[string]string{
		"beside":   "Status report;\nProject:;Northgate Substation\nPeriod:;November 2026\nOverall status:;Amber\nSummary:;Steel is late.\nNext:;Erect bay 2\n",
		"one cell": "Status report\nProject: N-100\nPeriod: Nov 2026\nOverall status: Amber\nSummary: Steel is late.\nNext: Erect bay 2\n",
		"below":    "Northgate Substation, November 2026;\nOverall status;Amber\nSummary;\nSteel is late.;\nNext steps;\nErect bay 2;\n",
	} {
		u := understand(t, "Report.csv", []byte(body), o, Mapping{})[0]
		require.Equal(t, "narratives", u.Table, name)
		require.Empty(t, u.Questions, name)
		rows, refused := rowsOf(t, u, o)
		require.Empty(t, refused, name)
		var got []string
		for _, r := range rows {
			got = append(got, fields(r, "project", "period", "section", "stated_standing"))
		}
		require.Equal(t, []string{"N-100 2026-11 summary watch", "N-100 2026-11 next watch"}, got, name)
		require.Contains(t, rows[0], "text=Steel is late.", name)
	}
	u := understand(t, "Report.csv", []byte("Project:;N-100\nPeriod:;Nov 2026\nSummary:;Late.\nNext:;Bay 2\nPrepared by;Ada\n"), o, Mapping{})[0]
	require.Contains(t, u.Notes[len(u.Notes)-1], "Prepared by Ada")
	u = understand(t, "Report.csv", []byte("Summary:;Late.\nNext:;Bay 2\n"), o, Mapping{})[0]
	require.True(t, u.NoTable, "nothing tells whose it is")
	u = understand(t, "Report.csv", []byte("Project:;N-100\nSummary:;Late.\nSummary:;Later.\nNext:;Bay\n"), o, Mapping{})[0]
	require.True(t, u.NoTable)
}
