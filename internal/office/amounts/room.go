// Package amounts is the money of a project as a table that is typed in: its plan, what is
// still to come, what is ordered, accrued and booked. What is typed is kept as a draft until
// it is sent.
package amounts

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
