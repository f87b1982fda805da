package gather

import (
	"fmt"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// A list of activities may say how long each takes: what takes no time is a milestone, and
// where it states one end alone the other is counted from it, on the project's calendar.

// AsDuration is a column of how long activities take.
const AsDuration = "duration"

// durations are the heads of how long activities take.
var durations = wordsOf("duration dauer varighet duree duracion durata duur varaktighed varaktighet originalduration plannedduration dur taskduration activityduration")

// unitHeads are what a head says that its bare numbers are in.
var unitHeads = map[string]string{
	"d": InDays, "day": InDays, "days": InDays, "wd": InDays, "workdays": InDays, "working days": InDays, "tage": InDays, "at": InDays, "arbeitstage": InDays, "dager": InDays, "dagar": InDays,
	"dage": InDays, "jours": InDays, "j": InDays, "dias": InDays, "giorni": InDays, "dagen": InDays, "work days": InDays, "virkedager": InDays, "jours ouvres": InDays,
	"w": InWeeks, "wk": InWeeks, "wks": InWeeks, "week": InWeeks, "weeks": InWeeks, "wochen": InWeeks, "uker": InWeeks, "uger": InWeeks, "veckor": InWeeks, "semaines": InWeeks, "semanas": InWeeks,
	"settimane": InWeeks, "weken": InWeeks,
	"calendar days": InElapsed, "cal days": InElapsed, "elapsed days": InElapsed, "kalendertage": InElapsed, "cd": InElapsed, "kalenderdager": InElapsed, "jours calendaires": InElapsed,
}

// durationHead tells a head of durations, and what it says that bare numbers are in.
func durationHead(head string) (unit string, ok bool) {
	if durations[tight(head)] {
		return "", true
	}
	words := strings.Fields(Normal(head))
	for n := min(len(words)-1, 2); n > 0; n-- { //nolint:mnd // the words of durations
		if !durations[strings.Join(words[:n], "")] {
			continue
		}
		rest := words[n:]
		if rest[0] == "in" || rest[0] == "i" || rest[0] == "en" {
			rest = rest[1:]
		}
		unit = unitHeads[strings.Join(rest, " ")]
		return unit, unit != ""
	}
	return "", false
}

// ends are the pairs of days between which durations lie.
var ends = [...][2]string{{"start", "finish"}, {"baseline_start", "baseline_finish"}}

// lasting finds the column of durations, and what it is read for.
func (f *finder) lasting() {
	if f.t != record.Activities.Kind && f.t != record.Progress.Kind {
		return
	}
	at, unit := -1, ""
	for i := range f.u.Uses {
		said := f.m.Columns[f.u.Heads[i]]
		u, named := durationHead(f.u.Columns[i].Head)
		if said == AsDuration || said == "" && named && f.u.Uses[i].As == AsExtra {
			at, unit = i, u
			break
		}
	}
	if at < 0 {
		return
	}
	zero, bare, vague, all := f.spansOf(at)
	if all == 0 {
		return
	}
	if unit = f.inUnits(at, unit); unit == "" && !bare && strings.HasPrefix(tight(f.u.Columns[at].Head), "dauer") {
		unit = InDays // what is vague is German
	}
	missing := ""
	for _, pair := range ends {
		begins, ends := f.uses(pair[0]), f.uses(pair[1])
		switch {
		case begins && !ends:
			missing = pair[1]
		case ends && !begins:
			missing = pair[0]
		default:
			continue
		}
		break
	}
	col, use := &f.u.Columns[at], &f.u.Uses[at]
	take := func(why string) {
		f.u.Duration = at + 1
		use.As, col.As, col.Certainty, col.Why = AsDuration, AsDuration, Sure, why
	}
	kind := f.t == record.Activities.Kind && !f.uses("kind") && (zero || f.u.Outline)
	switch {
	case missing == "" && kind:
		take("what takes no time is a milestone")
	case missing == "":
	case (bare || vague) && unit == "":
		take("")
		f.u.ask(at, "forms", fmt.Sprintf(
			"%q tells the %s of each activity, and nothing says what its numbers are in; say which", col.Head, strings.ReplaceAll(missing, "_", " "),
		), InDays, InWeeks, InElapsed)
	default:
		use.Form, f.u.Missing = unit, missing
		take(fmt.Sprintf("with the other date it tells the %s, on the project's calendar", strings.ReplaceAll(missing, "_", " ")))
		if kind {
			col.Why += "; what takes no time is a milestone"
		}
		f.u.note("%s tells the %s of each activity, counted in working days of its project.", f.called(at), strings.ReplaceAll(missing, "_", " "))
	}
}

// inUnits is what bare numbers of durations are in: as someone said, or as the head does.
func (f *finder) inUnits(at int, unit string) string {
	if said := f.told(at, InDays, InWeeks, InElapsed); said != "" {
		return said
	}
	return unit
}

// spansOf tells of a column of durations whether some are none, some are bare numbers and
// some are in a vague unit, and how many there are.
func (f *finder) spansOf(at int) (zero, bare, vague bool, all int) {
	f.u.data(f.s, func(l *Line) bool {
		text := strings.TrimFunc(l.At(at).Text, isSpace)
		if text == "" || isDash(text) {
			return true
		}
		all++
		if takesNoTime(text) {
			zero = true
			return true
		}
		m := spanForm.FindStringSubmatch(strings.ToLower(text))
		bare = bare || m != nil && tight(m[2]) == ""
		vague = vague || m != nil && tight(m[2]) == vagueUnit
		return true
	})
	return zero, bare, vague, all
}

// lasts counts the end of an activity that its row does not state, from the other and how
// long it takes.
func (r *reader) lasts(line *Line) (column, value, why string) {
	if r.Missing == "" || r.Within != "" {
		return "", "", ""
	}
	text := strings.TrimFunc(line.At(r.Duration-1).Text, isSpace)
	pair := ends[slices.IndexFunc(ends[:], func(p [2]string) bool { return slices.Contains(p[:], r.Missing) })]
	told, from := r.t.Index(r.Missing), r.t.Index(pair[0])
	if r.Missing == pair[0] {
		from = r.t.Index(pair[1])
	}
	day := r.out.Fields[from]
	if text == "" || isDash(text) || day.Said != portfolio.Value {
		return "", "", ""
	}
	head := r.head(r.Duration - 1)
	project := r.out.Fields[r.t.Index("project")].Text
	s, why := readSpan(strings.ToLower(text), r.Uses[r.Duration-1].Form, r.o.week(project))
	if why != "" {
		return head, text, why
	}
	var c *calendar.Calendar
	if r.o.Works != nil {
		c = r.o.Works(project)
	}
	if c == nil && !s.elapsed && s.days.Sign() != 0 {
		return head, text, fmt.Sprintf("the days that project %q works are not known, so its durations cannot be counted; gather the project first, or state both dates", project)
	}
	d := s.last
	if r.Missing == pair[0] {
		d = s.first
	}
	found := d(c, calendar.Date(day.Int))
	if found == 0 {
		return head, text, fmt.Sprintf("%q leads beyond the days from %s to %s", text, calendar.Earliest, calendar.Latest)
	}
	r.out.Fields[told] = portfolio.Field{Said: portfolio.Value, Int: int64(found)}
	return "", "", ""
}
