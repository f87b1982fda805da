// Package period keeps the office's calendar: reporting periods, their states and
// due days, work calendars, and exchange rates.
package period

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
