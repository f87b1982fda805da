package guard

import (
	"container/list"
	"errors"
	"net"
	"sync"
	"syscall"
	"time"

	"github.com/gofiber/fiber/v3"
)

// Listener accepts connections as long as there is room. Where it is full, the connection
// that has waited the longest without a request being answered on it is closed; where the
// system has no more files, accepting waits. Neither ends the server.
type Listener struct {
	net.Listener
	most int

	mu   sync.Mutex
	idle *list.List // of *conn, on which nothing is answered, the longest first
	open int
}

// Listen wraps a listener that holds so many connections at most.
func Listen(l net.Listener, most int) *Listener {
	return &Listener{Listener: l, most: max(most, 1), idle: list.New()}
}

// Room is how many connections the files that the system lets a process open leave room for.
func Room() int {
	const enough, others = 8192, 64 // databases, logs, what is sent
	var limit syscall.Rlimit
	if err := syscall.Getrlimit(syscall.RLIMIT_NOFILE, &limit); err != nil {
		return 512
	}
	return int(min(enough, max(16, limit.Cur*3/4-min(others, limit.Cur/4))))
}

// conn is a connection of a Listener.
type conn struct {
	net.Conn
	l    *Listener
	at   *list.Element // where it waits; nil: it is answered, or closed
	gone bool
}

// Accept gives the next connection.
func (l *Listener) Accept() (net.Conn, error) {
	const pause = 50 * time.Millisecond
	for {
		c, err := l.Listener.Accept()
		switch {
		case errors.Is(err, syscall.EMFILE), errors.Is(err, syscall.ENFILE), errors.Is(err, syscall.ENOBUFS), errors.Is(err, syscall.ENOMEM):
			l.shed()
			time.Sleep(pause)
		case errors.Is(err, syscall.ECONNABORTED):
		case err != nil:
			return nil, err
		default:
			return l.keep(c), nil
		}
	}
}

func (l *Listener) keep(c net.Conn) net.Conn {
	x := &conn{Conn: c, l: l}
	l.mu.Lock()
	l.open++
	full := l.open > l.most
	x.at = l.idle.PushBack(x)
	l.mu.Unlock()
	if full {
		l.shed()
	}
	return x
}

// shed closes the connection that has waited the longest.
func (l *Listener) shed() {
	l.mu.Lock()
	first := l.idle.Front()
	l.mu.Unlock()
	if first != nil {
		_ = first.Value.(*conn).Close() // whoever waits on it sees that it is
	}
}

// Close closes the connection.
func (c *conn) Close() error {
	c.l.mu.Lock()
	if !c.gone {
		c.l.open--
		c.wait(false)
		c.gone = true
	}
	c.l.mu.Unlock()
	return c.Conn.Close()
}

// wait notes whether a connection waits for a request. The listener is locked.
func (c *conn) wait(waits bool) {
	switch {
	case waits && c.at == nil && !c.gone:
		c.at = c.l.idle.PushBack(c)
	case !waits && c.at != nil:
		c.l.idle.Remove(c.at)
		c.at = nil
	}
}

// Answering keeps the connection of a request that is answered from being closed to make
// room.
func Answering(c fiber.Ctx) error {
	x, ok := c.RequestCtx().Conn().(*conn)
	if !ok {
		return c.Next()
	}
	x.mark(false)
	defer x.mark(true)
	return c.Next()
}

func (c *conn) mark(waits bool) {
	c.l.mu.Lock()
	defer c.l.mu.Unlock()
	c.wait(waits)
}
