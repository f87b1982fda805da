package main

import (
	"context"
	"fmt"
	"time"

	"turret/internal/change"
	"turret/internal/office"
	"turret/internal/office/export"
	"turret/internal/office/judge"
)

// judgeStep checks and rates everything anew, and previews a change of a rule;
// the period before the last is closed, the last is open.
func judgeStep(ctx context.Context, dir string) (result, error) {
	o, err := office.Open(ctx, me, database(dir), false)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	p, err := o.ParsePeriod(ctx, me, lastPeriod)
	if err != nil {
		return nil, err
	}
	read := func() error {
		_, err := export.In(o).Readings(ctx, me, export.Query{Period: p, Reporting: true})
		return err
	}
	if err := read(); err != nil {
		return nil, err
	}
	m, err := o.Moment(ctx, me, office.Ask{At: lastPeriod})
	if err != nil {
		return nil, err
	}
	before := len(m.Findings())
	var all, preview []time.Duration
	for i := range 3 { // each change of a limit judges all projects again
		row := map[string]string{
			"dimension": "cost",
			"reading":   "cpi",
			"direction": "below",
			"watch":     fmt.Sprintf("0.9%d", 4-i),
			"act":       "0.85",
			"from":      lastPeriod,
		}
		begun := time.Now()
		if _, err := judge.In(o).PreviewRule(ctx, me, "rules", row); err != nil {
			return nil, err
		}
		preview = append(preview, time.Since(begun))
		if err := judge.In(o).SaveRule(ctx, me, change.Unseen, "rules", row); err != nil {
			return nil, err
		}
		begun = time.Now()
		if err := read(); err != nil {
			return nil, err
		}
		all = append(all, time.Since(begun))
	}
	first := preview[0]
	return result{
		"all checks and ratings of 1,000 projects": median(
			all,
		), "a rule change previewed": median(preview), "a rule change previewed, first": ms(first),
		"findings of 1,000 projects": float64(before),
	}, nil
}
