package shell

import (
	"sync"
	"time"
)

// Job is work that may take longer than a page should.
type Job struct {
	done chan struct{}
	mu   sync.Mutex
	text string

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

// Wait tells whether the work is done within a time.
func (j *Job) Wait(d time.Duration) bool {
	select {
	case <-j.done:
		return true
	case <-time.After(d):
		return false
	}
}

// Patience is how long a page waits for a job before it shows its progress.
const Patience = 1500 * time.Millisecond

// jobsKept are remembered once they are done.
const jobsKept = 24

// Jobs are the works going on and those done lately, by what they are about.
type Jobs struct {
	mu    sync.Mutex
	by    map[string]*Job
	order []string
}

// Do begins a work, or finds the one of that key.
func (js *Jobs) Do(key string, work func(*Job) (any, error)) *Job {
	js.mu.Lock()
	defer js.mu.Unlock()
	if j := js.by[key]; j != nil {
		return j
	}
	if js.by == nil {
		js.by = make(map[string]*Job)
	}
	for len(js.order) >= jobsKept {
		delete(js.by, js.order[0])
		js.order = js.order[1:]
	}
	j := &Job{done: make(chan struct{})}
	js.by[key], js.order = j, append(js.order, key)
	go func() {
		defer close(j.done)
		j.Value, j.Err = work(j)
	}()
	return j
}

// Find gives the work of a key, or nil.
func (js *Jobs) Find(key string) *Job {
	js.mu.Lock()
	defer js.mu.Unlock()
	return js.by[key]
}

// Drop forgets a work, so that it can be done anew.
func (js *Jobs) Drop(key string) {
	js.mu.Lock()
	defer js.mu.Unlock()
	delete(js.by, key)
	for i, k := range js.order {
		if k == key {
			js.order = append(js.order[:i], js.order[i+1:]...)
			return
		}
	}
}
