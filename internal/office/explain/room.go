// Package explain is the room of the words beside the figures: whose are wanted, what the
// figures say of a project, and where its words say otherwise.
package explain

import "turret/internal/office"

// Room is this use of an office.
type Room struct{ *office.Office }

// In is the room in an office.
func In(o *office.Office) Room { return Room{o} }
