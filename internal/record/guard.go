package record

import "strings"

// Guarded tells whether cells of a column of the type are written with Guard: all but
// numbers, whose sign is theirs.
func (t Type) Guarded() bool {
	switch t {
	case Whole, Decimal, Money, RateText:
		return false
	}
	return true
}

// formulas begin with one of these in a spreadsheet.
const formulas = "=+-@\t\r\n"

// runs tells whether a spreadsheet would run a text, once apostrophes before it are gone.
func runs(s string) bool {
	s = strings.TrimLeft(s, "'")
	return s != "" && strings.ContainsRune(formulas, rune(s[0]))
}

// Guard keeps a spreadsheet from running a text of the canonical form as a formula: with an
// apostrophe before it, which Unguard takes away. None, "-", stays.
func Guard(s string) string {
	if s != "-" && runs(s) {
		return "'" + s
	}
	return s
}

// Unguard gives the text that Guard was given.
func Unguard(s string) string {
	if strings.HasPrefix(s, "'") && runs(s) {
		return s[1:]
	}
	return s
}
