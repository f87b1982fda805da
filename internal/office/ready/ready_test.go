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

// TestMake: an office with nothing, and one with all; nobody may ask who may not
// read.
func TestMake(t *testing.T) {
	require.NoError(t, ready.In(officetest.NewOffice(t)).Make(t.Context(), officetest.Operator))
	o := officetest.Example(t)
	require.NoError(t, ready.In(o).Make(t.Context(), officetest.Operator))
	require.Error(t, ready.In(o).Make(t.Context(), office.Actor{}))
	gone, cancel := context.WithCancel(t.Context())
	cancel()
	require.ErrorIs(t, ready.In(o).Make(gone, officetest.Operator), context.Canceled)
}

// TestBegin: what goes wrong beside the server is logged, and stopping waits.
func TestBegin(t *testing.T) {
	var said bytes.Buffer
	log := slog.New(slog.NewTextHandler(&said, nil))
	ready.In(officetest.Example(t)).Begin(t.Context(), officetest.Operator, log)()
	require.Empty(t, said.String())
	ready.In(nil).Begin(t.Context(), officetest.Operator, log)()
	require.Contains(t, said.String(), "panic")
}
