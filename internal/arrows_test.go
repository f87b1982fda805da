package internal

import (
	"encoding/json"
	"errors"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// arrows says which rooms each room may import from. Rooms not named here may
// not be imported from at all, and rooms without a line import from none.
var arrows = map[string][]string{
	"core":     {"core"},
	"record":   {"core"},
	"store":    {"core", "record", "store"},
	"gather":   {"core", "record"},
	"right":    {"core"},
	"chart":    {"core"},
	"book":     {"core", "record", "store"},
	"change":   {"core", "record", "store", "book"},
	"tell":     {"core", "chart"},
	"brief":    {"core", "chart", "tell"},
	"office":   {"core", "record", "gather", "right", "chart", "tell", "brief", "store", "book", "change"},
	"web":      {"office", "core", "record", "chart", "tell", "web"},
	"demo":     {"office", "core"},
	"settings": {},
	"cmd":      {"office", "web", "demo", "settings"},
}

// outside says what core may import beside the standard library.
var outside = []string{"github.com/shopspring/decimal", "gonum.org/v1/gonum", "github.com/expr-lang/expr"}

// noIO are packages of the standard library that core does without.
var noIO = []string{"os", "net", "io/ioutil", "database/sql", "log", "log/slog", "syscall", "os/exec", "net/http", "embed"}

type pkg struct {
	ImportPath string
	Dir        string
	GoFiles    []string
	Imports    []string
}

func packages(t *testing.T) []pkg {
	t.Helper()
	cmd := exec.Command("go", "list", "-json=ImportPath,Dir,GoFiles,Imports", "turret/...")
	out, err := cmd.Output()
	require.NoError(t, err)
	var list []pkg
	dec := json.NewDecoder(strings.NewReader(string(out)))
	for {
		var p pkg
		err := dec.Decode(&p)
		if errors.Is(err, io.EOF) {
			return list
		}
		require.NoError(t, err)
		for _, name := range p.GoFiles { // so that a remembered result is not of other files
			_, err := os.ReadFile(filepath.Join(p.Dir, name))
			require.NoError(t, err)
		}
		list = append(list, p)
	}
}

// room gives the room that a package of the project stands in.
func room(path string) (string, bool) {
	rest, ok := strings.CutPrefix(path, "turret/")
	if !ok {
		return "", false
	}
	rest = strings.TrimPrefix(rest, "internal/")
	name, _, _ := strings.Cut(rest, "/")
	return name, true
}

func TestArrows(t *testing.T) {
	list := packages(t)
	require.Greater(t, len(list), 20)
	for _, p := range list {
		from, _ := room(p.ImportPath)
		if from == "internal" || strings.HasPrefix(p.ImportPath, "turret/bench") {
			continue
		}
		allowed, known := arrows[from]
		require.True(t, known, "%s stands in no known room", p.ImportPath)
		for _, i := range p.Imports {
			to, ours := room(i)
			switch {
			case ours:
				require.Contains(t, allowed, to, "%s imports %s", p.ImportPath, i)
			case from == "core" && strings.Contains(i, "."):
				require.True(t, slices.ContainsFunc(outside, func(o string) bool { return strings.HasPrefix(i, o) }), "%s imports %s", p.ImportPath, i)
			case from == "core":
				require.NotContains(t, noIO, i, p.ImportPath)
			}
		}
	}
}
