package main

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"sync"
	"time"

	"turret/internal/gather"
	"turret/internal/office"
	"turret/internal/office/entry"
	"turret/internal/store"
)

// people save every pause, each a text of a project.
const (
	people = 50
	pause  = 2 * time.Second
	watch  = 20 * time.Second
)

// peopleStep has fifty people save on a copy of the database: by themselves, and
// while 500,000 further postings are gathered. A save that is refused fails it.
func peopleStep(ctx context.Context, dir string) (result, error) {
	o, done, err := onCopy(ctx, dir)
	if err != nil {
		return nil, err
	}
	defer done()
	ledger, err := os.ReadFile(filepath.Join(dir, "postings.csv"))
	if err != nil {
		return nil, err
	}
	head, rows, _ := bytes.Cut(ledger, []byte("\n"))
	ledger = slices.Concat(
		head,
		[]byte("\nZ"),
		bytes.ReplaceAll(bytes.TrimSpace(rows), []byte("\n"), []byte("\nZ")),
		[]byte("\n"),
	)
	alone, err := save(ctx, o, func() error { time.Sleep(watch); return nil })
	if err != nil {
		return nil, err
	}
	beside, err := save(ctx, o, func() error {
		_, err := entry.In(o).Gather(ctx, me, []gather.File{{Name: "further.csv", Body: ledger}}, nil, entry.Options{})
		return err
	})
	if err != nil {
		return nil, err
	}
	return result{
		"50 people save": median(alone), "50 people save, 99th percentile": ms(alone[len(alone)*99/100]),
		"50 people save beside a gather": median(
			beside,
		), "50 people save beside a gather, 99th percentile": ms(beside[len(beside)*99/100]),
	}, nil
}

// save has people save until work is done, and gives how long each took, sorted.
func save(ctx context.Context, o *office.Office, work func() error) ([]time.Duration, error) {
	var mu sync.Mutex
	var took []time.Duration
	var failed error
	done := make(chan struct{})
	var all sync.WaitGroup
	for p := range people {
		all.Go(func() {
			next := time.NewTimer(pause * time.Duration(p) / people)
			for n := 0; ; n++ {
				select {
				case <-done:
					return
				case <-next.C:
				}
				next.Reset(pause)
				body := fmt.Sprintf(
					"project,period,section,text\n%s,%s,next,Saved %d at %s\n",
					code(p),
					lastPeriod,
					n,
					time.Now(),
				)
				begun := time.Now()
				_, err := entry.In(o).
					Gather(ctx, me, []gather.File{{Name: fmt.Sprintf("person %d.csv", p), Body: []byte(body)}}, nil, entry.Options{})
				mu.Lock()
				took = append(took, time.Since(begun))
				failed = firstOf(failed, err)
				mu.Unlock()
			}
		})
	}
	err := work()
	close(done)
	all.Wait()
	slices.Sort(took)
	return took, firstOf(err, failed)
}

func firstOf(a, b error) error {
	if a != nil {
		return a
	}
	return b
}

// onCopy opens a copy of the database, which is thrown away once it is done with.
func onCopy(ctx context.Context, dir string) (o *office.Office, done func(), err error) {
	copied := filepath.Join(dir, "copy.db")
	st, err := store.Open(ctx, database(dir), false)
	if err != nil {
		return nil, nil, err
	}
	err = st.Backup(ctx, copied)
	st.Close()
	if err != nil {
		return nil, nil, err
	}
	if o, err = office.Open(ctx, me, copied, false); err != nil {
		os.Remove(copied)
		return nil, nil, err
	}
	return o, func() { o.Close(); os.Remove(copied) }, nil
}
