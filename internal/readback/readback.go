// Package readback lets tests read files by other libraries than those that wrote
// them. These stand in the module of tools, so that the program needs none of them.
package readback

import (
	"bytes"
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"
)

// Cell is a cell of a spreadsheet: what it shows, and how that is computed.
type Cell struct{ Value, Formula string }

// PDF gives the text of each page.
func PDF(t testing.TB, body []byte) (pages []string) {
	t.Helper()
	read(t, "pdf", body, &pages)
	return pages
}

// XLSX gives the cells of each sheet, by row.
func XLSX(t testing.TB, body []byte) (sheets [][][]Cell) {
	t.Helper()
	read(t, "xlsx", body, &sheets)
	return sheets
}

// built builds the reader once for each program of tests.
var built = sync.OnceValues(func() (string, error) {
	_, here, _, _ := runtime.Caller(0)
	dir, err := os.MkdirTemp("", "readback-")
	if err != nil {
		return "", err
	}
	to := filepath.Join(dir, "readback")
	cmd := exec.Command("go", "build", "-o", to, "./readback")
	cmd.Dir = filepath.Join(filepath.Dir(here), "../../tools")
	cmd.Stderr = os.Stderr
	return to, cmd.Run()
})

func read(t testing.TB, kind string, body []byte, into any) {
	t.Helper()
	program, err := built()
	require.NoError(t, err)
	cmd := exec.Command(program, kind)
	cmd.Stdin = bytes.NewReader(body)
	var errs bytes.Buffer
	cmd.Stderr = &errs
	out, err := cmd.Output()
	require.NoError(t, err, errs.String())
	require.NoError(t, json.Unmarshal(out, into))
}
