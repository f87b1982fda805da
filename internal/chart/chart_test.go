package chart

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/standing"
)

func TestTicksAreRound(t *testing.T) {
	for _, c := range []struct {
		low, high float64
		n         int
		want      []float64
	}{
		{0, 50, 5, []float64{0, 10, 20, 30, 40, 50}},
		{0, 48.7, 5, []float64{0, 10, 20, 30, 40}},
		{0, 1, 5, []float64{0, 0.2, 0.4, 0.6, 0.8, 1}},
		{-3, 7, 5, []float64{-2, 0, 2, 4, 6}},
		{0, 0, 5, []float64{0}},
		{5, 3, 5, []float64{5}},
		{math.NaN(), 1, 5, nil},
	} {
		got := Ticks(c.low, c.high, c.n)
		if c.want == nil {
			require.Len(t, got, 1)
			continue
		}
		require.InDeltaSlice(t, c.want, got, 1e-9, "%v to %v", c.low, c.high)
	}
	for range 2000 {
		low := rand.Float64()*2000 - 1000
		high := low + math.Exp(rand.Float64()*20-10)
		list := Ticks(low, high, 5)
		require.NotEmpty(t, list)
		require.LessOrEqual(t, len(list), 7)
		for i, v := range list {
			require.GreaterOrEqual(t, v, low-(high-low)*1e-6)
			require.LessOrEqual(t, v, high+(high-low)*1e-6)
			if i > 1 {
				require.InDelta(t, list[1]-list[0], v-list[i-1], (high-low)*1e-6, "steps are the same")
			}
		}
	}
}

func TestSpreadKeepsLabelsApart(t *testing.T) {
	for range 2000 {
		n := 1 + rand.IntN(8)
		places := make([]float64, n)
		for i := range places {
			places[i] = rand.Float64() * 100
		}
		got := spread(places, 12, 0, 200)
		for i := range got {
			require.GreaterOrEqual(t, got[i], -1e-9)
			require.LessOrEqual(t, got[i], 200+1e-9)
			for j := range got {
				if i != j {
					require.GreaterOrEqual(t, math.Abs(got[i]-got[j]), 12-1e-9)
					if places[i] < places[j] {
						require.Less(t, got[i], got[j], "the order stays")
					}
				}
			}
		}
	}
	require.Equal(t, []float64{5, 50}, spread([]float64{5, 50}, 12, 0, 100), "what is apart stays")
}

// texts gives the boxes of a drawing's texts.
func texts(d Drawing, class string) (out [][4]float64, said []string) {
	for _, s := range d.Shapes {
		if s.Form < Text || !strings.Contains(s.Class, class) {
			continue
		}
		w := textWidth(s.Text, 11)
		x := s.X
		switch s.Form {
		case TextMiddle:
			x -= w / 2
		case TextEnd:
			x -= w
		}
		out = append(out, [4]float64{x, s.Y - 9, x + w, s.Y + 2})
		said = append(said, s.Text)
	}
	return out, said
}

func apart(t *testing.T, d Drawing, class string) {
	t.Helper()
	boxes, said := texts(d, class)
	for i, a := range boxes {
		require.GreaterOrEqual(t, a[0], -1.0, said[i])
		require.LessOrEqual(t, a[2], d.Width+1, said[i])
		require.LessOrEqual(t, a[3], d.Height+1, said[i])
		for j, b := range boxes[:i] {
			overlap := a[0] < b[2]-0.5 && b[0] < a[2]-0.5 && a[1] < b[3]-0.5 && b[1] < a[3]-0.5
			require.False(t, overlap, "%q lies over %q in %s", said[i], said[j], d.Title)
		}
	}
}

