package gather

import (
	"regexp"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// markedDay is a day with a sign behind it: a star or so where someone holds it, or the word
// that it is an actual one.
var markedDay = regexp.MustCompile(`^(.*\d)\s*(\*+|\^|#|\((?:act|actual|ist|a)\)|(?:\s(?:act|actual|ist|a)\.?))$`)

// dayMark parts a day from the sign behind it, and tells whether that says that it is an
// actual one.
func dayMark(text string) (day string, actual bool) {
	if text == "" || text[len(text)-1] >= '0' && text[len(text)-1] <= '9' {
		return text, false
	}
	m := markedDay.FindStringSubmatch(strings.ToLower(text))
	if m == nil {
		return text, false
	}
	return text[:len(m[1])], strings.ContainsAny(m[2], "ai")
}

// actually takes a start or finish that is marked as actual for the actual one too.
func (r *reader) actually(i int, c *Cell, f *portfolio.Field) {
	if r.t != record.Progress.Kind || f.Said != portfolio.Value || r.Canonical {
		return
	}
	at := -1
	switch r.Uses[i].As {
	case "start":
		at = r.t.Index("actual_start")
	case "finish":
		at = r.t.Index("actual_finish")
	}
	if at < 0 || r.out.Fields[at].Said == portfolio.Value {
		return
	}
	if _, actual := dayMark(strings.TrimFunc(c.Text, isSpace)); actual {
		r.out.Fields[at] = *f
	}
}
