// Package pages gives every page of a database file a checksum: eight bytes that SQLite
// leaves free at its end. They are written with the page and compared whenever it is read
// from the file, so that nothing of a database that was damaged is taken for what it was.
package pages

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"hash/crc32"
	"io"
	"os"
)

// Reserved is how many bytes of a page its sum takes.
const Reserved = 8

const (
	headerLength = 100
	reservedAt   = 20      // in the header: bytes that are left free on each page
	lockByte     = 1 << 30 // the page with this byte is never used
)

var (
	magic      = []byte("SQLite format 3\x00")
	castagnoli = crc32.MakeTable(crc32.Castagnoli)
)

// sum of a page, its last eight bytes left out: one polynomial over its number and content,
// another over the content, so that what lies in the wrong place shows too.
func sum(page []byte, number uint32) (out [Reserved]byte) {
	body := page[:len(page)-Reserved]
	var n [4]byte
	binary.BigEndian.PutUint32(n[:], number)
	binary.BigEndian.PutUint32(out[:4], crc32.Update(crc32.Checksum(n[:], castagnoli), castagnoli, body))
	binary.BigEndian.PutUint32(out[4:], crc32.ChecksumIEEE(body))
	return out
}

func put(page []byte, number uint32) {
	s := sum(page, number)
	copy(page[len(page)-Reserved:], s[:])
}

// sound tells whether a page is what was written. In a journal pages have no sums yet:
// where another program carries one into the file they are zero until they are written
// next. A page that is nothing but zeros was never written.
func sound(page []byte, number uint32) bool {
	s := sum(page, number)
	kept := page[len(page)-Reserved:]
	return bytes.Equal(kept, s[:]) || zero(kept) && !zero(page)
}

func zero(b []byte) bool {
	for _, x := range b {
		if x != 0 {
			return false
		}
	}
	return true
}

// isPage tells whether so many bytes at an offset are one page of a database.
func isPage(length int32, offset int64) bool {
	return length >= 512 && length&(length-1) == 0 && offset%int64(length) == 0
}

// sealed tells by the header of a database whether its pages have sums.
func sealed(header []byte) bool {
	return bytes.HasPrefix(header, magic) && header[reservedAt] == Reserved
}

// pageSize gives the size of a database's pages, by its header.
func pageSize(header []byte) int64 {
	size := int64(binary.BigEndian.Uint16(header[16:]))
	if size == 1 { // which 16 bits do not hold
		return 1 << 16
	}
	return size
}

// ErrUnsealed is the error of a database whose pages have no sums.
var ErrUnsealed = errors.New("its pages have no checksums")

// Sealed tells whether the pages of a database have sums. An empty file has none.
func Sealed(path string) (bool, error) {
	f, err := os.Open(path)
	if err != nil {
		return false, err
	}
	defer f.Close()
	head := make([]byte, headerLength)
	if _, err := io.ReadFull(f, head); errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
		return false, nil
	} else if err != nil {
		return false, err
	}
	return sealed(head), nil
}

// Check lists the pages of a database that is not open, by number, that are not what was
// written.
func Check(path string) (bad []uint32, err error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	err = each(f, func(page []byte, number uint32, _ int64) error {
		if !sound(page, number) && !zero(page) {
			bad = append(bad, number)
		}
		return nil
	})
	return bad, err
}

// Seal makes the sums of all pages anew, for a database that is not open and that something
// else than this program wrote: what it holds is taken for right.
func Seal(path string) error { return seal(path, func([]byte) bool { return true }) }

// Fill makes the sums of the pages of a database that is not open where they have none: they
// came from a journal. All others stay, and are what they were.
func Fill(path string) error {
	return seal(path, func(page []byte) bool { return zero(page[len(page)-Reserved:]) })
}

func seal(path string, wanted func(page []byte) bool) error {
	f, err := os.OpenFile(path, os.O_RDWR, 0)
	if err != nil {
		return err
	}
	err = each(f, func(page []byte, number uint32, at int64) error {
		if s := sum(page, number); bytes.Equal(page[len(page)-Reserved:], s[:]) || zero(page) || !wanted(page) {
			return nil
		}
		put(page, number)
		_, err := f.WriteAt(page[len(page)-Reserved:], at+int64(len(page)-Reserved))
		return err
	})
	if err == nil {
		err = f.Sync()
	}
	return errors.Join(err, f.Close())
}

// each hands over the pages of a file in order.
func each(f *os.File, do func(page []byte, number uint32, at int64) error) error {
	head := make([]byte, headerLength)
	if _, err := f.ReadAt(head, 0); err != nil {
		return fmt.Errorf("%s: %w", f.Name(), err)
	}
	if !sealed(head) {
		return fmt.Errorf("%s: %w", f.Name(), ErrUnsealed)
	}
	size := pageSize(head)
	if !isPage(int32(size), 0) {
		return fmt.Errorf("%s: pages of %d bytes: %w", f.Name(), size, ErrUnsealed)
	}
	page := make([]byte, size)
	r := io.NewSectionReader(f, 0, 1<<62)
	for at := int64(0); ; at += size {
		n, err := io.ReadFull(r, page)
		switch {
		case errors.Is(err, io.EOF):
			return nil
		case errors.Is(err, io.ErrUnexpectedEOF):
			return fmt.Errorf("%s ends in the middle of a page, after %d bytes of it: %w", f.Name(), n, io.ErrUnexpectedEOF)
		case err != nil:
			return err
		case at <= lockByte && lockByte < at+size:
			continue
		}
		if err := do(page, uint32(at/size)+1, at); err != nil {
			return err
		}
	}
}
