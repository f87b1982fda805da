package gather

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"turret/internal/core/calendar"
)

// Heads may count months from the period in which they are stated: "M+1", "Month 2 ahead".

// aheadOf is a head that counts months.
var aheadOf = regexp.MustCompile(`(?i)^(?:m|mon|month|monat|maned|mois|mes|mese|maand|manad|p|period|periode|t|n) ?\+ ?(\d{1,2})$`)

// countsAhead is how many months after the one it is stated in a head says; zero where it
// counts none.
func countsAhead(head string) int {
	m := aheadOf.FindStringSubmatch(strings.TrimFunc(bareHead(head), isSpace))
	if m == nil {
		return 0
	}
	n, _ := strconv.Atoi(m[1])
	return n
}

// monthAhead gives the period of such a head, where what stands above it or the names of
// sheet and file state one.
func (f *finder) monthAhead(at, column int) int32 {
	n := countsAhead(f.head(at, column))
	if n == 0 {
		return 0
	}
	from := f.statedAbove(at)
	if from == 0 {
		return 0
	}
	p := from + calendar.Period(n)
	if f.o.Periods.Code(p) == "" {
		return 0
	}
	return int32(p)
}

// onlyAhead tells a sheet whose heads count months of which nothing states the first.
func (f *finder) onlyAhead() bool {
	const few = 2
	return slices.ContainsFunc(f.rows, func(r sample) bool {
		n := 0
		for _, c := range r.cells {
			if countsAhead(c.Text) > 0 {
				n++
			}
		}
		return n >= few
	})
}

// laterWords are heads of all that comes after the months that are told.
var laterWords = phrases(`later|later years|later periods|beyond|thereafter|future|future years|after|rest|remainder|onwards|following years|outer years|spater|danach|
folgejahre|restliche|senere|senere ar|deretter|plus tard|ulterieur|apres|mas tarde|despues|posterior|oltre|successivi|dopo|daarna|later jaren|senare|darefter`)

// isLater tells the head of what comes after the months.
func isLater(head string) bool { return laterWords[Normal(bareHead(head))] }

// holdsMoney tells whether a column has a number that is not zero below the heads.
func (f *finder) holdsMoney(i int) bool {
	return slices.ContainsFunc(f.rows[f.at+1:], func(r sample) bool {
		return i < len(r.cells) && !isBlank(r.cells[i].Text) && strings.ContainsAny(r.cells[i].Text, "123456789")
	})
}
