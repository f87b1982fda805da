// Mutate breaks the code in small ways, one at a time, and tells which of them no
// test notices. The sample is fixed by its seed: so many places, spread over the
// rooms that compute, keep and write. Each is built from an overlay, so that the
// tree stays as it is.
package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"go/ast"
	"go/parser"
	"go/printer"
	"go/token"
	"io/fs"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"time"
)

// rooms are what is broken, each with the tests that may notice, after those beside
// the break itself: the fast ones of the room and its neighbours, and where those let
// it live, the slow ones of whoever uses it.
var rooms = []struct {
	path        string
	fast, after []string
}{
	{"internal/core", []string{"./internal/core/...", "./internal/book"}, everyone},
	{"internal/store", []string{"./internal/store/...", "./internal/change", "./internal/book"}, everyone},
	{"internal/book", []string{"./internal/book/...", "./internal/change"}, everyone},
	{"internal/office", []string{"./internal/office"}, everyone},
}

// kept are the databases that read the same to the letter on all pages, and everyone
// the use cases and the screens.
var (
	kept     = []string{"-run", "^TestOldDatabases", "./internal/web"}
	everyone = []string{"./internal/office/...", "./internal/web"}
)

// mutant is one small break.
type mutant struct {
	room   int
	file   string
	line   int
	what   string
	source []byte
}

func main() {
	root := flag.String("root", ".", "the tree")
	n := flag.Int("n", 300, "how many are tried")
	seed := flag.Uint64("seed", 1, "of the sample")
	only := flag.String("only", "", "a room, such as internal/core")
	skip := flag.Int("skip", 0, "how many of them are passed over, to go on with a run")
	again := flag.String("again", "", "what an earlier run printed: only what lived there is tried")
	quick := flag.Bool("quick", false, "leave out the tests of everyone who uses the room")
	flag.Parse()
	if err := os.Chdir(*root); err != nil {
		fatal(err)
	}
	all, err := sample(*n, *seed, *only)
	if err != nil {
		fatal(err)
	}
	if *again != "" {
		text, err := os.ReadFile(*again)
		if err != nil {
			fatal(err)
		}
		all = slices.DeleteFunc(all, func(m mutant) bool {
			return !strings.Contains(string(text), fmt.Sprintf("%s %s:%d %s (", lives, m.file, m.line, m.what))
		})
	}
	tally := make(map[fate]int)
	for i, m := range all {
		if i < *skip {
			continue
		}
		begun := time.Now()
		end, err := m.try(*quick)
		if err != nil {
			fatal(err)
		}
		tally[end]++
		fmt.Printf(
			"%s %s:%d %s (%d of %d, %.0f s)\n",
			end,
			m.file,
			m.line,
			m.what,
			i+1,
			len(all),
			time.Since(begun).Seconds(),
		)
	}
	tried := tally[killed] + tally[lives]
	fmt.Printf(
		"%d of %d killed: %d%%; %d did not build\n",
		tally[killed],
		tried,
		100*tally[killed]/max(tried, 1),
		tally[unbuilt],
	)
}

// fate is what becomes of a mutant.
type fate string

// One that does not build is none: nobody could ship it.
const (
	killed  fate = "killed"
	lives   fate = "lives"
	unbuilt fate = "unbuilt"
)

func fatal(err error) {
	fmt.Fprintln(os.Stderr, err)
	os.Exit(1)
}

// sample draws places from every room by their number of lines.
func sample(n int, seed uint64, only string) ([]mutant, error) {
	var all []mutant
	for i, r := range rooms {
		if only != "" && r.path != only {
			continue
		}
		err := filepath.WalkDir(r.path, func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") ||
				strings.Contains(path, "officetest") {
				return err
			}
			list, err := mutants(i, path)
			all = append(all, list...)
			return err
		})
		if err != nil {
			return nil, err
		}
	}
	draw := rand.New(rand.NewPCG(seed, seed))
	draw.Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
	return all[:min(n, len(all))], nil
}

