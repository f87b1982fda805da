package gather

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestOutline: outline numbers tell what is above what; what has others below is a
// summary, and what takes no time a milestone.
func TestOutline(t *testing.T) {
	o := knowing()
	body := "WBS,Task name,Duration,Baseline start,Baseline finish,% complete\n" +
		"1,Preparation,20 days,2026-02-02,2026-03-02,50\n1.1,Survey,10 days,2026-02-02,2026-02-16,100\n1.2,Permits,0 days,2026-03-02,2026-03-02,0\n2,Works,5d,2026-03-03,2026-03-10,0\n"
	u := understand(t, "QS-01 schedule.csv", []byte(body), o, Mapping{})[0]
	require.Equal(t, "activities", u.Table)
	require.Equal(t, "progress", u.Beside)
	require.Empty(t, u.Questions)
	rows, refused := rowsOf(t, u, o)
	require.Empty(t, refused)
	var got []string
	for _, r := range rows {
		got = append(got, fields(r, "activity", "parent", "kind"))
		require.NotContains(t, r, "complete", "that is left to progress")
	}
	require.Equal(t, []string{"1 summary", "1.1 1", "1.2 1 milestone", "2"}, got, "a task is what is left unsaid")

	sheets, _ := Sheets(&File{Name: "QS-01 schedule November 2026.csv", Body: []byte(body)}, o.Limits)
	u = Understand(sheets[0].Beside("progress"), o, Mapping{Table: "progress"})
	require.Empty(t, u.Questions)
	rows, refused = rowsOf(t, u, o)
	require.Empty(t, refused)
	require.Len(t, rows, 4)
	require.Equal(t, "1.1 2026-11 100", fields(rows[1], "activity", "period", "percent"))

	u = understand(t, "QS-01 schedule.csv", []byte("Activity,Task name,Baseline start,Baseline finish\n10,A,2026-02-02,2026-03-02\n20,B,2026-02-02,2026-03-02\n"), o, Mapping{Table: "activities"})[0]
	require.False(t, u.Outline)
	require.Empty(t, u.Beside)
}

// TestNoTime tells what takes none.
func TestNoTime(t *testing.T) {
	for text, want := range map[string]bool{
		"0 days": true, "0": true, "0d": true, "0.0 d": true, "0 jours": true, "10 days": false, "0.5 days": false, "": false, "days": false,
	} {
		require.Equal(t, want, takesNoTime(text), text)
	}
}
