package web

import (
	"context"
	"sync/atomic"
	"time"

	"github.com/gofiber/fiber/v3"
)

// rest is how long nobody has asked anything when the server counts as idle.
const rest = 2 * time.Second

// idle tells when nobody asks anything.
type idle struct {
	asking atomic.Int64
	last   atomic.Int64 // when the last answer was given, or the server began, in nanoseconds
}

func newIdle() *idle {
	i := &idle{}
	i.last.Store(time.Now().UnixNano())
	return i
}

// watch counts requests.
func (i *idle) watch(c fiber.Ctx) error {
	i.asking.Add(1)
	defer func() {
		i.last.Store(time.Now().UnixNano())
		i.asking.Add(-1)
	}()
	return c.Next()
}

// wait waits until nobody has asked anything for a while, or gives the error of ctx.
func (i *idle) wait(ctx context.Context) error {
	for {
		// Who is asking is read before when the last answer was given, since watch
		// writes them the other way round: none asking means that the last is told.
		asking := i.asking.Load()
		left := time.Until(time.Unix(0, i.last.Load()).Add(rest))
		if asking == 0 && left <= 0 {
			return ctx.Err()
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(max(left, rest/10)):
		}
	}
}
