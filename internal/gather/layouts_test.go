package gather

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
)

// amount is one amount of a clean table.
type amount struct {
	project, code, kind, period string
	cents                       int64
}

func (a amount) String() string {
	return fmt.Sprintf("%s %s %s %s %d.%02d", a.project, a.code, a.kind, a.period, a.cents/100, a.cents%100)
}

// sender writes clean amounts as somebody would: in one layout of many, with one way to
// write numbers, months, codes and titles.
type sender struct {
	*rand.Rand
	rows [][]string
	comma,
	thousands bool
	lang int
}

var (
	senderNames = map[string]string{
		"N-100": "Northgate Substation",
		"0042":  "Ticketing Platform",
		"0043":  "Staff Portal",
		"H-211": "Quay Wall",
	}
	sentHeads = [...]map[string]string{
		{
			"project":  "Project",
			"code":     "Cost code",
			"period":   "Month",
			"amount":   "Amount",
			"total":    "Total",
			"forecast": "Forecast",
			"actual":   "Actual",
			"plan":     "Budget",
		},
		{
			"project":  "Projekt",
			"code":     "Kostenart",
			"period":   "Monat",
			"amount":   "Betrag",
			"total":    "Summe",
			"forecast": "Prognose",
			"actual":   "Ist",
			"plan":     "Plan",
		},
		{
			"project":  "Prosjekt",
			"code":     "Konto",
			"period":   "Periode",
			"amount":   "Beløp",
			"total":    "Sum",
			"forecast": "Prognose",
			"actual":   "Actual",
			"plan":     "Budget",
		},
		{
			"project":  "Projet",
			"code":     "Compte",
			"period":   "Mois",
			"amount":   "Montant",
			"total":    "Total",
			"forecast": "Prévision",
			"actual":   "Réalisé",
			"plan":     "Budget",
		},
	}
	senderCodes = map[string]string{"0110": "Reserve", "120": "Contractors", "210": "Steel"}
	monthWords  = [...][]string{
		strings.Fields("Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec"),
		strings.Fields("Januar Februar März April Mai Juni Juli August September Oktober November Dezember"),
		strings.Fields("jan feb mars april mai juni juli aug sept okt nov des"),
		strings.Fields("janv. févr. mars avr. mai juin juil. août sept. oct. nov. déc."),
	}
)

func (s *sender) word(w string) string { return sentHeads[s.lang][w] }

func (s *sender) month(period string) string {
	y, m, _ := strings.Cut(period, "-")
	n, _ := strconv.Atoi(m)
	switch s.IntN(4) {
	case 0:
		return period
	case 1:
		return m + "/" + y
	case 2:
		return monthWords[s.lang][n-1] + " " + y
	}
	return monthWords[s.lang][n-1] + " " + y[2:]
}

func (s *sender) number(cents int64) string {
	if s.thousands {
		cents /= 1000 // amounts are whole thousands then
	}
	neg := cents < 0
	if neg {
		cents = -cents
	}
	whole := strconv.FormatInt(cents/100, 10)
	group, mark := "", "."
	switch {
	case s.comma && s.IntN(2) == 0:
		group, mark = ".", ","
	case s.comma:
		group, mark = " ", ","
	case s.IntN(2) == 0:
		group = ","
	}
	if group != "" {
		for i := len(whole) - 3; i > 0; i -= 3 {
			whole = whole[:i] + group + whole[i:]
		}
	}
	out := whole + mark + fmt.Sprintf("%02d", cents%100)
	switch {
	case neg && s.IntN(2) == 0:
		return "(" + out + ")"
	case neg:
		return "-" + out
	}
	return out
}

func (s *sender) project(code string) string {
	switch s.IntN(4) {
	case 0:
		return senderNames[code]
	case 1:
		return strings.TrimLeft(strings.ToLower(code), "0")
	}
	return code
}

func (s *sender) code(code string) string {
	if s.IntN(4) == 0 {
		return strings.TrimLeft(code, "0")
	}
	return code
}

func (s *sender) line(cells ...string) { s.rows = append(s.rows, cells) }

// titles stand above: what it is, of when, in which unit, and remarks that mean nothing.
func (s *sender) titles(kind string) {
	title := s.word(kind)
	if kind == "forecast" || s.IntN(2) == 0 {
		title += " November 2026"
	}
	s.line(title)
	if s.thousands {
		s.line(
			[...]string{"Amounts in EUR thousands", "in TEUR", "All figures in EUR '000", "Alle Beträge in Tsd. EUR"}[s.IntN(4)],
		)
	} else if s.IntN(2) == 0 {
		s.line("All amounts in EUR")
	}
	if s.IntN(3) == 0 {
		s.line(
			[...]string{"Comment any variance above 50k.", "Please return by working day 3, not in thousands.", "Version 2 of 2"}[s.IntN(3)],
		)
	}
	if s.IntN(2) == 0 {
		s.line("")
	}
}

