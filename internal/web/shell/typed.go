package shell

import (
	"encoding/json"
	"net/url"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/typing"
)

// PlaceOf is the address under which what is typed on a page is kept: without the parts
// that say of when, in which money, and what was just done, and without a trail.
func PlaceOf(at *url.URL) string {
	q := at.Query()
	for _, name := range append(names[:moments:moments], "trail", "done") {
		q.Del(name)
	}
	if len(q) == 0 {
		return at.Path
	}
	return at.Path + "?" + q.Encode()
}

// Typed is what was typed into a form of a page before, and not sent.
type Typed struct {
	Form   string          `json:"form"`
	Since  string          `json:"since"`
	Fields json.RawMessage `json:"fields"`
}

// SetTyped notes what was typed into the forms of the page that is asked for.
func SetTyped(c fiber.Ctx, list []typing.Form) {
	if len(list) == 0 {
		return
	}
	var out []Typed
	for _, f := range list {
		out = append(out, Typed{Form: f.Form, Since: f.Since.Format("2 Jan 15:04"), Fields: f.Fields})
	}
	fiber.Locals(c, typedKey, out)
}
