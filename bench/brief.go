package main

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"turret/internal/demo"
	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/brief"
)

// briefStep makes briefs of the synthetic portfolio and of the demonstration,
// and the board's spreadsheet. Medians of three, warm, as the server makes
// them.
func briefStep(ctx context.Context, dir string) (result, error) {
	o, err := office.Open(ctx, me, database(dir), false)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	out := result{}
	leaves, err := timeBrief(ctx, o, "brief of 1,000 projects as PDF", out)
	if err != nil {
		return nil, err
	}
	out["brief of 1,000 projects: pages"] = float64(leaves)
	m, err := o.Moment(ctx, me, office.Ask{})
	if err != nil {
		return nil, err
	}
	var times []time.Duration
	for range 3 {
		begun := time.Now()
		if _, err := brief.In(o).BoardWorkbook(ctx, me, m, board.Order{}); err != nil {
			return nil, err
		}
		times = append(times, time.Since(begun))
	}
	out["XLSX of the board of 1,000 projects"] = median(times)
	small, err := os.MkdirTemp("", "turret-bench-demo-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(small)
	d, err := demo.Make(ctx, filepath.Join(small, "demo.db"))
	if err != nil {
		return nil, err
	}
	defer d.Close()
	_, err = timeBrief(ctx, d, "demo: brief as PDF", out)
	return out, err
}

// timeBrief makes the portfolio brief three times, and holds it to its bytes.
func timeBrief(ctx context.Context, o *office.Office, name string, out result) (leaves int, err error) {
	var times []time.Duration
	var first []byte
	for range 3 {
		begun := time.Now()
		b, err := brief.In(o).Brief(ctx, me, brief.Spec{})
		if err != nil {
			return 0, err
		}
		body, err := b.Write(brief.FormPDF)
		if err != nil {
			return 0, err
		}
		times = append(times, time.Since(begun))
		if first != nil && !bytes.Equal(first, body) {
			return 0, fmt.Errorf("%s: the same brief gave other bytes", name)
		}
		first, leaves = body, len(b.Sheets)
	}
	out[name] = median(times)
	return leaves, nil
}
