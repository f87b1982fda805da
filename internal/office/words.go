package office

import (
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/claim"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
	"turret/internal/store"
)

// WordsDue tells whether a project's words are wanted for a moment's period.
func (m *Moment) WordsDue(r *Reading) bool {
	if r.Group {
		return false
	}
	p := m.snap.Project(r.Code)
	owed := p != nil && m.snap.Office.Owes(p, portfolio.NarrativePart, m.Asked.Number)
	return claim.Wanted(r.State, r.Standing[standing.Overall], m.hasMoved(r), owed)
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
func (m *Moment) ToWrite() int {
	if m.Empty || m.Asked.Closed {
		return 0
	}
	return len(m.Unexplained())
}

// Unexplained are the projects in scope whose words are wanted and not said, by code.
func (m *Moment) Unexplained() (out []string) {
	if m.Empty || m.Waits() {
		return nil
	}
	for _, r := range m.Readings().Rows {
		if m.InScope(r) && m.WordsDue(r) && !m.WordsSaid(r) {
			out = append(out, r.Code)
		}
	}
	return out
}
