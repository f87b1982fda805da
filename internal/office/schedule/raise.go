package schedule

import (
	"context"
	"fmt"
	"slices"

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
	return o.plan(ctx, a, seen, project, activity, "raised to "+level, nil, func(*portfolio.Activity) (entry.Row, error) {
		return entry.Row{"level": level}, nil
	})
}
