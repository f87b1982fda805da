package brief

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/chart"
)

// long is a page of a heading and so many rows.
func long(title string, rows int) Page {
	g := Grid{Columns: []Col{{Head: "Row", Share: 1}}}
	for i := range rows {
		g.Rows = append(g.Rows, Line{Cells: []Piece{Txt(fmt.Sprintf("%s %d", title, i+1))}})
	}
	return Page{Title: title, Blocks: []Block{Head{Text: title, Level: 1}, g}}
}

// entries lists the pages that begin on each leaf.
func entries(list []Sheet) (out [][]string) {
	for i := range list {
		var names []string
		for _, e := range list[i].Entries {
			names = append(names, e.Title)
		}
		out = append(out, names)
	}
	return out
}

func sizeOf(s *Sheet, text string) float64 {
	for _, m := range s.Marks {
		if m.Text == text {
			return m.Size
		}
	}
	return 0
}

func lay(pages ...Page) []Sheet {
	p := packOf()
	p.Pages = pages
	return Lay(p)
}

// A row is 8.5 × 1.36 + 5.2 = 16.76 points, so that 44 of them with their heads fill the 758
// points of a leaf.
func TestShortPagesShareALeaf(t *testing.T) {
	alone, wide := long("C", 5), long("D", 5)
	alone.Alone, wide.Wide = true, true
	list := lay(long("A", 10), long("B", 20), alone, long("E", 5), wide, long("F", 30), long("G", 30))
	require.Equal(t, [][]string{{"A", "B"}, {"C"}, {"E"}, {"D"}, {"F"}, {"G"}}, entries(list))
	require.InDelta(t, body, sizeOf(&list[0], "B 20"), 1e-9)
	require.Greater(t, list[0].Entries[1].Y, list[0].Entries[0].Y+10*16)
	require.Equal(t, "A · B", list[0].Title)
	require.True(t, list[3].Wide)
}

// Pages that together are a little too long for a leaf are set smaller; so is one alone,
// which may be smaller still; what is longer is broken, and set in full.
func TestALittleTooLongIsSetSmaller(t *testing.T) {
	fit := 0 // the most rows that one leaf takes in full
	for len(lay(long("A", fit+1))) == 1 && sizeOf(&lay(long("A", fit+1))[0], "A 1") == body {
		fit++
	}
	require.Greater(t, fit, 35)
	for _, c := range []struct {
		rows, leaves int
		smallest     float64
	}{
		{fit, 1, 1},
		{fit + 1, 1, 0.96},
		{fit + 6, 1, smallestAlone},
		{fit + 12, 2, 1},
	} {
		list := lay(long("A", c.rows))
		require.Len(t, list, c.leaves, c.rows)
		require.GreaterOrEqual(t, sizeOf(&list[0], "A 1")/body, c.smallest-1e-9, c.rows)
		for i := range list {
			for _, m := range list[i].Marks {
				require.LessOrEqual(t, m.Y, list[i].Height-marginFoot+30, "%s is off the leaf", m.Text)
				require.LessOrEqual(t, m.X, list[i].Width-marginX+1, m.Text)
			}
		}
	}
	require.Len(t, lay(long("A", fit/2), long("B", fit/2)), 1, "at 0.92 or more")
	require.Len(t, lay(long("A", fit/2+3), long("B", fit/2+3)), 2)
	both := lay(long("A", fit+20))
	require.Equal(t, [][]string{{"A"}, nil}, entries(both), "a leaf where none begins has none in the outline")
}

func TestScaleAMark(t *testing.T) {
	m := chart.Mark{X: 52, Y: 60, W: 10, H: 4, Size: 8, Line: 2, Points: []chart.Point{{X: 62, Y: 40}}, Dash: []float64{4}}
	was := m.Points
	m.Scale(42, 40, 0.5)
	require.Equal(t, chart.Mark{X: 47, Y: 50, W: 5, H: 2, Size: 4, Line: 1, Points: []chart.Point{{X: 52, Y: 40}}, Dash: []float64{2}}, m)
	require.Equal(t, []chart.Point{{X: 62, Y: 40}}, was, "of a drawing that others use")
}
