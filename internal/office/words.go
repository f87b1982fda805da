package office

import (
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/store"
)

// WordsDue tells whether a project's words are wanted for a moment's period: it runs, and they
// are owed, or it stands at Watch or Act, or its standings moved.
func (m *Moment) WordsDue(r *Reading) bool {
	if r.Group || r.State != portfolio.Active {
		return false
	}
	if r.Standing[standing.Overall] >= standing.Watch || m.hasMoved(r) {
		return true
	}
	p := m.snap.Project(r.Code)
	return p != nil && m.snap.Office.Owes(p, portfolio.NarrativePart, m.Asked.Number)
}

// WordsSaid tells whether some were stated for the period.
func (m *Moment) WordsSaid(r *Reading) bool {
	p := m.snap.Project(r.Code)
	return !r.Group && p != nil && slices.ContainsFunc(m.snap.Stated[p.ID], func(x store.Stated) bool {
		return x.Kind == portfolio.NarrativePart && calendar.Period(x.Version) == m.Asked.Number
	})
}

// ToWrite counts the projects in scope whose words are wanted and not said; none where nothing
// is stated yet, or the period is closed.
func (m *Moment) ToWrite() (n int) {
	if m.Empty || m.Waits() || m.Asked.Closed {
		return 0
	}
	for _, r := range m.Readings().Rows {
		if m.InScope(r) && m.WordsDue(r) && !m.WordsSaid(r) {
			n++
		}
	}
	return n
}
