package gather

import (
	"regexp"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// A schedule tool's list says what activities there are, how they are nested, and how
// far they are, all in one table.

// outlineCode is an outline number: 2.1.3.
var outlineCode = regexp.MustCompile(`^\d+(\.\d+)*$`)

// durations are the heads of how long activities take; none at all is a milestone.
var durations = wordsOf("duration dauer varighet duree duracion durata duur varaktighet dauertage durationdays originalduration")

// outline finds whether activities are numbered by their place: then the number tells
// the one above, those with others below are summaries, and what takes no time is a
// milestone.
func (f *finder) outline() {
	if f.t.Name != "activities" || f.uses("parent") {
		return
	}
	at := f.u.column("activity")
	if at < 0 {
		return
	}
	codes := make(map[string]bool)
	nested, all, numbered := 0, 0, 0
	f.u.data(f.s, func(l *Line) bool {
		text := strings.TrimFunc(l.At(at).Text, isSpace)
		if text == "" {
			return true
		}
		all++
		if outlineCode.MatchString(text) {
			numbered++
			codes[text] = true
			if codes[above(text)] {
				nested++
			}
		}
		return true
	})
	if nested == 0 || numbered*10 < all*9 {
		return
	}
	f.u.Outline = true
	f.u.note("%q numbers activities by their place: it tells which is above which.", f.called(at))
	for i, c := range f.u.Columns {
		if durations[tight(c.Head)] && c.As == AsExtra && f.m.Columns[f.u.Heads[i]] == "" {
			f.u.Duration = i + 1
			f.u.Uses[i].As, f.u.Columns[i].As = AsNone, AsNone
			f.u.Columns[i].Certainty, f.u.Columns[i].Why = Sure, "what takes no time is a milestone"
		}
	}
}

// above is the outline number one level up, or "".
func above(code string) string {
	i := strings.LastIndexByte(code, '.')
	if i < 0 {
		return ""
	}
	return code[:i]
}

// takesNoTime tells "0", "0 days" and "0d".
func takesNoTime(text string) bool {
	number := strings.TrimRight(strings.TrimFunc(text, isSpace), "abcdefghijklmnopqrstuvwxyzéåø. ")
	return number != "" && strings.Trim(number, "0.,") == "" && strings.ContainsRune(number, '0')
}

// nest finds which activities have others below, before rows are read.
func (r *reader) nest(s *Sheet) {
	at := r.column("activity")
	if !r.Outline || at < 0 {
		return
	}
	r.codes, r.parents = make(map[string]bool), make(map[string]bool)
	r.data(s, func(l *Line) bool {
		if text := strings.TrimFunc(l.At(at).Text, isSpace); outlineCode.MatchString(text) {
			r.codes[strings.Clone(text)] = true
			r.parents[strings.Clone(above(text))] = true
		}
		return true
	})
}

// placed gives an activity its parent and kind by its outline number, where nothing
// else says them.
func (r *reader) placed(line *Line) {
	if !r.Outline {
		return
	}
	code := r.out.Fields[r.t.Index("activity")].Text
	say := func(column, text string) {
		if f := &r.out.Fields[r.t.Index(column)]; f.Said == portfolio.Nothing {
			*f = portfolio.Field{Said: portfolio.Value, Text: text}
		}
	}
	if up := above(code); r.codes[up] {
		say("parent", up)
	}
	switch {
	case r.parents[code]:
		say("kind", "summary")
	case r.Duration > 0 && takesNoTime(line.At(r.Duration-1).Text):
		say("kind", "milestone")
	default:
		say("kind", "task")
	}
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
	return i+1 == u.Duration || beside != nil && record.Named(u.Table).Index(as) >= 0 && beside.Index(as) < 0
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
	for _, master := range [...]string{"name", "kind", "parent", "rule", "weight", "budget", "baseline", "baseline_start", "baseline_finish"} {
		if f.u.column(master) >= 0 {
			return f.calledByName(at)
		}
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
