// Package format has every form in which things lie in the database, each behind
// its number. A form never changes: a new one gets a new number, and old ones keep
// their decoders, each with a golden file. No form depends on how Go calls or
// orders things.
package format

import (
	"bytes"
	"crypto/sha256"
	"errors"
	"fmt"
	"sync"

	"github.com/klauspost/compress/zstd"
)

// Forms of parts.
const (
	rowsForm  = 1
	linesForm = 2
	packed    = 0x80 // set where the body is compressed
)

// ErrDamaged is the error of what cannot be read as it was written.
var ErrDamaged = errors.New("is damaged")

var codecs = sync.OnceValue(func() (c struct {
	enc *zstd.Encoder
	dec *zstd.Decoder
},
) {
	c.enc, _ = zstd.NewWriter(
		nil,
		zstd.WithEncoderConcurrency(1),
		zstd.WithEncoderLevel(zstd.SpeedFastest),
		zstd.WithWindowSize(1<<20),
	)
	c.dec, _ = zstd.NewReader(nil, zstd.WithDecoderConcurrency(0), zstd.WithDecoderMaxMemory(1<<30))
	return c
})

// Compress packs the content of a file, a brief or a cut.
func Compress(body []byte) []byte { return codecs().enc.EncodeAll(body, nil) }

// Expand gives what Compress packed; what was altered since is ErrDamaged.
func Expand(b []byte) ([]byte, error) {
	out, err := codecs().dec.DecodeAll(b, nil)
	if err != nil {
		return nil, fmt.Errorf("what was packed %w: %w", ErrDamaged, err)
	}
	return out, nil
}

// seal puts the form before a body and compresses it where that helps.
func seal(form byte, body []byte) []byte {
	small := codecs().enc.EncodeAll(body, []byte{form | packed})
	if len(small) < len(body) {
		return small
	}
	return append([]byte{form}, body...)
}

func unseal(b []byte, form byte) ([]byte, error) {
	if len(b) == 0 || b[0]&^packed != form {
		return nil, fmt.Errorf("a part %w: its form is not known", ErrDamaged)
	}
	if b[0]&packed == 0 {
		return b[1:], nil
	}
	return Expand(b[1:])
}

// Hash is the identity of a part: over its form and what it says, however it was
// packed. A part that cannot be opened is ErrDamaged.
func Hash(part []byte) (sum [32]byte, err error) {
	if len(part) == 0 {
		return sum, fmt.Errorf("a part %w: it is empty", ErrDamaged)
	}
	form := part[0] &^ packed
	body, err := unseal(part, form)
	if err != nil {
		return sum, err
	}
	h := sha256.New()
	h.Write([]byte{form})
	h.Write(body)
	return [32]byte(h.Sum(nil)), nil
}

// frame begins what is compressed.
var frame = []byte{0x28, 0xb5, 0x2f, 0xfd}

// Sound tells whether a part is what was written under a hash. Hashes of before
// were over the part as it lay packed, and stay. Those that are packed carry a
// checksum of their own, which opening them compares: only others are looked at
// unless all is asked for.
func Sound(part []byte, hash [32]byte, all bool) error {
	if len(part) > 4 && part[0]&packed != 0 && bytes.HasPrefix(part[1:], frame) && !all {
		return nil
	}
	if sha256.Sum256(part) == hash {
		return nil
	}
	if sum, err := Hash(part); err != nil {
		return err
	} else if sum != hash {
		return fmt.Errorf("a part %w: it is not what its hash tells", ErrDamaged)
	}
	return nil
}
