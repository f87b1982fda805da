package main

import (
	"context"
	"fmt"
)

// weighStep reads the screens that find what stands out among 1,000 projects:
// each for the first time, when readings, statements and suppliers are read in,
// and then again and again.
func weighStep(ctx context.Context, dir string) (result, error) {
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
		{"exceptions", "/exceptions"},
		{"map", "/map"},
		{"drivers", "/drivers?by=lead"},
		{"forecast error over 24 periods", "/forecasts"},
		{"sheet with measures", "/project/" + code(7)},
	} {
		took, size, err := b.get(x[1])
		if err != nil {
			return nil, err
		}
		if r[x[0]+", first"] = ms(took); x[0] == "map" {
			r["map, compressed"] = float64(size) / 1024
		}
		if r[x[0]], err = b.median(x[1], 9); err != nil {
			return nil, fmt.Errorf("%s: %w", x[1], err)
		}
	}
	return r, nil
}
