package structure

import (
	"strconv"
	"time"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/structure"
	"turret/internal/tell"
	"turret/internal/web/shell"
)

// foundingPath is the page of what the office begins with.
const foundingPath = "/setup/office"

// FoundingTemplate is that page.
var FoundingTemplate = shell.Parse(files, "founding.html")

// FoundingPage shows what the office is, and where it begins.
type FoundingPage struct {
	shell.Frame
	Founding  *structure.Founding
	Beginning []shell.Begin
}

// GetFounding answers it.
func GetFounding(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error {
		f, err := shell.NewFrame(c, site, "Office", "")
		if err != nil {
			return err
		}
		f.Step = "setup"
		p := &FoundingPage{Frame: f}
		if p.Founding, err = structure.In(site.Office).Founding(c.Context(), p.Actor); err != nil {
			return err
		}
		p.Beginning = shell.Beginning(p.Founding)
		return shell.Render(c, FoundingTemplate, p)
	}
}

// PostFounding keeps what the office is.
func PostFounding(site *shell.Site) fiber.Handler {
	again := GetFounding(site)
	return func(c fiber.Ctx) error {
		err := structure.In(site.Office).Found(
			c.Context(), shell.Actor(c), shell.Mark(c),
			structure.Typed{Name: c.FormValue("name"), Currency: c.FormValue("currency"), Month: c.FormValue("month"), Rate: c.FormValue("rate"), Reads: readsOf(c)},
		)
		return shell.Settle(c, err, again, shell.WithDone(foundingPath, "It is kept."))
	}
}

// readsOf gives what the form says of the roles.
func readsOf(c fiber.Ctx) map[string]string {
	out := make(map[string]string)
	for _, role := range structure.Limited {
		out[role] = c.FormValue("read_" + role)
	}
	return out
}

// Currency is the reporting currency as the form has it.
func (p *FoundingPage) Currency() string { return string(p.Founding.Reporting) }

// Month is the month in which the fiscal year begins, as the form has it.
func (p *FoundingPage) Month() string { return strconv.Itoa(p.Founding.Fiscal) }

// Limits are the roles of which it can be said what they read.
func (p *FoundingPage) Limits() (out []Choice) {
	for _, role := range structure.Limited {
		out = append(out, Choice{role, tell.Capital(role) + "s"})
	}
	return out
}

// Begins is that month in words.
func (p *FoundingPage) Begins() string { return time.Month(p.Founding.Fiscal).String() }

// Choice is one of a list.
type Choice struct{ Value, Text string }

// Months are the months in which a fiscal year can begin.
func (p *FoundingPage) Months() (out []Choice) {
	for m := time.January; m <= time.December; m++ {
		out = append(out, Choice{strconv.Itoa(int(m)), m.String()})
	}
	return out
}
