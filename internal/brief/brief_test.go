package brief

import (
	"bytes"
	"fmt"
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"turret/internal/chart"
	"turret/internal/tell"
)

var made = time.Date(2026, 12, 4, 9, 30, 0, 0, time.UTC)

func packOf(blocks ...Block) *Pack {
	return &Pack{Title: "T", Office: "O", Foot: "F", Made: made, Pages: []Page{{Title: "P", Blocks: blocks}}}
}

// TestTextsFallBack: characters are shown in a face that has them; what none
// has becomes a box, and what cannot be seen is left out.
func TestTextsFallBack(t *testing.T) {
	for text, want := range map[string]string{
		"Plain €":          "0:Plain €",
		"Łódź":             "0:Łódź",
		"a→b":              "0:a 2:→ 0:b",
		"Ωμέγα":            "2:Ωμέγα",
		"Паром":            "2:Паром",
		"x😀y":              "0:x 2:▯ 0:y",
		"a\tb\nc\u00a0d":   "0:a b c d",
		"\u202eab\u200b":   "0:ab",
		"里":                "3:里",
		"かな한":              "3:かな 4:한",
		"\x00\x07ok":       "0:ok",
		"bad \xff utf":     "0:bad  2:▯ 0: utf",
		"":                 "",
		"\U0010ffff\ufe0f": "2:▯",
	} {
		var parts []string
		for _, r := range fonts().runs(text, false) {
			parts = append(parts, fmt.Sprintf("%d:%s", r.face, r.text))
			require.Positive(t, r.width, text)
		}
		require.Equal(t, want, strings.Join(parts, " "), "%q", text)
	}
	require.InDelta(t, width("111", 10, false), width("000", 10, false), 1e-9, "figures are tabular")
	require.InDelta(t, 2*width("ab", 10, false), width("ab", 20, false), 1e-9)
}

// TestWrapKeepsEveryWord: lines fit, and nothing is lost or put elsewhere.
func TestWrapKeepsEveryWord(t *testing.T) {
	text := "The yard expects the hull in March, " + strings.Repeat("verylongwordwithoutanyspace", 12) + " and then trials.\n\nNext: paint."
	for _, most := range []float64{40, 90, 300} {
		lines := wrap(text, 8.5, most, false)
		for _, l := range lines {
			require.LessOrEqual(t, width(l, 8.5, false), most+0.01, l)
		}
		require.Equal(t, strings.Join(strings.Fields(text), ""), strings.ReplaceAll(strings.Join(lines, ""), " ", ""))
	}
	require.Equal(t, "a…", fitted("abcdefgh", 10, width("a…", 10, false)+0.1, false))
}

// TestLeavesHoldWhatTheyAreGiven: whatever the length, marks lie on the paper,
// every row is there once, and heads repeat.
func TestLeavesHoldWhatTheyAreGiven(t *testing.T) {
	g := Grid{Columns: []Col{{Head: "Name", Share: 2, Wrap: true}, {Head: "Number", Share: 1, Number: true}}}
	for i := range 300 {
		g.Rows = append(
			g.Rows,
			Line{
				Cells: []Piece{
					Txt(fmt.Sprintf("Row %d with a name that may take more than one line of the column", i)),
					Txt(fmt.Sprint(i)),
				},
			},
		)
	}
	p := packOf(
		Head{Text: "Head", Level: 1},
		Sentence{Phrases: []tell.Phrase{{Text: "It stands "}, {Text: "well", Tone: "act"}, {Text: "."}}},
		Words{Text: strings.Repeat("Long words. ", 3000)},
		g,
		Beside{Left: []Block{Words{Text: "left"}}, Right: []Block{Words{Text: "right"}}},
	)
	for _, letter := range []bool{false, true} {
		for _, wide := range []bool{false, true} {
			p.Letter, p.Pages[0].Wide = letter, wide
			sheets := Lay(p)
			require.Greater(t, len(sheets), 8)
			rows, heads := 0, 0
			for i, s := range sheets {
				require.Equal(t, wide, s.Width > s.Height)
				for _, m := range s.Marks {
					require.GreaterOrEqual(t, m.X, -0.1)
					require.LessOrEqual(t, m.X, s.Width+0.1)
					require.LessOrEqual(t, m.Y, s.Height)
					if m.Form == chart.TextEnd && m.X < s.Width-marginX-1 ||
						m.Form == chart.TextEnd && m.Y < s.Height-30 {
						rows++
					}
					if m.Text == "Number" {
						heads++
					}
				}
				require.Equal(t, fmt.Sprintf("%d of %d", i+1, len(sheets)), s.Marks[len(s.Marks)-1].Text)
			}
			require.Equal(t, 300+heads, rows, "each row once, and each head")
			require.Greater(t, heads, 3)
			body, err := PDF(p, sheets)
			require.NoError(t, err)
			again, err := PDF(p, Lay(p))
			require.NoError(t, err)
			require.True(t, bytes.Equal(body, again))
		}
	}
}

