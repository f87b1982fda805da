// Package network tells what moves what: the dates of activities that wait for each other,
// across projects.
package network

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
