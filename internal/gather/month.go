package gather

import (
	"regexp"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
)

var (
	yearMonth  = regexp.MustCompile(`^20\d\d(0[1-9]|1[0-2])$`)
	fiscalHead = regexp.MustCompile(`^(?:fy|year|gj)?\s*(\d{4}|\d{2})(?:\s*[/-]\s*(\d{2,4}))?$`)
	periodHead = regexp.MustCompile(`^p(?:eriod)?\s*(\d{1,2})$`)
)

// readMonth reads a period as people head their columns: "2026-04", "Apr 26",
// "April 2026", "04/2026", "P01 FY27", a whole date, or, where the head above
// it tells the year, "Apr" or "P01" alone. A month without a year gives
// needsYear.
func readMonth(text, above string, ps *calendar.Periods) (p calendar.Period, needsYear bool) {
	s := strings.TrimFunc(text, isSpace)
	if s == "" || len(s) > 40 {
		return 0, false
	}
	if p, err := ps.Parse(s); err == nil {
		return p, false
	}
	if d := readDay(s); d.any() {
		if p := headed(d, ps); p != 0 {
			return p, false
		}
		if d.day != 0 && d.month != 0 && d.day != d.month { // a first of a month is not asked about
			switch _, _, dd := d.day.Split(); dd {
			case 1:
				return inMonth(d.day, ps), false
			default:
				return 0, false
			}
		}
		return inMonth(max(d.year, d.day, d.month), ps), false
	}
	if p := monthAndYear(s, ps); p != 0 {
		return p, false
	}
	month, period, year, fiscal, day := 0, 0, 0, false, false
	for _, t := range headWords(s) {
		switch m := monthNamed(t); {
		case m != 0 && month == 0:
			month = m
		case periodHead.MatchString(t) && period == 0:
			period, _ = strconv.Atoi(periodHead.FindStringSubmatch(t)[1])
		case year == 0:
			if year, fiscal = readYear(t); year == 0 {
				return 0, false
			}
			day = month == 0 && period == 0 && len(t) <= 2 && year%100 <= 31
		default:
			return 0, false
		}
	}
	if month == 0 && period == 0 {
		return 0, false
	}
	if day && month != 0 { // 30 Nov
		year, fiscal = 0, false
	}
	if year == 0 {
		if year, fiscal = readYear(above); year == 0 {
			return 0, true
		}
	}
	if period != 0 {
		return ps.InYear(year, period), false
	}
	if fiscal {
		for y := year - 1; y <= year; y++ {
			if p := ps.InMonth(y, month); p != 0 && ps.FiscalYear(p) == year {
				return p, false
			}
		}
		return 0, false
	}
	return ps.InMonth(year, month), false
}

// headed gives the period of the office's own that begins or ends on a day; zero
// where none does, or the day can be read as that of another.
func headed(d dayReadings, ps *calendar.Periods) (out calendar.Period) {
	if !ps.Own() {
		return 0
	}
	for _, day := range [...]calendar.Date{d.year, d.day, d.month} {
		p := ps.Of(day)
		if p == 0 || day != ps.First(p) && day != ps.Last(p) {
			continue
		}
		if out != 0 && out != p {
			return 0
		}
		out = p
	}
	return out
}

// inMonth gives the period that stands for the month of a day.
func inMonth(d calendar.Date, ps *calendar.Periods) calendar.Period {
	if d == 0 {
		return 0
	}
	y, m, _ := d.Split()
	return ps.InMonth(y, m)
}

// headWords parts a head into words; FY and P stay with their digits.
func headWords(s string) []string {
	words := strings.FieldsFunc(Normal(s), isSpace)
	var out []string
	for i := 0; i < len(words); i++ {
		w := words[i]
		if (w == "fy" || w == "p" || w == "period" || w == "gj") && i+1 < len(words) && allDigits(words[i+1]) {
			i++
			w += words[i]
		}
		if j := strings.IndexAny(w, "0123456789"); j > 0 && monthNamed(w[:j]) != 0 { // apr26
			out = append(out, w[:j], w[j:])
			continue
		}
		if y, ok := fiscalPair(words[i:]); ok { // fy2026 27
			out = append(out, y)
			i++
			continue
		}
		out = append(out, w)
	}
	return out
}

// fiscalPair joins a fiscal year of two that follow each other, as "fy2026 27".
func fiscalPair(words []string) (year string, ok bool) {
	const two = 2
	if len(words) < two || !allDigits(words[1]) || len(words[1]) != two && len(words[1]) != 4 {
		return "", false
	}
	first := strings.TrimPrefix(strings.TrimPrefix(words[0], "fy"), "gj")
	if len(first) != 4 || !allDigits(first) || !follows(first, words[1]) {
		return "", false
	}
	return words[0] + "/" + words[1], true
}

// readYear reads "2026", "FY27" or "2026/27"; the last two are fiscal.
func readYear(s string) (year int, fiscal bool) {
	s = strings.ToLower(strings.TrimFunc(s, isSpace))
	m := fiscalHead.FindStringSubmatch(s)
	if m == nil {
		return 0, false
	}
	y, fiscal := m[1], !(s[0] >= '0' && s[0] <= '9') && s[0] != 'y'
	if m[2] != "" {
		if strings.Contains(s, "-") && !follows(m[1], m[2]) {
			return 0, false // 2026-12 is a month
		}
		y, fiscal = m[2], true
	}
	year, err := strconv.Atoi(y)
	if err != nil {
		return 0, false
	}
	if year < 100 {
		year += century
	}
	if year < 1950 || year > 2150 {
		return 0, false
	}
	return year, fiscal
}

// follows tells whether a year, in two digits or four, is the one after another.
func follows(year, next string) bool {
	a, errA := strconv.Atoi(year)
	b, errB := strconv.Atoi(next)
	return errA == nil && errB == nil && (a+1)%100 == b%100
}

// monthAndYear reads "04/2026" and "2026/4".
func monthAndYear(s string, ps *calendar.Periods) calendar.Period {
	if yearMonth.MatchString(s) {
		return inMonth(dayOf(s[:4], s[4:], "1"), ps)
	}
	tokens, _, _ := splitDay(s)
	if len(tokens) != 2 || !allDigits(tokens[0]) || !allDigits(tokens[1]) {
		return 0
	}
	y, m := tokens[1], tokens[0]
	if len(y) != 4 {
		y, m = m, y
	}
	if len(y) != 4 || len(m) > 2 {
		return 0
	}
	return inMonth(dayOf(y, m, "1"), ps)
}
