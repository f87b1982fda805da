package pages

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"reflect"
	"sync"
	"sync/atomic"
	"unsafe"

	"modernc.org/libc"
	sqlite "modernc.org/sqlite/lib"
)

// Unchecked, in the query of a database's address, opens it without comparing sums.
const Unchecked = "turret_unchecked"

// Use makes SQLite write and compare the sums of every database of this process whose pages
// have room for them; all others are as ever.
var Use = sync.OnceValue(register)

// files stand in SQLite's memory: what is ours of one lies behind what the system's way to
// files keeps of it.
type file struct {
	methods   uintptr // the system's own
	size      int32   // of the database's pages, where they have sums; else zero
	unchecked int32   // that they are not compared
}

var (
	system     uintptr // the system's way to files, *sqlite3_vfs
	systemSize int32   // of one of its files
	ours       sync.Map
	lastBad    atomic.Uint32
)

// LastBad gives the number of the page that was found bad last in this process; zero for
// none.
func LastBad() uint32 { return lastBad.Load() }

func register() error {
	tls := libc.NewTLS()
	defer tls.Close()
	if rc := sqlite.Xsqlite3_initialize(tls); rc != sqlite.SQLITE_OK {
		return fmt.Errorf("SQLite does not start: %d", rc)
	}
	system = sqlite.Xsqlite3_vfs_find(tls, 0)
	if system == 0 {
		return errors.New("SQLite knows no way to files")
	}
	systemSize = vfs(system).FszOsFile
	mine := libc.Xmalloc(tls, libc.Tsize_t(unsafe.Sizeof(sqlite.Tsqlite3_vfs{})))
	name, err := libc.CString("turret")
	if mine == 0 || err != nil {
		return errors.New("out of memory")
	}
	*vfs(mine) = *vfs(system)
	vfs(mine).FpNext = 0
	vfs(mine).FzName = name
	vfs(mine).FszOsFile = systemSize + int32(unsafe.Sizeof(file{}))
	vfs(mine).FxOpen = function(open)
	if rc := sqlite.Xsqlite3_vfs_register(tls, mine, 1); rc != sqlite.SQLITE_OK {
		return fmt.Errorf("SQLite does not take the way to files: %d", rc)
	}
	return nil
}

// function gives what SQLite calls a Go function by.
func function[F any](f F) uintptr { return *(*uintptr)(unsafe.Pointer(&f)) }

// call gives the Go function behind what SQLite calls it by.
func call[F any](p uintptr) F { return *(*F)(unsafe.Pointer(&p)) }

// at gives what lies at a place of SQLite's memory.
func at[T any](p uintptr) *T { return *(**T)(unsafe.Pointer(&p)) }

func vfs(p uintptr) *sqlite.Tsqlite3_vfs { return at[sqlite.Tsqlite3_vfs](p) }

func bytesAt(p uintptr, n int32) []byte { return unsafe.Slice(at[byte](p), n) }

func ourPart(f uintptr) *file { return at[file](f + uintptr(systemSize)) }

type (
	openFunc  = func(tls *libc.TLS, vfs, name, file uintptr, flags int32, out uintptr) int32
	readFunc  = func(tls *libc.TLS, file, buffer uintptr, length int32, offset int64) int32
	fetchFunc = func(tls *libc.TLS, file uintptr, offset int64, length int32, out uintptr) int32
)

func open(tls *libc.TLS, _, name, f uintptr, flags int32, out uintptr) int32 {
	*ourPart(f) = file{}
	if rc := call[openFunc](vfs(system).FxOpen)(tls, system, name, f, flags, out); rc != sqlite.SQLITE_OK || flags&sqlite.SQLITE_OPEN_MAIN_DB == 0 {
		return rc
	}
	base := at[sqlite.Tsqlite3_file](f)
	methods, err := patched(tls, base.FpMethods)
	if err != nil {
		return sqlite.SQLITE_NOMEM
	}
	*ourPart(f) = file{methods: base.FpMethods, unchecked: unchecked(tls, name)}
	base.FpMethods = methods
	return sqlite.SQLITE_OK
}

func unchecked(tls *libc.TLS, name uintptr) int32 {
	key, err := libc.CString(Unchecked)
	if err != nil {
		return 0
	}
	defer libc.Xfree(tls, key)
	return sqlite.Xsqlite3_uri_boolean(tls, name, key, 0)
}

