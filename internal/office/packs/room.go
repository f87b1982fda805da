// Package packs sends briefs to those who read them: the same pages to the same readers, by hand
// or by itself, each by a link that ends and can be revoked.
package packs

import (
	"turret/internal/office"
	"turret/internal/office/letters"
)

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }

// Addresses are those that letters lead to.
type Addresses struct {
	letters.Addresses
	Shared func(token string) string // where a brief is read by its link
}
