package chart

import "fmt"

// QualityColumn is a period of a Quality: the open findings by severity, the
// worst first. Known is false where they were not counted.
type QualityColumn struct {
	Name, Title, Link string
	Counts            [3]int
	Known, Selected   bool
}

// Quality draws the open findings of periods as columns, errors at the foot,
// with the kinds named at the end.
type Quality struct {
	Title   string
	Columns []QualityColumn
}

// Draw draws the columns at a width.
func (q Quality) Draw(width float64) Drawing {
	const height, top, foot, side = 118.0, 14.0, 18.0, 84.0
	d := Drawing{Class: "quality", Title: q.Title, Width: width, Height: height}
	if len(q.Columns) == 0 {
		return d
	}
	most := 1
	for _, c := range q.Columns {
		most = max(most, c.Counts[0]+c.Counts[1]+c.Counts[2])
	}
	room := width - side
	step := room / float64(len(q.Columns))
	bar := min(step*0.62, 26)
	ground := height - foot
	scale := (ground - top) / float64(most)
	for _, t := range Ticks(0, float64(most), 3) {
		if t > 0 && t <= float64(most) {
			y := ground - t*scale
			d.line("grid", 0, y, room, y)
			d.add(Shape{Form: Text, Class: "tick", X: 0, Y: y - 2, Text: round(t)})
		}
	}
	d.line("axis", 0, ground, room, ground)
	every := 1
	for step*float64(every) < 30 {
		every++
	}
	classes := [...]string{"error", "warning", "note"}
	last := len(q.Columns) - 1
	for i, c := range q.Columns {
		mid := step * (float64(i) + 0.5)
		if c.Selected {
			d.line("now", mid, top-8, mid, ground)
		}
		y := ground
		for k, n := range c.Counts {
			if h := float64(n) * scale; n > 0 {
				y -= h
				d.add(Shape{Class: classes[k], X: mid - bar/2, Y: y, W: bar, H: h, Link: c.Link, Title: c.Title})
			}
		}
		if !c.Known {
			d.add(Shape{Class: "unknown", X: mid - bar/2, Y: ground - 2, W: bar, H: 2, Title: c.Title})
		}
		if (last-i)%every == 0 {
			d.add(Shape{Form: TextMiddle, Class: "tick", X: mid, Y: height - 5, Text: c.Name})
		}
	}
	at := ground
	var places []float64
	var texts, kinds []string
	end := q.Columns[last]
	for k, n := range end.Counts {
		if n == 0 {
			continue
		}
		h := float64(n) * scale
		places = append(places, at-h/2+4)
		at -= h
		what := [...][2]string{{"error", "errors"}, {"warning", "warnings"}, {"note", "notes"}}[k]
		word := what[1]
		if n == 1 {
			word = what[0]
		}
		texts, kinds = append(texts, fmt.Sprintf("%d %s", n, word)), append(kinds, classes[k])
	}
	for i, y := range spread(places, 13, top, ground) {
		d.add(Shape{Form: Text, Class: "name " + kinds[i], X: room + 6, Y: y, Text: texts[i]})
	}
	return d
}