// patched gives a copy of the system's methods that reads and writes with sums.
func patched(tls *libc.TLS, methods uintptr) (uintptr, error) {
	if m, ok := ours.Load(methods); ok {
		return m.(uintptr), nil
	}
	mine := libc.Xmalloc(tls, libc.Tsize_t(unsafe.Sizeof(sqlite.Tsqlite3_io_methods{})))
	if mine == 0 {
		return 0, errors.New("out of memory")
	}
	m := at[sqlite.Tsqlite3_io_methods](mine)
	*m = *at[sqlite.Tsqlite3_io_methods](methods)
	m.FxRead, m.FxWrite = function(readFunc(read)), function(readFunc(write))
	m.FxFetch = function(fetchFunc(fetch))
	kept, _ := ours.LoadOrStore(methods, mine)
	return kept.(uintptr), nil
}

// fetch maps nothing into memory: what is mapped is not read page by page.
func fetch(_ *libc.TLS, _ uintptr, _ int64, _ int32, out uintptr) int32 {
	*at[uintptr](out) = 0
	return sqlite.SQLITE_OK
}

func read(tls *libc.TLS, f, buffer uintptr, length int32, offset int64) int32 {
	mine := ourPart(f)
	rc := call[readFunc](at[sqlite.Tsqlite3_io_methods](mine.methods).FxRead)(tls, f, buffer, length, offset)
	if rc != sqlite.SQLITE_OK {
		return rc
	}
	if offset == 0 && length >= headerLength {
		mine.look(bytesAt(buffer, length))
	}
	if mine.size == 0 || mine.unchecked != 0 || offset%int64(mine.size) != 0 {
		return rc
	}
	number := uint32(offset/int64(mine.size)) + 1
	switch {
	case length == mine.size:
		page := bytesAt(buffer, length)
		if !sound(page, number) {
			return bad(number)
		}
		clear(page[length-Reserved:])
	case offset > 0 && length < mine.size: // what is large is read without the end of its pages
		return mine.whole(tls, f, number, offset)
	}
	return rc
}

func bad(number uint32) int32 {
	lastBad.Store(number)
	return sqlite.SQLITE_IOERR_DATA
}

// whole looks at the page that a part was read of.
func (m *file) whole(tls *libc.TLS, f uintptr, number uint32, offset int64) int32 {
	buffer := libc.Xmalloc(tls, libc.Tsize_t(m.size))
	if buffer == 0 {
		return sqlite.SQLITE_NOMEM
	}
	defer libc.Xfree(tls, buffer)
	rc := call[readFunc](at[sqlite.Tsqlite3_io_methods](m.methods).FxRead)(tls, f, buffer, m.size, offset)
	if rc == sqlite.SQLITE_OK && !sound(bytesAt(buffer, m.size), number) {
		return bad(number)
	}
	return rc
}

// write puts the sum into the page while it is written. In memory, and so in the journal,
// these bytes stay zero: a sum that lay there would be that of the page before.
func write(tls *libc.TLS, f, buffer uintptr, length int32, offset int64) int32 {
	mine := ourPart(f)
	if offset == 0 && length >= headerLength {
		mine.look(bytesAt(buffer, length))
	}
	if length == mine.size && isPage(length, offset) {
		page := bytesAt(buffer, length)
		put(page, uint32(offset/int64(length))+1)
		defer clear(page[length-Reserved:])
	}
	return call[readFunc](at[sqlite.Tsqlite3_io_methods](mine.methods).FxWrite)(tls, f, buffer, length, offset)
}

func (m *file) look(header []byte) {
	m.size = 0
	if sealed(header) {
		m.size = int32(pageSize(header))
	}
}

// Reserve leaves room for sums on every page that a connection's next VACUUM writes.
func Reserve(ctx context.Context, c *sql.Conn) error {
	return c.Raw(func(driver any) error {
		db := reflect.Indirect(reflect.ValueOf(driver)).FieldByName("db")
		if db.Kind() != reflect.Uintptr {
			return errors.New("SQLite's driver does not tell its connection")
		}
		tls := libc.NewTLS()
		defer tls.Close()
		n := tls.Alloc(4)
		defer tls.Free(4)
		*at[int32](n) = Reserved
		if rc := sqlite.Xsqlite3_file_control(tls, uintptr(db.Uint()), 0, sqlite.SQLITE_FCNTL_RESERVE_BYTES, n); rc != sqlite.SQLITE_OK {
			return fmt.Errorf("SQLite leaves no room for checksums: %d", rc)
		}
		return nil
	})
}
