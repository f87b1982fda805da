package main

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"turret/internal/office"
	"turret/internal/office/brief"
	"turret/internal/office/entry"
	"turret/internal/office/letters"
	"turret/internal/office/packs"
)

// many is how many briefs a pack makes at once, and leaves how many pages are written as slides.
const (
	many   = 200
	leaves = 200
)

// packsStep writes slides of a long brief of the synthetic portfolio, and sends a pack of many
// projects: made, frozen and queued.
func packsStep(ctx context.Context, dir string) (result, error) {
	small, err := os.MkdirTemp("", "turret-bench-packs-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(small)
	path := filepath.Join(small, "packs.db")
	body, err := os.ReadFile(database(dir))
	if err != nil {
		return nil, err
	}
	if err := os.WriteFile(path, body, 0o600); err != nil {
		return nil, err
	}
	o, err := office.Open(ctx, me, path, true)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	out := result{}
	b, err := brief.In(o).Brief(ctx, me, brief.Spec{})
	if err != nil {
		return nil, err
	}
	b.Pack.Pages = b.Pack.Pages[:leaves]
	var times []time.Duration
	for range 3 {
		begun := time.Now()
		slides, err := b.Write(brief.FormPPTX)
		if err != nil {
			return nil, err
		}
		times = append(times, time.Since(begun))
		out["slides of 200 pages, MB"] = float64(len(slides)) / 1e6
	}
	out["slides of 200 pages"] = median(times)

	m, err := o.Moment(ctx, me, office.Ask{})
	if err != nil {
		return nil, err
	}
	var scopes []string
	for _, x := range m.ProjectNames()[:many] {
		scopes = append(scopes, x[0])
	}
	rows := fmt.Sprintf("pack,name,scopes,forms,readers\nMANY,Many,\"%s\",pdf,a@b.example\n", strings.Join(scopes, ","))
	if _, err := entry.In(o).Gather(ctx, me, []entry.File{{Name: "packs.csv", Body: []byte(rows)}}, nil, entry.Options{}); err != nil {
		return nil, err
	}
	begun := time.Now()
	r, err := packs.In(o).Send(ctx, me, "MANY", m.Period.Code, packs.Addresses{
		Addresses: letters.Addresses{}, Shared: func(token string) string { return "http://t/shared/" + token },
	}, nil)
	if err != nil {
		return nil, err
	}
	if r.Briefs != many {
		return nil, fmt.Errorf("a pack of %d briefs made %d: %s", many, r.Briefs, r.Left)
	}
	out["a pack of 200 briefs, made and queued"] = ms(time.Since(begun))
	return out, nil
}
