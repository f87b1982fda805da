package chart

import (
	"fmt"
	"math"
)

// Miss draws how far forecasts missed: an upright where nothing is missed, a
// stretch of one standard deviation to either side of the mean, and the mean.
// Values are shares of what came; those beyond most to either side end there.
func Miss(mean, spread, most float64, class string) Drawing {
	const width, height = 120.0, 14.0
	at := func(share float64) float64 {
		return width/2 + math.Max(-1, math.Min(1, share/most))*(width/2-3)
	}
	d := Drawing{
		Class:  "miss " + class,
		Title:  "Forecast error",
		Width:  width,
		Height: height,
		Desc:   fmt.Sprintf("mean %+.1f%%, standard deviation %.1f%%", mean*100, spread*100),
	}
	d.line("axis", 0, height-1.5, width, height-1.5)
	from, to := at(mean-spread), at(mean+spread)
	d.add(Shape{Class: "range", X: from, Y: 4.5, W: math.Max(to-from, 1), H: 4})
	d.line("none", width/2, 0, width/2, height)
	d.add(Shape{Form: Circle, Class: "mean", X: at(mean), Y: 6.5, W: 3})
	return d
}
