package schedule

import (
	"context"
	"fmt"
	"slices"

	"turret/internal/book"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/right"
)

// Levels are how far up an activity shows, from its project's own pages to those of the
// portfolio.
var Levels = []string{"activity", "project", "programme", "portfolio"}

// Raise shows an activity or milestone up to a level, as one change of its project's plan.
func (o Room) Raise(ctx context.Context, a right.Actor, seen int64, project, activity, level string) error {
	if err := right.Check(a, right.Found); err != nil {
		return err
	}
	if !slices.Contains(Levels, level) {
		return &office.Misfit{Column: "level", Why: fmt.Sprintf("%q is no level; there are activity, project, programme and portfolio", level)}
	}
	_, err := entry.In(o.Office).Enter(ctx, a, &entry.Form{
		Origin: office.Planned, Note: fmt.Sprintf("%s/%s raised to %s", project, activity, level), Seen: seen, Takes: right.Found,
		Rows: func(ctx context.Context, s *book.Snapshot) ([]entry.Rows, error) {
			if _, err := s.Filled(ctx); err != nil {
				return nil, err
			}
			p := s.Project(project)
			if p == nil || !slices.ContainsFunc(p.Activities, func(x portfolio.Activity) bool { return x.Code == activity }) {
				return nil, &office.Misfit{Column: "activity", Why: fmt.Sprintf("there is no activity %s/%s", project, activity)}
			}
			return []entry.Rows{entry.Of("activities", entry.Row{"project": project, "activity": activity, "level": level})}, nil
		},
	})
	return err
}
