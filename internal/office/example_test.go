package office_test

import (
	"bytes"
	"context"
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/office/export"
	"turret/internal/right"
)

var operator = right.Actor{Name: "test", Role: right.Operator}

// newOffice makes an empty office in EUR with fiscal years from April.
func newOffice(t testing.TB) *office.Office {
	t.Helper()
	o, err := office.Init(context.Background(), operator, filepath.Join(t.TempDir(), "turret.db"), office.Settings{Name: "Test", Reporting: "EUR", FiscalStart: 4})
	require.NoError(t, err)
	t.Cleanup(func() { o.Close() })
	return o
}

// gatherPaths gathers what lies at paths.
func gatherPaths(t testing.TB, o *office.Office, opts entry.Options, paths ...string) *entry.Report {
	t.Helper()
	files, refused, err := gather.Collect(paths, gather.DefaultLimits)
	require.NoError(t, err)
	r, err := entry.In(o).Gather(context.Background(), operator, files, refused, opts)
	require.NoError(t, err)
	return r
}

// readings prints the readings of a period as decoded JSON.
func readings(t testing.TB, o *office.Office, period string, against portfolio.Against, reporting bool) []map[string]any {
	t.Helper()
	ctx := context.Background()
	p, err := o.ParsePeriod(ctx, operator, period)
	require.NoError(t, err)
	rows, err := export.In(o).Readings(ctx, operator, export.Query{Period: p, Against: against, Reporting: reporting})
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, export.In(o).WriteJSON(ctx, &b, period, rows))
	return decode(t, b.Bytes())
}

func decode(t testing.TB, b []byte) []map[string]any {
	t.Helper()
	var out []map[string]any
	require.NoError(t, json.Unmarshal(b, &out))
	return out
}

// TestExample compares with readings that another program computed from the
// written rules alone.
func TestExample(t *testing.T) {
	o := newOffice(t)
	r := gatherPaths(t, o, entry.Options{}, "testdata/example/tables")
	require.Empty(t, r.Refusals)
	for _, c := range []struct {
		file, period string
		against      portfolio.Against
		reporting    bool
	}{
		{"readings-2026-05.json", "2026-05", portfolio.Latest, false},
		{"readings-2026-11.json", "2026-11", portfolio.Latest, false},
		{"readings-2026-11-original-reporting.json", "2026-11", portfolio.Original, true},
	} {
		t.Run(c.file, func(t *testing.T) {
			b, err := os.ReadFile(filepath.Join("testdata/example", c.file))
			require.NoError(t, err)
			want, got := decode(t, b), readings(t, o, c.period, c.against, c.reporting)
			require.Equal(t, len(want), len(got))
			for i := range want {
				for k, v := range want[i] {
					if k == "standings" {
						for d, s := range v.(map[string]any) {
							if have := got[i][k].(map[string]any)[d]; have != s {
								t.Errorf("%s %s: %v, want %v", want[i]["code"], d, have, s)
							}
						}
						continue
					}
					if got[i][k] != v {
						t.Errorf("%s %s: %v, want %v", want[i]["code"], k, got[i][k], v)
					}
				}
			}
		})
	}
}
