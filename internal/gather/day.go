package gather

import (
	"strconv"
	"strings"
	"sync"

	"turret/internal/core/calendar"
)

// The orders of a date. A date whose month is a word, or whose year stands
// first, reads alike in all of them.
const (
	YearFirst  = "year first"
	DayFirst   = "day first"
	MonthFirst = "month first"
)

// dayReadings are the days that a text can mean, by order; zero: none.
//
// Short is that of two digits for the year, first: 26/11/03.
type dayReadings struct{ year, day, month, short calendar.Date }

func (d dayReadings) in(order string) calendar.Date {
	switch order {
	case DayFirst:
		return d.day
	case MonthFirst:
		return d.month
	case ShortYear:
		return d.short
	}
	return d.year
}

// one is the day that a text means, whichever way it is read; zero where ways differ.
func (d dayReadings) one() calendar.Date {
	if d.year == d.day && d.day == d.month {
		return d.day
	}
	switch {
	case d.day == 0 && d.month == 0:
		return d.year
	case d.year == 0 && d.month == 0:
		return d.day
	case d.year == 0 && d.day == 0:
		return d.month
	}
	return 0
}

func (d dayReadings) any() bool { return d.year != 0 || d.day != 0 || d.month != 0 }

// readDay finds what a text can mean as a day. A time of day behind it is left
// out.
func readDay(text string) (out dayReadings) {
	s, _ := dayMark(strings.TrimFunc(text, isSpace))
	if len(s) < 6 || len(s) > 40 {
		return out
	}
	if i := strings.IndexByte(s, 'T'); i == 10 && allDigits(s[8:10]) {
		s = s[:i]
	} else if i := strings.IndexByte(s, ':'); i > 2 { // 5 Nov 2026 14:30
		if j := strings.LastIndexByte(s[:i], ' '); j > 0 {
			s = s[:j]
		}
	}
	all := func(d calendar.Date) dayReadings { return dayReadings{d, d, d, 0} }
	if len(s) == 8 && allDigits(s) {
		return all(dayOf(s[:4], s[4:6], s[6:]))
	}
	tokens, seps, weekday := splitDay(s)
	if len(tokens) != 3 {
		return out
	}
	for i, t := range tokens {
		if allDigits(t) {
			continue
		}
		m := monthNamed(t)
		if m == 0 {
			return out
		}
		month := strconv.Itoa(m)
		switch {
		case i == 1 && len(tokens[0]) == 4:
			return all(dayOf(tokens[0], month, tokens[2]))
		case i == 1:
			return all(dayOf(tokens[2], month, tokens[0]))
		case i == 0:
			return all(dayOf(tokens[2], month, tokens[1]))
		case len(tokens[0]) == 4:
			return all(dayOf(tokens[0], month, tokens[1]))
		}
		return out
	}
	if len(tokens[0]) == 4 {
		return all(dayOf(tokens[0], tokens[1], tokens[2]))
	}
	if len(tokens[0]) == 2 {
		out.short = dayOf("20"+tokens[0], tokens[1], tokens[2])
	}
	out.day = dayOf(tokens[2], tokens[1], tokens[0])
	if seps != "." { // points part days from months everywhere
		out.month = dayOf(tokens[2], tokens[0], tokens[1])
	}
	if weekday > 0 && out.day != out.month { // Tue 03/11/26 is the third of November
		switch day, month := isoWeekday(out.day) == weekday, isoWeekday(out.month) == weekday; {
		case day && !month:
			out.month = 0
		case month && !day:
			out.day = 0
		}
	}
	return out
}

// splitDay gives the digits and words of a date, the first mark between them, and
// apart the day of the week, from 1 for Monday, or 0.
func splitDay(s string) (tokens []string, sep string, weekday int) {
	begin := -1
	flush := func(end int) {
		if begin >= 0 {
			t := s[begin:end]
			day := 0
			if !allDigits(t) {
				day = weekdayNamed(t)
			}
			if day == 0 {
				tokens = append(tokens, t)
			} else {
				weekday = day
			}
			begin = -1
		}
	}
	for i, r := range s {
		digit := r >= '0' && r <= '9'
		letter := r > 127 && !isSpace(r) || r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z'
		switch {
		case digit || letter:
			if begin >= 0 && digit != (s[begin] >= '0' && s[begin] <= '9') {
				flush(i)
			}
			if begin < 0 {
				begin = i
			}
		case r == '.' || r == '/' || r == '-' || r == ',' || r == '\'' || isSpace(r):
			flush(i)
			if sep == "" {
				sep = string(r)
			}
		default:
			return nil, "", 0
		}
	}
	flush(len(s))
	return tokens, sep, weekday
}

// weekdays are the names of days, from Monday: English, German, French, Norwegian and
// Spanish.
var weekdays = [...]string{
	"monday tuesday wednesday thursday friday saturday sunday",
	"montag dienstag mittwoch donnerstag freitag samstag sonntag",
	"lundi mardi mercredi jeudi vendredi samedi dimanche",
	"mandag tirsdag onsdag torsdag fredag lordag sondag",
	"lunes martes miercoles jueves viernes sabado domingo",
}

