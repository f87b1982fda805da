package gather

import (
	"regexp"
	"strings"
)

// rateLine is a rate as a line of text: 1 GBP = 1.1520 EUR.
var rateLine = regexp.MustCompile(`^(?:[-*•]\s*)?(\d{1,6})?\s*([A-Z]{3})\s*[=:]\s*(\d[\d.,' ]*?)\s*([A-Z]{3})\.?$`)

// asRates gives a text of such lines as a table of pairs of currencies, their units and what
// those are worth, with what else it says above; nil where it has none.
func (s *Sheet) asRates() *Sheet {
	const most = 200 // lines
	var titles, rows []Line
	n := 0
	s.Each(func(l *Line) bool {
		n++
		var cells []string
		for _, c := range l.Cells {
			cells = append(cells, strings.TrimFunc(c.Text, isSpace))
		}
		text := strings.TrimFunc(strings.Join(cells, ","), func(r rune) bool { return isSpace(r) || r == ',' })
		if m := rateLine.FindStringSubmatch(text); m != nil {
			units := m[1]
			if units == "" {
				units = "1"
			}
			rows = append(rows, Line{N: l.N, Cells: []Cell{{Text: m[2] + "/" + m[4]}, {Text: units}, {Text: m[3]}}})
		} else if text != "" {
			titles = append(titles, Line{N: l.N, Cells: []Cell{{Text: text}}})
		}
		return n <= most
	})
	if len(rows) == 0 || n > most || len(titles) > 2*len(rows)+3 {
		return nil
	}
	out := *s
	if rows[0].N == 1 { // heads stand before the first
		for i := range rows {
			rows[i].N++
		}
	}
	head := Line{N: rows[0].N - 1, Cells: []Cell{{Text: "Currency"}, {Text: "Units"}, {Text: "Rate"}}}
	lines := append(append(titles, head), rows...)
	out.Lines, out.plain = len(lines), false
	out.each = func(f func(*Line) bool) {
		for i := range lines {
			if !f(&lines[i]) {
				return
			}
		}
	}
	return &out
}
