package main

import (
	"context"
	"fmt"
)

// datesStep reads the pages about dates of 1,000 projects: each for the first time, and then
// again and again.
func datesStep(ctx context.Context, dir string) (result, error) {
	o, b, err := opened(ctx, dir)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	if _, _, err := b.get("/board"); err != nil {
		return nil, err
	}
	r := make(result)
	for _, x := range [...][2]string{
		{"timeline window", "/timeline?open=" + code(3) + "," + code(7)},
		{"roadmap of 1,000 projects", "/roadmap"},
		{"calendar month", "/calendar"},
		{"what is due", "/dates"},
	} {
		took, _, err := b.get(x[1])
		if err != nil {
			return nil, err
		}
		r[x[0]+", first"] = ms(took)
		if r[x[0]], err = b.median(x[1], 9); err != nil {
			return nil, fmt.Errorf("%s: %w", x[1], err)
		}
	}
	return r, nil
}