// TestBandLabelsNeverCollide at any width and with any amounts.
func TestBandLabelsNeverCollide(t *testing.T) {
	for range 3000 {
		amount := func() float64 { return math.Exp(rand.Float64()*12 - 4) }
		b := Band{Title: "Money", Unit: "€ M", Plan: amount()}
		for _, name := range []string{"spent", "on order", "still to go, as stated"} {
			v := amount()
			b.Segments = append(b.Segments, Segment{Class: "spent", Name: name, Value: v, Text: fmt.Sprintf("%.1f", v)})
		}
		for _, name := range []string{"earned", "plan", "computed", "beyond plan, as stated"} {
			v := amount()
			b.Marks = append(b.Marks, BandMark{Class: "planned", Name: name, At: v, Text: fmt.Sprintf("%.1f", v)})
		}
		for _, width := range []float64{Narrow, 1220} {
			apart(t, b.Draw(width), "label")
		}
	}
	empty := Band{Title: "Money", Plan: math.NaN()}.Draw(1220)
	require.Greater(t, empty.Height, 0.0)
}

func TestCurveLabelsAndGaps(t *testing.T) {
	for range 500 {
		n := 2 + rand.IntN(60)
		c := Curve{
			Title:   "Money",
			Now:     rand.IntN(n),
			NowName: "Nov 2026",
			Write:   func(f float64) string { return fmt.Sprintf("%.1f", f) },
		}
		for i := range n {
			c.Periods = append(c.Periods, fmt.Sprintf("P %d", i))
		}
		for k := range 5 {
			s := Series{Class: "plan", Name: "computed", Link: "/x", Before: k == 0}
			for range n {
				v := rand.Float64() * 50
				if rand.IntN(9) == 0 {
					v = math.NaN()
				}
				s.Values = append(s.Values, v)
			}
			s.End = "12.3"
			c.Series = append(c.Series, s)
		}
		d := c.Draw(486)
		apart(t, d, "tick")
		for _, s := range d.Shapes {
			for _, p := range s.Points {
				require.False(t, math.IsNaN(p.X) || math.IsNaN(p.Y))
				require.LessOrEqual(t, p.X, d.Width)
				require.LessOrEqual(t, p.Y, d.Height)
			}
			if s.Class == "series plan" {
				require.NotEmpty(t, s.Link, "a line leads to its trail")
			}
		}
		require.NotContains(t, string(d.SVG()), "NaN")
	}
	flat := Curve{
		Title:   "None",
		Now:     -1,
		Periods: []string{"a"},
		Write:   func(float64) string { return "0" },
		Series:  []Series{{Values: []float64{0}}},
	}
	require.NotContains(t, string(flat.Draw(486).SVG()), "NaN")
}

func TestDateLines(t *testing.T) {
	c := DateLines{
		Title: "Dates", Periods: []string{"Jan", "Feb", "Mar"}, Write: func(d int) string { return fmt.Sprint(d) },
		Ticks: func(low, high int) []int { return []int{low, high} },
		Lines: []DateLine{
			{Name: "A", Slip: "+5 d", Days: []int{100, 0, 105}, Class: "watch"},
			{Name: "A very long name of a milestone indeed", Slip: "0 d", Days: []int{101, 101, 101}},
			{Name: "C", Days: []int{102, 102, 102}},
		},
	}
	d := c.Draw(486)
	boxes, said := texts(d, "label")
	require.Len(t, boxes, 3)
	require.True(t, strings.HasSuffix(said[1], "…"), said[1])
	apart(t, d, "label")
	require.Empty(t, DateLines{}.Draw(486).Shapes, "nothing is drawn of nothing")
}

