package asking

import (
	"strings"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/asking"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// ContactsTemplate is the page of whom to ask.
var ContactsTemplate = shell.Parse(files, "contacts.html")

// ContactsPage is what it shows.
type ContactsPage struct {
	shell.Frame
	Contacts []asking.Contact
}

// GetContacts answers /contacts.
func GetContacts(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Contacts", "")
		if err != nil {
			return err
		}
		f.Step = "questions"
		p := &ContactsPage{Frame: f}
		if p.Contacts, err = asking.In(site.Office).Contacts(c.Context(), p.Actor, p.Moment); err != nil {
			return err
		}
		return shell.Render(c, ContactsTemplate, p)
	}
}

// Of lists projects, as many as fit.
func (*ContactsPage) Of(list []string) string { return strings.Join(tell.Few(list), ", ") }
