package forecast

import (
	"math"

	"gonum.org/v1/gonum/stat"
)

// Summary sums up errors as shares of what came.
type Summary struct {
	Count    int
	Mean     float64 // below zero: less was said than came
	Absolute float64 // mean of the distances, whichever way
	Spread   float64 // standard deviation; zero of a single one
}

// Summarize sums errors up; those without anything that came are left out.
func Summarize(list []Error) (s Summary) {
	var shares, distances []float64
	for _, e := range list {
		if share, ok := e.Share(); ok {
			shares, distances = append(shares, share), append(distances, math.Abs(share))
		}
	}
	if s.Count = len(shares); s.Count == 0 {
		return s
	}
	s.Mean, s.Absolute = stat.Mean(shares, nil), stat.Mean(distances, nil)
	if s.Count > 1 {
		s.Spread = stat.StdDev(shares, nil)
	}
	return s
}
