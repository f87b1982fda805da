package gather

import (
	"fmt"
	"strings"
	"testing"

	"turret/internal/core/calendar"
)

// TestEntries: cells of predecessors as schedule tools and people write them.
func TestEntries(t *testing.T) {
	known := func(s string) bool {
		return wordsOf("3 9 14 a-120 a-120-2 b7 1.2 x1ss piling")[strings.ToLower(s)] || s == "Quay wall"
	}
	german, nordic := tongue{week: 5, german: true}, tongue{week: 5, nordic: true}
	for _, x := range []struct {
		text string
		in   tongue
		want string // of each entry: activity kind lag
	}{
		{"14FS+2 d; 9", tongue{week: 5}, "14 FS 2, 9 FS 0"},
		{"14FS+2d,9SS", tongue{week: 5}, "14 FS 2, 9 SS 0"},
		{"14, 9", tongue{week: 5}, "14 FS 0, 9 FS 0"},
		{"14 9", tongue{week: 5}, "14 FS 0, 9 FS 0"},
		{"14\n9FF", tongue{week: 5}, "14 FS 0, 9 FF 0"},
		{"14;", tongue{week: 5}, "14 FS 0"},
		{"14fs - 3 days", tongue{week: 5}, "14 FS -3"},
		{"14 FS +1 wk", tongue{week: 4}, "14 FS 4"},
		{"14FS+1,5 w;9", tongue{week: 4}, "14 FS 6, 9 FS 0"},
		{"14FS+2,9", tongue{week: 5}, "14 FS 2, 9 FS 0"},
		{"14SS+16 h", tongue{week: 5}, "14 SS 2"},
		{"14 (SS +2)", tongue{week: 5}, "14 SS 2"},
		{"14SS, 9", tongue{week: 5}, "14 SS 0, 9 FS 0"},
		{"14SS 9", tongue{week: 5}, "! can be a lag or another activity"},
		{"14: FF: 2", tongue{week: 5}, "14 FF 2"},
		{"14+2", tongue{week: 5}, "14 FS 2"},
		{"14-2d", tongue{week: 5}, "14 FS -2"},
		{"A-120", tongue{week: 5}, "A-120 FS 0"},
		{"A-120-2", tongue{week: 5}, "A-120-2 FS 0"},
		{"A-120-3 d", tongue{week: 5}, "A-120 FS -3"},
		{"A-120SS", tongue{week: 5}, "A-120 SS 0"},
		{"X1ss", tongue{week: 5}, "X1ss FS 0"},
		{"1.2FF", tongue{week: 5}, "1.2 FF 0"},
		{"FS 14", tongue{week: 5}, "14 FS 0"},
		{"Quay wall SS+2 d; Piling", tongue{week: 5}, "Quay wall SS 2, Piling FS 0"},
		{"14EA+2 Tage;9AA", german, "14 FS 2, 9 SS 0"},
		{"14EA+2t", german, "14 FS 2"},
		{"14AA; 9AS+1 d", nordic, "14 FF 0, 9 FS 1"},
		{"14FD+3 jours", tongue{week: 5}, "14 FS 3"},
		{"–", tongue{week: 5}, ""},
		{"", tongue{week: 5}, ""},
		{"99FS+2 d; 9", tongue{week: 5}, "99? FS 2, 9 FS 0"},
		{"Z-77", tongue{week: 5}, "Z-77? FS 0"},
		{"99+2 d", tongue{week: 5}, "99? FS 2"},
		{"99, 98FS+10%", tongue{week: 5}, "! percent"},
		// What cannot be kept is refused, and says so.
		{"14AA", tongue{week: 5}, "! AA is start-start"},
		{"14FS+10%", tongue{week: 5}, "! percent"},
		{"14FS+2 ed", tongue{week: 5}, "! days of any kind"},
		{"14FS+1 mo", tongue{week: 5}, "! months"},
		{"14FS+1.5 d", tongue{week: 5}, "! 1.50 working days"},
		{"14FS+2t", tongue{week: 5}, "! days or hours"},
		{"14FS+2 parsecs", tongue{week: 5}, "! no unit that is known"},
	} {
		list, why := x.in.entries(x.text, known)
		var got []string
		for _, e := range list {
			mark := ""
			if !e.found {
				mark = "?"
			}
			got = append(got, fmt.Sprintf("%s%s %s %d", e.ref, mark, e.kind, e.lag))
		}
		want, refused := strings.CutPrefix(x.want, "! ")
		if refused && !strings.Contains(why, want) || !refused && (why != "" || strings.Join(got, ", ") != want) {
			t.Errorf("%q is read as %q (%s), want %q", x.text, strings.Join(got, ", "), why, x.want)
		}
	}
}

