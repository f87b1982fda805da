package gather

import (
	"fmt"
	"strings"

	"turret/internal/record"
)

// looks gives columns that no head tells a use by what their cells are: codes
// that the office knows, days, amounts.
func (f *finder) looks() {
	for _, name := range [...]string{"project", "cost_code", "currency", "kind", "class", "flow", "section"} {
		if !f.lacks(name) || name == "section" && f.toldBySections() {
			continue
		}
		if name == "project" && f.prefixed() {
			continue
		}
		best, share := f.known(f.at, name, func(i int) bool {
			as := f.u.Uses[i].As
			loose := name == "project" && as == "activity" && !f.t.Columns[f.t.Index(as)].Key // a WBS
			return (as == AsExtra || as == AsNone || loose) && f.m.Columns[f.u.Heads[i]] == ""
		})
		if best >= 0 {
			f.u.Uses[best].As = name
			c := &f.u.Columns[best]
			c.As, c.Certainty, c.Why = name, Likely, fmt.Sprintf(
				"%.0f%% of its cells are known as %s",
				share*100,
				strings.ReplaceAll(name, "_", " "),
			)
		}
	}
}

// looksPeriod gives a column whose cells are all periods that use, where no head is one.
func (f *finder) looksPeriod() {
	if !f.lacks("period") || f.hasMonths() || f.t.Name != "costs" && f.t.Name != "rates" {
		return
	}
	for i, x := range f.u.Uses {
		if x.As != AsExtra && x.As != AsNone || f.m.Columns[f.u.Heads[i]] != "" {
			continue
		}
		why := ""
		if f.holdsPeriods(f.at, i) {
			why = "all its cells are periods"
		} else if as, _ := called(record.Postings.Kind, f.u.Columns[i].Head, f.o.Words); as == "date" && f.holdsDays(f.at, i) {
			why = "its cells are days, of which each tells its period"
		}
		if why == "" {
			continue
		}
		f.u.Uses[i].As = "period"
		c := &f.u.Columns[i]
		c.As, c.Certainty, c.Why = "period", Likely, why
		return
	}
}

// prefixed finds a column, such as of a work breakdown, whose cells each begin with the code
// of a project and say more: it tells the project.
func (f *finder) prefixed() bool {
	if f.o.Names == nil || f.t.Name != "postings" && f.t.Name != "costs" {
		return false
	}
	for i, x := range f.u.Uses {
		if x.As != "activity" && x.As != AsExtra || f.m.Columns[f.u.Heads[i]] != "" {
			continue
		}
		known, coded, all := 0, 0, 0
		for _, r := range f.rows[f.at+1:] {
			if i < len(r.cells) && !isBlank(r.cells[i].Text) && !startsTotal(r.cells) {
				all++
				if code, rest := f.o.Names.begins(r.cells[i].Text); code != "" {
					known++
					if f.o.Names.follows(rest) != "" {
						coded++
					}
				}
			}
		}
		if all < 2 || known*10 < all*8 {
			continue
		}
		f.u.Uses[i] = Use{As: "project", Prefix: true}
		c := &f.u.Columns[i]
		c.As, c.Certainty, c.Why = "project", Likely, "its cells begin with codes of projects"
		if f.lacks("cost_code") && coded*10 >= known*8 {
			f.u.Uses[i].Then = "cost_code"
			c.Why = "its cells are the code of a project and a cost code"
			f.u.note("%s: its cells hold the code of their project and the cost code.", f.called(i))
			return true
		}
		f.u.note("%s: its cells begin with the code of their project; what follows is kept beside.", f.called(i))
		return true
	}
	return false
}
