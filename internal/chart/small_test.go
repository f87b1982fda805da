package chart

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
)

// shapesOf counts the shapes of a class.
func shapesOf(d Drawing, class string) (out []Shape) {
	for _, s := range d.Shapes {
		if s.Class == class {
			out = append(out, s)
		}
	}
	return out
}

// TestBurn: a bar for each period, as high as what was spent; the last three are
// told apart, and their mean lies across them.
func TestBurn(t *testing.T) {
	b := Burn{
		Title:   "Spending",
		Periods: []string{"Jan", "Feb", "Mar", "Apr", "May"},
		Spent:   []float64{1, 2, 3, 2, 1},
		Plan:    []float64{2, 2, 2, 2, 2},
		Mean:    2,
		Write:   plain,
	}
	d := b.Draw(480)
	require.Len(t, shapesOf(d, "spent"), 2)
	last := shapesOf(d, "spent last")
	require.Len(t, last, 3)
	require.InDelta(t, last[0].H/3, last[2].H, 1e-9, "three times as much is three times as high")
	require.Equal(t, "Mar: 3", last[0].Title)
	require.Len(t, shapesOf(d, "planned"), 5)
	mean := shapesOf(d, "mean")[0]
	require.Less(t, mean.Points[0].X, last[0].X, "the mean begins with the third last")
	require.Greater(t, mean.Points[0].X, last[0].X-20)
	require.InDelta(
		t,
		shapesOf(d, "planned")[0].Points[0].Y,
		mean.Points[0].Y,
		1e-9,
		"a mean of 2 lies where 2 is planned",
	)

	// A credit note hangs below the line.
	b.Spent, b.Plan, b.Mean = []float64{2, -1}, nil, math.NaN()
	d = b.Draw(480)
	bars := shapesOf(d, "spent last")
	require.Len(t, bars, 2)
	require.InDelta(t, bars[0].Y+bars[0].H, bars[1].Y, 1e-9)
	require.Empty(t, shapesOf(d, "mean"))
	require.Empty(t, shapesOf(Burn{Write: plain}.Draw(480), "spent"), "nothing is spent yet")
}

func TestSmall(t *testing.T) {
	d := Small("Piles", []float64{1, 2, 4}, []float64{1, 3}, []float64{1, 3, 5})
	require.Len(t, shapesOf(d, "series plan"), 1)
	spent, stated := shapesOf(d, "series actual")[0], shapesOf(d, "series stated")[0]
	require.Equal(t, spent.Points, stated.Points[:2], "what is spent is where what is stated begins")
	require.Less(t, stated.Points[2].Y, stated.Points[1].Y)
	require.Empty(t, shapesOf(Small("Nothing", []float64{0, 0}, nil, nil), "series plan"))
}

// TestMiss: a mean in the middle is on the upright; what is beyond the scale ends
// at its edge.
func TestMiss(t *testing.T) {
	d := Miss(0, 0.1, 0.5, "")
	require.Equal(t, d.Width/2, shapesOf(d, "mean")[0].X)
	r := shapesOf(d, "range")[0]
	require.InDelta(t, d.Width/2, r.X+r.W/2, 1e-9)
	for _, mean := range []float64{-3, 3} {
		x := shapesOf(Miss(mean, 1, 0.5, "act"), "mean")[0].X
		require.True(t, x >= 0 && x <= d.Width)
	}
}

func TestRangeAndExplained(t *testing.T) {
	d := Range("+5%", 5, 2, 0, 10, 4, "")
	require.Equal(t, "+5%", d.Title)
	require.Equal(t, d.Width/2, shapesOf(d, "mean")[0].X)
	require.Less(t, shapesOf(d, "none")[0].Points[0].X, d.Width/2, "the mean of all is lower")
	same := Range("", 3, 0, 3, 3, 3, "") // no scale at all
	require.Equal(t, same.Width/2, shapesOf(same, "mean")[0].X)
	require.Empty(t, shapesOf(Explained(0, ""), "part"))
	require.Equal(t, 35.0, shapesOf(Explained(0.5, ""), "part")[0].W)
	require.Equal(t, shapesOf(Explained(1, ""), "all")[0].W, shapesOf(Explained(1.2, ""), "part")[0].W)
}

// TestCurveWithBounds: with limits the axis does not begin at zero, and they are
// drawn where they are.
func TestCurveWithBounds(t *testing.T) {
	c := Curve{
		Title:   "Indices",
		Periods: []string{"Jan", "Feb", "Mar"},
		Now:     -1,
		Write:   plain,
		Series:  []Series{{Class: "actual", Name: "CPI", End: "0.90", Values: []float64{1, 0.95, 0.9}}},
		Bounds:  []Bound{{At: 0.95, Class: "watch", Name: "Watch"}, {At: 0.85, Class: "act", Name: "Act"}},
	}
	d := c.Draw(400)
	line := shapesOf(d, "series actual")[0]
	require.Equal(t, shapesOf(d, "bound watch")[0].Points[0].Y, line.Points[1].Y, "0.95 lies on the limit")
	require.Greater(t, shapesOf(d, "bound act")[0].Points[0].Y, line.Points[2].Y, "0.85 is below 0.90")
	require.Greater(t, line.Points[2].Y-line.Points[0].Y, d.Height/4, "a tenth takes much of the height")
	require.Empty(t, shapesOf(d, "now"))
}
