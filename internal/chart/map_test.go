package chart

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

func plain(v float64) string { return fmt.Sprint(v) }

func mapOf(marks []MapMark) Map {
	return Map{
		Title: "Map",
		X:     MapAxis{Title: "Over plan", Write: plain, Bounds: []Bound{{0.5, "act", "Act"}, {900, "act", "far off"}}},
		Y:     MapAxis{Title: "Slip", Write: plain},
		Marks: marks,
	}
}

// TestMapPlaces: values lie where the plot says, and come back from there.
func TestMapPlaces(t *testing.T) {
	d, p := mapOf([]MapMark{{Label: "A", X: 0, Y: 10, Size: 1}, {Label: "B", X: 1, Y: 20, Size: 4}}).Draw(600, 400)
	require.Less(t, p.X(0), p.X(1))
	require.Greater(t, p.Y(10), p.Y(20), "upwards it grows")
	require.InDelta(t, -0.07, p.LowX, 1e-9, "some room beside the lowest")
	var circles []Shape
	bounds := 0
	for _, s := range d.Shapes {
		if s.Form == Circle {
			circles = append(circles, s)
		}
		if s.Form == Line && strings.HasPrefix(s.Class, "bound") {
			bounds++
			require.Equal(t, p.X(0.5), s.Points[0].X)
		}
	}
	require.Equal(t, 1, bounds, "a bound far beyond the marks is not drawn")
	require.Len(t, circles, 2)
	require.Equal(
		t,
		[]float64{p.X(1), p.Y(20), largestMark},
		[]float64{circles[0].X, circles[0].Y, circles[0].W},
		"the larger first",
	)
	require.Equal(t, largestMark/2, circles[1].W, "an area of a quarter")
}

// TestMapOfLittle: no marks, one mark, and marks in one place have a plot too.
func TestMapOfLittle(t *testing.T) {
	for _, marks := range [][]MapMark{nil, {{Label: "A", X: 5, Y: 0, Shade: -1}}, {{Label: "A", X: 5, Y: 5}, {Label: "B", X: 5, Y: 5}}} {
		d, p := mapOf(marks).Draw(600, 400)
		require.Greater(t, p.HighX, p.LowX)
		require.Greater(t, p.HighY, p.LowY)
		require.NotContains(t, string(d.SVG()), "NaN")
	}
}

// TestMapNamesDoNotMeet: on random maps no name lies over another one, over a
// mark, or outside the plot.
func TestMapNamesDoNotMeet(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 2))
	for _, n := range []int{5, 40, 200, 1000} {
		var marks []MapMark
		for i := range n {
			marks = append(
				marks,
				MapMark{
					Label: fmt.Sprintf("P-%03d", i),
					X:     r.NormFloat64(),
					Y:     r.NormFloat64(),
					Size:  r.Float64() * 100,
					Shade: r.IntN(6) - 1,
					Link:  "/",
				},
			)
		}
		d, p := mapOf(marks).Draw(880, 520)
		var names, circles []frame
		for _, s := range d.Shapes {
			switch {
			case s.Form == Circle:
				circles = append(circles, frame{s.X - s.W/2, s.Y - s.W/2, s.X + s.W/2, s.Y + s.W/2})
				require.Equal(t, n > mostNamed, s.Passed)
			case s.Class == "name":
				w := textWidth(s.Text, 11)
				left := map[Form]float64{Text: s.X, TextEnd: s.X - w, TextMiddle: s.X - w/2}[s.Form]
				f := frame{left, s.Y - 9, left + w, s.Y + 1}
				for _, other := range names {
					require.False(t, f.meets(other), "%s on %d marks", s.Text, n)
				}
				names = append(names, f)
				require.True(t, f.x1 >= p.Left && f.x2 <= p.Right)
			}
		}
		for _, f := range names {
			for _, c := range circles {
				require.False(t, f.meets(c))
			}
		}
		require.NotEmpty(t, names)
		require.Less(t, len(d.SVG()), 250_000)
	}
}
