package gather

import (
	"fmt"
	"math/big"
	"regexp"
	"strings"

	"turret/internal/core/calendar"
)

// A span is how long something takes, as people write it: "12 d", "3 wks", "2,5 Wochen",
// "16 h", "10". Days are working days unless its unit says that they are elapsed.

// span is a length of time in working days, or in days of any kind.
type span struct {
	days    *big.Rat
	elapsed bool // nights and weekends count
}

// What a bare number of a column of durations can be in.
const (
	InDays    = "working days"
	InWeeks   = "weeks"
	InElapsed = "calendar days"
)

// The words for units of time, tight: of hours, days, days of any kind, weeks and months.
var (
	spanHours   = wordsOf("h hr hrs hour hours std stunde stunden heure heures hora horas ora ore uur timer time timmar")
	spanDays    = wordsOf("d dy day days wd workday workdays workingday workingdays tg tag tage at arbeitstag arbeitstage j jr jour jours jo dag dager dage dagar dagen dgn dg dia dias g gg giorno giorni")
	spanElapsed = wordsOf("ed eday edays ewd elapsedday elapseddays calendarday calendardays cd kt kalendertag kalendertage ft ftag ftage je joursecoules joure jc")
	spanWeeks   = wordsOf("w wk wks week weeks wo woche wochen kw sem sm semaine semaines uke uker uge uger v vecka veckor semana semanas s sett settimana settimane weken wkn")
	spanMonths  = wordsOf("m mo mon mons mth mths month months monat monate mois mes meses mese mesi mnd maand maanden maned maneder man manad manader ms")
)

// vagueUnit is days in German and hours in Norwegian.
const vagueUnit = "t"

// hoursOfDay is how many hours are taken for a working day.
const hoursOfDay = 8

var spanForm = regexp.MustCompile(`^([0-9]+(?:[.,][0-9]+)?)\s*([\pL .]*?)\??$`)

// readSpan reads a span; unit is what a bare number is in, or "", week the working days of
// a week. A text that is none has a reason.
func readSpan(text, unit string, week int) (s span, why string) {
	m := spanForm.FindStringSubmatch(strings.TrimFunc(text, isSpace))
	if m == nil {
		return span{}, fmt.Sprintf("%q is no length of time; write days or weeks, as 12 d or 3 w", text)
	}
	n, ok := new(big.Rat).SetString(strings.Replace(m[1], ",", ".", 1))
	if !ok {
		return span{}, fmt.Sprintf("%q is no number", m[1])
	}
	switch word := tight(m[2]); {
	case word == "" && unit == InWeeks:
		return span{days: n.Mul(n, big.NewRat(int64(week), 1))}, ""
	case word == "":
		return span{days: n, elapsed: unit == InElapsed}, ""
	case word == vagueUnit && unit == "":
		return span{}, fmt.Sprintf("%q can be days or hours; write d or h", text)
	case spanDays[word], word == vagueUnit:
		return span{days: n}, ""
	case spanWeeks[word]:
		return span{days: n.Mul(n, big.NewRat(int64(week), 1))}, ""
	case spanHours[word]:
		return span{days: n.Quo(n, big.NewRat(hoursOfDay, 1))}, ""
	case spanElapsed[word]:
		return span{days: n, elapsed: true}, ""
	case spanMonths[word]:
		if n.Sign() == 0 {
			return span{days: n}, ""
		}
		return span{}, fmt.Sprintf("%q is in months, which have no fixed number of working days; write it in days or weeks", text)
	}
	return span{}, fmt.Sprintf("%q is in no unit that is known; write days or weeks, as 12 d or 3 w", text)
}

// whole gives the days where they are whole.
func (s span) whole() (int, bool) {
	if !s.days.IsInt() || !s.days.Num().IsInt64() {
		return 0, false
	}
	return int(s.days.Num().Int64()), true
}

// last gives the day on which something that begins on a day and takes the span ends: a
// part of a day takes the day. first gives the day on which it begins to end on one. Zero
// where that is outside the days that Turret accepts.
func (s span) last(c *calendar.Calendar, begins calendar.Date) calendar.Date {
	n := s.ceil()
	switch {
	case n == 0:
		return begins
	case s.elapsed:
		return daysOn(begins, n-1)
	}
	return c.WorkingDay(c.WorkingDay(begins-1, 1), n-1)
}

func (s span) first(c *calendar.Calendar, ends calendar.Date) calendar.Date {
	n := s.ceil()
	switch {
	case n == 0:
		return ends
	case s.elapsed:
		return daysOn(ends, 1-n)
	}
	return c.WorkingDay(ends, 1-n)
}

// ceil is the span in days, rounded up, and no more than Turret has days.
func (s span) ceil() int {
	most := big.NewInt(int64(calendar.Latest - calendar.Earliest))
	n := new(big.Int).Add(s.days.Num(), new(big.Int).Sub(s.days.Denom(), big.NewInt(1)))
	if n.Quo(n, s.days.Denom()); n.Cmp(most) > 0 {
		n = most
	}
	return int(n.Int64())
}

// daysOn moves a day by days of any kind; zero where that is outside what Turret accepts.
func daysOn(d calendar.Date, n int) calendar.Date {
	if d += calendar.Date(n); d < calendar.Earliest || d > calendar.Latest {
		return 0
	}
	return d
}
