// Package asking is where people ask back: questions on a project, a statement, a figure,
// a finding or a row, each with its answers, and whose turn it is.
package asking

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
