package gather

import (
	"slices"
	"strconv"
	"strings"

	"turret/internal/record"
)

// A schedule tool's list says what activities there are, how they are nested, and how
// far they are, all in one table.

// ofSchedules tells heads that none but lists of activities have: how long each takes, and
// what comes before or after it.
func ofSchedules(head string) bool {
	_, lasts := durationHead(head)
	return lasts || linkHead(head) != ""
}

// howFar are the columns of progress that activities have no place for.
var howFar = wordsOf("percent units_done actual_start actual_finish")

// alsoProgress finds whether a list of activities tells how far they are too: its
// columns are then left to a sheet of their own.
func (f *finder) alsoProgress() {
	if f.t.Name != "activities" {
		return
	}
	for i := range f.u.Uses {
		column, weight := called(record.Progress.Kind, f.u.Columns[i].Head, f.o.Words)
		if f.u.Uses[i].As == AsExtra && weight > 0 && howFar[column] && f.m.Columns[f.u.Heads[i]] == "" {
			f.u.Uses[i].As, f.u.Columns[i].As = AsNone, AsNone
			f.u.Columns[i].Certainty, f.u.Columns[i].Why = Sure, "it is read as progress, beside the activities"
			f.u.Beside = record.Progress.Name
		}
	}
	if f.u.Beside == "" && (f.uses("start") || f.uses("finish") || f.u.Missing != "") && f.statedBefore() {
		f.u.Beside = record.Progress.Name
		f.u.note("Its dates are read as progress too: those that were stated before would count else.")
	}
}

// statedBefore tells whether progress was stated of a project that the list has activities
// of: dates of activities count only until then.
func (f *finder) statedBefore() (found bool) {
	if f.o.Stated == nil || f.o.Coded == nil {
		return false
	}
	f.u.walk(f.s, f.o, sampled, func(_ int, e end, _ *Line) bool {
		found = f.o.Stated(e.project) && f.o.Coded(e.project, e.activity)
		return !found
	})
	return found
}

// Beside gives the sheet again, for another table that it holds too.
func (s *Sheet) Beside(table string) *Sheet {
	again := *s
	again.Name = strings.TrimPrefix(s.Name+": "+table, ": ")
	return &again
}

// Alone tells a column that the sheet takes and the table that it holds too has no place
// for.
func (u *Understanding) Alone(i int) bool {
	as, beside := u.Uses[i].As, record.Named(u.Beside)
	if i+1 == u.Duration && u.Missing != "" {
		return false // both count by it
	}
	return i+1 == u.Duration || as == AsBefore || as == AsAfter || beside != nil && record.Named(u.Table).Index(as) >= 0 && beside.Index(as) < 0
}

// namesActivities tells a list of activities that calls them by the names that the office
// has, and not by their codes: it says how far they are, and makes none.
func (f *finder) namesActivities() bool {
	at := f.u.column("activity")
	if at < 0 {
		at = f.u.column("name")
	}
	if f.t.Name != "activities" || f.m.Table != "" || f.o.Table != nil || f.o.Called == nil || at < 0 {
		return false
	}
	for _, master := range [...]string{"kind", "parent", "rule", "weight", "budget", "baseline", "baseline_start", "baseline_finish"} {
		if f.u.column(master) >= 0 {
			return f.calledByName(at)
		}
	}
	if f.u.column("name") >= 0 && !f.uses("percent") && !slices.ContainsFunc(f.u.Columns, func(c Column) bool {
		column, weight := called(record.Progress.Kind, c.Head, f.o.Words)
		return weight > 0 && howFar[column]
	}) {
		return f.calledByName(at) // it may give them other names
	}
	return f.calledByName(at) || f.calledByCode(at)
}

// calledByCode tells whether all activities of a list without more than their dates are
// those that their projects have.
func (f *finder) calledByCode(at int) bool {
	column, all, known := f.u.column("project"), 0, 0
	if f.o.Coded == nil {
		return false
	}
	f.u.data(f.s, func(l *Line) bool {
		text := strings.TrimFunc(l.At(at).Text, isSpace)
		if text == "" {
			return true
		}
		project := f.u.Fixed["project"]
		if column >= 0 {
			if found := f.o.Names.Find("project", l.At(column).Text); len(found) == 1 {
				project = found[0]
			}
		}
		if all++; f.o.Coded(project, text) {
			known++
		}
		return all < sampled
	})
	return all > 0 && known == all
}

// calledByName tells whether most activities of a list are called by names that their
// projects have for them.
func (f *finder) calledByName(at int) bool {
	column, under := f.u.column("project"), f.u.Fixed["project"]
	named, all := 0, 0
	f.u.data(f.s, func(l *Line) bool {
		text := strings.TrimFunc(l.At(at).Text, isSpace)
		if h, ok := f.u.headed(f.o.Names, l); ok && f.u.Section != "" && len(h.codes) == 1 {
			under = h.codes[0]
			return true
		}
		if text == "" {
			return true
		}
		if found := f.o.Names.Find("project", text); len(found) == 1 && column < 0 {
			under = found[0]
			return true
		}
		project := under
		if column >= 0 {
			if found := f.o.Names.Find("project", l.At(column).Text); len(found) == 1 {
				project = found[0]
			}
		}
		all++
		if f.o.Called(project, text) {
			named++
		}
		return all < sampled
	})
	return named > 0 && named*2 >= all
}

