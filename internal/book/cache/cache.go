// Package cache keeps what takes long to make and follows from its key alone: the
// key names the content it is made from (a revision, a hash, a period), so nothing
// kept is ever out of date, it only stops being asked for.
package cache

import (
	"container/list"
	"context"
	"sync"
)

// Cache keeps what was asked for last. It is never locked while something is made
// or read: who asks for what is being made waits for that alone.
type Cache struct {
	most int

	mu     sync.Mutex
	recent *list.List // of *kept, the latest asked for first
	by     map[any]*list.Element
	weight int // of all that is kept
}

// Weighty is a key of something that takes as much room as so many others.
type Weighty interface{ Weight() int }

func weigh(key any) int {
	if w, ok := key.(Weighty); ok {
		return w.Weight()
	}
	return 1
}

type kept struct {
	key   any
	made  chan struct{} // closed once value or err stand
	value any
	ok    bool // value stands
}

// New makes a cache that keeps so many things, of weight 1 where their keys say no
// other. What was asked for last is kept whatever it weighs.
func New(most int) *Cache {
	return &Cache{most: most, recent: list.New(), by: make(map[any]*list.Element)}
}

// Get gives what is kept under a key, else makes it. Keys are comparable values of
// a type of their user's own, so that users of one cache do not meet. An error is
// given and not kept; those who waited make it themselves.
func Get[V any](ctx context.Context, c *Cache, key any, make func(context.Context) (V, error)) (V, error) {
	var none V
	for {
		k, mine := c.take(key)
		if mine {
			return fill(ctx, c, k, make)
		}
		select {
		case <-k.made:
		case <-ctx.Done():
			return none, ctx.Err()
		}
		if k.ok {
			return k.value.(V), nil
		}
	}
}

// take finds what is kept under a key; mine tells that there was nothing, and that
// the asker makes it.
func (c *Cache) take(key any) (k *kept, mine bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if e, ok := c.by[key]; ok {
		c.recent.MoveToFront(e)
		return e.Value.(*kept), false
	}
	k = &kept{key: key, made: make(chan struct{})}
	c.by[key] = c.recent.PushFront(k)
	c.weight += weigh(key)
	for c.weight > c.most && c.recent.Len() > 1 {
		c.drop(c.recent.Back())
	}
	return k, true
}

func (c *Cache) drop(e *list.Element) {
	key := e.Value.(*kept).key
	c.recent.Remove(e)
	delete(c.by, key)
	c.weight -= weigh(key)
}

func fill[V any](ctx context.Context, c *Cache, k *kept, make func(context.Context) (V, error)) (V, error) {
	defer close(k.made)
	defer func() {
		if k.ok {
			return
		}
		c.mu.Lock()
		defer c.mu.Unlock()
		if e, ok := c.by[k.key]; ok && e.Value == k {
			c.drop(e)
		}
	}()
	v, err := make(ctx)
	if err == nil {
		k.value, k.ok = v, true
	}
	return v, err
}

// Peek gives what is kept under a key and stands, without waiting or making.
func Peek[V any](c *Cache, key any) (v V, ok bool) {
	c.mu.Lock()
	e := c.by[key]
	c.mu.Unlock()
	if e == nil {
		return v, false
	}
	k := e.Value.(*kept)
	select {
	case <-k.made:
		if k.ok {
			return k.value.(V), true
		}
	default:
	}
	return v, false
}
