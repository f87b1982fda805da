package book

import (
	"turret/internal/core/finding"
	"turret/internal/core/money"
)

// Settled tells which findings of a project are gone from one reading to another,
// and which are new. Without a reading before, all are new.
func Settled(before, after *Reading) (settled, brought []finding.Finding) {
	had, has := make(map[string]bool), make(map[string]bool)
	if before != nil {
		for i := range before.Findings {
			had[before.Findings[i].Key()] = true
		}
	}
	for i := range after.Findings {
		f := &after.Findings[i]
		has[f.Key()] = true
		if !had[f.Key()] {
			brought = append(brought, *f)
		}
	}
	if before != nil {
		for i := range before.Findings {
			if f := &before.Findings[i]; !has[f.Key()] {
				settled = append(settled, *f)
			}
		}
	}
	return settled, brought
}

// Kind tells whether a reading is of a "group" or a "project".
func (r *Reading) Kind() string {
	if r.Group {
		return "group"
	}
	return "project"
}

// OwnCurrency gives the currency of a reading's project, whatever it was read in.
func (s *Snapshot) OwnCurrency(r *Reading) money.Currency {
	if p := s.Project(r.Code); p != nil {
		return p.Currency
	}
	return r.Currency
}
