// Bench measures Turret over a synthetic portfolio and prints a table of the
// budgets beside what was measured. Each measurement that tells memory runs in
// a process of its own. Machines are noisy: medians and ratios count.
package main

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"time"
)

// result is what one measurement tells, by name: milliseconds or megabytes.
type result map[string]float64

// budget is a line of the table.
type budget struct {
	name, unit string
	limit      float64 // zero: a yardstick
}

var table = []budget{
	{"cold: open and compute one period", "ms", 2500},
	{"cold: peak memory", "MB", 700},
	{"warm: all figures of one period, both currencies", "ms", 150},
	{"one project's change to new portfolio figures", "ms", 5},
	{"all checks and ratings of 1,000 projects", "ms", 1000},
	{"a rule change previewed", "ms", 1000},
	{"a rule change previewed, first", "ms", 0},
	{"findings of 1,000 projects", "", 0},
	{"Check of 1,000 projects", "ms", 80},
	{"demo: Check", "ms", 0},
	{"gather 500,000 new postings", "ms", 10_000},
	{"gather: write lock held", "ms", 5000},
	{"gather: peak memory", "MB", 400},
	{"the same postings again", "ms", 3000},
	{"again: peak memory", "MB", 400},
	{"untidy CSV of 500,000 rows", "ms", 12_000},
	{"untidy CSV of 500,000 rows: peak memory", "MB", 400},
	{"XLSX of 50,000 rows × 12 months", "ms", 6000},
	{"XLSX of 50,000 rows × 12 months: peak memory", "MB", 400},
	{"preview of a file of 50,000 rows", "ms", 3000},
	{"close a period", "ms", 3000},
	{"close: database grows by", "MB", 5},
	{"two cuts of the portfolio compared", "ms", 300},
	{"sheet of a closed period", "ms", 60},
	{"history of one record", "ms", 20},
	{"history of all, first page", "ms", 0},
	{"50 people save", "ms", 50},
	{"50 people save, 99th percentile", "ms", 300},
	{"50 people save beside a gather", "ms", 50},
	{"50 people save beside a gather, 99th percentile", "ms", 0},
	{"stating: the desk", "ms", 60},
	{"stating: a draft is kept", "ms", 20},
	{"stating: what a draft would do", "ms", 60},
	{"stating: sent", "ms", 80},
	{"50 people state", "ms", 50},
	{"stating: from a key to the painted cell, 95th percentile", "ms", 50},
	{"typing money: 500 cells kept", "ms", 50},
	{"typing money: 5000 cells kept", "ms", 300},
	{"typing money: from a key to the painted cell, 95th percentile", "ms", 50},
	{"typing money: 2,000 cells pasted and painted", "ms", 300},
	{"funding of 1,000 projects, first", "ms", 0},
	{"funding of 1,000 projects", "ms", 150},
	{"the ledger to the cent, first", "ms", 0},
	{"the ledger to the cent", "ms", 150},
	{"words that are wanted, first", "ms", 0},
	{"words that are wanted", "ms", 100},
	{"what one text stands beside, first", "ms", 0},
	{"what one text stands beside", "ms", 60},
	{"board of a closed period, first", "ms", 0},
	{"board of a closed period", "ms", 60},
	{"board, compared", "ms", 60},
	{"board, grouped by lead", "ms", 0},
	{"board: first window, compressed", "KB", 60},
	{"board: painted in the browser", "ms", 400},
	{"after a start: board", "ms", 1500},
	{"after a start: exceptions", "ms", 1500},
	{"after a start: forecasts", "ms", 1500},
	{"after a start: money table", "ms", 1500},
	{"after a start: at rest", "ms", 0},
	{"exceptions, first", "ms", 0},
	{"page of 12 blocks", "ms", 200},
	{"exceptions", "ms", 100},
	{"map, first", "ms", 0},
	{"map", "ms", 80},
	{"map, compressed", "KB", 0},
	{"map: painted in the browser", "ms", 300},
	{"drivers, first", "ms", 0},
	{"drivers", "ms", 150},
	{"forecast error over 24 periods, first", "ms", 0},
	{"forecast error over 24 periods", "ms", 300},
	{"sheet with measures, first", "ms", 0},
	{"sheet with measures", "ms", 60},
	{"money table of two versions, first", "ms", 0},
	{"money table of two versions", "ms", 150},
	{"money table, compressed", "KB", 200},
	{"from portfolio actuals to its projects", "ms", 50},
	{"from a project's actuals to postings", "ms", 50},
	{"bridge of the whole portfolio", "ms", 300},
	{"XLSX of a money table of 100,000 rows", "ms", 8000},
	{"XLSX of a money table: memory beside the portfolio", "MB", 300},
	{"bridge of the computed outlook", "ms", 300},
	{"network of 100,000 activities: both passes", "ms", 300},
	{"the same: a push", "ms", 50},
	{"timeline window, first", "ms", 0},
	{"timeline window", "ms", 60},
	{"roadmap of 1,000 projects, first", "ms", 0},
	{"roadmap of 1,000 projects", "ms", 150},
	{"calendar month, first", "ms", 0},
	{"calendar month", "ms", 80},
	{"what is due, first", "ms", 0},
	{"what is due", "ms", 80},
	{"find", "ms", 20},
	{"brief of 1,000 projects as PDF", "ms", 6000},
	{"slides of 200 pages", "ms", 5000},
	{"slides of 200 pages: memory", "MB", 300},
	{"slides of 200 pages, MB", "MB", 0},
	{"a pack of 200 briefs, made and queued", "ms", 60_000},
	{"a pack of 1,000 briefs, made and queued", "ms", 0},
	{"a brief of 1,000 projects in five forms, sent", "ms", 0},
	{"a brief of 1,000 projects in five forms, sent: peak memory", "MB", 0},
	{"brief of 1,000 projects: pages", "", 0},
	{"XLSX of the board of 1,000 projects", "ms", 1000},
	{"demo: brief as PDF", "ms", 500},
	{"demo: ready", "ms", 6000},
	{"demo: peak memory", "MB", 150},
	{"demo: board", "ms", 20},
	{"demo: sheet", "ms", 25},
	{"demo: find", "ms", 20},
	{"5,000 projects: one change", "ms", 8},
	{"5,000 projects: board", "ms", 80},
	{"5,000 projects: peak memory", "MB", 2500},
	{"5,000 projects: cold, for each 1,000", "ms", 0},
	{"5,000 projects: warm, for each 1,000", "ms", 0},
	{"yardstick: one SQL query for the ledger's totals", "ms", 0},
	{"yardstick: a bare loop over the same cells", "ms", 0},
	{"database size", "MB", 0},
}

