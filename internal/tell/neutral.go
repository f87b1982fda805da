package tell

import (
	"strings"
)

// Neutral keeps a spreadsheet from running a text as a formula.
func Neutral(s string) string {
	if s != "" && strings.ContainsRune("=+-@\t\r", rune(s[0])) {
		return "'" + s
	}
	return s
}
