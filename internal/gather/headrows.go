package gather

import (
	"slices"
	"strings"

	"turret/internal/record"
)

// A sheet is looked through for the rows that name the columns of its tables.

// headRow is a row that names the columns of one table, or of several beside each other.
type headRow struct {
	n      int               // of the row
	top    int               // of the first of its titles
	spans  [][2]int          // columns of each table, from and to
	texts  string            // its heads, normal: the same again continue the table
	titles []string          // the lines right above it
	pairs  map[string]string // what labels among them say
}

// headRows finds the rows that begin a table, and the titles that the sheet has above all.
func (s *Sheet) headRows() (heads []headRow, preface []*Line) {
	var block []*Line // since the last blank row, while they are titles
	var above []*Line // the first head
	titles, last := true, 0
	s.Each(func(l *Line) bool {
		if l.N > last+1 { // a spreadsheet does not keep empty rows
			block, titles = nil, true
		}
		last = l.N
		if l.Wrong != "" || l.Blank() {
			block, titles = nil, l.Wrong == ""
			return l.N < lookedAt
		}
		keep := &Line{N: l.N, Cells: slices.Clone(l.Cells)}
		for i := range keep.Cells {
			keep.Cells[i].Text = strings.Clone(keep.Cells[i].Text)
		}
		if titles || len(heads) == 0 {
			h := headRow{n: l.N, top: l.N}
			h.spans, h.texts = s.spansOf(l)
			for _, b := range block {
				h.top = min(h.top, b.N)
				h.titles = append(h.titles, textOf(b))
				h.pair(b)
			}
			if len(h.spans) > 0 && (len(heads) == 0 || heads[len(heads)-1].apart(h)) {
				if len(heads) == 0 {
					preface = prefaceOf(above, block)
				}
				heads = append(heads, h)
			}
		}
		if len(heads) == 0 {
			above = append(above, keep)
		}
		const few, most = 2, 4
		if titles = titles && filled(l) <= few && len(block) < most; titles {
			block = append(block, keep)
		}
		return l.N < lookedAt && (len(heads) > 0 || l.N < within)
	})
	return heads, preface
}

// prefaceOf are the titles above the first table that are those of all: what a blank row
// parts from it, or what says no kind of amount.
func prefaceOf(above, own []*Line) []*Line {
	if len(above) > len(own) {
		return above[:len(above)-len(own)]
	}
	var out []*Line
	for _, l := range own {
		if len(kindsIn(textOf(l))) == 0 {
			out = append(out, l)
		}
	}
	return out
}

func textOf(l *Line) string {
	var out []string
	for i := range l.Cells {
		if text := strings.TrimFunc(l.Cells[i].Text, isSpace); text != "" {
			out = append(out, text)
		}
	}
	return strings.Join(out, " ")
}

// apart tells whether a row of heads begins another table than the one before: it has
// other heads, or titles that say a kind of amount or another unit.
func (h headRow) apart(next headRow) bool {
	if next.texts != h.texts {
		return true
	}
	for label, said := range next.pairs {
		if own, ok := h.pairs[label]; ok && own != said {
			return true
		}
	}
	for _, t := range next.titles {
		if len(kindsIn(t)) > 0 {
			return true
		}
		if u, ok := unitIn(t); ok && u != h.unit() {
			return true
		}
	}
	return false
}

// pair notes a title that is a label and what it says: "Project", "H-020".
func (h *headRow) pair(l *Line) {
	if label, said, ok := aPair(l); ok {
		if h.pairs == nil {
			h.pairs = make(map[string]string)
		}
		h.pairs[label] = said
	}
}

// aPair parts a line of two texts, normal: a label and what it says.
func aPair(l *Line) (label, value string, ok bool) {
	var said []string
	for i := range l.Cells {
		if text := strings.TrimFunc(l.Cells[i].Text, isSpace); text != "" {
			said = append(said, Normal(text))
		}
	}
	const two = 2
	if len(said) != two {
		return "", "", false
	}
	return said[0], said[1], true
}

// unit is that of its titles.
func (h headRow) unit() unit {
	for _, t := range h.titles {
		if u, ok := unitIn(t); ok {
			return u
		}
	}
	return unit{}
}

