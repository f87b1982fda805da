package brief

import (
	"time"

	"turret/internal/chart"
	"turret/internal/tell"
)

// Pack is a brief before it is laid out on paper.
type Pack struct {
	Title  string // of the document
	Office string
	Foot   string // at the foot of every page: period, compared period, cut, currency
	Made   time.Time
	Letter bool // US Letter in place of A4
	Slides bool // laid on 16:9, where texts and tables stay what they are
	Pages  []Page
}

// Page is a part of a brief: it begins on a leaf of its own, or on that of the short ones
// before it.
type Page struct {
	Title  string // in the outline
	Wide   bool   // landscape
	Alone  bool   // it shares no leaf
	Depth  int    // in the outline
	Blocks []Block
}

// Block is a piece of a page.
type Block interface{ block() }

// Head is a heading, with a glyph before it and a smaller text behind it.
type Head struct {
	Text, Small string
	Glyph       *chart.Glyph
	Level       int // 1: of the page; 2: of a part
}

// Sentence is said in large letters.
type Sentence struct{ Phrases []tell.Phrase }

// Words are paragraphs; a quiet one is in the second ink.
type Words struct {
	Text  string
	Quiet bool
	Bold  bool
}

// Picture is a drawing as wide as its place; Unit stands above it.
type Picture struct {
	Title, Unit string
	Draw        func(width float64) chart.Drawing
	Width       float64 // that it is drawn for, in pixels of the screen; zero: 720
}

// Beside puts blocks next to each other.
type Beside struct{ Left, Right []Block }

// Grid is a table. Heads repeat on every leaf.
type Grid struct {
	Columns []Col
	Rows    []Line
	Empty   string // said where there are no rows
}

// Col is a column of a grid.
type Col struct {
	Head   string
	Share  float64 // of the width
	Number bool    // to the right
	Middle bool
	Wrap   bool // the text may take several lines
}

// Line is a row of a grid.
type Line struct {
	Cells  []Piece
	Group  bool // a band
	Total  bool
	Indent int
}

// Piece is a cell of a grid.
type Piece struct {
	Text  string
	Tone  string // of a standing, or "quiet"
	Bold  bool
	Glyph []chart.Glyph
	Draw  *chart.Drawing
}

func (Head) block()     {}
func (Sentence) block() {}
func (Words) block()    {}
func (Picture) block()  {}
func (Beside) block()   {}
func (Grid) block()     {}

// Txt is a cell of plain text.
func Txt(s string) Piece { return Piece{Text: s} }