// isoWeekday numbers the days of the week from 1 for Monday.
func isoWeekday(d calendar.Date) int { return (int(d.Time().Weekday())+6)%7 + 1 }

// weekdayNamed gives the number of a day of the week, whole or its first letters, from
// 1 for Monday; 0 where it is none, and −1 where languages differ about it.
func weekdayNamed(s string) int {
	s = Normal(s)
	if len(s) < 2 || allDigits(s) || monthNamed(s) != 0 {
		return 0
	}
	return weekdaysBegun()[s]
}

// weekdaysBegun are the beginnings of the names of weekdays; -1 where one may be several.
var weekdaysBegun = sync.OnceValue(func() map[string]int {
	out := make(map[string]int)
	for _, names := range weekdays {
		for i, d := range strings.Fields(names) {
			for n := range d {
				begins(out, d[:n], i+1)
			}
			begins(out, d, i+1)
		}
	}
	return out
})

// century is added to years of two digits.
const century = 2000

// dayOf gives a day that exists within the days that Turret accepts, or zero.
func dayOf(year, month, day string) calendar.Date {
	if len(year) != 4 && len(year) != 2 || len(month) > 2 || len(day) > 2 {
		return 0
	}
	y, err1 := strconv.Atoi(year)
	m, err2 := strconv.Atoi(month)
	d, err3 := strconv.Atoi(day)
	if err1 != nil || err2 != nil || err3 != nil {
		return 0
	}
	if len(year) == 2 {
		y += century
	}
	out := calendar.DateOf(y, m, d)
	if yy, mm, dd := out.Split(); yy != y || mm != m || dd != d || out < calendar.Earliest || out > calendar.Latest {
		return 0
	}
	return out
}

// countedDay reads the number of a day as spreadsheets count it, where it stands as text and
// can be nothing else: five digits, of a day from 2009 to 2064.
func countedDay(text string) calendar.Date {
	const digits, from, to = 5, "40000", "60000"
	if len(text) != digits || !allDigits(text) || text < from || text > to {
		return 0
	}
	return serialDay(text, false)
}

// serialDay reads a day of a spreadsheet, which counts from the end of 1899,
// or from 1904.
func serialDay(text string, from1904 bool) calendar.Date {
	f, err := strconv.ParseFloat(text, 64)
	if err != nil || f < 1 || f > 120_000 {
		return 0
	}
	begin := calendar.DateOf(1899, 12, 30)
	if from1904 {
		begin = calendar.DateOf(1904, 1, 1)
	} else if f < 61 { // before its leap day that never was
		begin++
	}
	return begin + calendar.Date(f)
}

// months are the names of months that people write, beside their first three
// letters: English, German, French, Norwegian and Spanish.
var months = func() map[string]int {
	out := make(map[string]int)
	for _, names := range [...]string{
		"january february march april may june july august september october november december",
		"januar februar marz april mai juni juli august september oktober november dezember",
		"janvier fevrier mars avril mai juin juillet aout septembre octobre novembre decembre",
		"januar februar mars april mai juni juli august september oktober november desember",
		"enero febrero marzo abril mayo junio julio agosto septiembre octubre noviembre diciembre",
		"jan feb mar apr may jun jul aug sep oct nov dec",
		"jan feb mrz apr mai jun jul aug sept okt nov dez",
		"janv fev mars avr mai juin juil aout sept oct nov dec",
		"ene feb mar abr may jun jul ago sep oct nov dic",
		"jan feb maer apr mai jun jul aug sept okt nov des",
		"gennaio febbraio marzo aprile maggio giugno luglio agosto settembre ottobre novembre dicembre",
		"gen feb mar apr mag giu lug ago set ott nov dic",
		"januari februari maart april mei juni juli augustus september oktober november december",
		"jan feb mrt apr mei jun jul aug sep okt nov dec",
		"januari februari mars april maj juni juli augusti september oktober november december",
		"januar februar marts april maj juni juli august september oktober november december",
	} {
		for i, n := range strings.Fields(names) {
			out[n] = i + 1
		}
	}
	return out
}()

// monthNamed gives the number of a month's name, whole or its first letters, or zero:
// févr. is February, and ma, which March and May begin with, is none.
func monthNamed(s string) int {
	n := Normal(s)
	if m := months[n]; m != 0 {
		return m
	}
	const few = 3 // letters
	if len(n) < few || strings.Contains(n, " ") {
		return 0
	}
	return max(monthsBegun[n], 0)
}

// monthsBegun are the beginnings of the names of months, to the one month that each may be;
// -1 where it may be several.
var monthsBegun = func() map[string]int {
	out := make(map[string]int)
	for name, m := range months {
		for n := range name {
			begins(out, name[:n], m)
		}
		begins(out, name, m)
	}
	return out
}()

// begins notes what a beginning may stand for.
func begins(to map[string]int, text string, n int) {
	if was, there := to[text]; there && was != n {
		n = -1
	}
	to[text] = n
}
