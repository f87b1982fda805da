package gather

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
)

// parted gives the labels of the sheets of a text, each with its rows.
func parted(t testing.TB, body string) map[string][]string {
	sheets, refused := Sheets(&File{Name: "a.csv", Body: []byte(body)}, DefaultLimits)
	require.Empty(t, refused)
	out := make(map[string][]string)
	for _, s := range sheets {
		s.Each(func(l *Line) bool {
			if !l.Blank() {
				out[s.Name] = append(out[s.Name], fmt.Sprint(l.N, " ", textOf(l)))
			}
			return true
		})
	}
	return out
}

// TestParts: tables below and beside each other are parted, each with the titles that it
// stands under; one table with heads again, gaps or a remark stays whole.
func TestParts(t *testing.T) {
	for _, c := range []struct {
		body string
		want map[string][]string
	}{
		{"Project;Account;Jan 2027\nA;1;2\n", map[string][]string{"": {"1 Project Account Jan 2027", "2 A 1 2"}}},
		{
			"Report;;\n;;\nActual cost;;\nProject;Account;Nov 2026\nA;1;2\n;;\nForecast;;\nProject;Account;Jan 2027\nA;1;3\n",
			map[string][]string{
				"rows 3 to 6": {"1 Report", "3 Actual cost", "4 Project Account Nov 2026", "5 A 1 2"},
				"rows from 7": {"1 Report", "7 Forecast", "8 Project Account Jan 2027", "9 A 1 3"},
			},
		},
		{
			"A;;;;B;;\nAccount;Jan 2027;;;Account;Jan 2027\n1;2;beside;;1;3\n",
			map[string][]string{
				"columns A to D": {"1 A", "2 Account Jan 2027", "3 1 2 beside"},
				"columns from E": {"1 B", "2 Account Jan 2027", "3 1 3"},
			},
		},
		{ // the same heads again, as prints have
			"Project;Account;Jan 2027\nA;1;2\n;;\nProject;Account;Jan 2027\nB;1;2\n",
			map[string][]string{"": {"1 Project Account Jan 2027", "2 A 1 2", "4 Project Account Jan 2027", "5 B 1 2"}},
		},
		{ // the same heads under another kind of amount
			"Plan;;\nProject;Account;Jan 2027\nA;1;2\n;;\nForecast;;\nProject;Account;Jan 2027\nB;1;2\n",
			map[string][]string{
				"rows 1 to 4": {"1 Plan", "2 Project Account Jan 2027", "3 A 1 2"},
				"rows from 5": {"5 Forecast", "6 Project Account Jan 2027", "7 B 1 2"},
			},
		},
		{ // a gap between heads parts nothing that has no heads of its own
			"Project;Account;;Jan 2027;Feb 2027\nA;1;;2;3\n",
			map[string][]string{"": {"1 Project Account Jan 2027 Feb 2027", "2 A 1 2 3"}},
		},
	} {
		require.Equal(t, c.want, parted(t, c.body), c.body)
	}
}

// FuzzParts: whatever stands in a file, every cell of it is in some part, and reading it
// ends without a fault.
func FuzzParts(f *testing.F) {
	for _, seed := range []string{
		"Project;Account;Jan 2027\nA;1;2\n\nForecast\nProject;Account;Feb 2027\nA;1;3\n",
		"A;;;B\nAccount;Jan 2027;;Account;Jan 2027\n1;2;;1;3\nTotal;2;;;3\n",
		"Doc   Date        Amount\n----  ----------  ------\n4001  2026-11-03   12.50\n",
		"Project;D/C;Amount;Date;Doc\nA;C;5;2026-11-03;1\nA;D;7;2026-11-03;2\n",
		"Project:;A\nSummary:;Well.\nNext:;On.\nProject:;B\nSummary:;Well.\nNext:;On.\n",
		"Cost code;Year;Month;Amount\n1;2026;12;5\n",
	} {
		f.Add(seed)
	}
	o := options()
	o.Names = someNames()
	f.Fuzz(func(t *testing.T, body string) {
		sheets, _ := Sheets(&File{Name: "a.csv", Body: []byte(body)}, o.Limits)
		whole, _ := open(&File{Name: "a.csv", Body: []byte(body)}, o.Limits)
		have := make(map[string]bool)
		for _, s := range sheets {
			s.Each(func(l *Line) bool {
				for _, c := range l.Cells {
					have[fmt.Sprint(l.N, strings.TrimSpace(c.Text))] = true
				}
				return true
			})
			u := Understand(s, o, Mapping{})
			u.Read(o, func(*portfolio.Row, func() map[string]string) {}, func(Refusal) {})
			u.Anatomy(o, 20)
		}
		for _, s := range whole {
			s.Each(func(l *Line) bool {
				for _, c := range l.Cells {
					if strings.TrimSpace(c.Text) != "" && !have[fmt.Sprint(l.N, strings.TrimSpace(c.Text))] {
						t.Fatalf("%q of row %d is in no part", c.Text, l.N)
					}
				}
				return true
			})
		}
	})
}

// TestSplitAt: a sheet is parted where someone says that a table begins, each part with the
// rows that it has in the sheet; without a row it is the sheet.
func TestSplitAt(t *testing.T) {
	s := Grid("Costs.csv", "", []int{1, 2, 3, 4, 5}, [][]string{{"a"}, {"b"}, {"c"}, {"d"}, {"e"}})
	rows := func(s *Sheet) (out []int) {
		s.Each(func(l *Line) bool { out = append(out, l.N); return true })
		return out
	}
	require.Equal(t, []*Sheet{s}, s.SplitAt(nil))
	parts := s.SplitAt([]int{4, 3, 4})
	require.Len(t, parts, 3)
	for i, want := range []struct {
		label string
		rows  []int
	}{{"Costs.csv, rows 1 to 2", []int{1, 2}}, {"Costs.csv, rows 3 to 3", []int{3}}, {"Costs.csv, rows from 4", []int{4, 5}}} {
		require.Equal(t, want.label, parts[i].Label())
		require.Equal(t, want.rows, rows(parts[i]))
	}
	again := parts[2].SplitAt([]int{5})
	require.Len(t, again, 2)
	require.Equal(t, []int{5}, rows(again[1]))
}

// TestSplitOfOneHead: a part without heads of its own has those above it, and its own rows.
func TestSplitOfOneHead(t *testing.T) {
	s := Grid("Costs.csv", "", []int{1, 2, 3, 4}, [][]string{{"Cost code", "Jan 2027"}, {"110", "1"}, {"110", "2"}, {"120", "3"}})
	parts := s.SplitAt([]int{3})
	u := Understand(parts[1], options(), Mapping{Fixed: map[string]string{"project": "P1", "kind": "forecast", "version": "2026-12"}})
	require.Equal(t, "costs", u.Table)
	require.Equal(t, 1, u.Head)
	require.Equal(t, 2, u.Rows)
}
