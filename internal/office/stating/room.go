// Package stating is where people state a month: what was said last beside what they
// type, kept as they type it, shown in what it does, and sent as one statement.
package stating

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