// write writes amounts of one kind in a layout.
func (s *sender) write(list []amount, kind string) {
	by := make(map[[2]string]map[string]int64)
	var keys [][2]string
	var periods, projects []string
	for _, a := range list {
		k := [2]string{a.project, a.code}
		if by[k] == nil {
			by[k] = make(map[string]int64)
			keys = append(keys, k)
		}
		by[k][a.period] = a.cents
		if !slices.Contains(periods, a.period) {
			periods = append(periods, a.period)
		}
		if !slices.Contains(projects, a.project) {
			projects = append(projects, a.project)
		}
	}
	slices.Sort(periods)
	totals := s.IntN(2) == 0
	months := make([]string, len(periods))
	for i, p := range periods {
		months[i] = s.month(p)
	}
	across := func(k [2]string) (out []string) {
		var sum int64
		for _, p := range periods {
			if n, ok := by[k][p]; ok {
				out = append(out, s.number(n))
				sum += n
			} else {
				out = append(out, "")
			}
		}
		if totals {
			out = append(out, s.number(sum))
		}
		return out
	}
	head := months
	if totals {
		head = append(slices.Clone(months), s.word("total"))
	}
	switch s.IntN(10) {
	case 4: // each project stated once
		s.line(append([]string{s.word("project"), s.word("code")}, head...)...)
		for _, p := range projects {
			name := s.project(p)
			for _, k := range keys {
				if k[0] == p {
					s.line(append([]string{name, s.code(k[1])}, across(k)...)...)
					name = ""
				}
			}
		}
	case 5: // years above months
		years, bare := []string{"", ""}, []string{s.word("project"), s.word("code")}
		for i, p := range periods {
			y, m, _ := strings.Cut(p, "-")
			n, _ := strconv.Atoi(m)
			if i > 0 && s.IntN(2) == 0 {
				y = "" // merged with the one before
			}
			years, bare = append(years, y), append(bare, monthWords[s.lang][n-1])
		}
		if totals {
			years, bare = append(years, ""), append(bare, s.word("total"))
		}
		s.line(years...)
		s.line(bare...)
		for _, k := range keys {
			s.line(append([]string{s.project(k[0]), s.code(k[1])}, across(k)...)...)
		}
	case 6: // the kind beside each month
		line := []string{s.word("project"), s.word("code")}
		for _, m := range months {
			line = append(line, [...]string{s.word(kind) + " " + m, m + " " + s.word(kind)}[s.IntN(2)])
		}
		totals = false
		s.line(line...)
		for _, k := range keys {
			s.line(append([]string{s.project(k[0]), s.code(k[1])}, across(k)...)...)
		}
	case 7: // projects across
		if len(projects) < 2 {
			s.line(s.word("project"), s.word("code"), s.word("period"), s.word("amount"))
			for _, a := range list {
				s.line(s.project(a.project), s.code(a.code), s.month(a.period), s.number(a.cents))
			}
			return
		}
		line := []string{s.word("code"), s.word("period")}
		for _, p := range projects {
			line = append(line, [...]string{p, p + " " + senderNames[p], senderNames[p]}[s.IntN(3)])
		}
		s.line(line...)
		for _, code := range []string{"120", "210"} {
			for _, q := range periods {
				line, any := []string{s.code(code), s.month(q)}, false
				for _, p := range projects {
					n, ok := by[[2]string{p, code}][q]
					if any = any || ok; ok {
						line = append(line, s.number(n))
					} else {
						line = append(line, "")
					}
				}
				if any {
					s.line(line...)
				}
			}
		}
	case 8: // codes under headings, or projects and codes in one column
		s.line(append([]string{s.word("project")}, head...)...)
		for _, code := range []string{"120", "210"} {
			heading := false
			for _, k := range keys {
				if k[1] != code {
					continue
				}
				if !heading {
					s.line(s.word("code") + " " + code + " " + senderCodes[code])
					heading = true
				}
				s.line(append([]string{s.project(k[0])}, across(k)...)...)
			}
		}
	case 9: // the year and the month apart
		s.line(s.word("project"), s.word("code"), "Year", "Month", s.word("amount"))
		for _, a := range list {
			y, m, _ := strings.Cut(a.period, "-")
			s.line(s.project(a.project), s.code(a.code), y, strings.TrimLeft(m, "0"), s.number(a.cents))
		}
	case 3: // codes across, where there are several
		var codes []string
		for _, k := range keys {
			if !slices.Contains(codes, k[1]) {
				codes = append(codes, k[1])
			}
		}
		if len(codes) < 2 {
			codes = append(codes, "0110")
		}
		line := []string{s.word("project"), s.word("period")}
		for _, c := range codes {
			line = append(line, [...]string{c, c + " " + senderCodes[c], senderCodes[c]}[s.IntN(3)])
		}
		if totals {
			line = append(line, s.word("total"))
		}
		s.line(line...)
		for _, p := range projects {
			for _, q := range periods {
				line, sum, any := []string{s.project(p), s.month(q)}, int64(0), false
				for _, c := range codes {
					n, ok := by[[2]string{p, c}][q]
					if any = any || ok; ok {
						line, sum = append(line, s.number(n)), sum+n
					} else {
						line = append(line, "")
					}
				}
				if totals {
					line = append(line, s.number(sum))
				}
				if any {
					s.line(line...)
				}
			}
		}
	case 0: // a row for each amount
		s.line(s.word("project"), s.word("code"), s.word("period"), s.word("amount"))
		for _, a := range list {
			s.line(s.project(a.project), s.code(a.code), s.month(a.period), s.number(a.cents))
		}
	case 1: // months across
		s.line(append([]string{s.word("project"), s.word("code")}, head...)...)
		for _, k := range keys {
			s.line(append([]string{s.project(k[0]), s.code(k[1])}, across(k)...)...)
		}
	case 2: // projects stacked
		s.line(append([]string{s.word("code")}, head...)...)
		for _, p := range projects {
			s.line([...]string{p + " " + senderNames[p], senderNames[p], p}[s.IntN(3)])
			for _, k := range keys {
				if k[0] == p {
					s.line(append([]string{s.code(k[1])}, across(k)...)...)
				}
			}
			if s.IntN(2) == 0 {
				s.line("")
			}
		}
	}
}

