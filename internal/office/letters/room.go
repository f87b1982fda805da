// Package letters writes to people what waits for them, and sends it: questions, findings
// sent back, what is owed, at once or once a day, as each of them wants. Each letter has a
// name and is written once; what is written is kept until the mail server has taken it.
package letters

import "turret/internal/office"

// Room has the room's use cases.
type Room struct{ *office.Office }

// In gives the room of an office.
func In(o *office.Office) Room { return Room{o} }
