package record

import (
	"flag"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

var update = flag.Bool("update", false, "write the tables of docs/formats.md")

// tables writes every table as docs/formats.md has it.
func tables() string {
	var b strings.Builder
	for _, t := range Kinds() {
		fmt.Fprintf(
			&b,
			"### %s\n%s%s.\n\n| column | holds |\n|---|---|\n",
			t.Name,
			strings.ToUpper(t.About[:1]),
			t.About[1:],
		)
		for _, c := range t.Columns {
			name, about := c.Name, c.About
			if c.Key {
				name = "**" + name + "**"
			}
			if len(c.Domain) > 0 {
				about += ": " + strings.Join(c.Domain, ", ")
			}
			if c.Default != "" {
				about += "; empty: " + c.Default
			}
			fmt.Fprintf(&b, "| %s | %s |\n", name, about)
		}
		b.WriteString("\n")
	}
	return b.String()
}

func TestDocs(t *testing.T) {
	const path, from, to = "../../docs/formats.md", "### settings\n", "## What is refused\n"
	b, err := os.ReadFile(path)
	require.NoError(t, err)
	head, rest, ok := strings.Cut(string(b), from)
	require.True(t, ok)
	listed, tail, ok := strings.Cut(rest, to)
	require.True(t, ok)
	if *update {
		listed = strings.TrimPrefix(tables(), from)
		require.NoError(t, os.WriteFile(path, []byte(head+from+listed+to+tail), 0o644))
	}
	require.True(t, tables() == from+listed, "run go test ./internal/record -update")
}
