// Package money makes tables of money by any rows and columns, tells where a cell
// comes from, and bridges one version to another.
package money

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
