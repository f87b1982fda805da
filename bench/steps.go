package main

import (
	"context"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"turret/internal/book"
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/demo"
	"turret/internal/office"
	"turret/internal/office/closing"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/store"
)

var me = office.Actor{Name: "bench", Role: office.Operator}

func database(dir string) string { return filepath.Join(dir, "bench.db") }

func ms(d time.Duration) float64 { return float64(d.Microseconds()) / 1000 }

func median(list []time.Duration) float64 {
	slices.Sort(list)
	return ms(list[len(list)/2])
}

// peak gives the peak memory of a process in megabytes.
func peak(pid string) float64 { return status(pid, "VmHWM:") }

// resident gives a line of this process's memory in megabytes.
func resident(line string) float64 { return status("self", line) }

func status(pid, wanted string) float64 {
	b, err := os.ReadFile("/proc/" + pid + "/status")
	if err != nil {
		return 0
	}
	for line := range strings.Lines(string(b)) {
		if rest, ok := strings.CutPrefix(line, wanted); ok {
			kb, _ := strconv.ParseFloat(strings.TrimSuffix(strings.TrimSpace(rest), " kB"), 64)
			return kb / 1024
		}
	}
	return 0
}

func size(path string) float64 {
	var n int64
	for _, f := range []string{path, path + "-wal"} {
		if info, err := os.Stat(f); err == nil {
			n += info.Size()
		}
	}
	return float64(n) / (1 << 20)
}

func makeStep(ctx context.Context, dir string) (result, error) {
	if err := synthesise(ctx, database(dir)); err != nil {
		return nil, err
	}
	return result{}, writePostings(filepath.Join(dir, "postings.csv"))
}

// gatherFile runs the command as users do.
func gatherFile(dir string) (time.Duration, float64, error) {
	return run(filepath.Join(dir, "turret"), "gather", "--db", database(dir), filepath.Join(dir, "postings.csv"))
}

// copyFile copies a database that nobody has open.
func copyFile(from, to string) error {
	b, err := os.ReadFile(from)
	if err != nil {
		return err
	}
	return os.WriteFile(to, b, 0o600)
}

// run runs a command and tells its time and peak memory in megabytes.
func run(name string, args ...string) (time.Duration, float64, error) {
	cmd := exec.Command(name, args...)
	begun := time.Now()
	if err := cmd.Start(); err != nil {
		return 0, 0, err
	}
	var most float64
	done := make(chan error, 1)
	go func() { done <- cmd.Wait() }()
	for {
		select {
		case err := <-done:
			return time.Since(begun), most, err
		case <-time.After(20 * time.Millisecond):
			most = max(most, peak(strconv.Itoa(cmd.Process.Pid)))
		}
	}
}

// gatherStep gathers the ledger twice: in this process on a copy, to tell how
// long the lock is held, and by the command.
func gatherStep(ctx context.Context, dir string) (result, error) {
	held, err := lockHeld(ctx, dir)
	if err != nil {
		return nil, err
	}
	d, mb, err := gatherFile(dir)
	return result{
		"gather 500,000 new postings": ms(d),
		"gather: peak memory":         mb,
		"gather: write lock held":     ms(held),
	}, err
}

func lockHeld(ctx context.Context, dir string) (time.Duration, error) {
	o, done, err := onCopy(ctx, dir)
	if err != nil {
		return 0, err
	}
	defer done()
	files, refused, err := entry.Collect([]string{filepath.Join(dir, "postings.csv")})
	if err != nil {
		return 0, err
	}
	r, err := entry.In(o).Gather(ctx, me, files, refused, entry.Options{})
	if err != nil {
		return 0, err
	}
	if len(r.Refusals) > 0 {
		return 0, fmt.Errorf("%d refusals, such as %s", len(r.Refusals), r.Refusals[0])
	}
	return r.Held, nil
}

func againStep(_ context.Context, dir string) (result, error) {
	d, mb, err := gatherFile(dir)
	return result{"the same postings again": ms(d), "again: peak memory": mb, "database size": size(database(dir))}, err
}

const lastPeriod = "2026-12" // the 24th

// figures computes the last period, and gives it.
func figures(ctx context.Context, o *office.Office) (calendar.Period, error) {
	p, err := o.ParsePeriod(ctx, me, lastPeriod)
	if err != nil {
		return 0, err
	}
	_, err = export.In(o).Readings(ctx, me, export.Query{Period: p})
	return p, err
}

func coldStep(ctx context.Context, dir string) (result, error) {
	begun := time.Now()
	o, err := office.Open(ctx, me, database(dir), false)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	if _, err := figures(ctx, o); err != nil {
		return nil, err
	}
	return result{"cold: open and compute one period": ms(time.Since(begun)), "cold: peak memory": peak("self")}, nil
}

