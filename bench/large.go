package main

import (
	"context"
	"os"
	"path/filepath"
	"time"

	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/export"
)

// times is how much larger the large portfolio is.
const times = 5

func large(dir string) string { return filepath.Join(dir, "large") }

// enlargeStep makes five times the portfolio, of the same make.
func enlargeStep(ctx context.Context, dir string) (result, error) {
	projects *= times
	postings *= times
	at := large(dir)
	if err := os.MkdirAll(at, 0o700); err != nil {
		return nil, err
	}
	if err := synthesise(ctx, database(at)); err != nil {
		return nil, err
	}
	ledger := filepath.Join(at, "postings.csv")
	if err := writePostings(ledger); err != nil {
		return nil, err
	}
	_, _, err := run(filepath.Join(dir, "turret"), "gather", "--db", database(at), ledger)
	return result{}, err
}

// largeStep measures the large portfolio: what costs more for each project there than
// in the other grows faster than the office does.
func largeStep(ctx context.Context, dir string) (result, error) {
	at := large(dir)
	defer os.RemoveAll(at)
	begun := time.Now()
	o, b, err := opened(ctx, at)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	p, err := figures(ctx, o)
	if err != nil {
		return nil, err
	}
	cold := time.Since(begun)
	begun = time.Now()
	for _, reporting := range []bool{false, true} {
		if _, err := export.In(o).Readings(ctx, me, export.Query{Period: p - 1, Reporting: reporting}); err != nil {
			return nil, err
		}
	}
	warm := time.Since(begun)
	var change []time.Duration
	for i := range 15 {
		took, err := changed(ctx, o, i)
		if err != nil {
			return nil, err
		}
		change = append(change, took)
	}
	if _, _, err := b.get("/board"); err != nil {
		return nil, err
	}
	board, err := b.median("/board", 9)
	return result{
		"5,000 projects: one change":           median(change),
		"5,000 projects: board":                board,
		"5,000 projects: peak memory":          peak("self"),
		"5,000 projects: cold, for each 1,000": ms(cold) / times,
		"5,000 projects: warm, for each 1,000": ms(warm) / times,
	}, err
}

// changed gathers a statement about one project, and tells how long the figures of
// the portfolio take then.
func changed(ctx context.Context, o *office.Office, i int) (time.Duration, error) {
	p, err := o.ParsePeriod(ctx, me, lastPeriod)
	if err != nil {
		return 0, err
	}
	if _, err := entry.In(o).Gather(ctx, me, []entry.File{statementOf(i)}, nil, entry.Options{}); err != nil {
		return 0, err
	}
	begun := time.Now()
	_, err = export.In(o).Readings(ctx, me, export.Query{Period: p, Reporting: true})
	return time.Since(begun), err
}
