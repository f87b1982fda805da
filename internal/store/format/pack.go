package format

import (
	"encoding/binary"
	"fmt"
	"slices"
)

var errPart = fmt.Errorf("a part %w", ErrDamaged)

// writer packs varints; texts go through a dictionary.
type writer struct {
	body  []byte
	texts []string
	index map[string]uint64
}

func (w *writer) u(n uint64) { w.body = binary.AppendUvarint(w.body, n) }
func (w *writer) i(n int64)  { w.body = binary.AppendVarint(w.body, n) }

func (w *writer) t(s string) {
	k, ok := w.index[s]
	if !ok {
		if w.index == nil {
			w.index = make(map[string]uint64)
		}
		k = uint64(len(w.texts))
		w.index[s] = k
		w.texts = append(w.texts, s)
	}
	w.u(k)
}

func (w *writer) extra(m map[string]string) {
	names := make([]string, 0, len(m))
	for k := range m {
		names = append(names, k)
	}
	slices.Sort(names)
	w.u(uint64(len(names)))
	for _, k := range names {
		w.t(k)
		w.t(m[k])
	}
}

func (w *writer) seal(format byte) []byte {
	head := binary.AppendUvarint(nil, uint64(len(w.texts)))
	for _, s := range w.texts {
		head = binary.AppendUvarint(head, uint64(len(s)))
		head = append(head, s...)
	}
	return seal(format, append(head, w.body...))
}

// reader unpacks what writer packed.
type reader struct {
	Reader
	texts []string
}

func openPart(b []byte, format byte) (*reader, error) {
	body, err := unseal(b, format)
	if err != nil {
		return nil, err
	}
	r := &reader{Reader: Read(body)}
	n := r.count()
	r.texts = make([]string, 0, n)
	for range n {
		size := r.count()
		if r.Bad {
			break
		}
		r.texts = append(r.texts, string(r.take(size)))
	}
	return r, r.err()
}

func (r *reader) err() error {
	if r.Bad {
		return errPart
	}
	return nil
}

// count reads a number of things that take a byte each at least.
func (r *reader) count() int {
	n := r.U()
	if n > uint64(r.Left()) {
		r.spoil()
		return 0
	}
	return int(n)
}

func (r *reader) t() string {
	k := r.U()
	if k >= uint64(len(r.texts)) {
		r.Bad = true
		return ""
	}
	return r.texts[k]
}

func (r *reader) extra() map[string]string {
	n := r.count()
	if n == 0 {
		return nil
	}
	m := make(map[string]string, n)
	for range n {
		k := r.t()
		m[k] = r.t()
	}
	return m
}
