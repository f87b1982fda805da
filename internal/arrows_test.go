package internal

import (
	"encoding/json"
	"errors"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// arrows says which rooms each room may import from. Rooms not named here may
// not be imported from at all, and rooms without a line import from none. The rooms
// of office stand on its root and, where a line of theirs says so, on each other.
var arrows = map[string][]string{
	"core":     {"core"},
	"record":   {"core"},
	"store":    {"core", "record", "store"},
	"gather":   {"core", "record"},
	"right":    {"core"},
	"chart":    {"core"},
	"book":     {"core", "record", "store", "book"},
	"change":   {"core", "record", "store", "book"},
	"tell":     {"core", "chart"},
	"brief":    {"chart", "tell"},
	"office":   {"core", "record", "right", "tell", "store", "book", "change"},
	"post":     {},
	"copies":   {},
	"provider": {},
	"web":      {"office", "core", "record", "chart", "tell", "post", "provider", "web"},
	"demo":     {"office"},
	"settings": {},
	"readback": {}, // for tests alone
	"cmd":      {"office", "web", "demo", "settings", "post", "provider", "copies"},

	"office/access":    {"entry"},
	"office/account":   {"access", "entry"},
	"office/amounts":   {"entry", "planning"},
	"office/closing":   {"ledger"},
	"office/feedback":  {"entry"},
	"office/explain":   {"asking", "entry", "money", "sheet", "stating"},
	"office/export":    {},
	"office/ledger":    {},
	"office/network":   {},
	"office/typing":    {},
	"office/weigh":     {},
	"office/entry":     {"closing"}, // a file can say that a period is closed
	"office/funding":   {"entry"},
	"office/history":   {"entry"},
	"office/intake":    {"entry"},
	"office/judge":     {"entry"},
	"office/period":    {"entry"},
	"office/schedule":  {"entry"},
	"office/structure": {"access", "entry"},
	"office/stating":   {"entry"},
	"office/planning":  {"entry", "export"},
	"office/asking":    {"entry"},
	"office/letters":   {"account", "asking", "entry", "feedback", "stating"},
	"office/trail":     {"entry"}, // how a kept file was read
	"office/baseline":  {"entry", "closing"},
	"office/check":     {"entry", "history"},
	"office/board":     {"weigh"},
	"office/money":     {"trail"},
	"office/sheet":     {"history", "weigh"},
	"office/brief":     {"baseline", "board", "check", "money", "schedule", "sheet", "weigh"},
	"office/packs":     {"account", "asking", "brief", "closing", "entry", "feedback", "letters"},
	"office/ready":     {"board", "money", "weigh"},

	"office/officetest": {"account", "closing", "entry", "export", "history", "money", "sheet"}, // in tests alone
}

// below is what every room of office may import from.
var below = []string{"office", "core", "record", "gather", "right", "chart", "tell", "brief", "store", "book", "change"}

// outside says what core may import beside the standard library.
var outside = []string{"github.com/shopspring/decimal", "gonum.org/v1/gonum", "github.com/expr-lang/expr"}

// noIO are packages of the standard library that core does without.
var noIO = []string{
	"os",
	"net",
	"io/ioutil",
	"database/sql",
	"log",
	"log/slog",
	"syscall",
	"os/exec",
	"net/http",
	"embed",
}

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

// room gives the room that a package of the project stands in, such as "core" or
// "office/money".
func room(path string) (string, bool) {
	rest, ok := strings.CutPrefix(path, "turret/")
	if !ok {
		return "", false
	}
	rest = strings.TrimPrefix(rest, "internal/")
	name, in, _ := strings.Cut(rest, "/")
	if name == "office" && in != "" {
		return rest, true
	}
	return name, true
}

// may tells whether packages of one room may import from another.
func may(from, to string) bool {
	within, rooms := strings.CutPrefix(to, "office/")
	if strings.HasPrefix(from, "office/") {
		if rooms {
			return slices.Contains(arrows[from], within)
		}
		return slices.Contains(below, to)
	}
	if rooms {
		return slices.Contains(arrows[from], "office") && from != "office"
	}
	return slices.Contains(arrows[from], to)
}

func TestArrows(t *testing.T) {
	list := packages(t)
	require.Greater(t, len(list), 20)
	used := make(map[[2]string]bool)
	for _, p := range list {
		from, _ := room(p.ImportPath)
		if from == "internal" || strings.HasPrefix(p.ImportPath, "turret/bench") {
			continue
		}
		_, known := arrows[from]
		require.True(t, known, "%s stands in no known room", p.ImportPath)
		for _, i := range p.Imports {
			to, ours := room(i)
			switch {
			case ours:
				used[[2]string{from, strings.TrimPrefix(to, "office/")}] = true
				require.True(t, may(from, to), "%s imports %s", p.ImportPath, i)
			case from == "core" && strings.Contains(i, "."):
				require.True(
					t,
					slices.ContainsFunc(outside, func(o string) bool { return strings.HasPrefix(i, o) }),
					"%s imports %s",
					p.ImportPath,
					i,
				)
			case from == "core":
				require.NotContains(t, noIO, i, p.ImportPath)
			}
		}
	}
	for from, line := range arrows {
		for _, to := range line {
			require.True(
				t,
				from == to || used[[2]string{from, to}],
				"no arrow from %s to %s is needed any more",
				from,
				to,
			)
		}
	}
}

// inside matches what rooms of office alone have a use for.
var inside = regexp.MustCompile(`\.(Store|Book|Kept|Snapshot|Earlier)\(\)`)

// TestEdgesAskUseCases: screens, the command line and the demo reach what is kept by
// use cases, which ask for rights, never by what lies under them.
func TestEdgesAskUseCases(t *testing.T) {
	looked := 0
	for _, p := range packages(t) {
		if from, _ := room(p.ImportPath); from != "web" && from != "cmd" && from != "demo" {
			continue
		}
		for _, name := range p.GoFiles {
			body, err := os.ReadFile(filepath.Join(p.Dir, name))
			require.NoError(t, err)
			require.Empty(t, inside.FindString(string(body)), "%s of %s", name, p.ImportPath)
			looked++
		}
	}
	require.Greater(t, looked, 100)
}
