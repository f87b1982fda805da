package guard

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestFits(t *testing.T) {
	for _, c := range []struct {
		upload int
		memory int64
		want   int
	}{
		{256 << 20, 0, 256 << 20},
		{256 << 20, 24 << 30, 256 << 20},
		{256 << 20, 4 << 30, 256 << 20},
		{256 << 20, 4<<30 - 16, 256<<20 - 1},
		{256 << 20, 2400 << 20, 150 << 20},
		{1 << 20, 2400 << 20, 1 << 20},
	} {
		require.Equal(t, c.want, Fits(c.upload, c.memory), "%+v", c)
	}
	require.GreaterOrEqual(t, Memory(), int64(0))
}
