package portfolio

import "turret/internal/core/calendar"

// Sharing says which cost centres a project's money is shared out to, from a
// period on: all of it, or what is on a cost code and those below it.
type Sharing struct {
	CodeID  int64 // zero: the whole project
	From    calendar.Period
	Centres []string
	Weights []int64 // millionths of a percent, as many as Centres; none above zero: it is shared no more
}

// SharingAt gives the sharing in force for a cost code of a project at a period:
// of the code itself or the nearest above it, else of the project; each the
// latest at or before the period. Nil where nothing is shared.
func (o *Office) SharingAt(p *Project, code int64, at calendar.Period) *Sharing {
	for range len(o.Codes) + 2 {
		var found *Sharing
		for i := range p.Shares {
			s := &p.Shares[i]
			if s.CodeID == code && s.From <= at && (found == nil || s.From > found.From) {
				found = s
			}
		}
		if found != nil && found.shares() {
			return found
		}
		if code == 0 {
			return nil
		}
		code = o.Codes[code].Parent
	}
	return nil
}

func (s *Sharing) shares() bool {
	for _, w := range s.Weights {
		if w > 0 {
			return true
		}
	}
	return false
}
