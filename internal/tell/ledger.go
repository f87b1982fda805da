package tell

import (
	"fmt"
	"strconv"
	"strings"
)

// Ledger says what the cost that figures count was compared with: the postings that are
// kept, since no totals of the ledger itself are known; how many of them were corrected
// after they first came; and which projects with postings stand outside the sums.
func Ledger(agrees bool, postings, corrected int, outside []string) string {
	if postings == 0 {
		return "No ledger posting is kept, so the cost counted is compared with nothing."
	}
	what := "the one posting that is kept says"
	if postings > 1 {
		what = fmt.Sprintf("the %s postings that are kept add up to", Amount(strconv.Itoa(postings), 0))
	}
	verb := "is"
	if !agrees {
		verb = "is not"
	}
	out := fmt.Sprintf("The booked cost counted %s what %s", verb, what)
	if agrees {
		out += "; it is not compared with the ledger itself, of which no totals are known"
	}
	out += "."
	switch {
	case corrected == 0:
	case postings == 1:
		out += " It was corrected after it first came."
	default:
		out += fmt.Sprintf(
			" %s of them %s corrected after %s first came.",
			Capital(Number(corrected)),
			map[bool]string{true: "was", false: "were"}[corrected == 1],
			map[bool]string{true: "it", false: "they"}[corrected == 1],
		)
	}
	if n := len(outside); n > 0 {
		out += fmt.Sprintf(
			" %s with postings %s outside the portfolio's sums: %s.",
			Capital(Plural(n, "project", "projects")),
			map[bool]string{true: "stands", false: "stand"}[n == 1],
			strings.Join(Few(outside), ", "),
		)
	}
	return out
}
