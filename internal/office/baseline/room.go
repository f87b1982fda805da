// Package baseline proposes and decides baselines, tells what a new one changed, and
// names versions.
package baseline

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
