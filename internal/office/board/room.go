// Package board lists projects as a board shows them, with the rail of periods, the
// strips of standings, and the finder.
package board

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