func (s *sender) file() []byte {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	w.Comma = ';'
	wide := 0
	for _, r := range s.rows {
		wide = max(wide, len(r))
	}
	for _, r := range s.rows {
		_ = w.Write(append(slices.Clone(r), make([]string, wide-len(r))...))
	}
	w.Flush()
	return b.Bytes()
}

// TestRandomLayouts: clean amounts, written out by senders of every make, come back as
// they were, or something is asked or refused; never do others come.
func TestRandomLayouts(t *testing.T) {
	tries := 2000
	if testing.Short() {
		tries = 40
	}
	o := options()
	o.Names = someNames()
	taken := 0
	for seed := range uint64(tries) {
		s := &sender{Rand: rand.New(rand.NewPCG(seed, 7))}
		s.comma, s.thousands, s.lang = s.IntN(2) == 0, s.IntN(4) == 0, s.IntN(len(sentHeads))
		kind := [...]string{"forecast", "actual", "plan"}[s.IntN(3)]
		want := make(map[string]bool)
		var list []amount
		for _, project := range []string{"N-100", "0042", "0043", "H-211"}[:1+s.IntN(4)] {
			for _, code := range []string{"120", "210"}[:1+s.IntN(2)] {
				for m := range 1 + s.IntN(5) {
					a := amount{project, code, kind, fmt.Sprintf("2027-%02d", m+1), s.Int64N(90_000_00) - 5_000_00}
					if s.thousands {
						a.cents = a.cents / 1000 * 1000
					}
					list = append(list, a)
					want[a.String()] = true
				}
			}
		}
		s.titles(kind)
		s.write(list, kind)
		body := s.file()
		sheets, whole := Sheets(&File{Name: "return.csv", Body: body}, o.Limits)
		require.Empty(t, whole)
		refused := 0
		for _, sheet := range sheets {
			u := Understand(sheet, o, Mapping{})
			if !u.Ready() {
				refused++
				continue
			}
			u.Read(o, func(r *portfolio.Row, _ func() map[string]string) {
				f := func(c string) portfolio.Field { return r.Fields[u.table().Index(c)] }
				cents, places, _ := strings.Cut(f("amount").Text, ".")
				n, _ := strconv.ParseInt(strings.TrimPrefix(cents, "-"), 10, 64)
				p, _ := strconv.ParseInt((places + "00")[:2], 10, 64)
				n = n*100 + p
				if strings.HasPrefix(cents, "-") {
					n = -n
				}
				got := amount{
					f("project").Text,
					f("cost_code").Text,
					f("kind").Text,
					o.Periods.Code(periodOf(int32(f("period").Int))),
					n,
				}
				require.True(
					t,
					want[got.String()],
					"seed %d: nobody stated %s; the file is\n%s\nread as %+v\n%v",
					seed,
					got,
					body,
					u.Layout,
					u.Notes,
				)
				delete(want, got.String())
			}, func(Refusal) { refused++ })
		}
		if len(want) == 0 && refused == 0 {
			taken++
		}
		require.True(
			t,
			len(want) == 0 || refused > 0,
			"seed %d: lost without a word: %v; the file is\n%s",
			seed,
			want,
			body,
		)
	}
	t.Logf("%d of %d were taken whole", taken, tries)
	require.Greater(t, taken*100/tries, 75, "percent that are taken whole")
}

func theSheet(t testing.TB, body []byte, o *Options) *Sheet {
	t.Helper()
	sheets, refused := Sheets(&File{Name: "return.csv", Body: body}, o.Limits)
	require.Empty(t, refused)
	return sheets[0]
}
