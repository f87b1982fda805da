package shell

import (
	"fmt"
	"log/slog"
	"runtime/debug"
	"slices"
	"sync"
	"time"
)

// Job is work that may take longer than a page should.
type Job struct {
	done chan struct{}
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
// that goes on is never forgotten.
type Jobs struct {
	mu    sync.Mutex
	views works
	deeds works
}

// works are jobs by key, in the order in which they began.
type works struct {
	by    map[string]*Job
	order []string
}

// Do begins a work that makes something to look at, or finds the one of that key.
func (js *Jobs) Do(key string, work func(*Job) (any, error)) *Job {
	js.mu.Lock()
	defer js.mu.Unlock()
	return js.views.do(key, jobsKept, work)
}

// Deed begins a work that changes something, whose outcome waits until it is told
// and dropped; or finds the one of that key.
func (js *Jobs) Deed(key string, work func(*Job) (any, error)) *Job {
	js.mu.Lock()
	defer js.mu.Unlock()
	return js.deeds.do(key, deedsKept, work)
}

func (ws *works) do(key string, most int, work func(*Job) (any, error)) *Job {
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
	j := &Job{done: make(chan struct{})}
	ws.by[key], ws.order = j, append(ws.order, key)
	go j.run(key, work)
	return j
}

// run does the work. One that breaks off has that as its error, and the server
// goes on.
func (j *Job) run(key string, work func(*Job) (any, error)) {
	defer close(j.done)
	defer func() {
		if r := recover(); r != nil {
			slog.Error("a work broke off", "work", key, "panic", r, "stack", string(debug.Stack()))
			j.Value, j.Err = nil, fmt.Errorf("the work broke off: %v", r)
		}
	}()
	j.Value, j.Err = work(j)
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
