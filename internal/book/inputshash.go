package book

import (
	"context"

	"turret/internal/book/cache"
)

// inputsKey is that of the hash of all inputs, of those who see the same.
type inputsKey struct {
	revision int64
	sight    string
}

// InputsHash is the hash that Inputs gives of a snapshot that is written.
func (b *Book) InputsHash(ctx context.Context, s *Snapshot) ([32]byte, error) {
	return cache.Get(ctx, b.cache, inputsKey{s.Revision, s.sight.Key()}, func(ctx context.Context) ([32]byte, error) {
		_, hash, err := s.Inputs(ctx)
		return hash, err
	})
}