// activityColumns settles which of several columns that are called activity holds codes and
// which names: numbers that only count the rows give way to codes, and words are names.
func (f *finder) activityColumns() {
	if f.t != record.Activities.Kind && f.t != record.Progress.Kind {
		return
	}
	at := f.u.column("activity")
	if at < 0 {
		at = f.codesUnderAnyHead()
	}
	if at < 0 || f.m.Columns[f.u.Heads[at]] != "" {
		return
	}
	for i := range f.u.Uses {
		label, _ := unitOf(f.u.Columns[i].Head)
		column, weight := f.calls(f.at, i, f.t, label)
		if weight == 0 {
			column, weight = f.calls(f.at, i, record.Progress.Kind, label) // code
		}
		if i == at || column != "activity" || weight == 0 || f.u.Uses[i].As != AsExtra || f.m.Columns[f.u.Heads[i]] != "" {
			continue
		}
		switch a, b := f.codesIn(at), f.codesIn(i); {
		case b == inWords && a != inWords && f.t == record.Activities.Kind && !f.uses("name"):
			f.u.Uses[i].As, f.u.Columns[i].As = "name", "name"
			f.u.Columns[i].Certainty, f.u.Columns[i].Why = Likely, "it says in words what each activity is"
		case (a == inOrder || a == inOutline) && b == inCodes, a == inWords && b != inWords && b != inOrder:
			f.u.Uses[i].As, f.u.Columns[i].As = "activity", "activity"
			f.u.Columns[i].Certainty, f.u.Columns[i].Why = Likely, "it holds a code for each activity"
			f.u.Uses[at].As, f.u.Columns[at].As = AsExtra, AsExtra
			f.u.Columns[at].Certainty, f.u.Columns[at].Why = Likely, "it numbers the rows"
			if a == inWords {
				f.u.Columns[at].Why = "it says in words what each activity is"
				if f.t == record.Activities.Kind && !f.uses("name") {
					f.u.Uses[at].As, f.u.Columns[at].As = "name", "name"
				}
			}
			at = i
		}
	}
}

// anyCode are heads of codes of anything.
var anyCode = wordsOf("code n nr no ref reference key lfdnr id")

// codesUnderAnyHead takes a column that only says that it holds codes for that of activities,
// in a list of them that has no other: the first that has a code of its own for each row.
func (f *finder) codesUnderAnyHead() int {
	best, holds := -1, inPart
	for i := range f.u.Uses {
		if f.u.Uses[i].As != AsExtra || f.m.Columns[f.u.Heads[i]] != "" || !anyCode[tight(f.u.Columns[i].Head)] {
			continue
		}
		if h := f.codesIn(i); h == inCodes && holds != inCodes || best < 0 && (h == inOrder || h == inOutline) {
			best, holds = i, h
		}
	}
	if best >= 0 {
		f.u.Uses[best].As, f.u.Columns[best].As = "activity", "activity"
		f.u.Columns[best].Certainty, f.u.Columns[best].Why = Likely, "it holds a code for each activity, and no other column does"
	}
	return best
}

// What a column that is called activity holds.
const (
	inOrder   = "order" // 1, 2, 3: the numbers of its rows
	inCodes   = "codes" // a code of its own for each
	inWords   = "words"
	inOutline = "outline" // 1, 1.1, 1.2
	inPart    = "part"    // anything else: codes that repeat
)

// shortCode is the most letters of a code without a digit.
const shortCode = 4

// codesIn tells what a column that is called activity holds.
func (f *finder) codesIn(i int) string {
	seen := make(map[string]bool)
	all, order, words, outline := 0, true, 0, 0
	for _, r := range f.rows[f.at+1:] {
		text := ""
		if i < len(r.cells) {
			text = strings.TrimFunc(f.shownAt(r, i), isSpace)
		}
		if text == "" || startsTotal(r.cells) {
			continue
		}
		all++
		order = order && LooseCode(text) == LooseCode(strconv.Itoa(all))
		if outlineCode.MatchString(text) {
			outline++
		}
		if strings.ContainsFunc(text, isSpace) || len(text) > shortCode && !strings.ContainsAny(text, "0123456789") {
			words++
		}
		seen[text] = true
	}
	switch {
	case all == 0:
		return inPart
	case order:
		return inOrder
	case words*2 > all:
		return inWords
	case len(seen) == all && outline == all:
		return inOutline
	case len(seen) == all:
		return inCodes
	}
	return inPart
}
