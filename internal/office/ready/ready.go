// Package ready makes what the first pages of a day need while nobody asks for it
// yet: after a start the figures of all projects, what stands out, the money table
// and the forecasts are computed once, in the order in which people open them.
package ready

import (
	"context"
	"fmt"
	"log/slog"
	"runtime/debug"

	"turret/internal/office"
	"turret/internal/office/board"
	"turret/internal/office/money"
	"turret/internal/office/weigh"
	"turret/internal/right"
)

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }

// Make computes what the first pages need, until it is done or ctx ends. Before each
// step it waits as it is told to.
func (o Room) Make(ctx context.Context, a right.Actor, wait func(context.Context) error) error {
	if err := wait(ctx); err != nil {
		return err
	}
	m, err := o.Moment(ctx, a, office.Ask{})
	if err != nil || m.Empty {
		return err
	}
	for _, step := range []func() error{
		func() error { _, err := board.In(o.Office).List(ctx, a, m, board.Order{}); return err },
		func() error { _, err := board.In(o.Office).Strips(ctx, a, m); return err },
		func() error { _, err := weigh.In(o.Office).Exceptions(ctx, a, m, weigh.ExceptionAsk{}); return err },
		func() error { _, err := money.In(o.Office).Table(ctx, a, m, money.Ask{}); return err },
		func() error { _, err := weigh.In(o.Office).Forecasts(ctx, a, m, "", 0); return err },
	} {
		if err := wait(ctx); err != nil {
			return err
		}
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

// Begin makes ready beside the server, see Make. What it returns stops that and waits until
// it has stopped. What goes wrong is logged: pages find it again for themselves.
func (o Room) Begin(
	ctx context.Context,
	a right.Actor,
	log *slog.Logger,
	wait func(context.Context) error,
) (stop func()) {
	ctx, cancel := context.WithCancel(ctx)
	done := make(chan struct{})
	go func() {
		defer close(done)
		defer func() {
			if x := recover(); x != nil {
				log.Error("making the first pages ready", "panic", fmt.Sprint(x), "stack", string(debug.Stack()))
			}
		}()
		if err := o.Make(ctx, a, wait); err != nil && ctx.Err() == nil {
			log.Warn("making the first pages ready", "err", err)
		}
	}()
	return func() {
		cancel()
		<-done
	}
}
