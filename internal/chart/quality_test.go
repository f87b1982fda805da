package chart

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestQuality: the columns stand on each other to scale, errors at the foot,
// and stay within the picture.
func TestQuality(t *testing.T) {
	q := Quality{Title: "Open findings", Columns: []QualityColumn{
		{Name: "Jan", Title: "Jan: not counted"},
		{Name: "Feb", Title: "Feb", Link: "/check?at=b", Counts: [3]int{1, 3, 0}, Known: true},
		{Name: "Mar", Title: "Mar", Link: "/check?at=c", Counts: [3]int{2, 4, 2}, Known: true, Selected: true},
	}}
	for _, width := range []float64{Narrow, 1240} {
		d := q.Draw(width)
		bars := make(map[string][]Shape)
		for _, s := range d.Shapes {
			if s.Form == Rect {
				bars[s.Class] = append(bars[s.Class], s)
				require.GreaterOrEqual(t, s.Y, 0.0)
				require.LessOrEqual(t, s.X+s.W, width)
			}
		}
		require.Len(t, bars["error"], 2)
		require.Len(t, bars["warning"], 2)
		require.Len(t, bars["note"], 1)
		require.Len(t, bars["unknown"], 1)
		unit := bars["error"][0].H
		require.InDelta(t, 2*unit, bars["error"][1].H, 1e-9)
		require.InDelta(t, 3*unit, bars["warning"][0].H, 1e-9)
		require.InDelta(
			t,
			bars["error"][1].Y,
			bars["warning"][1].Y+bars["warning"][1].H,
			1e-9,
			"warnings stand on errors",
		)
		require.InDelta(t, bars["warning"][1].Y, bars["note"][0].Y+bars["note"][0].H, 1e-9, "notes on warnings")
		svg := string(d.SVG())
		for _, words := range []string{"2 errors", "4 warnings", "2 notes", `href="/check?at=c"`, `class="now"`} {
			require.Contains(t, svg, words)
		}
	}
	one := Quality{Columns: []QualityColumn{{Known: true, Counts: [3]int{1, 1, 1}}}}
	require.Contains(t, string(one.Draw(600).SVG()), "1 note<")
	require.Empty(t, Quality{}.Draw(600).Shapes, "nothing to show")
	long := Quality{}
	for i := range 24 {
		long.Columns = append(
			long.Columns,
			QualityColumn{Name: fmt.Sprint("P", i), Known: true, Counts: [3]int{i, 2 * i, 0}},
		)
	}
	require.Less(t, strings.Count(string(long.Draw(Narrow).SVG()), ">P"), 24, "names that do not fit are left out")
	require.Contains(t, string(long.Draw(Narrow).SVG()), ">P23<", "the last is named")
}
