// Package weigh compares projects with each other: exceptions, the map, drivers, and
// what statements said against what came.
package weigh

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
