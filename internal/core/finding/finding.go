// Package finding holds the checks of the data: each a small rule with a code,
// a severity and a sentence made of the values it found, which a person can act
// on.
package finding

import (
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Severity of a finding.
type Severity string

// The severities: an error makes figures wrong, a warning doubtful; a note is
// good to know. Off is that of a check that looks for nothing.
const (
	Error   Severity = "error"
	Warning Severity = "warning"
	Note    Severity = "note"
	Off     Severity = "off"
)

// Severities lists the severities, the worst first.
var Severities = []Severity{Error, Warning, Note}

// Rank orders severities, the worst first.
func (s Severity) Rank() int {
	for i, x := range Severities {
		if s == x {
			return i
		}
	}
	return len(Severities)
}

// State is what became of a finding.
type State string

// The states: open until someone answers; sent back to the lead, and still
// open; accepted with a reason, and no longer counted; back, because what was
// accepted or asked about has changed since.
const (
	Open     State = "open"
	SentBack State = "sent back"
	Accepted State = "accepted"
	Back     State = "back"
)

// Finding is what a check found on one record of a project at a period.
type Finding struct {
	Check    string // code of the check
	Severity Severity
	Record   string // of the project: "activity A3", "cost code 210, 2026-11"; "" is the project itself
	Text     string // what is wrong and what to do, in a sentence or two
	Values   string // what it rests on; another finding is made of other values
	Money    int64  // that it touches, in minor units of the project's currency; zero: none, or not known
	Worth    int64  // the same in the reporting currency
	Source   portfolio.Source
	Against  portfolio.Source // the row that contradicts it, if there is one
	Place    Place
	Since    calendar.Period // the first of the periods in a row that had it
	State    State
	Answer   *portfolio.Answer // the one in force, or nil
}

// Place is where a finding is mended: a row of a table, by its key, and the
// columns that matter. Without a table it is not mended by a row.
type Place struct {
	Table   string
	Key     []Cell // but for the project
	Columns []string
}

// Cell is a column with its text in canonical form.
type Cell struct{ Column, Text string }

// Key tells a finding of a project from all others of the period.
func (f *Finding) Key() string { return f.Check + "|" + f.Record }

// Counts tells whether the finding counts as open.
func (f *Finding) Counts() bool { return f.State != Accepted }

// answered sets the state by what was said about the finding.
func (f *Finding) answered(list []portfolio.Answer, at calendar.Period) {
	f.State = Open
	for i := range list {
		a := &list[i]
		if a.Check != f.Check || a.Record != f.Record || a.From > at || a.Until != 0 && a.Until < at {
			continue
		}
		if f.Answer != nil && f.Answer.From > a.From {
			continue
		}
		f.Answer, f.State = a, Open
		switch {
		case a.Withdrawn:
			f.Answer = nil
		case a.Values != f.Values:
			f.State = Back
		case a.Accepted:
			f.State = Accepted
		default:
			f.State = SentBack
		}
	}
}

// on writes a day for a sentence: 7 Dec 2026.
func on(d calendar.Date) string { return d.Time().Format("2 Jan 2006") }

// amount writes money for a sentence: 12,345.60 NOK.
func amount(n int64, c money.Currency) string {
	text := money.Format(n, c)
	sign := ""
	if strings.HasPrefix(text, "-") {
		sign, text = "−", text[1:]
	}
	units, cents, _ := strings.Cut(text, ".")
	if strings.Trim(cents, "0") == "" {
		cents = ""
	}
	for i := len(units) - 3; i > 0; i -= 3 {
		units = units[:i] + "," + units[i:]
	}
	if cents != "" {
		units += "." + cents
	}
	return sign + units + " " + string(c)
}
