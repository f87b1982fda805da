// Package export writes readings and everything that is kept as files, and copies
// the database.
package export

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
