// Package history tells what was changed, by whom and from what, and takes batches
// back.
package history

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
