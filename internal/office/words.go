package office

import (
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// WordsDue tells whether a project's words are wanted for a moment's period: it runs, and they
// are owed, or it stands at Watch or Act, or its standings moved; and whether they are said.
func (m *Moment) WordsDue(r *Reading) (due, said bool) {
	p := m.snap.Project(r.Code)
	if r.Group || p == nil {
		return false, false
	}
	for _, x := range m.snap.Stated[p.ID] {
		said = said || x.Kind == portfolio.NarrativePart && calendar.Period(x.Version) == m.Asked.Number
	}
	if r.State != portfolio.Active {
		return false, said
	}
	if m.snap.Office.Owes(p, portfolio.NarrativePart, m.Asked.Number) || r.Standing[standing.Overall] >= standing.Watch {
		return true, said
	}
	_, moved := m.MovedOf(r.Code)
	return moved, said
}

// ToWrite counts the projects in scope whose words are wanted and not said; none where nothing
// is stated yet, or the period is closed.
func (m *Moment) ToWrite() (n int) {
	if m.Empty || m.Waits() || m.Asked.Closed {
		return 0
	}
	for _, r := range m.Readings().Rows {
		if !m.InScope(r) {
			continue
		}
		if due, said := m.WordsDue(r); due && !said {
			n++
		}
	}
	return n
}