func TestWorkbookTypesItsCells(t *testing.T) {
	table := Table{
		Name:    "A/B: [long name of a sheet that is cut]",
		Notes:   []string{"=note"},
		Total:   "Total",
		Columns: []Column{{Head: "Name"}, {Head: "Amount", Sum: true}, {Head: "Share"}, {Head: "Day"}},
		Rows: [][]Cell{
			{
				{Text: "=1+1"},
				{Type: Money, Number: "0.1"},
				{Type: Share, Number: "0.125"},
				{Type: Day, Number: "2026-11-05"},
			},
			{{Text: "b"}, {Type: Money, Number: "0.2"}, {Type: Share}, {Type: Day}},
		},
	}
	body, err := Workbook("T", made, []Table{table, table})
	require.NoError(t, err)
	again, err := Workbook("T", made, []Table{table, table})
	require.NoError(t, err)
	require.True(t, bytes.Equal(body, again), "the same tables give the same bytes")
	x, err := excelize.OpenReader(bytes.NewReader(body))
	require.NoError(t, err)
	defer x.Close()
	names := x.GetSheetList()
	require.Len(t, names, 2)
	require.NotEqual(t, names[0], names[1])
	for cell, want := range map[string]string{"A1": "=note", "A4": "=1+1", "B4": "0.10", "C4": "12.5%", "D4": "2026-11-05", "A6": "Total", "B6": "0.30"} {
		got, err := x.GetCellValue(names[0], cell)
		require.NoError(t, err)
		require.Equal(t, want, got, cell)
	}
	f, err := x.GetCellFormula(names[0], "A4")
	require.NoError(t, err)
	require.Empty(t, f, "a text that looks like a formula stays a text")
	f, err = x.GetCellFormula(names[0], "B6")
	require.NoError(t, err)
	require.Equal(t, "SUM(B4:B5)", f)
	panes, err := x.GetPanes(names[0])
	require.NoError(t, err)
	require.True(t, panes.Freeze)
}

func FuzzText(f *testing.F) {
	for _, s := range []string{"plain", "😀", "Łódź → Ωμέγα", "\u202e\x00\xff", strings.Repeat("a", 500), "\U0001F1EA\U0001F1FA"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		p := packOf(
			Head{Text: text, Small: text, Level: 1},
			Sentence{Phrases: []tell.Phrase{{Text: text + " "}}},
			Words{Text: text},
			Grid{
				Columns: []Col{{Head: "A", Share: 1, Wrap: true}, {Head: text, Share: 1, Number: true}},
				Rows:    []Line{{Cells: []Piece{Txt(text), Txt(text)}}},
			},
		)
		p.Title, p.Office = text, text
		sheets := Lay(p)
		require.NotEmpty(t, sheets)
		body, err := PDF(p, sheets)
		require.NoError(t, err)
		require.NotEmpty(t, body)
		for _, s := range sheets {
			require.True(t, utf8.ValidString(string(s.SVG())) || !utf8.ValidString(text))
		}
		_, err = HTML(p)
		require.NoError(t, err)
	})
}

// TestWordsOf: a stop stays with the word before it, whosever phrase it is.
func TestWordsOf(t *testing.T) {
	texts := func(phrases ...string) (out []string) {
		var list []tell.Phrase
		for _, p := range phrases {
			list = append(list, tell.Phrase{Text: p})
		}
		for _, word := range wordsOf(list) {
			text := ""
			for i, p := range word {
				if i > 0 {
					text += "|"
				}
				text += p.Text
			}
			out = append(out, text)
		}
		return out
	}
	require.Equal(
		t,
		[]string{"It", "stands", "well|.", "Now", "5%|,", "more"},
		texts("It stands ", "well", ". Now ", "5%", ", more"),
	)
	require.Equal(t, []string{"a", "b", "c"}, texts("a", " ", "b", " c "))
	require.Equal(t, []string{"a|b|c"}, texts("a", "", "b", "c"))
	require.Empty(t, texts("", " ", "  "))
}
