package book

import (
	"maps"
	"sync"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/finding"
	"turret/internal/core/portfolio"
	"turret/internal/core/rollup"
	"turret/internal/core/standing"
)

type projectKey struct {
	project *portfolio.Project
	period  calendar.Period
	against portfolio.Against
}

type readingsKey struct {
	period    calendar.Period
	against   portfolio.Against
	reporting bool
}

// evaluated holds the figures of one project at one period, before anything is
// judged: they do not change with the rules.
type evaluated struct {
	own, reporting *figure.Eval // the same where the currencies are
	next           Next
}

// computed is the same with what was found in the data, and rated.
type computed struct {
	evaluated
	result   *standing.Result
	findings []finding.Finding
	readings [2]*Reading // in the own and in the reporting currency
}

// grouped is the reading of a group and the parts it was made of.
type grouped struct {
	parts   []*computed
	group   *rollup.Group
	reading *Reading
}

type groupKey struct {
	code    string
	period  calendar.Period
	against portfolio.Against
}

// memo keeps what was computed on a snapshot. Evaluations of projects that did
// not change go on to the next one.
type memo struct {
	mu        *sync.Mutex // one for all snapshots that share evaluations
	evals     map[projectKey]*evaluated
	projects  map[projectKey]*computed
	judges    map[calendar.Period]*judge
	groups    map[groupKey]grouped
	places    map[string][]int // members of groups; master records do not change between carried memos
	readings  map[readingsKey]*Readings
	costs     *costsMemo
	forecasts *forecastsMemo
	suppliers *suppliersMemo
	twices    *twices
}

func newMemo() *memo {
	return &memo{
		mu: new(
			sync.Mutex,
		), evals: make(map[projectKey]*evaluated), projects: make(map[projectKey]*computed), judges: make(map[calendar.Period]*judge),
		groups: make(
			map[groupKey]grouped,
		), places: make(map[string][]int), readings: make(map[readingsKey]*Readings), costs: new(costsMemo), forecasts: new(forecastsMemo), suppliers: new(suppliersMemo), twices: new(twices),
	}
}

// carry keeps the evaluations of the projects that are still the same, and,
// where they are judged as before, what was made of them.
func (m *memo) carry(projects []*portfolio.Project, asBefore bool) *memo {
	m.mu.Lock()
	defer m.mu.Unlock()
	out := newMemo()
	out.mu = m.mu
	same := make(map[*portfolio.Project]bool, len(projects))
	for _, p := range projects {
		same[p] = true
	}
	for k, v := range m.evals {
		if same[k.project] {
			out.evals[k] = v
		}
	}
	maps.Copy(out.places, m.places)
	out.costs, out.forecasts, out.suppliers = m.costs.carry(same), m.forecasts.carry(same), m.suppliers.carry(same)
	out.twices = m.twices.carry(same)
	if !asBefore {
		return out
	}
	for k, v := range m.projects {
		if same[k.project] {
			out.projects[k] = v
		}
	}
	maps.Copy(out.groups, m.groups)
	return out
}
