package ready_test

import (
	"bytes"
	"context"
	"log/slog"
	"testing"

	"github.com/stretchr/testify/require"

	"turret/internal/office"
	"turret/internal/office/officetest"
	"turret/internal/office/ready"
)

// now waits for nothing.
func now(ctx context.Context) error { return ctx.Err() }

// TestMake: an office with nothing, and one with all; nobody may ask who may not
// read.
func TestMake(t *testing.T) {
	require.NoError(t, ready.In(officetest.NewOffice(t)).Make(t.Context(), officetest.Operator, now))
	o := officetest.Example(t)
	require.NoError(t, ready.In(o).Make(t.Context(), officetest.Operator, now))
	require.Error(t, ready.In(o).Make(t.Context(), office.Actor{}, now))
	gone, cancel := context.WithCancel(t.Context())
	cancel()
	require.ErrorIs(t, ready.In(o).Make(gone, officetest.Operator, now), context.Canceled)
}

// TestBegin: what goes wrong beside the server is logged, and stopping waits.
func TestBegin(t *testing.T) {
	var said bytes.Buffer
	log := slog.New(slog.NewTextHandler(&said, nil))
	ready.In(officetest.Example(t)).Begin(t.Context(), officetest.Operator, log, now)()
	require.Empty(t, said.String())
	bad := func(context.Context) error { panic("bad") }
	ready.In(officetest.Example(t)).Begin(t.Context(), officetest.Operator, log, bad)()
	require.Contains(t, said.String(), "panic")
}
