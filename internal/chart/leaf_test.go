package chart

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/standing"
)

// TestEveryShapeHasItsInk: no drawing of a screen lacks an ink on paper, and
// scaling keeps its place.
func TestEveryShapeHasItsInk(t *testing.T) {
	curve := Curve{
		Title:   "Money",
		Now:     1,
		NowName: "Nov",
		Periods: []string{"a", "b", "c"},
		Write:   func(float64) string { return "1" },
	}
	for _, class := range []string{"plan", "plan original", "earned", "actual", "stated", "computed"} {
		curve.Series = append(curve.Series, Series{Class: class, Name: class, End: "1", Values: []float64{1, 2, 3}})
	}
	band := Band{
		Title: "Money",
		Unit:  "€ M",
		Plan:  3,
		Segments: []Segment{
			{Class: "spent", Name: "spent", Value: 2, Text: "2"},
			{Class: "order", Name: "on order", Value: 1, Text: "1"},
			{Class: "togo", Name: "to go", Value: 1, Text: "1"},
		},
		Marks: []BandMark{
			{Class: "earned", At: 1},
			{Class: "planned", At: 3},
			{Class: "computed", At: 4},
			{Class: "stated", At: 4},
		},
	}
	lines := DateLines{
		Title:   "Dates",
		Periods: []string{"a", "b"},
		Write:   func(int) string { return "x" },
		Ticks:   func(a, b int) []int { return []int{a, b} },
		Lines:   []DateLine{{Name: "M", Days: []int{5, 9}, Class: "watch"}},
	}
	for _, d := range []Drawing{
		curve.Draw(486), band.Draw(1220), lines.Draw(486), Strip([]StripMark{{standing.Act, true, "a"}, {standing.Unrated, true, "b"}}),
		Outlook(1.2, 1.1, standing.Act), Scale(0.9, 0.95, 0.9, true), Span([2]float64{0, 1}, [2]float64{0, 1}, 0.5, 0.5, "summary"),
	} {
		once, twice := d.Inked(0, 0, 1), d.Inked(10, 20, 2)
		require.Len(t, once, len(d.Shapes))
		for i, m := range once {
			require.True(t, m.Fill != "" || m.Stroke != "", "%s: %q has no ink", d.Class, d.Shapes[i].Class)
			if m.Stroke != "" {
				require.Positive(t, m.Line, d.Shapes[i].Class)
			}
			require.InDelta(t, 10+2*m.X, twice[i].X, 1e-9)
			require.InDelta(t, 20+2*m.Y, twice[i].Y, 1e-9)
			require.InDelta(t, 2*m.Size, twice[i].Size, 1e-9)
		}
		s := string(d.Standalone())
		require.Contains(t, s, `xmlns="http://www.w3.org/2000/svg"`)
		require.NotContains(t, s, "class=", "it stands alone")
	}
	seen := make(map[string]bool)
	for _, m := range curve.Draw(486).Inked(0, 0, 1) {
		if m.Form == Line && m.Line > 1 {
			seen[m.Stroke+strings.Trim(strings.Join(strings.Fields(strings.Repeat("-", len(m.Dash))), ""), " ")] = true
		}
	}
	require.Len(t, seen, 6, "each series has an ink or a dash of its own")
}

func TestLeavesEscapeTheirText(t *testing.T) {
	bad := `<script>"x"&`
	s := string(
		Leaf{
			Width:  10,
			Height: 10,
			Title:  bad,
			Marks: []Mark{
				{Form: Text, Text: bad, Size: 8, Fill: bad},
				{Form: Circle, W: 2, Stroke: "#000000", Line: 1, Dash: []float64{1, 2}},
				{Form: Rect, W: 1, H: 1, Fill: "#FFFFFF", Opacity: 0.5},
			},
		}.SVG(),
	)
	require.NotContains(t, s, "<script>")
	require.Contains(t, s, `stroke-dasharray="1 2"`)
	require.Contains(t, s, `opacity="0.5"`)
	require.NotContains(t, s, "style=")
	require.NotContains(t, s, "unicode-bidi")
	s = string(Leaf{Marks: []Mark{{Form: TextEnd, Text: "1. \u05d0", Size: 8}}}.SVG())
	require.Contains(t, s, `text-anchor="end" unicode-bidi="plaintext"`)
}

func TestGlyphOnPaper(t *testing.T) {
	for st, filled := range map[standing.Standing]int{standing.Unrated: 0, standing.Steady: 1, standing.Watch: 2, standing.Act: 3} {
		n := 0
		for _, m := range (Glyph{Standing: st, Overall: true}).Inked(0, 0, 1) {
			if m.Fill != "" && m.Fill != Ink {
				n++
			}
		}
		require.Equal(t, filled, n, st)
	}
}

// TestLeafSaysItsTypeWidth: a page on the screen is in the width of type that it was laid out
// with, whatever the style sheets say of the type around it.
func TestLeafSaysItsTypeWidth(t *testing.T) {
	require.Contains(t, string(Leaf{Width: 10, Height: 10}.SVG()), `font-stretch="92%" font-variant="tabular-nums"`)
}
