package format

import "encoding/binary"

// Reader takes numbers and stretches of bytes off a body. After a damaged value
// every further one is zero, and Bad is set.
type Reader struct {
	Body []byte // what is left
	Bad  bool
}

// U takes an unsigned number.
func (r *Reader) U() uint64 {
	n, size := binary.Uvarint(r.Body)
	return n * r.took(size)
}

// I takes a number with a sign.
func (r *Reader) I() int64 {
	n, size := binary.Varint(r.Body)
	return n * int64(r.took(size))
}

// took drops what a number took; zero where there was none.
func (r *Reader) took(size int) uint64 {
	if size <= 0 {
		r.Bad, r.Body = true, nil
		return 0
	}
	r.Body = r.Body[size:]
	return 1
}

// Raw takes a stretch of bytes behind its length; nil where less is left.
func (r *Reader) Raw() []byte {
	n := r.U()
	if n > uint64(len(r.Body)) {
		r.Bad, r.Body = true, nil
		return nil
	}
	out := r.Body[:n]
	r.Body = r.Body[n:]
	return out
}
