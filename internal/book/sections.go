package book

import (
	"cmp"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// usualTitles are what the usual sections of words are called.
var usualTitles = map[string]string{"summary": "Summary", "done": "Done", "next": "Next", "help": "Help needed"}

// sections are the parts of words in their order: the usual ones, as the office wants them, and
// its own. What is left out is not among them.
func (rec Records) sections() []portfolio.Section {
	const step, last = 10, 100
	var all []portfolio.Section
	for i, code := range record.UsualSections {
		all = append(all, portfolio.Section{Code: code, Title: usualTitles[code], Place: (i + 1) * step, Wanted: portfolio.Never})
	}
	k := record.Sections
	rec.each(k.Kind, func(r *portfolio.Row) {
		at := slices.IndexFunc(all, func(x portfolio.Section) bool { return x.Code == k.Section.Of(r) })
		if at < 0 {
			at = len(all)
			all = append(all, portfolio.Section{Code: k.Section.Of(r), Place: last})
		}
		x := &all[at]
		x.Title = cmp.Or(k.Title.Of(r), x.Title, x.Code)
		x.Note, x.Most = k.Note.Of(r), int(k.Words.Of(r))
		x.Wanted, x.Stages = portfolio.Need(k.Wanted.Or(r)), listed(k.Stages.Of(r))
		if k.Place.Said(r) {
			x.Place = int(k.Place.Of(r))
		}
	})
	all = slices.DeleteFunc(all, func(x portfolio.Section) bool { return x.Place == 0 })
	slices.SortStableFunc(all, func(x, y portfolio.Section) int {
		return cmp.Or(cmp.Compare(x.Place, y.Place), cmp.Compare(x.Code, y.Code))
	})
	return all
}

// listed reads what stands with commas between.
func listed(text string) (out []string) {
	for x := range strings.SplitSeq(text, ",") {
		if x = strings.TrimSpace(x); x != "" {
			out = append(out, x)
		}
	}
	return out
}

// Commentary is what is said on a group for a period, by section; none to who reads but some of
// the projects.
func (s *Snapshot) Commentary(group string, at calendar.Period) map[string]string {
	out := make(map[string]string)
	for _, c := range s.Commentaries(group, at) {
		if c.Period == at {
			out[c.Section] = c.Text
		}
	}
	return out
}

// Commentaries are what was said on a group up to a period, the latest first, sections of one
// period by their code.
func (s *Snapshot) Commentaries(group string, until calendar.Period) (out []portfolio.Narrative) {
	if s.full != nil {
		return nil
	}
	k := record.Commentaries
	rows := s.Records.Of(k.Kind)
	for i := range rows {
		r := &rows[i]
		if k.Scope.Of(r) == group && k.Period.Of(r) <= until && strings.TrimSpace(k.Text.Of(r)) != "" {
			out = append(out, portfolio.Narrative{Period: k.Period.Of(r), Section: k.Section.Of(r), Text: k.Text.Of(r)})
		}
	}
	slices.SortFunc(out, func(x, y portfolio.Narrative) int {
		return cmp.Or(cmp.Compare(y.Period, x.Period), cmp.Compare(x.Section, y.Section))
	})
	return out
}
