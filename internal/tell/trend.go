package tell

import (
	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/money"
)

// Trend lays a figure out over periods for drawing.
func Trend(title string, axis Axis, periods []string, values []figure.Value) chart.Trend {
	t := chart.Trend{Title: title, Periods: periods, Write: axis.Write}
	for _, v := range values {
		t.Values = append(t.Values, axis.Value(v))
	}
	return t
}

// Moved writes by how much a known figure moved, with its sign: shares in points, days in days.
// It is "" where it did not.
func Moved(id figure.ID, was, is figure.Value, c money.Currency) string {
	if was.Equal(is) {
		return ""
	}
	switch was.Unit {
	case figure.Day:
		return Signed(int(is.N-was.N)) + " d"
	case figure.Ratio, figure.Periods, figure.Size:
		by := is.Ratio().Sub(was.Ratio())
		text := Figure(id, figure.Exact(was.Unit, by), c, false).Text
		if by.Sign() > 0 {
			text = "+" + text
		}
		return text
	}
	x := Figure(id, figure.Whole(was.Unit, is.N-was.N), c, false)
	if x.Sign > 0 && x.Text != "" && x.Text[0] != '+' {
		x.Text = "+" + x.Text
	}
	return x.Text
}
