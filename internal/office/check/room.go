// Package check shows what the checks found, takes what people say about it and
// mends cells, and tells how far figures can be trusted.
package check

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
