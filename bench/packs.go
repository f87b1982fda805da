package main

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"runtime/debug"
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
	return sending(ctx, dir, func(o *office.Office, period string, codes []string) (result, error) {
		out := result{}
		b, err := brief.In(o).Brief(ctx, me, brief.Spec{})
		if err != nil {
			return nil, err
		}
		b.Pack.Pages = b.Pack.Pages[:leaves]
		debug.FreeOSMemory()
		before := resident("VmRSS:")
		if err := os.WriteFile("/proc/self/clear_refs", []byte("5"), 0); err != nil { // the peak begins anew
			return nil, err
		}
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
		out["slides of 200 pages: memory"] = resident("VmHWM:") - before
		out["slides of 200 pages"] = median(times)
		took, err := sent(ctx, o, period, fmt.Sprintf(`%q,,pdf`, strings.Join(codes[:many], ",")), many)
		out["a pack of 200 briefs, made and queued"] = ms(took)
		return out, err
	})
}

// thousandStep sends one brief with a page of each of a thousand projects, in every form, and a
// brief of each.
func thousandStep(ctx context.Context, dir string) (result, error) {
	return sending(ctx, dir, func(o *office.Office, period string, codes []string) (result, error) {
		one, err := sent(ctx, o, period, `*,"first,board-,each:","pdf,html,xlsx,pptx,zip"`, 1)
		if err != nil {
			return nil, err
		}
		most := resident("VmHWM:")
		each, err := sent(ctx, o, period, fmt.Sprintf(`%q,,pdf`, strings.Join(codes, ",")), len(codes))
		return result{
			"a brief of 1,000 projects in five forms, sent":              ms(one),
			"a brief of 1,000 projects in five forms, sent: peak memory": most,
			"a pack of 1,000 briefs, made and queued":                    ms(each),
		}, err
	})
}

// sending opens a copy of the synthetic portfolio, from which briefs may be sent.
func sending(ctx context.Context, dir string, do func(o *office.Office, period string, codes []string) (result, error)) (result, error) {
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
	m, err := o.Moment(ctx, me, office.Ask{})
	if err != nil {
		return nil, err
	}
	var codes []string
	for _, x := range m.ProjectNames() {
		codes = append(codes, x[0])
	}
	return do(o, m.Period.Code, codes)
}

// sent sends a pack, given by its cells for scopes, pages and forms, and tells how long that took.
func sent(ctx context.Context, o *office.Office, period, cells string, briefs int) (time.Duration, error) {
	rows := "pack,name,scopes,pages,forms,readers\nMANY,Many," + cells + ",a@b.example\n"
	if _, err := entry.In(o).Gather(ctx, me, []entry.File{{Name: "packs.csv", Body: []byte(rows)}}, nil, entry.Options{}); err != nil {
		return 0, err
	}
	begun := time.Now()
	r, err := packs.In(o).Send(ctx, me, "MANY", period, packs.Addresses{
		Addresses: letters.Addresses{}, Shared: func(token string) string { return "http://t/shared/" + token },
	}, nil)
	if err == nil && r.Briefs != briefs {
		err = fmt.Errorf("a pack of %d briefs made %d: %s", briefs, r.Briefs, r.Left)
	}
	return time.Since(begun), err
}
