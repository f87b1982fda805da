// Package ledger holds what sources of postings say that they handed over against what was
// taken of it, to the cent: a difference is what waits for a code, what was refused, or a row
// that never came.
package ledger

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
