package demo

import (
	"bytes"
	"context"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
)

func TestPrint(t *testing.T) {
	ctx := context.Background()
	o, err := Make(ctx, filepath.Join(t.TempDir(), "demo.db"))
	require.NoError(t, err)
	defer o.Close()
	for _, per := range []string{"2026-10", "2026-11"} {
		p, err := o.ParsePeriod(ctx, Analyst, per)
		require.NoError(t, err)
		rows, err := o.Readings(ctx, Analyst, office.Query{Period: p})
		require.NoError(t, err)
		var b bytes.Buffer
		require.NoError(t, o.WriteTable(&b, per, rows))
		os.Stdout.Write(b.Bytes())
	}
}
