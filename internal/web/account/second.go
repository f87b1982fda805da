package account

import (
	"html/template"

	"github.com/gofiber/fiber/v3"

	"turret/internal/office/account"
	"turret/internal/web/shell"
)

// SecondTemplate is the page of one's second factor.
var SecondTemplate = shell.Parse(files, "second.html")

// SecondPage is what it shows.
type SecondPage struct {
	shell.Page
	account.Second
	Offer *account.Offer // that an application is to take
	Codes []string       // recovery codes, when they are told
}

// Picture is the address of the picture of the secret.
func (p *SecondPage) Picture() template.URL { return template.URL(p.Offer.Picture) } // of our own make

// GetSecond answers /account/second.
func GetSecond(site *shell.Site) fiber.Handler {
	return func(c fiber.Ctx) error { return second(c, site, nil) }
}

func second(c fiber.Ctx, site *shell.Site, codes []string) (err error) {
	p := &SecondPage{Page: shell.NewPage(c, site, "Second factor"), Codes: codes}
	p.Step = "account"
	room := account.In(site.Office)
	if p.Second, err = room.Second(c.Context(), p.Actor); err != nil {
		return err
	}
	if codes == nil {
		if p.Offer, err = room.Offer(c.Context(), p.Actor, p.Field("secret", "")); err != nil {
			return err
		}
	}
	return shell.RenderPart(c, SecondTemplate, "plain", p)
}

// PostSecond turns it on, and tells the recovery codes, or off.
func PostSecond(site *shell.Site) fiber.Handler {
	again := GetSecond(site)
	return func(c fiber.Ctx) error {
		ctx, a, room := c.Context(), shell.Actor(c), account.In(site.Office)
		of := "\x00code of " + a.Login
		if !site.Door.May(c, of) {
			shell.Refuse(c, "That was too many attempts. Wait a minute and try again.")
			c.Status(fiber.StatusTooManyRequests)
			return again(c)
		}
		var codes []string
		var err error
		switch c.FormValue("do") {
		case "on":
			codes, err = room.TurnOn(ctx, a, c.FormValue("secret"), c.FormValue("code"))
		case "off":
			err = room.TurnOff(ctx, a, c.FormValue("code"))
		default:
			err = shell.Unclear()
		}
		if err != nil {
			return shell.Settle(c, err, again, "")
		}
		site.Door.Right(c, of)
		if codes != nil {
			return second(c, site, codes)
		}
		return shell.Settle(c, nil, again, shell.WithDone("/account", "The second factor is off."))
	}
}
