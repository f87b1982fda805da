package chart

import "fmt"

// Explained draws a share of a spread, from nothing to all of it.
func Explained(share float64, class string) Drawing {
	const width, height = 70.0, 10.0
	d := Drawing{
		Class:  "explained " + class,
		Title:  "Explained",
		Desc:   fmt.Sprintf("%.0f%%", share*100),
		Width:  width,
		Height: height,
	}
	d.add(Shape{Class: "all", X: 0, Y: 2, W: width, H: height - 4})
	if share > 0 {
		d.add(Shape{Class: "part", X: 0, Y: 2, W: max(width*min(share, 1), 1), H: height - 4})
	}
	return d
}

// Range is where the outcomes of a group lie: one standard deviation to either
// side of their mean, on a scale that all groups share, with the mean of all. said
// is what it shows, in words.
func Range(said string, mean, spread, low, high, all float64, class string) Drawing {
	const width, height = 110.0, 14.0
	at := func(v float64) float64 {
		if high <= low {
			return width / 2
		}
		return 3 + max(0, min(1, (v-low)/(high-low)))*(width-6)
	}
	d := Drawing{Class: "miss range " + class, Title: said, Width: width, Height: height}
	d.line("axis", 0, height-1.5, width, height-1.5)
	from, to := at(mean-spread), at(mean+spread)
	d.add(Shape{Class: "range", X: from, Y: 4.5, W: max(to-from, 1), H: 4})
	d.line("none", at(all), 0, at(all), height)
	d.add(Shape{Form: Circle, Class: "mean", X: at(mean), Y: 6.5, W: 3})
	return d
}
