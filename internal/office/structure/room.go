// Package structure keeps how money and projects are structured: cost codes, cost
// centres, shares, and the records of any kind that has a form.
package structure

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
