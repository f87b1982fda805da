package claim

import (
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// Wanted tells whether words are wanted of a project for a period: it runs, and it stands at Watch
// or Act, or one of its standings moved, or its words are owed.
func Wanted(state portfolio.State, overall standing.Standing, moved, owed bool) bool {
	return state == portfolio.Active && (overall >= standing.Watch || moved || owed)
}

// Step is a standing that moved.
type Step struct {
	Dimension standing.Dimension
	Was, Is   standing.Standing
}

// Far is how far standings moved, by which the words of projects are ordered: a step of one
// dimension counts one, of overall two.
func Far(steps []Step) (n int) {
	for _, s := range steps {
		by := int(s.Is) - int(s.Was)
		by = max(by, -by)
		if s.Dimension == standing.Overall {
			by *= 2
		}
		n += by
	}
	return n
}
