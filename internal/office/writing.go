package office

import (
	"errors"

	"turret/internal/store"
)

// tries of planning anew when another process wrote meanwhile.
const tries = 5

// largeBytes is the size from which files are first planned beside other
// writers: what is smaller queues, as it takes less time than planning twice.
const largeBytes = 1 << 20

// writing plans a batch and commits it, again and again until nobody outpaced
// it. Those of this process queue, so that only another process can; a large one
// is first tried beside the others, and queues once it was outpaced.
func (o *Office) writing(large bool, once func() error) error {
	if large {
		if err := once(); !errors.Is(err, store.ErrOutpaced) {
			return err
		}
	}
	o.queue.Lock()
	defer o.queue.Unlock()
	for range tries {
		if err := once(); !errors.Is(err, store.ErrOutpaced) {
			return err
		}
	}
	return refuse("Others kept writing meanwhile; nothing was done. Try again.")
}
