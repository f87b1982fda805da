package gather

import (
	"fmt"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// TestRandomLedgers: clean bookings, printed as ledgers print them, with pages, heads
// again, sums, debit and credit, days of any order, documents of several lines or none,
// come back as they were, or something is asked or refused; never do others come.
func TestRandomLedgers(t *testing.T) {
	tries := 300
	if testing.Short() {
		tries = 15
	}
	o := options()
	o.Names = someNames()
	taken := 0
	for seed := range uint64(tries) {
		s := &sender{Rand: rand.New(rand.NewPCG(seed, 11))}
		s.comma = s.IntN(2) == 0
		want := make(map[string]int)
		style := s.IntN(3) // day, month and year
		date := func(d int) string {
			switch style {
			case 0:
				return fmt.Sprintf("2026-11-%02d", d)
			case 1:
				return fmt.Sprintf("%02d.11.2026", d)
			}
			return fmt.Sprintf("%02d/11/2026", d)
		}
		documents, credit, pages, sums := s.IntN(3), s.IntN(2) == 0, s.IntN(2) == 0, s.IntN(2) == 0
		head := []string{"Posting date", "Project", "Account", "Text"}
		if documents > 0 {
			head = append([]string{"Document"}, head...)
		}
		if documents == 2 {
			head = append(head, "Item")
		}
		if credit {
			head = append(head, "Debit", "Credit")
		} else {
			head = append(head, "Amount")
		}
		s.line("General ledger", "Period 11/2026")
		if pages {
			s.line("Page 1")
		}
		s.line(head...)
		doc, item := 7000, 0
		var total int64
		for i := range 5 + s.IntN(20) {
			if doc++; documents == 2 && item > 0 && s.IntN(3) == 0 {
				doc--
			} else {
				item = 0
			}
			item++
			project, code := []string{"N-100", "0042", "0043", "H-211"}[s.IntN(4)], []string{"120", "210"}[s.IntN(2)]
			day, cents := 1+s.IntN(28), s.Int64N(900_000_00)-100_000_00
			want[fmt.Sprintf("%s %s 2026-11-%02d %d", project, code, day, cents)]++
			total += cents
			line := []string{date(day), s.project(project), s.code(code), []string{"Hire", "Total station hire", "Report", ""}[s.IntN(4)]}
			if documents > 0 {
				line = append([]string{strconv.Itoa(doc)}, line...)
			}
			if documents == 2 {
				line = append(line, strconv.Itoa(item))
			}
			switch {
			case !credit:
				line = append(line, s.number(cents))
			case cents < 0:
				line = append(line, "", s.number(-cents))
			default:
				line = append(line, s.number(cents), "")
			}
			s.line(line...)
			if pages && i%7 == 6 {
				s.line("Page " + strconv.Itoa(2+i/7))
				s.line(head...)
			}
		}
		if sums && !credit {
			line := make([]string, len(head))
			line[0], line[len(head)-1] = "Total", s.number(total)
			s.line(line...)
		}
		body := s.file()
		u := Understand(theSheet(t, body, o), o, Mapping{})
		if !u.Ready() {
			continue
		}
		refused := 0
		numbers := make(map[string]bool)
		u.Read(o, func(r *portfolio.Row, _ func() map[string]string) {
			f := func(c string) portfolio.Field { return r.Fields[u.table().Index(c)] }
			whole, part, _ := strings.Cut(strings.TrimPrefix(f("amount").Text, "-"), ".")
			n, _ := strconv.ParseInt(whole+(part + "00")[:2], 10, 64)
			if strings.HasPrefix(f("amount").Text, "-") {
				n = -n
			}
			key := fmt.Sprintf("%s %s %s %d", f("project").Text, f("cost_code").Text, calendar.Date(f("date").Int), n)
			require.Positive(t, want[key], "seed %d: nobody booked %s; the file is\n%s\nread as %+v\n%v", seed, key, body, u.Layout, u.Notes)
			if want[key]--; want[key] == 0 {
				delete(want, key)
			}
			require.False(t, numbers[f("posting").Text], "seed %d: two have the number %s in\n%s", seed, f("posting").Text, body)
			numbers[f("posting").Text] = true
		}, func(Refusal) { refused++ })
		if len(want) == 0 {
			taken++
		}
		require.True(t, len(want) == 0 || refused > 0, "seed %d: lost without a word: %v; the file is\n%s\nread as %+v\n%v", seed, want, body, u.Layout, u.Notes)
	}
	t.Logf("%d of %d were taken whole", taken, tries)
	require.Greater(t, taken*100/tries, 75, "percent that are taken whole")
}
