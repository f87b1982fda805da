package gather

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/record"
)

// fixPeriod finds the period in which a statement was made, where rows do not
// tell it.
func (f *finder) fixPeriod(around []string) {
	name := ""
	switch {
	case f.t.Name == "costs" && f.lacks("version"):
		name = "version"
	case f.t.Version == "period" && f.t.Keep == record.Parts && f.lacks("period") && !f.hasMonths():
		name = "period"
	}
	f.onePeriod(around)
	if name == "" {
		return
	}
	if f.o.Period != 0 {
		f.contraryPeriod(name, around)
		return
	}
	p, other := f.statedPeriods(around)
	if other != 0 && (f.t.Name != "costs" || f.states()) {
		f.askPeriod(name, "in which it was stated", p, other)
		return
	}
	if p == 0 {
		p = f.monthNamedOnly(around)
	}
	if p == 0 {
		return
	}
	f.u.Fixed[name] = f.o.Periods.Code(p)
	if f.t.Name != "costs" || f.states() {
		f.u.note(
			"It is taken as stated in %s: the name of the file or sheet, or a row above the table, says so.",
			f.o.Periods.Name(p),
		)
	}
}

// monthNamedOnly gives the period of the one month that titles and names name without a
// year, where the months of the sheet tell which: one of them is it, or follows it.
func (f *finder) monthNamedOnly(around []string) calendar.Period {
	named := 0
	for _, text := range around {
		for w := range strings.FieldsSeq(strings.Map(apart, text)) {
			const few = 4 // letters: "may", "mars" and "mar" are words
			m := monthNamed(w)
			if m == 0 || len(w) < few {
				continue
			}
			if named != 0 && named != m {
				return 0
			}
			named = m
		}
	}
	if named == 0 {
		return 0
	}
	found := calendar.Period(0)
	see := func(at calendar.Period) bool { // false where it is another one
		for _, q := range [...]calendar.Period{at, at - 1} {
			if q <= 0 || int(f.o.Periods.Last(q).Time().Month()) != named {
				continue
			}
			if found != 0 && found != q {
				return false
			}
			found = q
		}
		return true
	}
	for _, x := range f.u.Uses {
		if x.As != AsMonth {
			continue
		}
		if p, err := f.o.Periods.Parse(x.Period); err == nil && !see(p) {
			return 0
		}
	}
	return found
}

// contraryPeriod asks where titles and names state one period, and it was said that rows
// which state none are of another.
func (f *finder) contraryPeriod(name string, around []string) {
	first, other := f.statedPeriods(around)
	if first == 0 || other != 0 || first == f.o.Period || f.u.Fixed[name] != "" || f.t.Name == "costs" && !f.states() {
		return
	}
	f.u.ask(-1, "fixed."+name, fmt.Sprintf(
		"titles and names speak of %s, and it was said that rows which state no period are of %s; say in which it was stated",
		f.o.Periods.Name(first), f.o.Periods.Name(f.o.Period),
	), f.o.Periods.Code(first), f.o.Periods.Code(f.o.Period))
}

// onePeriod finds the period of amounts and rates of one period, where no row tells it:
// the one that titles and names speak of.
func (f *finder) onePeriod(around []string) {
	u := f.u
	f.planBeside()
	booked := f.booked()
	if p, _ := readMonth(f.s.title(), "", f.o.Periods); p != 0 && !booked && f.t.Name == "costs" && f.lacks("period") && !f.hasMonths() {
		f.sheetMonth = true
		u.Fixed["period"] = f.o.Periods.Code(p)
		u.note("All rows are of %s: the sheet is named by it.", f.o.Periods.Name(p))
		return
	}
	if !f.lacks("period") || f.hasMonths() || f.t.Name != "rates" && (f.t.Name != "costs" || !booked) {
		return
	}
	first, other := f.statedPeriods(around)
	if f.o.Period != 0 {
		if first == 0 || f.soon != "" && other == f.o.Period {
			first, other = f.o.Period, 0
		}
		if first != f.o.Period {
			other = f.o.Period
		}
	}
	switch {
	case first == 0:
	case other != 0:
		f.askPeriod("period", "of which period the rows are", first, other)
	default:
		u.Fixed["period"] = f.o.Periods.Code(first)
		u.note("All rows are taken for %s: the name of the file or sheet, or a row above the table, says so.", f.o.Periods.Name(first))
	}
}

// planBeside leaves out what was planned beside what was spent, where no month is told but the
// one that the sheet is of: whether it is the month's or all of it, nothing tells.
func (f *finder) planBeside() {
	u := f.u
	if f.t.Name != "costs" || !f.lacks("period") || f.hasMonths() || f.m.Fixed["period"] != "" {
		return
	}
	plan, actual := -1, false
	for i, x := range u.Uses {
		if x.As != "amount" {
			continue
		}
		switch {
		case x.Kind == "plan" && plan < 0 && f.m.Columns[u.Heads[i]] == "":
			plan = i
		case x.Kind == "actual":
			actual = true
		default:
			return
		}
	}
	if plan < 0 || !actual {
		return
	}
	u.Uses[plan] = Use{As: AsNone}
	c := &u.Columns[plan]
	c.As, c.Certainty, c.Why = AsNone, Likely, "whether it is the plan of the month or all of it, nothing tells"
	u.note("%s is left out: whether it is the plan of the month or all of it, nothing tells.", f.called(plan))
}

