package gather

import (
	"archive/zip"
	"bytes"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestSwollenZip: what unpacks to far more than it is is refused before it is unpacked.
func TestSwollenZip(t *testing.T) {
	pack := func(size int, fill func([]byte)) []byte {
		var b bytes.Buffer
		z := zip.NewWriter(&b)
		w, err := z.Create("costs.csv")
		require.NoError(t, err)
		block := make([]byte, 1<<20)
		for range size >> 20 {
			fill(block)
			_, err := w.Write(block)
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
		return b.Bytes()
	}
	same := func(b []byte) {
		for i := range b {
			b[i] = "1,2\n"[i%4]
		}
	}
	r := rand.New(rand.NewPCG(1, 1))
	figures := func(b []byte) {
		for i := range b {
			b[i] = "0123456789,\n"[r.IntN(12)]
		}
	}
	_, refused := Unpack("bomb.zip", pack(80<<20, same), DefaultLimits)
	require.Len(t, refused, 1)
	require.Contains(t, refused[0].Reason, "times its size")
	files, refused := Unpack("small.zip", pack(20<<20, same), DefaultLimits)
	require.Empty(t, refused, "what is small may be as even as it likes")
	require.Len(t, files[0].Body, 20<<20)
	_, refused = Unpack("figures.zip", pack(80<<20, figures), DefaultLimits)
	require.Empty(t, refused)
	lim := DefaultLimits
	lim.ZipBytes = 10 << 20
	_, refused = Unpack("large.zip", pack(20<<20, same), lim)
	require.Len(t, refused, 1)
	require.Contains(t, refused[0].Reason, "more than the limit of 10485760 bytes")
}