// turned are operators and what they become.
var turned = map[token.Token]token.Token{
	token.LSS: token.LEQ, token.LEQ: token.LSS, token.GTR: token.GEQ, token.GEQ: token.GTR, token.EQL: token.NEQ, token.NEQ: token.EQL,
	token.ADD: token.SUB, token.SUB: token.ADD, token.MUL: token.QUO, token.LAND: token.LOR, token.LOR: token.LAND,
}

// mutants lists every break of a file.
func mutants(room int, path string) ([]mutant, error) {
	src, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	set := token.NewFileSet()
	file, err := parser.ParseFile(set, path, src, parser.ParseComments)
	if err != nil {
		return nil, err
	}
	var out []mutant
	note := func(n ast.Node, what string, change, back func()) {
		change()
		var b bytes.Buffer
		if printer.Fprint(&b, set, file) == nil {
			out = append(out, mutant{room, path, set.Position(n.Pos()).Line, what, b.Bytes()})
		}
		back()
	}
	ast.Inspect(file, func(n ast.Node) bool {
		switch x := n.(type) {
		case *ast.GenDecl:
			return x.Tok != token.IMPORT && x.Tok != token.CONST
		case *ast.BinaryExpr:
			was := x.Op
			if to, ok := turned[was]; ok && !isText(x) {
				note(x, was.String()+" for "+to.String(), func() { x.Op = to }, func() { x.Op = was })
			}
		case *ast.IfStmt:
			was := x.Cond
			note(x, "an if turned round", func() { x.Cond = &ast.UnaryExpr{Op: token.NOT, X: &ast.ParenExpr{X: was}} }, func() { x.Cond = was })
		case *ast.BasicLit:
			if x.Kind == token.INT {
				was := x.Value
				if v, err := strconv.ParseInt(was, 0, 64); err == nil {
					note(x, was+" for "+strconv.FormatInt(v+1, 10), func() { x.Value = strconv.FormatInt(v+1, 10) }, func() { x.Value = was })
				}
			}
		case *ast.CallExpr:
			if f, ok := x.Fun.(*ast.Ident); ok && (f.Name == "max" || f.Name == "min") {
				was := f.Name
				to := map[string]string{"max": "min", "min": "max"}[was]
				note(x, was+" for "+to, func() { f.Name = to }, func() { f.Name = was })
			}
		}
		return true
	})
	return out, nil
}

// isText tells whether an addition has a text in it, which cannot be subtracted.
func isText(x *ast.BinaryExpr) bool {
	text := false
	ast.Inspect(x, func(n ast.Node) bool {
		if l, ok := n.(*ast.BasicLit); ok && l.Kind == token.STRING {
			text = true
		}
		return !text
	})
	return x.Op == token.ADD && text
}

// try runs the tests over a mutant.
func (m *mutant) try(quick bool) (fate, error) {
	dir, err := os.MkdirTemp("", "mutate-")
	if err != nil {
		return "", err
	}
	defer os.RemoveAll(dir)
	broken := filepath.Join(dir, "mutant.go")
	if err := os.WriteFile(broken, m.source, 0o600); err != nil {
		return "", err
	}
	at, err := filepath.Abs(m.file)
	if err != nil {
		return "", err
	}
	overlay, err := json.Marshal(map[string]map[string]string{"Replace": {at: broken}})
	if err != nil {
		return "", err
	}
	list := filepath.Join(dir, "overlay.json")
	if err := os.WriteFile(list, overlay, 0o600); err != nil {
		return "", err
	}
	stages := [][]string{{"-short", "./" + filepath.Dir(m.file)}, append([]string{"-short"}, rooms[m.room].fast...), kept}
	if !quick {
		stages = append(stages, append([]string{"-short"}, rooms[m.room].after...))
	}
	for _, packages := range stages {
		const patience = 5 * time.Minute // one that never ends is noticed
		ctx, cancel := context.WithTimeout(context.Background(), patience)
		cmd := exec.CommandContext(
			ctx,
			"go",
			slices.Concat(
				[]string{"test", "-overlay", list, "-failfast", "-vet=off", "-timeout", "4m"},
				packages,
			)...)
		out, err := cmd.CombinedOutput()
		cancel()
		switch {
		case err == nil:
		case bytes.Contains(out, []byte("[build failed]")):
			return unbuilt, nil
		default:
			return killed, nil
		}
	}
	return lives, nil
}
