package office

import (
	"cmp"
	"slices"

	"turret/internal/core/finding"
	"turret/internal/core/money"
	"turret/internal/right"
)

// Finding is a finding with the project that it is about.
type Finding struct {
	finding.Finding
	Project, Name, Lead, Programme string
	Currency                       money.Currency // of its money
	Title                          string         // the cause
	Age                            int            // periods since it was first found, this one included
}

// Unexplained tells that nobody has said anything about a finding, or that it
// has changed since.
func (f *Finding) Unexplained() bool {
	return f.State == finding.Open || f.State == finding.Back
}

// Waits tells whether somebody is to answer the finding; a note waits for nobody.
func (f *Finding) Waits() bool { return f.Unexplained() && f.Severity != finding.Note }

// Findings lists the findings of a moment's scope, the worst first.
func (m *Moment) Findings() []Finding {
	if m.now == nil || m.found != nil {
		return m.found
	}
	n := 0
	for _, r := range m.now.Rows {
		n += len(r.Findings)
	}
	out := make([]Finding, 0, n)
	for _, r := range m.now.Rows {
		if r.Group || !m.InScope(r) {
			continue
		}
		out = append(out, m.FindingsOf(r)...)
	}
	m.found = out
	slices.SortStableFunc(out, func(a, b Finding) int {
		return cmp.Or(
			a.Severity.Rank()-b.Severity.Rank(),
			cmp.Compare(b.Worth, a.Worth),
			cmp.Compare(a.Project, b.Project),
			cmp.Compare(a.Key(), b.Key()),
		)
	})
	return out
}

// FindingsOf lists the findings of one project, in the order of its checks.
func (m *Moment) FindingsOf(r *Reading) []Finding {
	var out []Finding
	currency := m.snap.OwnCurrency(r)
	out = make([]Finding, 0, len(r.Findings))
	for i := range r.Findings {
		f := Finding{
			Finding:   r.Findings[i],
			Project:   r.Code,
			Name:      r.Name,
			Lead:      r.Lead,
			Programme: r.Parent,
			Currency:  currency,
		}
		f.Title, _ = m.snap.Rules.Check(f.Check)
		f.Title = cmp.Or(f.Title, f.Check)
		f.Age = max(int(m.Period.Number-f.Since)+1, 1)
		out = append(out, f)
	}
	return out
}

// Questions lists the findings that were sent back, those of an actor's own
// projects where it is a lead.
func (m *Moment) Questions(a right.Actor) []Finding {
	var out []Finding
	for _, f := range m.Findings() {
		if f.State != finding.SentBack {
			continue
		}
		if p := m.snap.Project(f.Project); a.Role == right.Lead && (p == nil || !a.Concerns(p.ID)) {
			continue
		}
		out = append(out, f)
	}
	return out
}

// Waiting counts the unexplained errors and warnings of a moment's scope; none before
// anything is stated for its period.
func (m *Moment) Waiting() (n int) {
	if m.now == nil || !m.owes {
		return 0
	}
	for _, r := range m.now.Rows {
		if r.Group || !m.InScope(r) {
			continue
		}
		for i := range r.Findings {
			if f := (Finding{Finding: r.Findings[i]}); f.Waits() {
				n++
			}
		}
	}
	return n
}

// FindingKey names a finding of a moment.
type FindingKey struct{ Project, Check, Record string }

// Finding finds a finding of a moment by its key; nil where it is gone.
func (m *Moment) Finding(k FindingKey) *Finding {
	if m.now == nil {
		return nil
	}
	r := m.now.Project(k.Project)
	if r == nil {
		return nil
	}
	list := m.FindingsOf(r)
	for i := range list {
		if list[i].Check == k.Check && list[i].Record == k.Record {
			return &list[i]
		}
	}
	return nil
}
