package gather

import (
	"archive/zip"
	"bufio"
	"errors"
	"fmt"
	"html"
	"io"
	"strconv"
	"strings"
)

// rowMarks are what a sheet says of a row's cells beside their values.
type rowMarks struct {
	n      int
	hidden bool
	kinds  []CellKind
}

// sheetMarks are what a sheet's markup says beside values.
type sheetMarks struct {
	rows   []rowMarks
	styles map[int]int // of the first number of each column, by its place from 0
	merged []string    // ranges, such as A2:A5
}

// mostMerged is the number of merges that are kept of one sheet.
const mostMerged = 50_000

// scanMarks reads from a sheet's markup which cells are numbers and which
// formulas have no value saved, which rows are hidden, how numbers are styled and what is
// merged: the row iterator does not tell.
func scanMarks(part *zip.File, lim Limits) (out sheetMarks, why string) {
	r, err := part.Open()
	if err != nil {
		return out, fmt.Sprintf("the sheet cannot be read (%v); save the file again", err)
	}
	defer r.Close()
	out.styles = make(map[int]int)
	t := newTagger(r)
	var row rowMarks
	var cell struct {
		column, style int
		words         bool
		formula, done bool
	}
	n, column, depth, cells := 0, 0, 0, 0
	flush := func() {
		if row.n != 0 && (len(row.kinds) > 0 || row.hidden) {
			out.rows = append(out.rows, row)
		}
		row = rowMarks{}
	}
	for t.next() {
		if depth += t.tag.depth(); depth > lim.XMLDepth {
			return out, fmt.Sprintf("its markup is more than %d levels deep; save the file again", lim.XMLDepth)
		}
		switch t.tag.name {
		case "row":
			flush()
			n++
			if v, err := strconv.Atoi(t.tag.attr("r")); err == nil {
				n = v
			}
			hidden := t.tag.attr("hidden")
			row, column = rowMarks{n: n, hidden: hidden == "1" || hidden == "true"}, 0
		case "c":
			if cells++; cells > lim.Cells {
				return out, fmt.Sprintf("it has more than %d cells, more than is read of a spreadsheet; send it as a text file, or in parts", lim.Cells)
			}
			column++
			if c := columnOf(t.tag.attr("r")); c > 0 {
				column = c
			}
			cell.column, cell.formula, cell.done = column, false, false
			cell.style, _ = strconv.Atoi(t.tag.attr("s"))
			switch t.tag.attr("t") {
			case "", "n":
				cell.words = false
			default:
				cell.words = true
			}
		case "f":
			cell.formula = true
		case "v", "is":
			if !t.tag.empty && !t.tag.close {
				cell.done = true
			}
			if t.tag.name == "v" && cell.done && t.peek() == '<' { // <v></v>
				cell.done = false
			}
		case "/c":
			if cell.column < 1 || cell.column > lim.Columns {
				break
			}
			kind := Words
			switch {
			case cell.formula && !cell.done:
				kind = Uncalculated
			case cell.done && !cell.words:
				kind = Number
			}
			if _, seen := out.styles[cell.column-1]; kind == Number && !seen {
				out.styles[cell.column-1] = cell.style
			}
			if kind != Words {
				for len(row.kinds) < cell.column {
					row.kinds = append(row.kinds, Words)
				}
				row.kinds[cell.column-1] = kind
			}
		case "/sheetData":
			flush()
		case "mergeCell":
			if ref := t.tag.attr("ref"); len(out.merged) < mostMerged {
				out.merged = append(out.merged, ref)
			}
		case "/mergeCells":
			return out, ""
		}
	}
	if t.err != nil {
		return out, fmt.Sprintf("the sheet cannot be read (%v); save the file again", t.err)
	}
	flush()
	return out, ""
}

// columnOf gives the column of a reference such as AB12, counted from 1.
func columnOf(ref string) (n int) {
	for i := 0; i < len(ref) && ref[i] >= 'A' && ref[i] <= 'Z' && n < 1_000_000; i++ {
		n = n*26 + int(ref[i]-'A') + 1
	}
	return n
}

// tag is a tag of a markup: its local name, "/name" where it closes.
type tag struct {
	name  string
	rest  string // its attributes
	empty bool
	close bool
}

// depth is what the tag adds to the number of open ones.
func (t *tag) depth() int {
	switch {
	case t.close:
		return -1
	case t.empty || strings.HasPrefix(t.name, "?") || strings.HasPrefix(t.name, "!"):
		return 0
	}
	return 1
}

// attr gives an attribute by its local name.
func (t *tag) attr(name string) string {
	s := t.rest
	for {
		i := strings.IndexByte(s, '=')
		if i < 0 || i+2 > len(s) {
			return ""
		}
		key := strings.TrimSpace(s[:i])
		if j := strings.LastIndexByte(key, ':'); j >= 0 {
			key = key[j+1:]
		}
		s = strings.TrimLeft(s[i+1:], " \t\r\n")
		if s == "" {
			return ""
		}
		end := strings.IndexByte(s[1:], s[0])
		if end < 0 {
			return ""
		}
		if key == name {
			return html.UnescapeString(s[1 : end+1])
		}
		s = s[end+2:]
	}
}

// tagger walks the tags of a markup in one pass, whatever its size.
type tagger struct {
	in   *bufio.Reader
	text int // bytes between the tag and the one before
	tag  tag
	err  error
}

// overlong tells that a part of a spreadsheet has a text that is longer than any that is
// read of a cell: it is told before the text is taken into memory.
func overlong(part *zip.File, lim Limits) (why string) {
	r, err := part.Open()
	if err != nil {
		return fmt.Sprintf("its part %s cannot be read (%v); save the file again", part.Name, err)
	}
	defer r.Close()
	most := bytesInMarkup * lim.CellBytes
	for t := newTagger(r); t.next(); {
		if t.text > most && t.tag.close {
			return fmt.Sprintf("a cell has more than %d characters; nothing of it was taken", lim.CellBytes)
		}
	}
	return ""
}

// bytesInMarkup is how many bytes of markup a character of a text takes, at most but for
// those that are written by their numbers.
const bytesInMarkup = 4

func newTagger(r io.Reader) *tagger { return &tagger{in: bufio.NewReaderSize(r, 64<<10)} }

// next goes to the next tag; false at the end or where err is set.
func (t *tagger) next() bool {
	t.text = 0
	for {
		before, err := t.in.ReadSlice('<')
		if t.text += len(before); errors.Is(err, bufio.ErrBufferFull) {
			continue
		} else if err != nil {
			if !errors.Is(err, io.EOF) {
				t.err = err
			}
			return false
		}
		break
	}
	text, err := t.in.ReadSlice('>')
	if err != nil {
		t.err = fmt.Errorf("a tag of its markup has no end: %w", err)
		return false
	}
	s := string(text[:len(text)-1])
	t.tag = tag{close: strings.HasPrefix(s, "/"), empty: strings.HasSuffix(s, "/")}
	s = strings.TrimSuffix(s, "/")
	name, rest, _ := strings.Cut(s, " ")
	if i := strings.LastIndexByte(name, ':'); i >= 0 {
		name = name[i+1:]
		if t.tag.close {
			name = "/" + name
		}
	}
	t.tag.name, t.tag.rest = strings.TrimSpace(name), rest
	return true
}

// peek gives the byte after the tag, or zero.
func (t *tagger) peek() byte {
	b, err := t.in.Peek(1)
	if err != nil {
		return 0
	}
	return b[0]
}
