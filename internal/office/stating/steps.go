package stating

import (
	"context"
	"slices"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// ticks are what people write for a step that is done, without a day.
var ticks = []string{"x", "yes", "done", "ok", "✓"}

// laySteps lays out the steps of activities that are earned by them: what is not done yet
// first, activities all of whose steps were done before folded.
func laySteps(ctx context.Context, s *subject) (*Grid, error) {
	g := &Grid{Columns: []Column{{Name: "weight", Title: "Weight", Number: true, Locked: true}, {Name: "done", Title: "Done on"}}}
	v, err := s.snap.View(ctx, s.project.Code, s.at, portfolio.Latest)
	if err != nil {
		return nil, err
	}
	began := s.snap.Office.Periods.First(s.at)
	var running, over []Row
	for i := range v.Activities {
		a := &v.Activities[i]
		var rows []Row
		open := false
		for j := range v.Project.Steps {
			x := &v.Project.Steps[j]
			if x.Activity != i {
				continue
			}
			r := Row{Key: a.Code + " " + x.Code, Code: x.Code, keys: map[string]string{"activity": a.Code, "step": x.Code}}
			is := map[string]string{"weight": money.FormatShort(x.Weight, portfolio.QuantityScale)}
			if x.Done != 0 {
				is["done"] = x.Done.String()
			}
			open = open || x.Done == 0 || x.Done >= began
			g.fill(&r, is, nil)
			rows = append(rows, r)
		}
		if len(rows) == 0 {
			continue
		}
		rows[0].Group = strings.TrimSpace(a.Code + " " + a.Name)
		if open {
			running = append(running, rows...)
			continue
		}
		for k := range rows {
			rows[k].Folded = true
		}
		over = append(over, rows...)
	}
	g.Rows = append(running, over...)
	return g, nil
}

// stepRows are the steps of which something was typed. A tick is the last day of the
// period, or today where that comes first.
func stepRows(s *subject, g *Grid) []map[string]string {
	rows := changedRows(s, g)
	day := s.snap.Office.Periods.Last(s.at)
	if s.today != 0 {
		day = min(day, s.today)
	}
	for _, row := range rows {
		delete(row, "period")
		if slices.Contains(ticks, strings.ToLower(row["done"])) {
			row["done"] = calendar.Date(day).String()
		}
	}
	return rows
}
