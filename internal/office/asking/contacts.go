package asking

import (
	"cmp"
	"context"
	"slices"

	"turret/internal/office"
	"turret/internal/right"
)

// Contact is someone who can be asked about a scope.
type Contact struct {
	Name string
	As   string   // what they are for it: the portfolio office, lead or sponsor
	Of   []string // codes of projects; none for the office
}

// Contacts are those who can be asked about the projects in a moment's scope: the office, the
// leads and the sponsors, each by name.
func (o Room) Contacts(ctx context.Context, a right.Actor, m *office.Moment) (out []Contact, err error) {
	if err := right.Check(a, right.Read); err != nil {
		return nil, err
	}
	who, err := o.people(ctx)
	if err != nil {
		return nil, err
	}
	const theOffice, lead, sponsor = "portfolio office", "lead", "sponsor"
	for _, x := range who.accounts {
		if right.Role(x.Role) == right.Analyst && !x.Disabled {
			out = append(out, Contact{Name: x.Name, As: theOffice})
		}
	}
	if m.Empty {
		return out, nil
	}
	add := func(name, as, project string) {
		if name == "" {
			return
		}
		i := slices.IndexFunc(out, func(c Contact) bool { return c.Name == name && c.As == as })
		if i < 0 {
			i = len(out)
			out = append(out, Contact{Name: name, As: as})
		}
		out[i].Of = append(out[i].Of, project)
	}
	for _, r := range m.Readings().Rows {
		if !r.Group && m.InScope(r) {
			add(r.Lead, lead, r.Code)
			add(r.Sponsor, sponsor, r.Code)
		}
	}
	order := []string{theOffice, lead, sponsor}
	slices.SortStableFunc(out, func(x, y Contact) int {
		return cmp.Or(cmp.Compare(slices.Index(order, x.As), slices.Index(order, y.As)), cmp.Compare(x.Name, y.Name))
	})
	return out, nil
}
