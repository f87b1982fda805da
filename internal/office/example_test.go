package office_test

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/core/portfolio"
	"turret/internal/office/entry"
	"turret/internal/office/officetest"
)

// TestExample compares with readings that another program computed from the
// written rules alone.
func TestExample(t *testing.T) {
	dir := officetest.ExampleDir(t)
	o := officetest.NewOffice(t)
	r := officetest.GatherPaths(t, o, entry.Options{}, filepath.Join(dir, "tables"))
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
			b, err := os.ReadFile(filepath.Join(dir, c.file))
			require.NoError(t, err)
			want, got := officetest.Decode(t, b), officetest.Readings(t, o, c.period, c.against, c.reporting)
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
