package gather

import (
	"strings"
)

// Milestones may stand across, a row for each project; and each month may have a column of
// the days that were forecast then.

// activityHead gives the head of a column of days or percents that is the name of an
// activity of a project whose row stands below; "" where it is none.
func (f *finder) activityHead(at, i int) string {
	text := f.head(at, i)
	if f.o.Called == nil || text == "" || !f.holdsDays(at, i) && !f.holdsPercents(at, i) {
		return ""
	}
	if f.projects == nil {
		f.projects = make(map[string]bool)
		for _, r := range f.rows {
			for k := range r.cells {
				if found := f.o.Names.Find("project", r.cells[k].Text); len(found) == 1 {
					f.projects[found[0]] = true
				}
			}
		}
		if only := f.onlyProject(); only != "" {
			f.projects[only] = true
		}
	}
	for project := range f.projects {
		if f.o.Called(project, text) {
			return text
		}
	}
	return ""
}

// activitiesAcross tells how many activities are heads of a row.
func (f *finder) activitiesAcross(at int) (column string, n int) {
	if f.o.Called == nil || f.o.Names == nil {
		return "", 0
	}
	for i := range f.rows[at].cells {
		if f.activityHead(at, i) != "" {
			n++
		}
	}
	if n == 0 {
		return "", 0
	}
	return "activity", n
}

// holdsPercents tells that all that stands below a head are percents by their sign.
func (f *finder) holdsPercents(at, column int) bool {
	n := 0
	for _, r := range f.rows[at+1:] {
		if column >= len(r.cells) {
			continue
		}
		text := f.shownAt(r, column)
		switch {
		case text == "" || isDash(text):
		case strings.HasSuffix(text, "%") || r.cells[column].Kind == Number && f.s.shares[column]:
			n++
		default:
			return false
		}
	}
	return n > 0
}

// trend takes the column of a month that holds days: those forecast in it. Only the latest
// says something new, or that of the period which is stated.
func (f *finder) trend(i int, p int32, use *Use, col *Column) {
	latest := int32(0)
	for j := range f.rows[f.at].cells {
		q := f.month(f.at, j)
		if q == 0 || !f.holdsDays(f.at, j) {
			continue
		}
		if q == int32(f.statedAbove(f.at)) {
			latest = q
			break
		}
		latest = max(latest, q)
	}
	if p != latest {
		*use = Use{As: AsNone}
		col.Certainty, col.Why = Likely, "it is what was stated in an earlier period"
		f.u.note("%s is left out: it is what was stated in another period.", f.head(f.at, i))
		return
	}
	*use = Use{As: AsMonth, Period: f.code(p), Of: "finish"}
	col.Certainty, col.Why = Sure, "its head is a period, and it holds the days that were forecast in it"
}
