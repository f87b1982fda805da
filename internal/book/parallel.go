package book

import (
	"context"
	"runtime"
	"sync/atomic"

	"golang.org/x/sync/errgroup"
)

// parallel does something for each of n places on all processors, until one of
// them fails or the context ends. It gives the first error.
func parallel(ctx context.Context, n int, do func(ctx context.Context, i int) error) error {
	g, ctx := errgroup.WithContext(ctx)
	var next atomic.Int64
	for range min(runtime.GOMAXPROCS(0), n) {
		g.Go(func() error {
			for i := int(next.Add(1)) - 1; i < n; i = int(next.Add(1)) - 1 {
				if err := ctx.Err(); err != nil {
					return err
				}
				if err := do(ctx, i); err != nil {
					return err
				}
			}
			return nil
		})
	}
	return g.Wait()
}