func warmStep(ctx context.Context, dir string) (result, error) {
	o, err := office.Open(ctx, me, database(dir), false)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	p, err := figures(ctx, o)
	if err != nil {
		return nil, err
	}
	var warm []time.Duration
	for _, q := range []export.Query{{Period: p, Against: portfolio.Original}, {Period: p - 1}, {Period: p - 1, Against: portfolio.Original}} {
		begun := time.Now()
		for _, q.Reporting = range []bool{false, true} {
			if _, err := export.In(o).Readings(ctx, me, q); err != nil {
				return nil, err
			}
		}
		warm = append(warm, time.Since(begun))
	}
	var change []time.Duration
	for i := range 15 {
		took, err := changed(ctx, o, i)
		if err != nil {
			return nil, err
		}
		change = append(change, took)
	}
	return result{
		"warm: all figures of one period, both currencies": median(warm),
		"one project's change to new portfolio figures":    median(change),
	}, nil
}

// statementOf is a file with one statement about one project.
func statementOf(i int) entry.File {
	body := fmt.Sprintf("project,activity,period,percent\n%s,5,%s,%d\n", code(i*61), lastPeriod, 40+i)
	return entry.File{Name: fmt.Sprintf("progress-%d.csv", i), Body: []byte(body)}
}

func closeStep(ctx context.Context, dir string) (result, error) {
	o, err := office.Open(ctx, me, database(dir), false)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	p, err := o.ParsePeriod(ctx, me, lastPeriod)
	if err != nil {
		return nil, err
	}
	before, err := pages(ctx, dir)
	if err != nil {
		return nil, err
	}
	begun := time.Now()
	if _, err := closing.In(o).ClosePeriod(ctx, me, p); err != nil {
		return nil, err
	}
	took := time.Since(begun)
	after, err := pages(ctx, dir)
	return result{"close a period": ms(took), "close: database grows by": after - before}, err
}

// pages gives the size of the database without its free pages, in megabytes.
func pages(ctx context.Context, dir string) (float64, error) {
	db, err := sqlx.Open("sqlite", "file:"+database(dir)+"?mode=ro")
	if err != nil {
		return 0, err
	}
	defer db.Close()
	var n float64
	err = db.GetContext(
		ctx,
		&n,
		"SELECT (page_count - freelist_count) * page_size / 1048576.0 FROM pragma_page_count, pragma_freelist_count, pragma_page_size",
	)
	return n, err
}

func yardstickStep(ctx context.Context, dir string) (result, error) {
	st, err := store.Open(ctx, database(dir), false)
	if err != nil {
		return nil, err
	}
	defer st.Close()
	db, err := sqlx.Open("sqlite", "file:"+database(dir)+"?mode=ro")
	if err != nil {
		return nil, err
	}
	defer db.Close()
	var sql, loop []time.Duration
	for range 3 {
		begun := time.Now()
		rows, err := db.QueryContext(
			ctx,
			"SELECT project, currency, sum(amount) FROM posting GROUP BY project, currency",
		)
		if err != nil {
			return nil, err
		}
		for rows.Next() {
			var p, n int64
			var c string
			if err := rows.Scan(&p, &c, &n); err != nil {
				return nil, err
			}
		}
		rows.Close()
		sql = append(sql, time.Since(begun))
	}
	b, err := book.Open(ctx, st)
	if err != nil {
		return nil, err
	}
	s, err := b.Snapshot(ctx)
	if err != nil {
		return nil, err
	}
	filled, err := s.Filled(ctx)
	if err != nil {
		return nil, err
	}
	var total int64
	for range 5 {
		begun := time.Now()
		for _, p := range filled {
			sum := func(lines []portfolio.Line) {
				for i := range lines {
					for j := range lines[i].Cells {
						total += lines[i].Cells[j].Amount
					}
				}
			}
			sum(p.Ledger)
			for i := range p.Plan {
				sum(p.Plan[i].Lines)
			}
			for i := range p.Forecast {
				sum(p.Forecast[i].Lines)
			}
		}
		loop = append(loop, time.Since(begun))
	}
	if total == 0 {
		return nil, fmt.Errorf("the loop added nothing")
	}
	return result{
		"yardstick: one SQL query for the ledger's totals": median(sql),
		"yardstick: a bare loop over the same cells":       median(loop),
	}, nil
}

func demoStep(_ context.Context, dir string) (result, error) {
	begun := time.Now()
	addr, pid, stop, err := start(dir, "demo")
	if err != nil {
		return nil, err
	}
	defer stop()
	ready := time.Since(begun)
	client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	who := demo.SignIns[0]
	b, err := signIn("http://"+addr, client.Do, who.Login, who.Password)
	if err != nil {
		return nil, err
	}
	out := result{"demo: ready": ms(ready)}
	for name, path := range map[string]string{"demo: board": "/board", "demo: sheet": "/project/FR-01", "demo: find": "/find?q=mar", "demo: Check": "/check"} {
		if out[name], err = b.median(path, 30); err != nil {
			return nil, err
		}
	}
	out["demo: peak memory"] = peak(strconv.Itoa(pid))
	return out, nil
}
