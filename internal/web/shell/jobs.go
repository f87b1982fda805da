package shell

import (
	"context"
	"fmt"
	"log/slog"
	"runtime"
	"runtime/debug"
	"slices"
	"strings"
	"sync"
	"time"
)

// Job is work that may take longer than a page should.
type Job struct {
	done chan struct{}
	stop context.CancelFunc
	mu   sync.Mutex
	text string
	seen []any

	Value any // once it is done
	Err   error
}

// Tell says how far the work is.
func (j *Job) Tell(text string) {
	j.mu.Lock()
	defer j.mu.Unlock()
	j.text = text
}

// Text is how far the work is, in words.
func (j *Job) Text() string {
	j.mu.Lock()
	defer j.mu.Unlock()
	return j.text
}

// Show hands over a part of what the work will give, once it is ready.
func (j *Job) Show(part any) {
	j.mu.Lock()
	defer j.mu.Unlock()
	j.seen = append(j.seen, part)
}

// Shown are the parts that are ready, in their order.
func (j *Job) Shown() []any {
	j.mu.Lock()
	defer j.mu.Unlock()
	return slices.Clone(j.seen)
}

// Wait tells whether the work is done within a time.
func (j *Job) Wait(d time.Duration) bool {
	select {
	case <-j.done:
		return true
	default:
	}
	select {
	case <-j.done:
		return true
	case <-time.After(d):
		return false
	}
}

// Patience is how long a page waits for a job before it shows its progress.
const Patience = 1500 * time.Millisecond

// jobsKept are remembered once they are done: views as long as few others come,
// deeds until they are told, or so many others wait to be.
const (
	jobsKept  = 24
	deedsKept = 1000
)

// Jobs are the works going on and those done lately, by what they are about. One
// that goes on is never forgotten. So many run at once as the machine does with ease, and
// of one person fewer; the others wait for their turn.
type Jobs struct {
	mu    sync.Mutex
	views works
	deeds works
	turns turns
}

// turns are given to works in the order in which they ask, those of who has as many running
// as one person may let aside.
type turns struct {
	mu      sync.Mutex
	running map[int64]int // by person
	all     int
	waiting []*turn
}

type turn struct {
	who int64
	run chan struct{}
}

// ofOne is how many works of one person run at once.
const ofOne = 2

// atOnce is how many run in all.
func atOnce() int { return max(3, runtime.GOMAXPROCS(0)) }

// take waits for a turn, and gives how to hand it on.
func (t *turns) take(ctx context.Context, who int64) (done func(), err error) {
	x := &turn{who, make(chan struct{})}
	t.mu.Lock()
	t.waiting = append(t.waiting, x)
	t.next()
	t.mu.Unlock()
	done = func() {
		t.mu.Lock()
		defer t.mu.Unlock()
		t.all--
		if t.running[who]--; t.running[who] == 0 {
			delete(t.running, who)
		}
		t.next()
	}
	select {
	case <-x.run:
		return done, nil
	default:
	}
	select {
	case <-x.run:
		return done, nil
	case <-ctx.Done():
	}
	t.mu.Lock()
	i := slices.Index(t.waiting, x)
	if i >= 0 {
		t.waiting = slices.Delete(t.waiting, i, i+1)
	}
	t.mu.Unlock()
	if i < 0 { // it came at the same moment
		done()
	}
	return nil, ctx.Err()
}

// next lets those run whose turn it is.
func (t *turns) next() {
	if t.running == nil {
		t.running = make(map[int64]int)
	}
	for i := 0; i < len(t.waiting) && t.all < atOnce(); {
		x := t.waiting[i]
		if t.running[x.who] >= ofOne {
			i++
			continue
		}
		t.waiting = slices.Delete(t.waiting, i, i+1)
		t.all++
		t.running[x.who]++
		close(x.run)
	}
}

// works are jobs by key, in the order in which they began.
type works struct {
	by    map[string]*Job
	order []string
}

// Work is what a job does, for as long as it is not stopped.
type Work = func(ctx context.Context, j *Job) (any, error)

// Do begins a work that makes something to look at for a person, or finds the one of that
// key. It goes on when who asked is gone.
func (js *Jobs) Do(ctx context.Context, who int64, key string, work Work) *Job {
	js.mu.Lock()
	defer js.mu.Unlock()
	return js.views.do(ctx, key, jobsKept, js.inTurn(who, work))
}

// Deed begins a work that changes something, whose outcome waits until it is told
// and dropped; or finds the one of that key.
func (js *Jobs) Deed(ctx context.Context, who int64, key string, work Work) *Job {
	js.mu.Lock()
	defer js.mu.Unlock()
	return js.deeds.do(ctx, key, deedsKept, js.inTurn(who, work))
}

// inTurn is a work that waits for its turn first.
func (js *Jobs) inTurn(who int64, work Work) Work {
	return func(ctx context.Context, j *Job) (any, error) {
		j.Tell("Waiting for its turn, behind what others asked for")
		done, err := js.turns.take(ctx, who)
		if err != nil {
			return nil, err
		}
		defer done()
		j.Tell("")
		return work(ctx, j)
	}
}

// Stop ends the works whose keys begin so, and forgets them: what they would have changed
// is not changed, unless it is already. It tells whether there were any.
func (js *Jobs) Stop(begin string) bool {
	js.mu.Lock()
	defer js.mu.Unlock()
	found := false
	for _, ws := range []*works{&js.views, &js.deeds} {
		for _, key := range slices.Clone(ws.order) {
			if j := ws.by[key]; strings.HasPrefix(key, begin) && !j.Wait(0) {
				j.stop()
				ws.drop(key)
				found = true
			}
		}
	}
	return found
}

func (ws *works) do(ctx context.Context, key string, most int, work Work) *Job {
	if j := ws.by[key]; j != nil {
		return j
	}
	if ws.by == nil {
		ws.by = make(map[string]*Job)
	}
	for i := 0; len(ws.order) >= most && i < len(ws.order); {
		if old := ws.order[i]; ws.by[old].Wait(0) {
			ws.drop(old)
		} else {
			i++
		}
	}
	ctx, stop := context.WithCancel(context.WithoutCancel(ctx))
	j := &Job{done: make(chan struct{}), stop: stop}
	ws.by[key], ws.order = j, append(ws.order, key)
	go j.run(ctx, key, work)
	return j
}

// run does the work. One that breaks off has that as its error, and the server
// goes on.
func (j *Job) run(ctx context.Context, key string, work Work) {
	defer close(j.done)
	defer j.stop()
	defer func() {
		if r := recover(); r != nil {
			slog.Error("a work broke off", "work", key, "panic", r, "stack", string(debug.Stack()))
			j.Value, j.Err = nil, fmt.Errorf("the work broke off: %v", r)
		}
	}()
	j.Value, j.Err = work(ctx, j)
}

func (ws *works) drop(key string) {
	delete(ws.by, key)
	if i := slices.Index(ws.order, key); i >= 0 {
		ws.order = slices.Delete(ws.order, i, i+1)
	}
}

// Find gives the work of a key, or nil.
func (js *Jobs) Find(key string) *Job {
	js.mu.Lock()
	defer js.mu.Unlock()
	if j := js.deeds.by[key]; j != nil {
		return j
	}
	return js.views.by[key]
}

// Drop forgets a work, so that it can be done anew.
func (js *Jobs) Drop(key string) {
	js.mu.Lock()
	defer js.mu.Unlock()
	js.views.drop(key)
	js.deeds.drop(key)
}
