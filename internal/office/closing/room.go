// Package closing closes periods over what is still open, opens them again, and
// makes, lists and compares cuts.
package closing

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
