package shell

import (
	"slices"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// Send gives a file to keep.
func Send(c fiber.Ctx, name, typ string, body []byte) error {
	c.Set(fiber.HeaderContentType, typ)
	c.Set(fiber.HeaderContentDisposition, `attachment; filename="`+strings.Map(plainName, name)+`"`)
	return c.Send(body)
}

func plainName(r rune) rune {
	if r < ' ' || r > '~' || slices.Contains([]rune(`"\/:*?<>|`), r) {
		return '_'
	}
	return r
}
