package main

import (
	"context"
	"encoding/json"
	"fmt"
	"go/parser"
	"go/token"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"

	"golang.org/x/sync/errgroup"
)

// switches is the package that every broken file imports.
const switches = `// Package mutant holds the switches of breaks.
package mutant

import (
	"fmt"
	"os"
	"strconv"
	"sync"
)

var (
	active, _ = strconv.Atoi(os.Getenv("MUTANT"))
	reached   = open(os.Getenv("MUTANT_REACHED"))
	seen      sync.Map
)

func open(path string) *os.File {
	if path == "" {
		return nil
	}
	f, err := os.OpenFile(path, os.O_APPEND|os.O_CREATE|os.O_WRONLY, 0o600)
	if err != nil {
		panic(err)
	}
	return f
}

// On tells whether a break is the one that is tried.
func On(k int) bool {
	if reached != nil {
		if _, had := seen.LoadOrStore(k, true); !had {
			fmt.Fprintln(reached, k)
		}
	}
	return k == active
}

// Pick is the whole value, or the broken one.
func Pick[T any](k int, whole, broken T) T {
	if On(k) {
		return broken
	}
	return whole
}
`

// binaries are the tests of each package, built with all breaks.
type binaries struct {
	dir     string
	of      []binary
	unbuilt map[int]bool // breaks that no compiler takes, by number
}

// binary are the tests of a package: the folder they run in, and the file.
type binary struct{ folder, file string }

// build builds the tests of all watched packages. Breaks that do not build are left out,
// and it is tried again.
func build(ctx context.Context, dir string, list []*mutant) (*binaries, error) {
	b := &binaries{dir: dir, unbuilt: make(map[int]bool)}
	form := "{{if or .TestGoFiles .XTestGoFiles}}{{.Dir}}{{end}}"
	out, err := exec.CommandContext(ctx, "go", append([]string{"list", "-f", form}, watched...)...).Output()
	if err != nil {
		return nil, fmt.Errorf("listing packages: %w", err)
	}
	for folder := range strings.FieldsSeq(string(out)) {
		file := filepath.Join(dir, strconv.Itoa(len(b.of))+".test")
		b.of = append(b.of, binary{folder, file})
	}
	for {
		overlay, places, err := b.write(list)
		if err != nil {
			return nil, err
		}
		// All are compiled first, so that each complaint is heard at once.
		out, err := exec.CommandContext(ctx, "go",
			append([]string{"build", "-gcflags=-e", "-overlay", overlay}, watched...)...).CombinedOutput()
		if err == nil {
			return b, b.link(ctx, overlay)
		}
		more := refused(out, places)
		if len(more) == 0 {
			return nil, fmt.Errorf("building: %w\n%s", err, out)
		}
		for _, k := range more {
			b.unbuilt[k] = true
		}
	}
}

// link makes the binaries.
func (b *binaries) link(ctx context.Context, overlay string) error {
	work, ctx := errgroup.WithContext(ctx)
	work.SetLimit(atOnce)
	for _, in := range b.of {
		work.Go(func() error {
			cmd := exec.CommandContext(ctx, "go", "test", "-c", "-vet=off", "-overlay", overlay, "-o", in.file, in.folder)
			if out, err := cmd.CombinedOutput(); err != nil {
				return fmt.Errorf("building the tests of %s: %w\n%s", in.folder, err, out)
			}
			return nil
		})
	}
	return work.Wait()
}

// write writes the broken files and the overlay, and gives the lines of each broken file
// by its name there: a compiler shortens the rest of its path.
func (b *binaries) write(list []*mutant) (overlay string, places map[string][]string, err error) {
	by := make(map[string][]*mutant)
	for _, m := range list {
		if !b.unbuilt[m.number] {
			by[m.file] = append(by[m.file], m)
		}
	}
	replace, places := make(map[string]string), make(map[string][]string)
	put := func(path, text string) error {
		at, err := filepath.Abs(path)
		if err != nil {
			return err
		}
		name := strings.ReplaceAll(path, "/", "_")
		to := filepath.Join(b.dir, name)
		replace[at] = to
		places[name] = strings.Split(text, "\n")
		return os.WriteFile(to, []byte(text), 0o600)
	}
	for path, list := range by {
		src, err := os.ReadFile(path)
		if err != nil {
			return "", nil, err
		}
		set := token.NewFileSet()
		f, err := parser.ParseFile(set, path, src, parser.PackageClauseOnly)
		if err != nil {
			return "", nil, err
		}
		if err := put(path, switched(src, set.Position(f.Name.End()).Offset, list)); err != nil {
			return "", nil, err
		}
	}
	if err := put("internal/mutant/mutant.go", switches); err != nil {
		return "", nil, err
	}
	text, err := json.Marshal(map[string]any{"Replace": replace})
	if err != nil {
		return "", nil, err
	}
	overlay = filepath.Join(b.dir, "overlay.json")
	return overlay, places, os.WriteFile(overlay, text, 0o600)
}

var (
	place = regexp.MustCompile(`(?m)^(\S+\.go):(\d+):`)
	named = regexp.MustCompile(`mutant\.(?:On|Pick\[[^(]*\])\((\d+)`)
)

// refused are the breaks on the lines that a compiler complains of.
func refused(out []byte, places map[string][]string) []int {
	var list []int
	for _, m := range place.FindAllSubmatch(out, -1) {
		lines := places[filepath.Base(string(m[1]))]
		line, err := strconv.Atoi(string(m[2]))
		if err != nil || line > len(lines) {
			continue
		}
		for _, n := range named.FindAllStringSubmatch(lines[line-1], -1) {
			if k, err := strconv.Atoi(n[1]); err == nil {
				list = append(list, k)
			}
		}
	}
	return list
}
