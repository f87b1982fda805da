package gather

import (
	"bufio"
	"io"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"
)

// A print of fixed width has its cells under each other, between columns of spaces; often
// a rule of dashes stands below its heads.

// ruled is how the lines of such a print are cut: where each cell begins, in characters,
// and the row of the rule, or zero.
type ruled struct {
	starts []int
	rule   int
}

// ruledOf finds the rule of a print among its first lines; ok is false where it has none.
func ruledOf(open func() io.Reader) (r ruled, ok bool) {
	const most, few = 200, 3 // lines that are looked at; cells
	lines := bufio.NewScanner(open())
	lines.Buffer(nil, 1<<20)
	for n := 1; n <= most && lines.Scan(); n++ {
		if starts := ruleStarts(lines.Text()); len(starts) >= few {
			return ruled{starts, n}, true
		}
	}
	return ruled{}, false
}

// spacedOf finds the columns of a print without a rule: lines of several cells with two
// spaces or more between them, which stand under each other; ok is false where it is none.
func spacedOf(open func() io.Reader) (r ruled, ok bool) {
	const most, few, cells, apart = 200, 3, 4, 2
	lines := bufio.NewScanner(open())
	lines.Buffer(nil, 1<<20)
	var wide [][]rune
	all := 0
	for n := 1; n <= most && lines.Scan(); n++ {
		text := strings.TrimRight(lines.Text(), " \r")
		if text == "" {
			continue
		}
		if all++; strings.ContainsAny(text, "\t;|") {
			return ruled{}, false
		}
		if len(spaced.Split(strings.TrimSpace(text), -1)) >= cells {
			wide = append(wide, []rune(text))
		}
	}
	if len(wide) < few || len(wide)*2 < all {
		return ruled{}, false
	}
	longest := 0
	for _, line := range wide {
		longest = max(longest, len(line))
	}
	blanks := apart
	for i := range longest {
		if !slices.ContainsFunc(wide, func(line []rune) bool { return i < len(line) && line[i] != ' ' }) {
			blanks++
			continue
		}
		if blanks >= apart {
			r.starts = append(r.starts, i)
		}
		blanks = 0
	}
	return r, len(r.starts) >= cells
}

// spaced is what stands between the cells of such a line.
var spaced = regexp.MustCompile(` {2,}`)

// ruleStarts gives where the groups of a rule begin; nil where the line is none.
func ruleStarts(line string) (starts []int) {
	line = strings.TrimRight(line, " \r")
	in := false
	for i, c := range line {
		switch c {
		case '-', '=', '_', '─':
			if !in {
				starts = append(starts, utf8.RuneCountInString(line[:i]))
			}
			in = true
		case ' ':
			in = false
		default:
			return nil
		}
	}
	return starts
}

// readRuled hands over the lines of a print, cut into cells; the rules themselves are
// blank. A line with words where others have spaces is one cell.
func readRuled(in io.Reader, r ruled, f func(*Line) bool) {
	lines := bufio.NewScanner(in)
	lines.Buffer(nil, 16<<20)
	var l Line
	for l.N = 1; lines.Scan(); l.N++ {
		l.Cells = l.Cells[:0]
		text := strings.TrimRight(lines.Text(), "\r ")
		switch {
		case text == "" || ruleStarts(text) != nil:
		default:
			for _, cell := range r.cut(text) {
				l.Cells = append(l.Cells, Cell{Text: cell})
			}
		}
		if !f(&l) {
			return
		}
	}
}

// cut parts a line where the columns begin: a cell that is longer than its column runs on
// only where the next is empty there. A number may begin before its column.
func (r ruled) cut(text string) []string {
	runes := []rune(text)
	out := make([]string, len(r.starts))
	from := 0
	for i := range r.starts {
		to := len(runes)
		if i+1 < len(r.starts) {
			to = min(r.starts[i+1], len(runes))
			for to > from && to < len(runes) && runes[to-1] != ' ' { // what begins before its column
				to--
			}
			if to <= from && from < len(runes) {
				return []string{strings.TrimSpace(text)}
			}
		}
		if from < to {
			out[i] = strings.TrimSpace(string(runes[from:to]))
		}
		from = max(from, to)
	}
	filled := 0
	for _, cell := range out {
		if cell != "" {
			filled++
		}
	}
	if filled <= 2 && !strings.Contains(strings.TrimSpace(text), "   ") && !strings.HasPrefix(text, "   ") {
		return []string{strings.TrimSpace(text)} // a title
	}
	return out
}
