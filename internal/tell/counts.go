package tell

import "fmt"

// Counting says from when a baseline counts that is approved from a day.
type Counting struct {
	From   string // the first period that reads against it
	Period string // that is looked at
	Last   string // the last day of that period
	Kept   int    // the baseline that is in force in it
	Now    bool   // the period that is looked at reads against it
	Closed bool   // it is closed
}

// String says which periods read against it, and which keep the plan they have.
func (c Counting) String() string {
	switch {
	case c.Now && c.From == c.Period:
		return fmt.Sprintf("From that day it counts from %s on: what %s then reads stands beside. Earlier periods keep the plan that they have.", c.From, c.Period)
	case c.Now:
		return fmt.Sprintf("From that day it counts from %s on, and so in %s: what it then reads stands beside. Earlier periods keep the plan that they have.", c.From, c.Period)
	case c.Closed:
		return fmt.Sprintf("From that day it counts from %s on. %s is closed and keeps baseline %d, whatever day is taken.", c.From, c.Period, c.Kept)
	}
	return fmt.Sprintf(
		"From that day it counts from %s on: %s keeps baseline %d, and nothing in it changes. For %s to read as beside, take a day up to %s.",
		c.From, c.Period, c.Kept, c.Period, c.Last,
	)
}
