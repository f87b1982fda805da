// Package planning is where a project is made by hand: begun, empty or from a template,
// with its activities and its plan typed or pasted. Templates are projects that never run,
// kept and edited the same way.
package planning

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
