package entry

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/record"
	"turret/internal/tell"
)

// Redated is what a schedule that is gathered again changes of a project: which activities
// are new, which it no longer names, and which are given other dates, furthest first.
type Redated struct {
	New       []Named     `json:"new,omitempty"`
	Gone      []Named     `json:"gone,omitempty"` // that the project has and the schedule does not name; they stay
	Moved     []MovedDate `json:"moved,omitempty"`
	NewLinks  int         `json:"new_links,omitempty"`
	GoneLinks int         `json:"gone_links,omitempty"` // that the schedule does not name
	Dropped   bool        `json:"dropped,omitempty"`    // they do not stay, as it is the whole
}

// Named is an activity by its code and its name.
type Named struct {
	Code string `json:"code"`
	Name string `json:"name"`
}

// MovedDate is an activity whose current finish is another.
type MovedDate struct {
	Named
	Was  calendar.Date `json:"was"`
	Is   calendar.Date `json:"is"`
	Days int           `json:"days"` // working days of the project, later above zero
}

// unnamed tells which activities and links the schedules that were read no longer name, by
// project. A form names what it changes alone.
func (p *plan) unnamed() map[int64]*Redated {
	out := make(map[int64]*Redated)
	if p.opts.form != nil {
		return out
	}
	code, name := record.Activities.Kind.Index("activity"), record.Activities.Kind.Index("name")
	for _, key := range sortedParts(p.parts) {
		pp := p.parts[key]
		if key.Kind != portfolio.ActivityPart && key.Kind != portfolio.LinkPart || !pp.named() {
			continue
		}
		r := out[key.Project]
		if r == nil {
			r = &Redated{}
			out[key.Project] = r
		}
		for _, e := range pp.list {
			switch {
			case e.void || e.before == nil && !e.touched():
			case key.Kind == portfolio.LinkPart && e.touched() && e.before == nil:
				r.NewLinks++
			case e.touched():
			case key.Kind == portfolio.LinkPart:
				r.GoneLinks++
				r.Dropped = p.drops(key)
			default:
				r.Gone = append(r.Gone, Named{e.after.Fields[code].Text, e.after.Fields[name].Text})
			}
		}
	}
	return out
}

// stayOut tells of links that a file states again and that were taken out here: they stay so.
func (p *plan) stayOut(key portfolio.Part) {
	if key.Kind != portfolio.LinkPart || p.opts.form != nil {
		return
	}
	state, n, file := record.Links.Kind.Index("state"), 0, ""
	for _, e := range p.parts[key].list {
		if e.touched() && e.before != nil && record.Links.State.Of(&e.after) == "off" && e.said[state].Said == portfolio.Nothing {
			n, file = n+1, e.byFile
		}
	}
	if n > 0 {
		p.report.note("%s: %s out here and stay out; put them in again on the timeline, or state them as on.", file, tell.Plural(n, "link that it states was taken", "links that it states were taken"))
	}
}

// named tells whether a file names anything of the part.
func (pp *partPlan) named() bool {
	return slices.ContainsFunc(pp.list, func(e *entry) bool { return e.touched() })
}

// drops tells whether a part loses what the files do not name: the links of a schedule that
// is whole.
func (p *plan) drops(key portfolio.Part) bool {
	return p.opts.Whole && key.Kind == portfolio.LinkPart && p.opts.form == nil
}

// redates adds to what a schedule no longer names which activities it adds and which it
// moves, at a period. Nil where it does neither.
func redates(ctx context.Context, was, is *book.Snapshot, code string, at calendar.Period, r *Redated) (*Redated, error) {
	if r == nil {
		r = &Redated{}
	}
	type dated struct {
		Named
		finish calendar.Date
	}
	finishes := func(s *book.Snapshot) (map[int64]dated, *portfolio.Project, error) {
		out := make(map[int64]dated)
		if s.Project(code) == nil {
			return out, nil, nil
		}
		all, err := s.Progress(ctx, []string{code}, at, portfolio.Latest)
		if err != nil || all[code] == nil {
			return out, nil, err
		}
		v := all[code].View
		for i := range v.Activities {
			a := &v.Activities[i]
			out[a.ID] = dated{Named{a.Code, a.Name}, v.Status(i, at).Finish}
		}
		return out, v.Project, nil
	}
	before, old, err := finishes(was)
	if err != nil {
		return nil, err
	}
	after, p, err := finishes(is)
	if err != nil || p == nil {
		return nil, err
	}
	work := is.Office.CalendarOf(p.Calendar)
	for id, x := range after {
		y, there := before[id]
		switch {
		case !there && old != nil:
			r.New = append(r.New, x.Named)
		case there && x.finish != 0 && y.finish != 0 && x.finish != y.finish:
			r.Moved = append(r.Moved, MovedDate{x.Named, y.finish, x.finish, work.Slip(y.finish, x.finish)})
		}
	}
	byCode := func(a, b Named) int { return cmp.Compare(a.Code, b.Code) }
	slices.SortFunc(r.New, byCode)
	slices.SortFunc(r.Moved, func(a, b MovedDate) int {
		return cmp.Or(cmp.Compare(max(b.Days, -b.Days), max(a.Days, -a.Days)), byCode(a.Named, b.Named))
	})
	if len(r.New)+len(r.Gone)+len(r.Moved)+r.NewLinks+r.GoneLinks == 0 {
		return nil, nil
	}
	return r, nil
}