// made are words beside a day on which a file was made, which tells no period.
var made = wordsOf("printed print created exported export saved generated run downloaded updated version gedruckt erstellt exportiert utskrift skrevet imprime edite cree")

// askPeriod asks which of two periods is meant.
func (f *finder) askPeriod(name, what string, first, other calendar.Period) {
	why := fmt.Sprintf("titles and names speak of %s and of %s", f.o.Periods.Name(first), f.o.Periods.Name(other))
	if f.soon != "" {
		why = fmt.Sprintf("%q is a day early in %s, and what is told so may be of %s", f.soon, f.o.Periods.Name(other), f.o.Periods.Name(first))
	}
	f.u.ask(-1, "fixed."+name, why+"; say "+what, f.o.Periods.Code(first), f.o.Periods.Code(other))
}

// dated are the labels of the day on which something was written or sent.
var dated = phrases("date|sent|report date|date of report|prepared|prepared on|issued|issued on|datum|gesendet|erstellt am|berichtsdatum|dato|sendt|rapportdato|date du rapport|envoye|fecha|enviado|data|inviato|verzonden|skickat")

// isDated tells a text that such a label begins.
func isDated(text string) bool {
	for n, words := 1, strings.Fields(Normal(text)); n <= min(3, len(words)); n++ {
		if dated[strings.Join(words[:n], " ")] {
			return true
		}
	}
	return false
}

// early is the last day of a month on which what is told may well be of the month before.
const early = 10

// statedPeriods gives the period that titles and names speak of, the nearest first, and
// another one where they contradict each other; zero where there is none. A day early in a
// month speaks of that month or of the one before: where nothing else tells which, both are
// given, and the day is kept as soon.
func (f *finder) statedPeriods(around []string) (first, other calendar.Period) {
	var soon calendar.Period
	said := ""
	f.soon = ""
	defer func() {
		switch {
		case soon == 0 || other != 0 || first == soon || first == soon-1 && first != 0:
		case first != 0:
			other = soon
		case soon > 1:
			first, other, f.soon = soon-1, soon, strings.TrimSpace(said)
		}
	}()
	for _, text := range around {
		aside := false
		for w := range strings.FieldsSeq(Normal(text)) {
			aside = aside || made[w]
		}
		if f.sheetMonth && text == f.s.title() {
			continue // the month of its amounts
		}
		p, day := statedOn(text, f.o.Periods)
		if _, _, d := day.Split(); day != 0 && (d > 1 || isDated(text) || isStatusDay(text)) && d <= early {
			if soon == 0 && !aside {
				soon, said = p, text
			}
			continue
		}
		switch {
		case p == 0 || aside:
		case first == 0:
			first = p
		case p != first:
			return first, p
		}
	}
	return first, 0
}

// statusDay are words beside the day by which a schedule or a report is told.
var statusDay = phrases("status date|data date|status day|as of|as at|cut off|cut off date|reporting date|report date|stichtag|stand|datenstand|statusdatum|per dato|statusdato|date de situation|date d arrete|fecha de corte|data di riferimento|peildatum")

// isStatusDay tells a text that is such a day: the first of a month is the end of the one before
// as often as not.
func isStatusDay(text string) bool {
	label, _, ok := strings.Cut(text, ":")
	n := Normal(label)
	if !ok {
		n = strings.TrimRight(strings.Map(func(r rune) rune {
			if r >= '0' && r <= '9' {
				return -1
			}
			return r
		}, n), " ")
	}
	return statusDay[strings.Join(strings.Fields(n), " ")]
}

// statedOn finds a period that a text names in words that stand together, and gives the day
// where it is a day that names it.
func statedOn(text string, ps *calendar.Periods) (calendar.Period, calendar.Date) {
	words := strings.FieldsFunc(strings.Map(func(r rune) rune {
		if strings.ContainsRune("_(),:;", r) {
			return ' '
		}
		return r
	}, text), isSpace)
	words = slices.DeleteFunc(words, func(w string) bool { return strings.Trim(w, "-–—|/.") == "" })
	for n := 3; n >= 1; n-- {
		found, on := calendar.Period(0), calendar.Date(0)
		for i := 0; i+n <= len(words); i++ {
			said := strings.Join(words[i:i+n], " ")
			p, _ := readMonth(said, "", ps)
			if p != 0 && monthNamed(words[i]) != 0 {
				return p, 0 // of "2027 Nov 2026" the month and the year after it
			}
			if p != 0 && found == 0 {
				found, on = p, readDay(said).one()
			}
		}
		if found != 0 {
			return found, on
		}
	}
	return 0, 0
}
