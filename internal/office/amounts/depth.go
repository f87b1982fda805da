package amounts

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/portfolio"
)

// fits tells whether a plan of the table's stage is estimated on a code: it lies on the stage's
// level, or above it and has none below.
func (t *Table) fits(id int64) bool {
	level := t.subject.snap.Office.CodeLevel(id)
	return t.Depth == 0 || level == t.Depth || level < t.Depth && len(t.below(id)) == 0
}

// below are the codes right below one, in order.
func (t *Table) below(id int64) (out []string) {
	for _, c := range t.subject.snap.Office.Codes {
		if c.Parent == id {
			out = append(out, c.Code)
		}
	}
	slices.Sort(out)
	return out
}

// estimated adds to a plan a line for each code of the level that its stage asks for, and counts
// those that lie on others.
func (t *Table) estimated(add func(string) *Line) {
	if t.Depth == 0 || t.Shut != "" {
		return
	}
	codes := t.subject.snap.Office.Codes
	there := make(map[string]bool)
	for i := range t.Lines {
		l := &t.Lines[i]
		there[l.Code] = true
		for id, c := range codes {
			if c.Code == l.Code && !t.fits(id) {
				t.Elsewhere++
			}
		}
	}
	for id, c := range codes {
		if t.fits(id) && !there[c.Code] {
			add(lineKey(c.Code, string(portfolio.Cost), "", "", "", string(t.Currency)))
		}
	}
}

// tooDeep says why no line is added on a code, or "".
func (t *Table) tooDeep(code string) string {
	codes := t.subject.snap.Office.Codes
	for id, c := range codes {
		if c.Code != code || t.fits(id) {
			continue
		}
		says := fmt.Sprintf("plans of the stage %s are estimated on codes of level %d", t.Stage, t.Depth)
		level := t.subject.snap.Office.CodeLevel(id)
		if level < t.Depth {
			return says + "; take one below " + code + ": " + strings.Join(t.below(id), ", ")
		}
		for ; level > t.Depth; level-- {
			id = codes[id].Parent
		}
		return says + "; take " + codes[id].Code + " " + codes[id].Name
	}
	return ""
}
