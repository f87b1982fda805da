// Package funding is where money that is authorised stands beside what is planned and what it
// comes to: when it runs out, by how much, and who pays.
package funding

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
