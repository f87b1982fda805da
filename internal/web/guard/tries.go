package guard

import (
	"sync"
	"time"
)

// Tries counts what someone tries and fails, such as passwords: of one account from one
// address, of one account from anywhere, and from one address of any account. Of an account
// that many try, each address may once more, and soon none; but an address that the account
// was right from is not held up by what others try of it, nor by what its neighbours behind a
// proxy try of others.
type Tries struct {
	now func() time.Time

	mu    sync.Mutex
	made  map[string][]time.Time
	right map[string]time.Time // account and address, of those who were right
}

// Bounds of tries: so many within a time.
const (
	ofPair    = 5
	pairTime  = time.Minute
	ofAccount = 30 // then once from each address
	ofAddress = 60
	longTime  = 15 * time.Minute
	ofAll     = 100 // of an account, from anywhere
	allTime   = time.Hour
	known     = 30 * 24 * time.Hour
	mostKept  = 20_000 // keys; beyond, what is over is forgotten, then what is oldest
)

// NewTries begins to count by a clock.
func NewTries(now func() time.Time) *Tries {
	return &Tries{now: now, made: make(map[string][]time.Time), right: make(map[string]time.Time)}
}

// May counts a try and tells whether it may be made; one that may not is not counted.
func (t *Tries) May(account, address string) bool {
	t.mu.Lock()
	defer t.mu.Unlock()
	now := t.now()
	pair := account + "\x00" + address
	if t.count(pair, now, pairTime) >= ofPair {
		return false
	}
	if at, ok := t.right[pair]; !ok || now.Sub(at) > known {
		many := t.count("account "+account, now, longTime) >= ofAccount
		if many && t.count(pair, now, longTime) > 0 || t.count("account "+account, now, allTime) >= ofAll || t.count("address "+address, now, longTime) >= ofAddress {
			return false
		}
	}
	t.tidy(now)
	for _, key := range []string{pair, "account " + account, "address " + address} {
		t.made[key] = append(t.made[key], now)
	}
	return true
}

// Tell tells, once in a while, that a try was held up: what goes on is told again after it.
func (t *Tries) Tell(account, address string) bool {
	t.mu.Lock()
	defer t.mu.Unlock()
	now, key := t.now(), "told "+account+"\x00"+address
	if t.count(key, now, pairTime) > 0 {
		return false
	}
	t.tidy(now)
	t.made[key] = append(t.made[key], now)
	return true
}

// Right takes back the try of someone who was right.
func (t *Tries) Right(account, address string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	pair := account + "\x00" + address
	t.right[pair] = t.now()
	delete(t.made, pair)
	for _, key := range []string{"account " + account, "address " + address} {
		if list := t.made[key]; len(list) > 0 {
			t.made[key] = list[:len(list)-1]
		}
	}
}

// count gives how many tries of a key are within a time.
func (t *Tries) count(key string, now time.Time, within time.Duration) int {
	list := t.made[key]
	for len(list) > 0 && now.Sub(list[0]) >= allTime { // nothing counts for longer
		list = list[1:]
	}
	if len(list) == 0 {
		delete(t.made, key)
		return 0
	}
	t.made[key] = list
	n := 0
	for n < len(list) && now.Sub(list[len(list)-1-n]) < within {
		n++
	}
	return n
}

// tidy forgets what is over where there are many keys, and the oldest where it is not enough.
func (t *Tries) tidy(now time.Time) {
	if len(t.made) < mostKept && len(t.right) < mostKept {
		return
	}
	for within := allTime; ; within /= 2 {
		for key, list := range t.made {
			if now.Sub(list[len(list)-1]) >= within {
				delete(t.made, key)
			}
		}
		if len(t.made) < mostKept/2 || within < time.Second {
			break
		}
	}
	for pair, at := range t.right {
		if now.Sub(at) > known || len(t.right) >= mostKept {
			delete(t.right, pair)
		}
	}
}
