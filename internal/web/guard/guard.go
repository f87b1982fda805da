// Package guard stands between the network and the pages: what a stranger may send, and how
// often; whose a form is; where a request comes from.
package guard

import (
	"net"
	"net/netip"
	"net/url"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/valyala/fasthttp"

	"turret/internal/web/shell"
)

// Limits of a request.
const (
	Head     = 15 * time.Second // in which it says what it wants
	Idle     = 75 * time.Second // between two of one connection
	Answer   = 10 * time.Minute // in which its answer is taken
	slowest  = 64 << 10         // bytes of a body in a second
	stranger = 64 << 10         // bytes of a body of someone who is not signed in
)

// Limits are how many bytes one request may have.
type Limits struct {
	Form   int
	Upload int // where files are sent
}

// uploads is where files are sent.
const uploads = "/gather"

func (l Limits) of(path string) int {
	if path == uploads {
		return max(l.Form, l.Upload)
	}
	return l.Form
}

// tooLarge is a head that a request cannot have, but for one whose body is left unread.
const tooLarge = "Turret-Too-Large"

// Received gives a request as long for its body as a slow line needs. One that is too large
// for anybody is answered without waiting for any of it.
func (l Limits) Received(h *fasthttp.RequestHeader) fasthttp.RequestConfig {
	h.Del(tooLarge)
	n := max(h.ContentLength(), 0)
	if path, _, _ := strings.Cut(string(h.RequestURI()), "?"); n > l.of(path) {
		h.Set(tooLarge, "1")
		h.SetContentLength(0)
		h.SetConnectionClose()
		n = 0
	}
	return fasthttp.RequestConfig{ReadTimeout: 2*Head + time.Duration(n/slowest)*time.Second}
}

// Size refuses what is larger than it may be, or does not tell how large it is; of someone who
// is not signed in what is larger than any form of theirs. Nothing of it is read.
func (l Limits) Size(c fiber.Ctx) error {
	most := l.of(c.Path())
	if shell.Actor(c).Role == "" {
		most = min(most, stranger)
	}
	switch n := c.Request().Header.ContentLength(); {
	case n > most, c.Get(tooLarge) != "":
		c.Response().SetConnectionClose() // the rest is not read
		return fiber.NewError(fiber.StatusRequestEntityTooLarge, "What was sent is larger than the server takes; nothing was done")
	case n == -1: // in chunks
		c.Response().SetConnectionClose()
		return fiber.NewError(fiber.StatusLengthRequired, "The server takes only what tells its length; nothing was done")
	}
	return c.Next()
}

// Methods refuses, before anything of a request is looked at, what neither reads a page nor
// sends a form.
func Methods(c fiber.Ctx) error {
	switch c.Method() {
	case fiber.MethodGet, fiber.MethodHead, fiber.MethodPost:
		return c.Next()
	}
	c.Set(fiber.HeaderAllow, "GET, HEAD, POST")
	c.Response().SetConnectionClose() // its body is not read
	return fiber.ErrMethodNotAllowed
}

// Origin refuses forms that a page of another place sends. Origin is how browsers reach the
// server; "": as the request says.
func Origin(origin string) fiber.Handler {
	own := func(c fiber.Ctx, from string) bool {
		u, err := url.Parse(from)
		if err != nil || u.Host == "" {
			return false
		}
		if origin != "" && strings.EqualFold(from, origin) {
			return true
		}
		return strings.EqualFold(u.Host, string(c.Request().Header.Host())) && (origin == "" || !strings.HasPrefix(origin, "https:"))
	}
	return func(c fiber.Ctx) error {
		if c.Method() != fiber.MethodPost {
			return c.Next()
		}
		from := c.Get(fiber.HeaderOrigin)
		if c.Get("Sec-Fetch-Site") == "cross-site" || from != "" && !own(c, from) {
			return fiber.NewError(fiber.StatusForbidden, "This form was sent by a page of another place, so nothing was done")
		}
		return c.Next()
	}
}

// Safe tells browsers to come by HTTPS alone, for a year.
func Safe(c fiber.Ctx) error {
	c.Set(fiber.HeaderStrictTransportSecurity, "max-age=31536000; includeSubDomains")
	return c.Next()
}

// Proxies are the addresses of those that stand before the server and tell whom they speak
// for.
type Proxies []netip.Prefix

// ParseProxies reads addresses and networks with commas between them, such as
// 10.0.0.1, 192.168.7.0/24.
func ParseProxies(text string) (out Proxies, err error) {
	for _, x := range strings.FieldsFunc(text, func(r rune) bool { return r == ',' || r == ' ' }) {
		p, err := netip.ParsePrefix(x)
		if a, err2 := netip.ParseAddr(x); err != nil && err2 == nil {
			p, err = a.Prefix(a.BitLen())
		}
		if err != nil {
			return nil, err
		}
		out = append(out, p.Masked())
	}
	return out, nil
}

func (p Proxies) trusts(a netip.Addr) bool {
	for _, x := range p {
		if x.Contains(a) {
			return true
		}
	}
	return false
}

// Address is where a request comes from: who is connected, or, of a trusted proxy, the
// nearest address that it tells and that is none itself.
func (p Proxies) Address(c fiber.Ctx) string {
	host, _, err := net.SplitHostPort(c.RequestCtx().RemoteAddr().String())
	if err != nil {
		return c.RequestCtx().RemoteAddr().String()
	}
	at, err := netip.ParseAddr(host)
	if err != nil {
		return host
	}
	told := strings.Split(c.Get(fiber.HeaderXForwardedFor), ",")
	for i := len(told) - 1; i >= 0 && p.trusts(at.Unmap()); i-- {
		next, err := netip.ParseAddr(strings.TrimSpace(told[i]))
		if err != nil {
			break
		}
		at = next
	}
	return at.Unmap().String()
}
