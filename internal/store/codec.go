package store

import (
	"crypto/sha256"
	"encoding/binary"
	"errors"
	"fmt"
	"slices"
	"sync"

	"github.com/klauspost/compress/zstd"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Formats of parts. A format never changes; a new one gets a new number, and
// old ones keep their decoders.
const (
	formatRows  = 1
	formatLines = 2
	packed      = 0x80 // set where the body is compressed
)

var errPart = errors.New("a part is damaged")

var codecs = sync.OnceValue(func() (c struct {
	enc *zstd.Encoder
	dec *zstd.Decoder
},
) {
	c.enc, _ = zstd.NewWriter(nil, zstd.WithEncoderConcurrency(1), zstd.WithEncoderLevel(zstd.SpeedFastest), zstd.WithWindowSize(1<<20))
	c.dec, _ = zstd.NewReader(nil, zstd.WithDecoderConcurrency(0), zstd.WithDecoderMaxMemory(1<<30))
	return c
})

// seal puts the format before a body and compresses it where that helps.
func seal(format byte, body []byte) []byte {
	small := codecs().enc.EncodeAll(body, []byte{format | packed})
	if len(small) < len(body) {
		return small
	}
	return append([]byte{format}, body...)
}

func unseal(b []byte, format byte) ([]byte, error) {
	if len(b) == 0 || b[0]&^packed != format {
		return nil, fmt.Errorf("%w: its format is not known", errPart)
	}
	if b[0]&packed == 0 {
		return b[1:], nil
	}
	body, err := codecs().dec.DecodeAll(b[1:], nil)
	if err != nil {
		return nil, fmt.Errorf("%w: %w", errPart, err)
	}
	return body, nil
}

// HashOf is the identity of a part.
func HashOf(body []byte) [32]byte { return sha256.Sum256(body) }

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

// reader unpacks what writer packed. After a damaged value every further one
// is zero and bad is set.
type reader struct {
	body  []byte
	texts []string
	bad   bool
}

func openPart(b []byte, format byte) (*reader, error) {
	body, err := unseal(b, format)
	if err != nil {
		return nil, err
	}
	r := &reader{body: body}
	n := r.count()
	r.texts = make([]string, 0, n)
	for range n {
		size := r.count()
		if r.bad {
			break
		}
		r.texts = append(r.texts, string(r.body[:size]))
		r.body = r.body[size:]
	}
	return r, r.err()
}

func (r *reader) err() error {
	if r.bad {
		return errPart
	}
	return nil
}

func (r *reader) u() uint64 {
	n, size := binary.Uvarint(r.body)
	if size <= 0 {
		r.bad, r.body = true, nil
		return 0
	}
	r.body = r.body[size:]
	return n
}

func (r *reader) i() int64 {
	n, size := binary.Varint(r.body)
	if size <= 0 {
		r.bad, r.body = true, nil
		return 0
	}
	r.body = r.body[size:]
	return n
}

// count reads a number of things that take a byte each at least.
func (r *reader) count() int {
	n := r.u()
	if n > uint64(len(r.body)) {
		r.bad, r.body = true, nil
		return 0
	}
	return int(n)
}

func (r *reader) t() string {
	k := r.u()
	if k >= uint64(len(r.texts)) {
		r.bad = true
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

// EncodeRows packs rows. Columns may be added to a table at its end only: rows
// packed before say nothing of them.
func EncodeRows(rows []portfolio.Row) []byte {
	w := &writer{}
	w.u(uint64(len(rows)))
	var id int64
	var src portfolio.Source
	for i := range rows {
		r := &rows[i]
		w.i(r.ID - id)
		w.i(int64(r.Source.File) - int64(src.File))
		w.i(int64(r.Source.Row) - int64(src.Row))
		id, src = r.ID, r.Source
		w.u(uint64(len(r.Fields)))
		for j := range r.Fields {
			f := &r.Fields[j]
			hasInt, hasText := f.Int != 0, f.Text != ""
			w.u(uint64(f.Said) | bit(hasInt, 4) | bit(hasText, 8))
			if hasInt {
				w.i(f.Int)
			}
			if hasText {
				w.t(f.Text)
			}
		}
		w.extra(r.Extra)
	}
	return w.seal(formatRows)
}

func bit(b bool, n uint64) uint64 {
	if b {
		return n
	}
	return 0
}

// DecodeRows unpacks rows with at least columns fields each.
func DecodeRows(b []byte, columns int) ([]portfolio.Row, error) {
	r, err := openPart(b, formatRows)
	if err != nil {
		return nil, err
	}
	n := r.count()
	rows := make([]portfolio.Row, 0, n)
	slab := make([]portfolio.Field, n*columns) // one piece for all rows
	var id int64
	var src portfolio.Source
	for range n {
		id += r.i()
		src.File += int32(r.i())
		src.Row += int32(r.i())
		have := r.count()
		row := portfolio.Row{ID: id, Source: src, Fields: slab[:columns:columns]}
		slab = slab[columns:]
		if have > columns {
			row.Fields = make([]portfolio.Field, have)
		}
		for j := range have {
			head := r.u()
			f := &row.Fields[j]
			f.Said = portfolio.Said(head & 3)
			if head&4 != 0 {
				f.Int = r.i()
			}
			if head&8 != 0 {
				f.Text = r.t()
			}
		}
		row.Extra = r.extra()
		if r.bad {
			return nil, errPart
		}
		rows = append(rows, row)
	}
	return rows, r.err()
}

// EncodeLines packs time-phased amounts.
func EncodeLines(lines []portfolio.Line) []byte {
	w := &writer{}
	w.u(uint64(len(lines)))
	for i := range lines {
		l := &lines[i]
		w.i(l.CodeID)
		for _, s := range [...]string{l.Code, string(l.Flow), l.Class, l.Centre, l.Activity, string(l.Currency)} {
			w.t(s)
		}
		w.i(l.ActivityID)
		w.u(uint64(len(l.Cells)))
		var p calendar.Period
		var src portfolio.Source
		for j := range l.Cells {
			c := &l.Cells[j]
			w.i(int64(c.Period - p))
			w.i(c.Amount)
			w.i(int64(c.Source.File) - int64(src.File))
			w.i(int64(c.Source.Row) - int64(src.Row))
			p, src = c.Period, c.Source
			w.u(bit(c.Remark != nil, 1))
			if c.Remark != nil {
				w.t(c.Remark.Note)
				w.extra(c.Remark.Extra)
			}
		}
	}
	return w.seal(formatLines)
}

// DecodeLines unpacks time-phased amounts.
func DecodeLines(b []byte) ([]portfolio.Line, error) {
	r, err := openPart(b, formatLines)
	if err != nil {
		return nil, err
	}
	n := r.count()
	lines := make([]portfolio.Line, 0, n)
	for range n {
		l := portfolio.Line{CodeID: r.i()}
		l.Code, l.Flow, l.Class, l.Centre, l.Activity, l.Currency = r.t(), portfolio.Flow(r.t()), r.t(), r.t(), r.t(), money.Currency(r.t())
		l.ActivityID = r.i()
		cells := r.count()
		l.Cells = make([]portfolio.Cell, 0, cells)
		var p calendar.Period
		var src portfolio.Source
		for range cells {
			p += calendar.Period(r.i())
			c := portfolio.Cell{Period: p, Amount: r.i()}
			src.File += int32(r.i())
			src.Row += int32(r.i())
			c.Source = src
			if r.u() != 0 {
				c.Remark = &portfolio.Remark{Note: r.t(), Extra: r.extra()}
			}
			if r.bad {
				return nil, errPart
			}
			l.Cells = append(l.Cells, c)
		}
		lines = append(lines, l)
	}
	return lines, r.err()
}
