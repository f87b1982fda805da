package office

import (
	"context"

	"turret/internal/change"
	"turret/internal/right"
)

// By is who writes.
func By(a right.Actor) change.By { return change.By{Account: a.Account, Name: a.Name} }

// Write plans a batch on the snapshot in force and commits it as an actor's, now;
// see change.Writer. It asks for no right: each use case has asked for its own.
func (o *Office) Write(ctx context.Context, a right.Actor, plan change.Plan, opts ...change.Option) (int64, error) {
	return o.writer.Write(ctx, By(a), o.Now(), plan, opts...)
}
