package gather

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
	"golang.org/x/text/transform"
)

var bom = []byte("\xef\xbb\xbf")

// separators are the marks between cells that are tried, in words.
var separators = []struct {
	mark rune
	name string
}{{',', "commas"}, {';', "semicolons"}, {'\t', "tabs"}, {'|', "bars"}}

// openText finds the encoding and the separator of a text file.
func openText(f *File, lim Limits, refuse func(string, ...any) []Refusal) ([]*Sheet, []Refusal) {
	body, encoding := f.Body, "UTF-8"
	var decode transform.Transformer
	switch {
	case bytes.HasPrefix(body, bom):
		body = body[len(bom):]
	case bytes.HasPrefix(body, []byte{0xff, 0xfe}), bytes.HasPrefix(body, []byte{0xfe, 0xff}), looksWide(body):
		encoding = "UTF-16"
		order := unicode.LittleEndian
		if len(body) > 1 && body[0] == 0 {
			order = unicode.BigEndian
		}
		plain, _, err := transform.Bytes(unicode.UTF16(order, unicode.UseBOM).NewDecoder(), body)
		if err != nil {
			return nil, refuse("it is not text in UTF-16 that can be read; save it as CSV in UTF-8")
		}
		body = plain
	}
	if len(bytes.TrimSpace(body)) == 0 {
		return nil, refuse("the file is empty; it needs a header row")
	}
	if i := bytes.IndexByte(body, 0); i >= 0 {
		return nil, refuse("it is not a text file (byte %d is zero); save it as CSV in UTF-8", i+1)
	}
	if at, n := longestLine(body, lim.LineBytes); n > lim.LineBytes {
		return nil, refuse(
			"line %d has more than %d characters; split it, or check its line ends and quotes",
			at,
			lim.LineBytes,
		)
	}
	if !utf8.Valid(body) {
		encoding, decode = "Windows-1252", charmap.Windows1252.NewDecoder()
	}
	open := func() io.Reader {
		if decode == nil {
			return bytes.NewReader(body)
		}
		return transform.NewReader(bytes.NewReader(body), charmap.Windows1252.NewDecoder())
	}
	r, ok := ruledOf(open)
	if !ok {
		r, ok = spacedOf(open)
	}
	if ok {
		s := &Sheet{
			File: f.Name, Lines: bytes.Count(body, []byte("\n")) + 1,
			Format: fmt.Sprintf("text in %s, cells of fixed width", encoding),
		}
		s.each = func(f func(*Line) bool) { readRuled(open(), r, f) }
		return []*Sheet{s}, nil
	}
	comma := separatorOf(open)
	s := &Sheet{File: f.Name, Lines: bytes.Count(body, []byte("\n")) + 1, plain: encoding == "UTF-8" && comma == ','}
	for _, x := range separators {
		if x.mark == comma {
			s.Format = fmt.Sprintf("text in %s, cells between %s", encoding, x.name)
		}
	}
	if encoding != "UTF-8" {
		s.Notes = append(s.Notes, "It was read as "+encoding+".")
	}
	s.each = func(f func(*Line) bool) {
		untilFarewell(func(f func(*Line) bool) { readText(open(), comma, lim, f) }, f)
	}
	return []*Sheet{s}, nil
}

// untilFarewell hands over the lines of a text with a table without the end of a mail: a line
// of farewells after which only a few of one cell come, who wrote it and where.
func untilFarewell(each func(func(*Line) bool), f func(*Line) bool) {
	const most, few = 8, 3 // lines of a signature; cells of a table's row
	var held []Line
	stopped, table := false, false
	hand := func() bool {
		for i := range held {
			if !f(&held[i]) {
				return false
			}
		}
		held = nil
		return true
	}
	each(func(l *Line) bool {
		table = table || filled(l) >= few
		if len(held) > 0 || table && filled(l) == 1 && len(textOf(l)) >= few && isFarewell(textOf(l)) {
			held = append(held, Line{N: l.N, Wrong: l.Wrong, Cells: slices.Clone(l.Cells)})
			if filled(l) <= 1 && l.Wrong == "" && len(held) <= most {
				return true
			}
			stopped = !hand()
			return !stopped
		}
		stopped = !f(l)
		return !stopped
	})
}

// looksWide tells UTF-16 without a mark: every other byte is zero.
func looksWide(b []byte) bool {
	b = b[:min(len(b)&^1, 400)]
	if len(b) < 4 {
		return false
	}
	var even, odd int
	for i := 0; i < len(b); i += 2 {
		if b[i] == 0 {
			even++
		}
		if b[i+1] == 0 {
			odd++
		}
	}
	return even*10 > len(b)*4 || odd*10 > len(b)*4
}

func newCSV(r io.Reader, comma rune) *csv.Reader {
	c := csv.NewReader(r)
	c.Comma, c.ReuseRecord, c.FieldsPerRecord = comma, true, -1
	return c
}

// separatorOf finds the mark that parts the first rows into the most cells,
// counting only rows that agree.
func separatorOf(open func() io.Reader) rune {
	const most = 200
	best, chosen := 0, ','
	for _, x := range separators {
		r := newCSV(open(), x.mark)
		r.LazyQuotes = true
		counts := make(map[int]int)
		for range most {
			cells, err := r.Read()
			if err != nil {
				break
			}
			counts[len(cells)]++
		}
		for width, n := range counts {
			if score := n * (width - 1); score > best {
				best, chosen = score, x.mark
			}
		}
	}
	return chosen
}

// readText hands over the records of a text file with the line on which each
// begins.
func readText(in io.Reader, comma rune, lim Limits, f func(*Line) bool) {
	r := newCSV(in, comma)
	var l Line
	for {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			return
		}
		l.N, l.Wrong, l.Cells = position(r, cells, err), "", l.Cells[:0]
		if err != nil {
			l.Wrong = fmt.Sprintf("the row cannot be read (%v); check its quotes", csvCause(err))
		}
		if comma == '|' && isRule(cells) {
			cells = nil
		}
		for _, c := range cells {
			l.Cells = append(l.Cells, Cell{Text: clip(c, lim)})
		}
		if !f(&l) {
			return
		}
	}
}

// isRule tells the rule below the heads of a table that is drawn with bars.
func isRule(cells []string) bool {
	ruled := false
	for _, c := range cells {
		c = strings.TrimSpace(c)
		if strings.Trim(c, ":-=+") != "" {
			return false
		}
		ruled = ruled || strings.Contains(c, "--") || strings.Contains(c, "==")
	}
	return ruled
}

// position gives the line on which a record begins.
func position(r *csv.Reader, cells []string, err error) int {
	var pe *csv.ParseError
	if errors.As(err, &pe) {
		return pe.StartLine
	}
	if len(cells) == 0 {
		return 0
	}
	line, _ := r.FieldPos(0)
	return line
}

func csvCause(err error) error {
	var pe *csv.ParseError
	if errors.As(err, &pe) {
		return pe.Err
	}
	return err
}

// longestLine finds the first line beyond a limit.
func longestLine(b []byte, limit int) (line, size int) {
	for line = 1; len(b) > 0; line++ {
		n := bytes.IndexByte(b, '\n')
		if n < 0 {
			n = len(b)
		}
		if n > limit {
			return line, n
		}
		b = b[min(n+1, len(b)):]
	}
	return 0, 0
}

// canonical is a head as Turret's own tables write it.
func canonical(s string) string { return strings.ToLower(strings.TrimSpace(s)) }
