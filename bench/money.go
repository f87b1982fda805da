package main

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"runtime"
	"runtime/debug"
	"time"
)

// moneyStep reads money tables of a portfolio that is grown: 30 lines of 60
// months a project, and its ledger.
func moneyStep(ctx context.Context, dir string) (result, error) {
	costLines, months = 30, 60
	grown := filepath.Join(dir, "grown")
	if err := os.MkdirAll(grown, 0o755); err != nil {
		return nil, err
	}
	defer os.RemoveAll(grown)
	if _, err := makeStep(ctx, grown); err != nil {
		return nil, err
	}
	if _, _, err := run(filepath.Join(dir, "turret"), "gather", "--db", database(grown), filepath.Join(grown, "postings.csv")); err != nil {
		return nil, err
	}
	o, b, err := opened(ctx, grown)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	last := "2026-11" // the period before the last one stated
	r := make(result)
	first, _, err := b.get("/money?vs=" + last)
	if err != nil {
		return nil, err
	}
	r["money table of two versions, first"] = ms(first)
	for i, path := range []string{
		"/money?vs=" + last,
		"/money?vs=" + last + "&rows=programme,class&per=quarter&amounts=plan,running,variance&span=all",
		"/money?vs=" + last + "&rows=code,project&open=1&sum=cumulative",
		"/money?vs=" + last + "&rows=programme,project,code&open=3&span=all&per=year&only=differs",
	} {
		if _, _, err := b.get(path); err != nil { // what is converted once is not the screen's
			return nil, err
		}
		took, err := b.median(path, 7)
		if err != nil {
			return nil, err
		}
		_, size, err := b.get(path)
		if err != nil {
			return nil, err
		}
		fmt.Fprintf(os.Stderr, "money %d: %.0f ms, %.0f KB, %s\n", i, took, float64(size)/1024, path)
		r["money table of two versions"] = max(r["money table of two versions"], took)
		r["money table, compressed"] = max(r["money table, compressed"], float64(size)/1024)
	}
	for name, path := range map[string]string{
		"from portfolio actuals to its projects": "/money/cell?rows=programme,code&column=7&cause=actual",
		"bridge of the whole portfolio":          "/money/bridge?vs=" + last + "&per=completion",
		"bridge of the computed outlook":         "/money/bridge?amounts=outlook&vs=" + last,
		"from a project's actuals to postings":   "/money/cell?of=" + code(7) + "&rows=code&row=C07&column=7&cause=actual",
	} {
		if _, _, err := b.get(path); err != nil {
			return nil, err
		}
		if r[name], err = b.median(path, 7); err != nil {
			return nil, err
		}
	}
	sheet := func() error {
		res, err := b.do(
			http.MethodGet,
			"/money.xlsx?rows=programme,project,code,class,flow,centre&open=9&per=quarter",
			nil,
		)
		if err != nil {
			return err
		}
		defer res.Body.Close()
		n, err := io.Copy(io.Discard, res.Body)
		fmt.Fprintf(os.Stderr, "money: XLSX of %.1f MB\n", float64(n)/(1<<20))
		return err
	}
	begun := time.Now()
	if err := sheet(); err != nil {
		return nil, err
	}
	r["XLSX of a money table of 100,000 rows"] = ms(time.Since(begun))
	debug.SetGCPercent(10) // so that what is seen is held, and not just not collected yet
	var before runtime.MemStats
	debug.FreeOSMemory()
	runtime.ReadMemStats(&before)
	peak, stop := sampled()
	if err := sheet(); err != nil {
		return nil, err
	}
	close(stop)
	r["XLSX of a money table: memory beside the portfolio"] = float64(<-peak-before.HeapAlloc) / (1 << 20)
	return r, nil
}

// sampled gives the largest heap that is seen until stop is closed.
func sampled() (peak chan uint64, stop chan struct{}) {
	peak, stop = make(chan uint64, 1), make(chan struct{})
	go func() {
		var most uint64
		var m runtime.MemStats
		for {
			runtime.ReadMemStats(&m)
			most = max(most, m.HeapAlloc)
			select {
			case <-stop:
				peak <- most
				return
			case <-time.After(50 * time.Millisecond):
			}
		}
	}()
	return peak, stop
}
