// Package brief puts packs together, page by page, from what the other rooms read,
// and keeps those that were made.
package brief

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
