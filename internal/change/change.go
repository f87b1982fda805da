// Package change is the one way to write: a batch is planned on a snapshot,
// compared with what its writer saw, and committed in one transaction that fails
// where anyone was faster; then it is planned again.
package change

import (
	"context"
	"errors"
	"sync"

	"turret/internal/book"
	"turret/internal/store"
)

// By is who writes: an account, which is zero on the command line, and what it is
// called.
type By struct {
	Account int64
	Name    string
}

// Same tells whether two are one person: by account, or, where one of them has
// none, by name.
func (b By) Same(other By) bool {
	if b.Account != 0 && other.Account != 0 {
		return b.Account == other.Account
	}
	return sameName(b.Name, other.Name)
}

// Plan makes the batch that a snapshot calls for. Nil, or an empty one, writes
// nothing. It may be asked again, on a later snapshot; whatever it compares with
// that snapshot still holds when its batch is committed.
type Plan func(ctx context.Context, s *book.Snapshot) (*store.Batch, error)

// Writer writes to one database. Writers of one process queue.
type Writer struct {
	store *store.Store
	book  *book.Book
	queue sync.Mutex
}

// New gives the writer of a database.
func New(st *store.Store, b *book.Book) *Writer { return &Writer{store: st, book: b} }

// tries of planning anew before all others are kept from writing meanwhile. What takes long
// is outpaced each time where many write.
const tries, longTries = 4, 1

// Option says how a batch is written.
type Option func(*options)

type options struct{ beside bool }

// Beside plans a first time while others write: for what takes long.
func Beside() Option { return func(o *options) { o.beside = true } }

// Write plans a batch and commits it: at a moment, UTC milliseconds, by someone.
// It gives the batch's id, or the revision that it was planned on where nothing
// is to be written. Where others keep being faster, the last time is planned while
// nobody else can write.
func (w *Writer) Write(ctx context.Context, by By, at int64, plan Plan, opts ...Option) (int64, error) {
	var o options
	for _, set := range opts {
		set(&o)
	}
	once := func(commit func(context.Context, *store.Batch) (int64, error)) (int64, error) {
		s, err := w.book.Snapshot(ctx)
		if err != nil {
			return 0, err
		}
		b, err := plan(ctx, s)
		if err != nil {
			return 0, err
		}
		if b == nil || b.Empty() {
			return s.Revision, nil
		}
		b.Base, b.At, b.Actor, b.Account = s.Revision, at, by.Name, by.Account
		return commit(ctx, b)
	}
	if o.beside {
		if id, err := once(w.store.Commit); !errors.Is(err, store.ErrOutpaced) {
			return id, err
		}
	}
	w.queue.Lock()
	defer w.queue.Unlock()
	more := tries
	if o.beside {
		more = longTries
	}
	for range more {
		if id, err := once(w.store.Commit); !errors.Is(err, store.ErrOutpaced) {
			return id, err
		}
	}
	var id int64
	err := w.store.Alone(ctx, func(commit func(context.Context, *store.Batch) (int64, error)) (err error) {
		id, err = once(commit)
		return err
	})
	return id, err
}
