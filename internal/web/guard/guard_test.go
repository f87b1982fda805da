package guard

import (
	"fmt"
	"net"
	"testing"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"
	"github.com/valyala/fasthttp"
)

// TestTries: five of one account from one address in a minute; thirty of one account, then one from
// each address up to a hundred in an hour; sixty
// from one address, in a quarter of an hour.
func TestTries(t *testing.T) {
	now := time.Date(2026, 11, 30, 9, 0, 0, 0, time.UTC)
	made := func(tries *Tries, n int, account, address func(i int) string) (may int) {
		for i := range n {
			if tries.May(account(i), address(i)) {
				may++
			}
		}
		return may
	}
	one := func(s string) func(int) string { return func(int) string { return s } }
	each := func(s string) func(int) string { return func(i int) string { return fmt.Sprint(s, i) } }
	clock := func() time.Time { return now }

	tries := NewTries(clock)
	require.Equal(t, 5, made(tries, 8, one("una"), one("a")))
	now = now.Add(time.Minute - time.Second)
	require.False(t, tries.May("una", "a"))
	now = now.Add(time.Second)
	require.True(t, tries.May("una", "a"), "a minute after the first")

	tries = NewTries(clock)
	tries.Right("una", "home")
	// From six addresses five times, then from each once.
	require.Equal(t, 30+14, made(tries, 100, one("una"), func(i int) string { return fmt.Sprint("b", i/5) }), "from twenty addresses")
	require.Equal(t, 100-44, made(tries, 1000, one("una"), each("a")), "from many addresses")
	require.True(t, tries.May("una", "home"), "who was right from there is not shut out by that")
	require.False(t, tries.May("una", "elsewhere"))
	now = now.Add(longTime)
	require.False(t, tries.May("una", "elsewhere"))
	now = now.Add(known + time.Second)
	require.True(t, tries.May("una", "elsewhere"), "once it is over")

	tries = NewTries(clock)
	require.Equal(t, 60, made(tries, 100, each("x"), one("a")), "many accounts from one address")
	require.False(t, tries.May("una", "a"))
	require.True(t, tries.May("una", "b"))

	tries = NewTries(clock)
	for range 100 {
		require.True(t, tries.May("una", "a"))
		tries.Right("una", "a")
	}
	require.Empty(t, tries.made["una\x00a"], "who is right may come as often as they like")
	require.True(t, tries.May("ines", "a"))
}

// What is tried of many accounts from many addresses fills no memory.
func TestTriesAreForgotten(t *testing.T) {
	now := time.Date(2026, 11, 30, 9, 0, 0, 0, time.UTC)
	tries := NewTries(func() time.Time { return now })
	for i := range 3 * mostKept {
		tries.May(fmt.Sprint("x", i), fmt.Sprint("a", i))
		now = now.Add(time.Millisecond)
	}
	require.Less(t, len(tries.made), mostKept+10)
}

func TestAddress(t *testing.T) {
	for _, c := range []struct{ proxies, told, want string }{
		{"", "203.0.113.7", "10.0.0.9"}, // nobody is trusted
		{"10.0.0.9", "", "10.0.0.9"},
		{"10.0.0.9", "203.0.113.7", "203.0.113.7"},
		{"10.0.0.9", "198.51.100.1, 203.0.113.7", "203.0.113.7"}, // the rest a stranger can write
		{"10.0.0.0/8", "198.51.100.1, 10.1.1.1", "198.51.100.1"},
		{"10.0.0.9", "10.0.0.9", "10.0.0.9"},
		{"10.0.0.9", "nonsense", "10.0.0.9"},
		{"10.0.0.8, 10.0.0.9", "203.0.113.7,10.0.0.8", "203.0.113.7"},
		{"10.0.0.9", "::ffff:203.0.113.7", "203.0.113.7"},
	} {
		p, err := ParseProxies(c.proxies)
		require.NoError(t, err)
		app := fiber.New()
		ctx := &fasthttp.RequestCtx{}
		ctx.Init(&fasthttp.Request{}, &net.TCPAddr{IP: net.IPv4(10, 0, 0, 9), Port: 1}, nil)
		if c.told != "" {
			ctx.Request.Header.Set("X-Forwarded-For", c.told)
		}
		x := app.AcquireCtx(ctx)
		require.Equal(t, c.want, p.Address(x), "%+v", c)
		app.ReleaseCtx(x)
	}
	_, err := ParseProxies("10.0.0.9, nonsense")
	require.Error(t, err)
}

// TestListener: a connection that waits makes room for one that comes; one that is answered
// stays.
func TestListener(t *testing.T) {
	inner, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	l := Listen(inner, 2)
	defer l.Close()
	var mine []*conn
	var theirs []net.Conn
	come := func() {
		c, err := net.Dial("tcp", inner.Addr().String())
		require.NoError(t, err)
		theirs = append(theirs, c)
		a, err := l.Accept()
		require.NoError(t, err)
		mine = append(mine, a.(*conn))
	}
	closed := func(i int) bool {
		require.NoError(t, theirs[i].SetReadDeadline(time.Now().Add(200*time.Millisecond)))
		_, err := theirs[i].Read(make([]byte, 1))
		ne, ok := err.(net.Error)
		return !ok || !ne.Timeout()
	}
	come()
	come()
	mine[0].mark(false) // it is answered
	come()
	require.Equal(t, []bool{false, true, false}, []bool{closed(0), closed(1), closed(2)})
	mine[0].mark(true)
	come()
	require.Equal(t, []bool{false, true, false}, []bool{closed(0), closed(2), closed(3)}, "the one that has waited the longest")
	require.NoError(t, mine[0].Close())
	mine[0].mark(true)
	require.Equal(t, 1, l.open)
	require.Equal(t, 1, l.idle.Len(), "what is closed waits no more")
	require.GreaterOrEqual(t, Room(), 16)
}

// A slow line has the time for a large body that a fast one needs less of.
func TestTime(t *testing.T) {
	l := Limits{Form: 1 << 20, Upload: 256 << 20}
	for _, c := range []struct {
		path   string
		length int
		want   time.Duration
		left   int // of the length
	}{
		{"/views", 0, 30 * time.Second, 0},
		{"/views", 64 << 10, 31 * time.Second, 64 << 10},
		{"/views", 1<<20 + 1, 30 * time.Second, 0},
		{"/gather?at=2026-01", 256 << 20, 30*time.Second + 4096*time.Second, 256 << 20},
		{"/gather", 256<<20 + 1, 30 * time.Second, 0},
	} {
		var h fasthttp.RequestHeader
		h.SetRequestURI(c.path)
		h.Set(tooLarge, "written by a stranger")
		h.SetContentLength(c.length)
		require.Equal(t, c.want, l.Received(&h).ReadTimeout, "%+v", c)
		require.Equal(t, c.left, h.ContentLength(), "%+v", c)
		require.Equal(t, c.length != c.left, len(h.Peek(tooLarge)) > 0, "%+v", c)
	}
}