// steps are run in this order, each in a new process, on the same database.
var steps = []struct {
	name string
	run  func(ctx context.Context, dir string) (result, error)
}{
	{"make", makeStep},
	{"untidy", untidyStep},
	{"gather", gatherStep},
	{"again", againStep},
	{"cold", coldStep},
	{"warm", warmStep},
	{"judge", judgeStep},
	{"people", peopleStep},
	{"state", stateStep},
	{"close", closeStep},
	{"screens", screensStep},
	{"started", startedStep},
	{"weigh", weighStep},
	{"page", pageStep},
	{"dates", datesStep},
	{"paint", paintStep},
	{"keys", keysStep},
	{"amounts", amountsStep},
	{"explain", explainStep},
	{"typed", moneyKeysStep},
	{"brief", briefStep},
	{"packs", packsStep},
	{"thousand", thousandStep},
	{"yardstick", yardstickStep},
	{"money", moneyStep},
	{"history", historyStep},
	{"network", networkStep},
	{"demo", demoStep},
	{"enlarge", enlargeStep},
	{"large", largeStep},
}

func main() {
	ctx := context.Background()
	if len(os.Args) == 3 { // one step, in a process of its own
		for _, s := range steps {
			if s.name == os.Args[1] {
				r, err := s.run(ctx, os.Args[2])
				if err != nil {
					fmt.Fprintln(os.Stderr, err)
					os.Exit(1)
				}
				if err := json.NewEncoder(os.Stdout).Encode(r); err != nil {
					os.Exit(1)
				}
			}
		}
		return
	}
	if err := all(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func all() error {
	dir, err := os.MkdirTemp("", "turret-bench-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	self, err := os.Executable()
	if err != nil {
		return err
	}
	build := exec.Command("go", "build", "-o", filepath.Join(dir, "turret"), "./cmd/turret")
	build.Stderr = os.Stderr
	if err := build.Run(); err != nil {
		return err
	}
	measured := make(result)
	for _, s := range steps {
		begun := time.Now()
		cmd := exec.Command(self, s.name, dir)
		cmd.Stderr = os.Stderr
		out, err := cmd.Output()
		if err != nil {
			return fmt.Errorf("%s: %w", s.name, err)
		}
		var r result
		if err := json.Unmarshal(out, &r); err != nil {
			return fmt.Errorf("%s: %w", s.name, err)
		}
		for k, v := range r {
			measured[k] = v
		}
		fmt.Fprintf(os.Stderr, "%s: %.1f s\n", s.name, time.Since(begun).Seconds())
	}
	fmt.Printf("%-52s %12s %12s\n", "", "measured", "budget")
	for _, b := range table {
		limit, mark := "", ""
		if b.limit > 0 {
			limit = fmt.Sprintf("%.0f %s", b.limit, b.unit)
			if measured[b.name] > b.limit {
				mark = "  over"
			}
		}
		fmt.Printf("%-52s %9.1f %-2s %12s%s\n", b.name, measured[b.name], b.unit, limit, mark)
	}
	return nil
}