// spansOf gives the columns of the tables whose heads a row is; none where it is no row
// of heads. Tables stand beside each other where an empty column parts them and each
// names columns of its own.
func (s *Sheet) spansOf(l *Line) (spans [][2]int, texts string) {
	var runs [][2]int
	var all []string
	for i := range l.Cells {
		text := strings.TrimFunc(l.Cells[i].Text, isSpace)
		if text == "" {
			continue
		}
		if l.Cells[i].Kind == Uncalculated || strings.HasSuffix(text, ":") {
			return nil, ""
		}
		if n := len(runs); n > 0 && runs[n-1][1] == i-1 {
			runs[n-1][1] = i
		} else {
			runs = append(runs, [2]int{i, i})
		}
		all = append(all, Normal(text))
	}
	if len(all) < 2 {
		return nil, ""
	}
	if again := beginAlike(l, runs); again {
		return beside(runs), strings.Join(all, "|")
	}
	for _, r := range runs {
		if headsTable(l.Cells[r[0] : r[1]+1]) {
			spans = append(spans, r)
		} else if n := len(spans); n > 0 {
			spans[n-1][1] = r[1] // it goes on behind a gap
		}
	}
	if len(spans) < 2 {
		if !headsTable(l.Cells) {
			return nil, ""
		}
		return [][2]int{{0, farRight}}, strings.Join(all, "|")
	}
	return beside(spans), strings.Join(all, "|")
}

// beside gives what stands under no head to the table to its left, lest it be lost.
func beside(spans [][2]int) [][2]int {
	spans[0][0], spans[len(spans)-1][1] = 0, farRight
	for i := 1; i < len(spans); i++ {
		spans[i-1][1] = spans[i][0] - 1
	}
	return spans
}

// beginAlike tells runs of cells beside each other that each begin with the same name of a
// column, and have more: tables of one make, whose other heads may be codes.
func beginAlike(l *Line, runs [][2]int) bool {
	const few = 2
	if len(runs) < few {
		return false
	}
	first := Normal(l.Cells[runs[0][0]].Text)
	if column, weight := called(record.Costs.Kind, first, nil); weight < 2 || column != "period" && column != "cost_code" && column != "project" {
		return false
	}
	for _, r := range runs {
		if r[1] == r[0] || Normal(l.Cells[r[0]].Text) != first {
			return false
		}
	}
	return true
}

// headsTable tells whether cells name two columns of a table, or one and periods, and
// little else.
func headsTable(cells []Cell) bool {
	times, others, sums := 0, 0, 0
	var labels []string
	for _, c := range cells {
		text := strings.TrimFunc(c.Text, isSpace)
		switch label, _ := unitOf(text); {
		case text == "":
		case c.Kind == Number || isPlain(text):
			others++
		case isTotal(text):
			sums++
		case speaksOfTime(c):
			times++
		default:
			labels = append(labels, label)
		}
	}
	if len(labels) == 1 && times == 1 && saysTime(labels[0]) {
		return false // a label, and the month or day that it says
	}
	const most = 3 // labels that are no name, for each that is one
	if len(labels) == 0 || others > 0 {
		return false
	}
	for _, t := range record.Kinds() {
		if t.Own {
			continue
		}
		named := make(map[string]bool)
		for _, label := range labels {
			if column, weight := called(t, label, nil); weight > 1 {
				named[column] = true
			}
		}
		if (len(named) > 1 || len(named) == 1 && times > 0) && len(labels)-len(named) < most*(len(named)+times) {
			return true
		}
	}
	return false
}

// saysTime tells a label of a period or a day: "Month", "Date".
func saysTime(label string) bool {
	for _, t := range [...]*record.Kind{record.Costs.Kind, record.Postings.Kind} {
		column, weight := called(t, label, nil)
		if j := t.Index(column); weight > 1 && j >= 0 && (t.Columns[j].Type == record.Period || isDay(t.Columns[j].Type)) {
			return true
		}
	}
	return false
}

// speaksOfTime tells a head that is a month, a period or a day, by its words alone.
func speaksOfTime(c Cell) bool {
	if c.Kind == Number {
		return false
	}
	text := bareHead(c.Text)
	if readDay(text).any() {
		return true
	}
	for _, w := range headWords(text) {
		if monthNamed(w) != 0 || periodHead.MatchString(w) && w != "p" {
			return true
		}
	}
	return false
}
