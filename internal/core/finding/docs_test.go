package finding

import (
	"flag"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

var update = flag.Bool("update", false, "write docs/checks.md")

func docs() string {
	var b strings.Builder
	b.WriteString(
		"# The checks\nEvery check that an office begins with, made from the list in `internal/core/finding`. `go test ./internal/core/finding -update` writes this page; a test holds it to the list. What becomes of findings, and how an office changes checks and writes its own, is told in [checking](checking.md).\n\n| code | cause | severity | limit | looks for |\n|---|---|---|---|---|\n",
	)
	for _, c := range Checks {
		limit := ""
		if c.Limit != "" {
			limit = c.Limit + " " + c.Unit
		}
		fmt.Fprintf(&b, "| `%s` | %s | %s | %s | %s |\n", c.Code, c.Title, c.Severity, limit, c.About)
	}
	b.WriteString(
		"\n## What own checks can use\nAn own check looks at each project, activity, risk or cost code. Its expression may use every [figure](figures.md) but errors and warnings, and these fields; money is in the project's currency.\n",
	)
	for _, over := range Over {
		fmt.Fprintf(&b, "\n| over each %s | unit |\n|---|---|\n", over)
		var names []string
		for n := range fields[over] {
			names = append(names, n)
		}
		slices.Sort(names)
		for _, n := range names {
			fmt.Fprintf(&b, "| `%s` | %s |\n", n, fields[over][n])
		}
	}
	return b.String()
}

func TestDocs(t *testing.T) {
	const path = "../../../docs/checks.md"
	if *update {
		require.NoError(t, os.WriteFile(path, []byte(docs()), 0o644))
	}
	b, err := os.ReadFile(path)
	require.NoError(t, err)
	require.True(t, docs() == string(b), "run go test ./internal/core/finding -update")
}
