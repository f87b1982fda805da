package gather

import (
	"strings"

	"turret/internal/record"
)

// A workbook may have a cover: a sheet of labels and values that say of all its sheets
// whose they are, and of when.

// covered finds the one cover of a workbook, and tells the other sheets what it says.
func covered(sheets []*Sheet) {
	var cover *Sheet
	var says []string
	for _, s := range sheets {
		lines, ok := s.covers()
		if !ok {
			continue
		}
		if cover != nil {
			return // they are forms
		}
		cover, says = s, lines
	}
	if cover == nil || len(sheets) < 2 {
		return
	}
	cover.isCover = true
	for _, s := range sheets {
		s.cover = says
	}
}

// covers gives what a sheet of nothing but labels and values says of others; ok is false
// where it is none, or says nothing of them.
func (s *Sheet) covers() (says []string, ok bool) {
	const most, few = 40, 2 // rows, and cells of each
	n, fits := 0, true
	s.Each(func(l *Line) bool {
		if l.Wrong != "" {
			fits = false
		}
		if l.Wrong != "" || l.Blank() {
			return fits
		}
		var said []string
		for i := range l.Cells {
			if l.Cells[i].Kind == Uncalculated {
				fits = false
			}
			if text := strings.TrimFunc(s.textAt(l, i), isSpace); text != "" {
				said = append(said, text)
			}
		}
		if n++; n > most || len(said) > few || sectionOf(strings.TrimSuffix(said[0], ":")) != "" {
			fits = false
		}
		label, value, pair := strings.Cut(said[0], ":")
		if !pair || strings.TrimSpace(value) == "" {
			label, value = strings.TrimSuffix(said[0], ":"), strings.Join(said[1:], " ")
		}
		if value = strings.TrimSpace(value); value == "" {
			if _, unit := unitIn(label); unit {
				says = append(says, label)
			}
			return fits
		}
		column, weight := called(record.Costs.Kind, label, nil)
		_, unit := unitIn(value)
		switch {
		case weight == 0 && !unit:
		case column == "project" || column == "period" || column == "version" || column == "currency" || unit:
			says = append(says, label+": "+value)
		}
		return fits
	})
	return says, fits && len(says) > 0
}

// textAt is a cell as the spreadsheet shows it.
func (s *Sheet) textAt(l *Line, i int) string {
	if shown := s.shown[l.N]; i < len(shown) && l.Cells[i].Kind == Number && showsDay(shown[i]) {
		if d := serialDay(l.Cells[i].Text, s.from1904); d != 0 {
			return d.String()
		}
	}
	return l.Cells[i].Text
}
