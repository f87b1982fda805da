// Mutate breaks the code in small ways, one at a time, and tells which breaks no test
// notices. The sample is fixed by its seed: so many places, spread over the rooms that
// compute, keep and write by their size.
//
// All breaks of a sample are built at once, each behind a switch (breaks.go), into one
// binary of tests for each package (build.go); then each test runs once to learn which
// breaks it reaches, and each break is tried with the tests that reach it (trial.go).
// What is built comes from an overlay: the tree stays as it is.
package main

import (
	"context"
	"flag"
	"fmt"
	"os"
	"os/signal"
	"regexp"
	"slices"
	"strings"
	"time"

	"golang.org/x/sync/errgroup"
)

// rooms are what is broken.
var rooms = []string{"core", "store", "book", "office"}

// watched are the packages whose tests may notice.
var watched = []string{
	"./internal/core/...", "./internal/store/...", "./internal/change", "./internal/book", "./internal/office/...",
	"./internal/web", "./cmd/turret",
}

func main() {
	o := options{tests: regexp.MustCompile("")}
	flag.StringVar(&o.root, "root", ".", "the tree")
	flag.IntVar(&o.n, "n", 300, "how many are tried")
	flag.Uint64Var(&o.seed, "seed", 1, "of the sample")
	flag.StringVar(&o.only, "only", "", "a room, such as core")
	flag.DurationVar(&o.longest, "longest", 20*time.Second, "tests that take longer are left out")
	flag.StringVar(&o.again, "again", "", "what an earlier run printed: only what was not noticed there is tried")
	flag.Func("tests", "only those whose name it matches", func(s string) (err error) {
		o.tests, err = regexp.Compile(s)
		return err
	})
	flag.Parse()
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt)
	defer stop()
	if err := run(ctx, o); err != nil {
		fmt.Fprintln(os.Stderr, err)
		stop()
		os.Exit(1)
	}
}

// options are what the command line says.
type options struct {
	root, only, again string
	n                 int
	seed              uint64
	longest           time.Duration
	tests             *regexp.Regexp
}

// atOnce is how many tests run beside each other.
const atOnce = 2

func run(ctx context.Context, o options) error {
	if err := os.Chdir(o.root); err != nil {
		return err
	}
	of := rooms
	if o.only != "" {
		of = []string{o.only}
	}
	list, err := sample(of, o.n, o.seed)
	if err != nil {
		return err
	}
	if o.again != "" {
		text, err := os.ReadFile(o.again)
		if err != nil {
			return err
		}
		list = slices.DeleteFunc(list, func(m *mutant) bool {
			was := fmt.Sprintf(" %s:%d %s (", m.file, m.line, m.what)
			return !strings.Contains(string(text), string(lives)+was) && !strings.Contains(string(text), string(unreached)+was)
		})
	}
	dir, err := os.MkdirTemp("", "mutate-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	b, err := build(ctx, dir, list)
	if err != nil {
		return err
	}
	tests, err := b.record(ctx, o.longest, o.tests)
	if err != nil {
		return err
	}
	fmt.Printf("%d breaks built, %d tests\n", len(list)-len(b.unbuilt), len(tests))
	return tryAll(ctx, b, list, tests)
}

// tryAll tries every break and prints what becomes of each, and the sum by room.
func tryAll(ctx context.Context, b *binaries, list []*mutant, tests []test) error {
	fates := make([]fate, len(list))
	work, ctx := errgroup.WithContext(ctx)
	work.SetLimit(atOnce)
	for i, m := range list {
		work.Go(func() error {
			begun := time.Now()
			end, by, err := b.try(ctx, m, tests)
			if err != nil {
				return err
			}
			fates[i] = end
			fmt.Printf("%s %s:%d %s (%d of %d, %.0f s%s)\n",
				end, m.file, m.line, m.what, i+1, len(list), time.Since(begun).Seconds(), by)
			return nil
		})
	}
	if err := work.Wait(); err != nil {
		return err
	}
	all, sums := make(map[fate]int), make(map[string]map[fate]int)
	for i, m := range list {
		room := strings.Split(m.file, "/")[1]
		if sums[room] == nil {
			sums[room] = make(map[fate]int)
		}
		sums[room][fates[i]]++
		all[fates[i]]++
	}
	for _, room := range rooms {
		tell(room, sums[room])
	}
	tell("all", all)
	return nil
}

func tell(who string, n map[fate]int) {
	tried := n[killed] + n[lives] + n[unreached]
	fmt.Printf("%s: %d of %d killed (%d%%), %d lived, %d never reached; %d did not build\n",
		who, n[killed], tried, 100*n[killed]/max(tried, 1), n[lives], n[unreached], n[unbuilt])
}
