package brief

import (
	"archive/zip"
	"bytes"
	"encoding/xml"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"turret/internal/chart"
	"turret/internal/tell"
)

// deck is a pack with everything that slides show.
func deck(rows int) *Pack {
	g := Grid{Columns: []Col{
		{Head: "Project", Share: 3},
		{Head: "Overall", Share: 1, Middle: true},
		{Head: "Spent", Share: 1, Number: true},
		{Head: "Why", Share: 4, Wrap: true},
	}}
	for i := range rows {
		g.Rows = append(g.Rows, Line{Cells: []Piece{
			Txt(fmt.Sprintf("P%03d Pier & <quay>", i)), {Glyph: []chart.Glyph{{}}}, {Text: fmt.Sprint(1000 + i), Tone: "act"}, Txt("It is late."),
		}})
	}
	g.Rows = append(g.Rows, Line{Cells: []Piece{Txt("All"), {}, {Text: "12,345"}, {}}, Total: true})
	return &Pack{
		Title: "Brief: Müller & Söhne", Office: "Skerrow Sound", Foot: "Nov 2026", Made: time.Date(2026, 11, 30, 9, 0, 0, 0, time.UTC),
		Pages: []Page{
			{Title: "First", Blocks: []Block{
				Head{Text: "Skerrow Sound", Small: "Portfolio brief", Level: 1},
				Sentence{Phrases: []tell.Phrase{{Text: "Outlook is "}, {Text: "€190.0 M", Tone: "act"}, {Text: ", over plan."}}},
				Head{Text: "Words", Level: 2},
				Words{Text: "שלום עולם, הגשר מאחר"},
				Words{Text: strings.Repeat("The quay is behind the pier. ", 30), Quiet: true},
				Picture{Draw: func(w float64) chart.Drawing { return chart.Drawing{Width: w, Height: 60} }},
			}},
			{Title: "Rows", Blocks: []Block{Head{Text: "Rows", Level: 1}, g}},
		},
	}
}

// parts opens slides: every part is well-formed, and each slide comes with its text.
func parts(t *testing.T, body []byte) (slides []string, names []string) {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(body), int64(len(body)))
	require.NoError(t, err)
	for _, f := range z.File {
		names = append(names, f.Name)
		r, err := f.Open()
		require.NoError(t, err)
		text, err := io.ReadAll(r)
		require.NoError(t, err)
		d := xml.NewDecoder(bytes.NewReader(text))
		for {
			if _, err := d.Token(); err == io.EOF {
				break
			} else {
				require.NoError(t, err, f.Name)
			}
		}
		if strings.HasPrefix(f.Name, "ppt/slides/slide") {
			slides = append(slides, string(text))
		}
	}
	return slides, names
}

// said are the words of a slide.
func said(t *testing.T, slide string) (out string) {
	t.Helper()
	d := xml.NewDecoder(strings.NewReader(slide))
	in := false
	for {
		x, err := d.Token()
		if err == io.EOF {
			return strings.ReplaceAll(out, "\u00a0", " ")
		}
		require.NoError(t, err)
		switch x := x.(type) {
		case xml.StartElement:
			in = x.Name.Local == "t"
		case xml.EndElement:
			if x.Name.Local == "p" {
				out += "\n"
			}
			in = false
		case xml.CharData:
			if in {
				out += string(x)
			}
		}
	}
}

// TestSlides: words are paragraphs, with what is strong in them; a table goes on over slides with
// its heads; what is read from the right is told so; the same pack gives the same bytes.
func TestSlides(t *testing.T) {
	body, err := Slides(deck(60))
	require.NoError(t, err)
	again, err := Slides(deck(60))
	require.NoError(t, err)
	require.Equal(t, body, again)
	slides, names := parts(t, body)
	require.Equal(t, "[Content_Types].xml", names[0])
	first := said(t, slides[0])
	require.Contains(t, first, "Outlook is €190.0 M, over plan.\n", "one paragraph")
	require.Contains(t, slides[0], `b="1" dirty="0"><a:solidFill><a:srgbClr val="A83226">`, "what is strong, in its tone")
	require.Contains(t, first, strings.TrimSpace(strings.Repeat("The quay is behind the pier. ", 30)))
	require.Equal(t, 1, strings.Count(slides[0], `algn="r" rtl="1"`))
	require.Contains(t, first, "1 of "+fmt.Sprint(len(slides)))
	require.Greater(t, len(slides), 3, "sixty rows do not fit on one")
	all := ""
	for i, s := range slides {
		require.Equal(t, 1, strings.Count(s, `type="title"`), "slide %d has its title", i+1)
		if i > 0 {
			require.Equal(t, 1, strings.Count(s, "<a:tbl>"))
			require.Contains(t, said(t, s), "Project\nOverall\nSpent\nWhy\n", "heads")
			all += said(t, s)
		}
	}
	for i := range 60 {
		require.Equal(t, 1, strings.Count(all, fmt.Sprintf("P%03d Pier & <quay>", i)))
	}
	require.Contains(t, all, "All\n\n12,345\n")
}

// TestSlidesStayOnTheSlide: nothing lies beyond the edges, of tables not even where their rows are
// added up, whatever the number of rows.
func TestSlidesStayOnTheSlide(t *testing.T) {
	for rows := 1; rows < 40; rows += 7 {
		p := deck(rows)
		p.Slides = true
		for _, s := range Lay(p) {
			require.InDelta(t, 16.0/9, s.Width/s.Height, 1e-9)
			for _, x := range s.Texts {
				require.LessOrEqual(t, x.Y+x.H, s.Height-20, "%d rows: %v", rows, x.Phrases)
				require.LessOrEqual(t, x.X+x.W, s.Width)
			}
			for _, x := range s.Tables {
				require.Len(t, x.Ys, len(x.Rows)+2)
				require.True(t, slices.IsSorted(x.Ys))
				require.LessOrEqual(t, x.Ys[len(x.Ys)-1], s.Height-marginFoot+1)
			}
		}
	}
	require.InDelta(t, 12192000, emu(slideWidth), 1)
	require.Equal(t, 1890, size(15)) // 15 × 960 ÷ 760 points
	require.InDelta(t, 16.0/9, math.Abs(slideWidth/slideHeight), 1e-9)
}
