package shell

import (
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office"
)

// Fields reads the fields of a form that keeps itself, each by the name of its cell: f: and the
// name is what is typed, w: and the name what the page showed.
func Fields(c fiber.Ctx) map[string]office.Typed {
	out := make(map[string]office.Typed)
	for k, v := range c.Request().PostArgs().All() {
		if name, ok := strings.CutPrefix(string(k), "f:"); ok {
			out[name] = office.Typed{Was: c.FormValue("w:" + name), Text: string(v)}
		}
	}
	return out
}
