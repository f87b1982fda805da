package guard

import (
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/hex"

	"github.com/gofiber/fiber/v3"

	"turret/internal/web/shell"
)

// field is the one of a form that carries its key.
const field = "_csrf"

// KeyOf is the key of the forms of a session, made from its secret, which it does not tell.
func KeyOf(session string) string {
	sum := sha256.Sum256([]byte("key of forms\x00" + session))
	return hex.EncodeToString(sum[:])
}

// newKey makes a key of forms of a visit before there is a session.
func newKey() string { return KeyOf(rand.Text()) }

// Keys lets no form through without the key of its session, or, before there is one, of the
// cookie that the door gave. One that came too late is shown again with its input, by the
// page it came from. Nothing is remembered of visitors; the cookie tells the key on, and is
// believed of nobody who is signed in.
func Keys(cookie string, secure bool) fiber.Handler {
	return func(c fiber.Ctx) error {
		sent := c.Cookies(cookie)
		if shell.Key(c) == "" { // there is no session
			key := sent
			if len(key) != hex.EncodedLen(sha256.Size) {
				key = newKey()
			}
			shell.SetKey(c, key)
		}
		if c.Method() == fiber.MethodPost && subtle.ConstantTimeCompare([]byte(c.FormValue(field)), []byte(shell.Key(c))) != 1 {
			shell.SetStale(c)
			c.Method(fiber.MethodGet)
		}
		err := c.Next()
		if key := shell.Key(c); key != sent { // also of a session that has just begun
			c.Cookie(&fiber.Cookie{Name: cookie, Value: key, Path: "/", HTTPOnly: true, Secure: secure, SameSite: fiber.CookieSameSiteLaxMode})
		}
		return err
	}
}
