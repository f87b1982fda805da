package shell

import (
	"fmt"

	"turret/internal/chart"
	"turret/internal/core/figure"
	"turret/internal/core/standing"
	"turret/internal/office/entry"
	"turret/internal/tell"
)

// Effect is what a change would do to a project, in the words of a line each.
type Effect struct {
	Was, Is *chart.Glyph // of the overall standing, where it changes
	Moves   []string
}

// EffectOf writes the first of what an effect moves: the other standings, then the
// figures that people ask for first.
func EffectOf(e *entry.Effect, most int) (out Effect) {
	for _, x := range e.Stands {
		if x.Dimension == standing.Overall {
			out.Was = &chart.Glyph{Standing: e.Before.Standing[standing.Overall], Overall: true, What: "Overall now"}
			out.Is = &chart.Glyph{Standing: e.After.Standing[standing.Overall], Overall: true, What: "Overall then"}
		} else if len(out.Moves) < most {
			out.Moves = append(out.Moves, fmt.Sprintf("%s %s → %s", x.Name, tell.Capital(x.Was), tell.Capital(x.Is)))
		}
	}
	said := make(map[string]bool) // by symbol: some figures share one, and the first counts
	for _, m := range e.Moves {
		if len(out.Moves) >= most {
			break
		}
		symbol := figure.Get(m.ID).Symbol
		if said[symbol] {
			continue
		}
		said[symbol] = true
		is := func(plain bool) string {
			return tell.Figure(m.ID, e.After.Value(m.ID), e.After.Currency, plain).Text
		}
		was := func(plain bool) string {
			if e.Before == nil {
				return tell.Dash
			}
			return tell.Figure(m.ID, e.Before.Value(m.ID), e.Before.Currency, plain).Text
		}
		alike := was(false) == is(false)
		if alike && e.Before == nil { // a new project does not know it
			continue
		}
		unit := ""
		if figure.Get(m.ID).Unit == figure.Money {
			unit = " " + tell.Unit(figure.Money, e.After.Currency)
		}
		// what moved by less than is shown is written whole
		out.Moves = append(out.Moves, fmt.Sprintf("%s %s → %s%s", symbol, was(alike), is(alike), unit))
	}
	return out
}