func TestScale(t *testing.T) {
	at := func(d Drawing) float64 {
		for _, s := range d.Shapes {
			if s.Class == "at" {
				return s.Points[0].X
			}
		}
		return -1
	}
	class := func(d Drawing) string { // of the field that the value lies in
		x := at(d)
		for _, s := range d.Shapes {
			if s.Form == Rect && x >= s.X && x <= s.X+s.W {
				return s.Class
			}
		}
		return ""
	}
	nan := math.NaN()
	for _, c := range []struct {
		value, watch, act float64
		falling           bool
		want              string
	}{
		{0.99, 0.95, 0.90, true, "steady"},
		{0.92, 0.95, 0.90, true, "watch"},
		{0.60, 0.95, 0.90, true, "act"},
		{2, 10, 40, false, "steady"},
		{31, 10, 40, false, "watch"},
		{400, 10, 40, false, "act"},
		{0, nan, 1, false, "steady"},
		{3, nan, 1, false, "act"},
		{0, 1, nan, false, "steady"},
		{3, 1, nan, false, "watch"},
		{-5, 0, 20, false, "steady"},
	} {
		require.Equal(
			t,
			c.want,
			class(Scale(c.value, c.watch, c.act, c.falling)),
			"%v between %v and %v",
			c.value,
			c.watch,
			c.act,
		)
	}
}

func TestSmallDrawings(t *testing.T) {
	require.Contains(t, string(Strip([]StripMark{{standing.Act, true, "Oct"}, {}}).SVG()), "Oct Act")
	require.Equal(t, 1, strings.Count(string(Strip([]StripMark{{standing.Act, true, "Oct"}, {}}).SVG()), "<rect"))
	require.Contains(t, string(Outlook(1.12, 1.05, standing.Act).SVG()), "computed 112%, stated 105%")
	require.NotContains(t, string(Outlook(math.NaN(), math.NaN(), standing.Unrated).SVG()), "NaN")
	require.Contains(t, string(Stack([4]int{}, false).SVG()), `class="none"`)
	require.Contains(t, string(Stack([4]int{}, true).SVG()), `class="unrated"`)
	all := Stack([4]int{5, 1, 2, 1}, true)
	sum := 0.0
	for _, s := range all.Shapes {
		sum += s.H
	}
	require.InDelta(t, all.Height, sum, 0.001, "unrated projects take no room")
	require.NotContains(t, string(Span([2]float64{1, 0}, [2]float64{1, 0}, 0, -1, "").SVG()), "<rect")
	require.Equal(t, 3, strings.Count(string(Span([2]float64{0, 1}, [2]float64{0.1, 1}, 0.5, 0.5, "").SVG()), "<rect"))
}

func TestEverythingIsEscaped(t *testing.T) {
	bad := `<script>"x"&`
	d := Drawing{
		Class: bad,
		Title: bad,
		Desc:  bad,
		Shapes: []Shape{
			{Form: Text, Class: bad, Text: bad, Link: bad, Title: bad},
			{Form: Circle, Title: bad},
			{Form: Line, Class: bad, Title: bad, Points: []Point{{1, 2}}},
			{Class: bad, Title: bad},
		},
	}
	s := string(d.SVG())
	require.NotContains(t, s, "<script>")
	require.NotContains(t, s, `"x"&`)
	require.Contains(t, s, `role="group"`, "links are not hidden inside a picture")
}

// TestBandLabelsKeepClearOfMarks: a label stands where no mark crosses it, and
// below the band where no stretch is wide enough.
func TestBandLabelsKeepClearOfMarks(t *testing.T) {
	for _, c := range []struct {
		mark  float64
		below bool
	}{{2, false}, {5, true}, {9, false}} {
		b := Band{
			Title:    "Money",
			Plan:     math.NaN(),
			Segments: []Segment{{Class: "togo", Name: "still to go, as stated", Value: 10, Text: "50.6"}},
			Marks:    []BandMark{{Class: "planned", Name: "plan", At: c.mark, Text: "1"}},
		}
		var label, mark *Shape
		for _, s := range b.Draw(200).Shapes {
			switch s.Class {
			case "togo-label":
				label = &s
			case "mark planned":
				mark = &s
			}
		}
		require.NotNil(t, mark)
		require.Equal(t, c.below, label == nil, c.mark)
		if label != nil {
			require.Greater(t, math.Abs(label.X-mark.X), textWidth(label.Text, 11)/2, c.mark)
		}
	}
}
