package gather

import (
	"fmt"
	"regexp"
	"strings"

	"turret/internal/record"
)

// looks gives columns that no head tells a use by what their cells are: codes
// that the office knows, days, amounts.
func (f *finder) looks() {
	f.otherKey("cost_code", "project")
	f.otherKey("project", "cost_code")
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

// looksDone gives progress the column whose cells say in words how much is done, one of them
// at least with its percent, where no head is one.
func (f *finder) looksDone() {
	if f.t != record.Progress.Kind || !f.lacks("percent") || f.hasMonths() {
		return
	}
	var found []int
	for i, x := range f.u.Uses {
		if x.As != AsExtra && x.As != AsNone || f.m.Columns[f.u.Heads[i]] != "" || differs(strings.ReplaceAll(f.u.Columns[i].Head, "%", "")) {
			continue
		}
		said, exact, all := 0, 0, 0
		for _, r := range f.rows[f.at+1:] {
			if i >= len(r.cells) || isBlank(r.cells[i].Text) {
				continue
			}
			all++
			text := strings.TrimFunc(r.cells[i].Text, isSpace)
			if percentCell.MatchString(text) || f.s.shares[i] && r.cells[i].Kind == Number {
				said, exact = said+1, exact+1
			} else if doneSaid(text) != "" {
				said++
				if strings.Contains(text, "%") {
					exact++
				}
			}
		}
		if exact > 0 && said*10 >= all*8 {
			found = append(found, i)
		}
	}
	switch len(found) {
	case 0:
	case 1:
		f.u.Uses[found[0]].As = "percent"
		c := &f.u.Columns[found[0]]
		c.As, c.Certainty, c.Why = "percent", Likely, "its cells say how much is done"
	default:
		var names []string
		for _, i := range found {
			names = append(names, f.called(i))
		}
		f.u.ask(found[0], "columns", fmt.Sprintf(
			"several columns hold percents, and no head says which is what is done: %s; say which it is", strings.Join(names, ", "),
		), "percent", AsExtra)
	}
}

// ofMany is a head of what is done that counts parts of another number than a hundred.
var ofMany = regexp.MustCompile(`(?i)(?:\b(?:of|out of|von|av|af|sur|de|di|van)\s*|/\s*)(\d{1,4})\b`)

// doneOfMany asks about a column of percents whose head counts them of 10, of 5 or so.
func (f *finder) doneOfMany() {
	u := f.u
	at := u.column("percent")
	if f.t != record.Progress.Kind || at < 0 || f.m.Columns[u.Heads[at]] != "" {
		return
	}
	if m := ofMany.FindStringSubmatch(u.Columns[at].Head); m != nil && m[1] != "100" {
		u.ask(at, "columns", fmt.Sprintf(
			"%q counts what is done of %s, and no percent; send it in percent, or keep it beside", u.Columns[at].Head, m[1],
		), AsExtra, AsNone)
	}
}

// percentCell is a percent with its sign.
var percentCell = regexp.MustCompile(`^\d{1,3}(?:[.,]\d+)? ?%$`)

// otherKey takes a column that its head calls one of cost code and project for the other
// where no cell is known as the one, and nearly all are as the other, which nothing tells.
func (f *finder) otherKey(is, other string) {
	at := f.u.column(is)
	if at < 0 || !f.lacks(other) || f.m.Columns[f.u.Heads[at]] != "" || f.o.Names == nil {
		return
	}
	only := func(i int) bool { return i == at }
	if _, share := f.known(f.at, other, only); share == 0 {
		return
	}
	for _, r := range f.rows[f.at+1:] {
		if at < len(r.cells) && !isBlank(r.cells[at].Text) && f.isKnown(is, strings.TrimSpace(r.cells[at].Text)) {
			return
		}
	}
	f.u.Uses[at].As = other
	c := &f.u.Columns[at]
	c.As, c.Certainty, c.Why = other, Likely, "its cells are known as "+strings.ReplaceAll(other, "_", " ")
}

// onlyWords keep columns beside that their heads call the amount, where months hold those, or
// the version, where they hold nothing but words: these tell rows apart, as those of this
// forecast and of the last.
func (f *finder) onlyWords() {
	if f.hasMonths() {
		f.besideIfWords("amount", "it holds words, and months hold the amounts", func(c *Cell) bool {
			_, point := plainNumber(c.Text, Point)
			_, comma := plainNumber(c.Text, Comma)
			return c.Kind == Words && !point && !comma && !isDash(c.Text)
		})
	}
	f.besideIfWords("version", "its words are no period and no number of a baseline", func(c *Cell) bool {
		p, _ := readMonth(strings.TrimFunc(c.Text, isSpace), "", f.o.Periods)
		return p == 0 && !strings.ContainsAny(c.Text, "0123456789")
	})
}

// besideIfWords keeps a column of costs beside all of whose cells are words.
func (f *finder) besideIfWords(as, why string, word func(*Cell) bool) {
	at := f.u.column(as)
	if at < 0 || f.t.Name != "costs" || f.m.Columns[f.u.Heads[at]] != "" {
		return
	}
	words := 0
	for _, r := range f.rows[f.at+1:] {
		switch {
		case at >= len(r.cells) || isBlank(r.cells[at].Text):
		case !word(&r.cells[at]):
			return
		default:
			words++
		}
	}
	if words > 0 {
		f.u.Uses[at] = Use{As: AsExtra}
		c := &f.u.Columns[at]
		c.As, c.Certainty, c.Why = AsExtra, Likely, why
	}
}

// noMoneyAbove leaves out months that stand under hours or people, beside others that do not.
func (f *finder) noMoneyAbove() {
	u := f.u
	if f.t.Name != "costs" {
		return
	}
	var out []int
	others := 0
	for i, x := range u.Uses {
		if x.As != AsMonth || f.m.Columns[u.Heads[i]] != "" {
			continue
		}
		above := false
		for _, text := range f.high[i] {
			for w := range strings.FieldsSeq(Normal(text)) {
				above = above || notMoney[w]
			}
		}
		if above {
			out = append(out, i)
		} else {
			others++
		}
	}
	if len(out) == 0 || others == 0 {
		return
	}
	for _, i := range out {
		u.Uses[i] = Use{As: AsNone}
		u.Columns[i].As, u.Columns[i].Certainty, u.Columns[i].Why = AsNone, Likely, "what stands above it is no money"
	}
	u.note("Months under hours or people are left out: %s.", f.called(out[0]))
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

// ownKeys are columns whose cells people write with the code of the project before them.
var ownKeys = map[string]string{"risks": "risk", "progress": "activity"}

// prefixed finds a column, such as of a work breakdown, whose cells each begin with the code
// of a project and say more: it tells the project.
func (f *finder) prefixed() bool {
	own := ownKeys[f.t.Name]
	if f.o.Names == nil || f.t.Name != "postings" && f.t.Name != "costs" && own == "" {
		return false
	}
	for i, x := range f.u.Uses {
		if x.As != "activity" && x.As != AsExtra && (own == "" || x.As != own) || f.m.Columns[f.u.Heads[i]] != "" {
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
		if own != "" {
			f.u.Uses[i].Then = own
			c.Why = "its cells are the code of a project and what it calls the " + own
			f.u.note("%s: its cells hold the code of their project and the %s.", f.called(i), own)
			return true
		}
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
