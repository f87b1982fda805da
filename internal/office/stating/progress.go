package stating

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// soon is how many periods ahead what starts is shown unfolded.
const soon = 2

// The groups of activities, by what asks for a word first.
const (
	runs = iota
	starts
	later
	over
)

var groupNames = [...]string{
	runs: "Running, due or late", starts: "Starts within two periods", later: "Later", over: "Finished",
}

// layProgress lays out the tasks and milestones: those that run, are due or late first,
// then what starts soon; the rest folded.
func layProgress(ctx context.Context, s *subject) (*Grid, error) {
	g := &Grid{Columns: []Column{
		{Name: "percent", Title: "%", Number: true},
		{Name: "start", Title: "Start"},
		{Name: "finish", Title: "Finish"},
		{Name: "actual_start", Title: "Began"},
		{Name: "actual_finish", Title: "Done"},
		{Name: "units_done", Title: "Units", Number: true},
		{Name: "note", Title: "Note"},
	}}
	said, err := s.snap.InForce(ctx, s.project.ID, s.Kind, s.at)
	if err != nil {
		return nil, err
	}
	by := make(map[string]*book.InForce, len(said))
	for i := range said {
		by[said[i].Cells["activity"]] = &said[i]
	}
	v, err := s.snap.View(ctx, s.project.Code, s.at, portfolio.Latest)
	if err != nil {
		return nil, err
	}
	ps := s.snap.Office.Periods
	type placed struct {
		group, place int
		due          calendar.Date
		row          Row
	}
	var list []placed
	for i := range v.Activities {
		a := &v.Activities[i]
		if !a.Leaf && a.Kind != portfolio.Milestone {
			continue
		}
		now := v.Status(i, s.at)
		x := placed{place: i, row: Row{Key: a.Code, Code: a.Code, Title: a.Name, keys: map[string]string{"activity": a.Code}}}
		first := cmp.Or(now.Start, now.Finish)
		if b := v.Row(i); first == 0 && b != nil { // nobody has said other days than the planned ones
			first = cmp.Or(b.Start, b.Finish)
		}
		switch {
		case now.Done != 0 && now.Done <= v.Day && (by[a.Code] == nil || by[a.Code].Said < s.at):
			x.group = over
		case now.Began != 0 || first != 0 && first <= v.Day:
			x.group = runs
		case first != 0 && first <= ps.Last(s.at+soon):
			x.group = starts
		default:
			x.group = later
		}
		x.row.Folded = x.group >= later
		x.due = now.Finish
		is, last := dates(now), dates(v.Project.Status(i, s.at-1))
		if said := by[a.Code]; said != nil {
			merge(is, said.Cells)
			merge(last, said.Before)
			if said.Said < s.at { // a note is of its own period
				delete(is, "note")
			}
		}
		g.fill(&x.row, is, last)
		list = append(list, x)
	}
	slices.SortStableFunc(list, func(a, b placed) int {
		return cmp.Or(cmp.Compare(a.group, b.group), cmp.Compare(a.due, b.due), cmp.Compare(a.place, b.place))
	})
	group := -1
	for _, x := range list {
		if x.group != group {
			group, x.row.Group = x.group, groupNames[x.group]
		}
		g.Rows = append(g.Rows, x.row)
	}
	return g, nil
}

// dates are the current dates of an activity of which nothing is stated yet.
func dates(s *portfolio.Status) map[string]string {
	out := make(map[string]string)
	if s.Start != 0 {
		out["start"] = s.Start.String()
	}
	if s.Finish != 0 {
		out["finish"] = s.Finish.String()
	}
	return out
}

func merge(into, from map[string]string) {
	for k, v := range from {
		into[k] = v
	}
}

// inOrder says at the cells that were typed where a day lies before the one that comes
// first: what was stated before counts beside what is typed.
func inOrder(g *Grid, first, second string) {
	for i := range g.Rows {
		r := &g.Rows[i]
		from, to := r.cell(g, first), r.cell(g, second)
		start, err := calendar.ParseDate(from.Value())
		finish, err2 := calendar.ParseDate(to.Value())
		if err != nil || err2 != nil || start <= finish || !from.Changed() && !to.Changed() {
			continue
		}
		at := to
		if !to.Changed() {
			at = from
		}
		at.Wrong = fmt.Sprintf("it would finish on %s, before it starts on %s; correct one of them", finish, start)
	}
}
