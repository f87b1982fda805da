// Package pack has the rules of packs: briefs that are made again and again for the same readers.
package pack

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"turret/internal/core/calendar"
)

// When tells on which days a pack is sent by itself; the zero value is never.
type When struct {
	Closing bool         // so many working days after a period is closed
	After   int          // working days
	Weekday time.Weekday // else each week on that day, of the open period
	Weekly  bool
}

var afterClosing = regexp.MustCompile(`^(\d{1,2}) working days? after closing$`)

// ParseWhen reads "", "after closing", "2 working days after closing" or "each Monday".
func ParseWhen(text string) (When, error) {
	text = strings.ToLower(strings.Join(strings.Fields(text), " "))
	if text == "" {
		return When{}, nil
	}
	if text == "after closing" {
		return When{Closing: true}, nil
	}
	if m := afterClosing.FindStringSubmatch(text); m != nil {
		n, _ := strconv.Atoi(m[1]) // two digits
		return When{Closing: true, After: n}, nil
	}
	if day, ok := strings.CutPrefix(text, "each "); ok {
		for d := time.Sunday; d <= time.Saturday; d++ {
			if strings.ToLower(d.String()) == day {
				return When{Weekly: true, Weekday: d}, nil
			}
		}
	}
	return When{}, fmt.Errorf(`%q is no time to send; write "2 working days after closing", "after closing" or "each Monday", or leave it empty and send by hand`, text)
}

// String writes it as ParseWhen reads it.
func (w When) String() string {
	switch {
	case w.Weekly:
		return "each " + w.Weekday.String()
	case w.Closing && w.After == 0:
		return "after closing"
	case w.Closing && w.After == 1:
		return "1 working day after closing"
	case w.Closing:
		return fmt.Sprintf("%d working days after closing", w.After)
	}
	return ""
}

// On gives the day on which a pack is sent of a period that was closed on a day.
func (w When) On(closed calendar.Date, work *calendar.Calendar) calendar.Date {
	return work.WorkingDay(closed, w.After)
}

// Weeks tells whether a day is one of those on which it is sent each week.
func (w When) Weeks(today calendar.Date) bool {
	return w.Weekly && today.Time().Weekday() == w.Weekday
}

// Late is for how many days after its day a pack is still sent by itself: what is older, the
// server was down for, or the pack is newer.
const Late = 7

// Due tells whether what was to be sent on a day is sent on another.
func Due(on, today calendar.Date) bool { return on != 0 && on <= today && today <= on+Late }

// Words that stand for scopes and readers.
const (
	Everything = "*"          // the whole portfolio
	Programmes = "programmes" // each
	Projects   = "projects"   // each that runs
	Leads      = "leads"      // each gets the projects they lead
	Sponsors   = "sponsors"
)

// List reads what stands with commas or blanks between: each once.
func List(text string) (out []string) {
	for _, x := range strings.FieldsFunc(text, func(r rune) bool { return r == ',' || r == ';' || r == ' ' || r == '\n' || r == '\t' }) {
		if !slices.Contains(out, x) {
			out = append(out, x)
		}
	}
	return out
}
