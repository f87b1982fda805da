// Package entry takes rows of tables, from files or from forms, all or none: it
// understands sheets, plans what their rows change on one snapshot, compares with
// what the writer saw, and hands one batch to change. All that people enter goes
// this way.
package entry

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
