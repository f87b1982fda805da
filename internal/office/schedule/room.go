// Package schedule tells what is to come and what has come: the activities of projects on a
// line of time, by month, in lists, between projects, and where their dates have gone.
package schedule

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
