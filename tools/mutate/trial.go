package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"golang.org/x/sync/errgroup"
)

// fate is what becomes of a break.
type fate string

// One that does not build is none: nobody could ship it.
const (
	killed    fate = "killed"
	lives     fate = "lives"
	unreached fate = "unreached"
	unbuilt   fate = "unbuilt"
)

// test is a test of a package, how long it takes, and the breaks that it reaches.
type test struct {
	in      binary
	name    string
	part    string // the case of it that this is, or "": all of it
	whole   bool   // not shortened
	takes   time.Duration
	reaches map[int]bool
}

// parted are tests of which each case counts as one, and whole those that do nothing where
// they are shortened.
var (
	parted = map[string]bool{"TestCorpus": true}
	whole  = map[string]bool{"TestOldDatabasesReadTheSame": true}
)

// called is the name of the test, or of the case of it.
func (t test) called() string { return cmp.Or(t.part, t.name) }

// flags run some tests as this one is run: whole ones, or cases of this one.
func (t test) flags(names ...string) []string {
	pattern := "^(" + strings.Join(names, "|") + ")$"
	if t.part != "" {
		pattern = "^" + t.name + "$/" + pattern
	}
	out := []string{"-test.run", pattern}
	if !t.whole {
		out = append(out, "-test.short")
	}
	return out
}

// parts gives the cases of a test.
func (b *binaries) parts(ctx context.Context, in binary, name string) (out []test, err error) {
	const patience = 10 * time.Minute
	text, err := b.run(ctx, in, patience, nil, "-test.short", "-test.v", "-test.run", "^"+name+"$")
	if err != nil {
		return nil, fmt.Errorf("the cases of %s: %w", name, err)
	}
	for line := range strings.Lines(string(text)) {
		if part, ok := strings.CutPrefix(strings.TrimSpace(line), "=== RUN   "+name+"/"); ok {
			out = append(out, test{in: in, name: name, part: part})
		}
	}
	return out, nil
}

// record runs every test once, whole, and gives those that pass in time, with what each
// reaches.
func (b *binaries) record(ctx context.Context, longest time.Duration, only *regexp.Regexp) ([]test, error) {
	var all []test
	for _, in := range b.of {
		out, err := b.run(ctx, in, longest, nil, "-test.list", ".")
		if err != nil {
			return nil, fmt.Errorf("listing the tests of %s: %w", in.folder, err)
		}
		for name := range strings.FieldsSeq(string(out)) {
			switch {
			case strings.HasPrefix(name, "Benchmark"), !only.MatchString(name):
			case parted[name]:
				parts, err := b.parts(ctx, in, name)
				if err != nil {
					return nil, err
				}
				all = append(all, parts...)
			default:
				all = append(all, test{in: in, name: name, whole: whole[name]})
			}
		}
	}
	work, ctx := errgroup.WithContext(ctx)
	work.SetLimit(atOnce)
	for i := range all {
		work.Go(func() error {
			t := &all[i]
			at := filepath.Join(b.dir, strconv.Itoa(i)+".reached")
			begun := time.Now()
			_, err := b.run(ctx, t.in, longest, []string{"MUTANT_REACHED=" + at}, t.flags(t.called())...)
			t.takes = time.Since(begun)
			if err != nil {
				fmt.Printf("left out: %s of %s: %v\n", t.called(), t.in.folder, err)
				return ctx.Err()
			}
			text, err := os.ReadFile(at)
			if err != nil && !errors.Is(err, os.ErrNotExist) {
				return err
			}
			t.reaches = make(map[int]bool)
			for word := range strings.FieldsSeq(string(text)) {
				if k, err := strconv.Atoi(word); err == nil {
					t.reaches[k] = true
				}
			}
			return nil
		})
	}
	if err := work.Wait(); err != nil {
		return nil, err
	}
	all = slices.DeleteFunc(all, func(t test) bool { return len(t.reaches) == 0 })
	slices.SortStableFunc(all, func(a, b test) int { return int(a.takes - b.takes) })
	return all, nil
}

// memory is what a test that broke may take, in kilobytes, before it counts as noticed.
const memory = 12_000_000

// run runs some tests of a package.
func (b *binaries) run(ctx context.Context, in binary, patience time.Duration, env []string, args ...string) ([]byte, error) {
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	line := fmt.Sprintf(`ulimit -v %d; exec "$0" "$@"`, memory)
	cmd := exec.CommandContext(ctx, "sh", append([]string{"-c", line, in.file, "-test.failfast"}, args...)...)
	cmd.Dir = in.folder
	cmd.Env = append(os.Environ(), env...)
	return cmd.Output()
}

// try runs the tests that reach a break, those of its own package first and the short ones
// before the long ones, until one fails, and names the package that noticed.
func (b *binaries) try(ctx context.Context, m *mutant, tests []test) (fate, string, error) {
	if b.unbuilt[m.number] {
		return unbuilt, "", nil
	}
	own := func(t test) bool { return strings.HasSuffix(t.in.folder, "/"+filepath.Dir(m.file)) }
	var queue []test
	for _, t := range tests {
		if t.reaches[m.number] {
			queue = append(queue, t)
		}
	}
	if len(queue) == 0 {
		return unreached, "", nil
	}
	const short = 2 * time.Second
	rank := func(t test) int {
		switch {
		case own(t) && t.takes < short:
			return 0
		case t.part != "":
			return 2
		case t.takes < short:
			return 1
		case !t.whole:
			return 3
		default:
			return 4
		}
	}
	slices.SortStableFunc(queue, func(a, b test) int { return rank(a) - rank(b) })
	for len(queue) > 0 {
		first := queue[0]
		var names []string
		takes := 10 * time.Second
		rest := queue[:0:0]
		for _, t := range queue {
			if t.in == first.in && rank(t) == rank(first) {
				names, takes = append(names, t.called()), takes+5*t.takes
			} else {
				rest = append(rest, t)
			}
		}
		queue = rest
		_, err := b.run(ctx, first.in, takes, []string{"MUTANT=" + strconv.Itoa(m.number)},
			first.flags(names...)...)
		if ctx.Err() != nil {
			return "", "", ctx.Err()
		}
		if err != nil {
			return killed, ", " + filepath.Base(first.in.folder), nil
		}
	}
	return lives, "", nil
}
