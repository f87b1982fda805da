package book

import (
	"context"
	"runtime"

	"golang.org/x/sync/errgroup"
)

// parallel does something for each of n places on all processors, until one of
// them fails or the context ends. It gives the first error.
func parallel(ctx context.Context, n int, do func(ctx context.Context, i int) error) error {
	g, ctx := errgroup.WithContext(ctx)
	g.SetLimit(runtime.GOMAXPROCS(0))
	for i := range n {
		g.Go(func() error {
			if err := ctx.Err(); err != nil {
				return err
			}
			return do(ctx, i)
		})
	}
	return g.Wait()
}
