package format

import "encoding/binary"

// Reader takes numbers and stretches of bytes off a body. After a damaged value
// every further one is zero, and Bad is set.
type Reader struct {
	body []byte
	at   int // what is before it was taken; a place, for moving a slice costs the collector
	Bad  bool
}

// Read gives a reader of a body.
func Read(body []byte) Reader { return Reader{body: body} }

// Left counts the bytes that are left.
func (r *Reader) Left() int { return len(r.body) - r.at }

// U takes an unsigned number.
func (r *Reader) U() uint64 {
	if r.at < len(r.body) && r.body[r.at] < 0x80 { // most are of one byte
		r.at++
		return uint64(r.body[r.at-1])
	}
	n, size := binary.Uvarint(r.body[r.at:])
	if size <= 0 {
		r.spoil()
		return 0
	}
	r.at += size
	return n
}

// I takes a number with a sign.
func (r *Reader) I() int64 {
	n := r.U()
	if n&1 != 0 {
		return ^int64(n >> 1)
	}
	return int64(n >> 1)
}

// spoil leaves nothing to take.
func (r *Reader) spoil() { r.Bad, r.at = true, len(r.body) }

// Raw takes a stretch of bytes behind its length; nil where less is left.
func (r *Reader) Raw() []byte {
	n := r.U()
	if n > uint64(r.Left()) {
		r.spoil()
		return nil
	}
	return r.take(int(n))
}

// take takes bytes of which so many are left.
func (r *Reader) take(n int) []byte {
	out := r.body[r.at : r.at+n]
	r.at += n
	return out
}
