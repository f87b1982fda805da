package guard

import "github.com/gofiber/fiber/v3"

// Door counts tries by where requests come from.
type Door struct {
	*Tries
	Proxies Proxies
}

// May counts a try, of an account for example, and tells whether it may be made.
func (d Door) May(c fiber.Ctx, of string) bool { return d.Tries.May(of, d.Proxies.Address(c)) }

// Tell tells, once a minute, that who was held up is to be noted.
func (d Door) Tell(c fiber.Ctx, of string) bool { return d.Tries.Tell(of, d.Proxies.Address(c)) }

// Address is where a request comes from.
func (d Door) Address(c fiber.Ctx) string { return d.Proxies.Address(c) }

// Right takes back the try of someone who was right.
func (d Door) Right(c fiber.Ctx, of string) { d.Tries.Right(of, d.Proxies.Address(c)) }