// TestHear: which language the kinds of a column are in is told by its cells.
func TestHear(t *testing.T) {
	for _, x := range []struct {
		cells          []string
		german, nordic bool
	}{
		{[]string{"14EA+2 t", "9AA"}, true, false},
		{[]string{"9AA;3AS"}, false, true},
		{[]string{"14FS", "9"}, false, false},
		{[]string{"Bergen EAst"}, false, false},
	} {
		var got tongue
		for _, c := range x.cells {
			got.hear(c)
		}
		if got.german != x.german || got.nordic != x.nordic {
			t.Errorf("%q is german %v, nordic %v", x.cells, got.german, got.nordic)
		}
	}
}

// TestSpans: lengths of time, and the days that they lead to. 2026-03-02 is a Monday.
func TestSpans(t *testing.T) {
	c := calendar.New("", calendar.MondayToFriday, nil)
	monday := calendar.DateOf(2026, 3, 2)
	for _, x := range []struct {
		text, unit string
		last       string // of what begins on the Monday
		first      string // of what ends on it
	}{
		{"12 d", "", "2026-03-17", "2026-02-13"}, // 12 working days: Mon 2 … Fri 6, 9 … 13, 16, 17
		{"3 w", "", "2026-03-20", "2026-02-10"},  // 15 working days
		{"3 wks", "", "2026-03-20", "2026-02-10"},
		{"2,5 Wochen", "", "2026-03-18", "2026-02-12"}, // 12.5 days end within the 13th
		{"16 h", "", "2026-03-03", "2026-02-27"},
		{"10", "", "2026-03-13", "2026-02-17"},
		{"2", InWeeks, "2026-03-13", "2026-02-17"},
		{"10", InElapsed, "2026-03-11", "2026-02-21"},
		{"10 edays", "", "2026-03-11", "2026-02-21"},
		{"5 days?", "", "2026-03-06", "2026-02-24"},
		{"1 Tag", "", "2026-03-02", "2026-03-02"},
		{"0 d", "", "2026-03-02", "2026-03-02"},
		{"0 months", "", "2026-03-02", "2026-03-02"},
		{"4 sem.", "", "2026-03-27", "2026-02-03"},
		{"3t", InDays, "2026-03-04", "2026-02-26"},
	} {
		s, why := readSpan(x.text, x.unit, 5)
		if why != "" {
			t.Errorf("%q: %s", x.text, why)
			continue
		}
		if got := s.last(c, monday).String(); got != x.last {
			t.Errorf("%q from Monday ends on %s, want %s", x.text, got, x.last)
		}
		if got := s.first(c, monday).String(); got != x.first {
			t.Errorf("%q to Monday begins on %s, want %s", x.text, got, x.first)
		}
	}
	for text, want := range map[string]string{
		"2 months": "no fixed number", "50%": "no length of time", "3t": "days or hours", "soon": "no length of time", "-3 d": "no length of time",
		"4 parsecs": "no unit", "": "no length of time",
	} {
		if _, why := readSpan(text, "", 5); !strings.Contains(why, want) {
			t.Errorf("%q is refused by %q, want %q", text, why, want)
		}
	}
	if s, _ := readSpan("99999999999 d", "", 5); s.last(c, monday) != 0 {
		t.Error("a span beyond all days leads to a day")
	}
	saturday := calendar.DateOf(2026, 3, 7)
	if s, _ := readSpan("1 d", "", 5); s.last(c, saturday).String() != "2026-03-09" {
		t.Errorf("a day from a Saturday ends on %s, want the Monday after", s.last(c, saturday))
	}
}
