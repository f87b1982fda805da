// Package readback lets tests read files by other libraries than those that wrote
// them. These stand in the module of tools, so that the program needs none of them.
package readback

import (
	"bytes"
	"encoding/json"
	"fmt"
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

// built builds the reader once for each program of tests, beside what make builds; of
// programs that do so at once the last one stands.
var built = sync.OnceValues(func() (string, error) {
	_, here, _, _ := runtime.Caller(0)
	root := filepath.Join(filepath.Dir(here), "../..")
	to := filepath.Join(root, "bin", "readback")
	own := fmt.Sprint(to, ".", os.Getpid())
	cmd := exec.Command("go", "build", "-o", own, "./readback")
	cmd.Dir = filepath.Join(root, "tools")
	cmd.Stderr = os.Stderr
	if err := cmd.Run(); err != nil {
		return "", err
	}
	return to, os.Rename(own, to)
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
