package chart

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestTrend: a point for each value that is known, a line through those that follow each other,
// all within the drawing; nothing where nothing is known, and a scale where nothing moves.
func TestTrend(t *testing.T) {
	nan := math.NaN()
	for name, c := range map[string]struct {
		values        []float64
		points, lines int
	}{
		"all known":       {[]float64{0.9, 0.95, 1}, 3, 1},
		"a gap":           {[]float64{0.9, 0.95, nan, 1, 1.1}, 4, 2},
		"one beside gaps": {[]float64{nan, 0.95, nan}, 1, 0},
		"nothing known":   {[]float64{nan, nan}, 0, 0},
		"nothing at all":  {nil, 0, 0},
		"nothing moves":   {[]float64{5, 5, 5}, 3, 1},
		"below zero":      {[]float64{-3e9, 2e9}, 2, 1},
	} {
		t.Run(name, func(t *testing.T) {
			x := Trend{Title: "CPI", Values: c.values, Write: func(v float64) string { return fmt.Sprintf("%.2f", v) }}
			for i := range c.values {
				x.Periods = append(x.Periods, fmt.Sprint("P", i))
			}
			d := x.Draw(400)
			points, lines := 0, 0
			for _, s := range d.Shapes {
				switch {
				case s.Class == "point":
					points++
					require.Contains(t, s.Title, ": ")
				case s.Class == "series actual":
					lines++
				}
				for _, p := range append(s.Points, Point{s.X, s.Y}) {
					require.False(t, math.IsNaN(p.X) || math.IsNaN(p.Y))
					require.True(t, p.X >= 0 && p.X <= d.Width && p.Y >= 0 && p.Y <= d.Height, "%v", p)
				}
			}
			require.Equal(t, []int{c.points, c.lines}, []int{points, lines})
		})
	}
}
