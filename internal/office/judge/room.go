// Package judge keeps the rules and checks that standings come from, shows what a
// change of them would move, and sets standings by hand.
package judge

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
