// Package intake is the month's receiving desk: drafts of what was sent, rows that
// were refused, and who has stated what.
package intake

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
