package shell

import (
	"cmp"
	"regexp"
	"strings"

	"github.com/gofiber/fiber/v3"
)

// failure is the page of an error.
type failure struct {
	Page
	Number string // of the request in the log, or ""
	Part   string // the part of a page that was asked for
}

var failTemplate = Parse(files, "fail.html")

// titles of errors, by status.
var titles = map[int]string{
	fiber.StatusForbidden:             "That is not yours to do",
	fiber.StatusNotFound:              "There is no such page",
	fiber.StatusMethodNotAllowed:      "That cannot be done here",
	fiber.StatusRequestEntityTooLarge: "That is too large",
	fiber.StatusTooManyRequests:       "Too many attempts",
	fiber.StatusInsufficientStorage:   "The disk refuses",
}

var partName = regexp.MustCompile(`^[a-z][a-z-]{0,30}$`)

// Fail answers with a page of the shell that says what is wrong and where to go
// on; or, where a part of a page was asked for, with that part saying it; or in
// plain text to whoever does not read pages. The title is that of the status where
// it is "". The number is that of the request in the log, or "".
func Fail(c fiber.Ctx, site *Site, status int, title, text, number string) error {
	c.Status(status)
	if accept := c.Get(fiber.HeaderAccept); accept != "" && !strings.Contains(accept, "html") &&
		!strings.Contains(accept, "*/*") {
		c.Type("txt", "utf-8")
		return c.SendString(text + "\n")
	}
	p := &failure{Page: NewPage(c, site, cmp.Or(title, titles[status])), Number: number}
	if p.Title == "" {
		p.Title = "Something went wrong"
	}
	p.Wrong = text
	part := "plain"
	if p.Actor.Role == "" {
		part = "nobody"
	}
	if target := c.Get("HX-Target"); target != "page" && partName.MatchString(target) {
		p.Part, part = target, "part"
	}
	return RenderPart(c, failTemplate, part, p)
}
