package office

import (
	"cmp"
	"slices"
	"strings"

	"turret/internal/core/figure"
	"turret/internal/core/standing"
)

// Order says how a list of projects is arranged.
type Order struct {
	Group string   // programme, lead, stage or none
	Sort  string   // a figure, a dimension, or project, lead, stage, state, milestone; "-" first: falling
	Fold  []string // groups whose parts are not listed
}

// sort arranges projects; what is not known comes last, equals by code.
func (l *lister) sort(list []*Reading) {
	slices.SortStableFunc(list, func(a, b *Reading) int {
		if l.errors != nil {
			return cmp.Or(l.farther(a.Code, b.Code), strings.Compare(a.Code, b.Code))
		}
		x, y := cmp.Or(l.keys.Project(a.Code), a), cmp.Or(l.keys.Project(b.Code), b)
		return cmp.Or(compare(x, y, l.order.Sort), strings.Compare(a.Code, b.Code))
	})
}

// farther orders two projects by their forecast errors; one without any comes
// last.
func (l *lister) farther(a, b string) int {
	x, y := l.errors[a], l.errors[b]
	if x.Count == 0 || y.Count == 0 {
		return cmp.Compare(min(y.Count, 1), min(x.Count, 1))
	}
	by := cmp.Compare(x.Absolute, y.Absolute)
	if strings.HasPrefix(l.order.Sort, "-") {
		by = -by
	}
	return by
}

func (l *lister) sortGroups(rows []Row) {
	slices.SortStableFunc(rows, func(a, b Row) int { return compare(a.Now, b.Now, l.order.Sort) })
}

// compare orders two readings by a column.
func compare(a, b *Reading, by string) int {
	column, falling := strings.CutPrefix(by, "-")
	turn := 1
	if falling {
		turn = -1
	}
	text := func(x, y string) int {
		if x == "" || y == "" {
			return strings.Compare(y, x) // none comes last either way
		}
		return turn * strings.Compare(strings.ToLower(x), strings.ToLower(y))
	}
	switch column {
	case "", "project":
		return turn * strings.Compare(a.Code, b.Code)
	case "name":
		return text(a.Name, b.Name)
	case "lead":
		return text(a.Lead, b.Lead)
	case "sponsor":
		return text(a.Sponsor, b.Sponsor)
	case "stage":
		return text(a.Stage, b.Stage)
	case "state":
		return text(string(a.State), string(b.State))
	case "currency":
		return text(string(a.Currency), string(b.Currency))
	case "stated":
		if !a.HasSaid || !b.HasSaid {
			return flag(b.HasSaid) - flag(a.HasSaid)
		}
		return turn * cmp.Compare(a.Stated, b.Stated)
	case "milestone":
		if a.Next.Date == 0 || b.Next.Date == 0 {
			return cmp.Compare(b.Next.Date, a.Next.Date)
		}
		return turn * cmp.Compare(a.Next.Date, b.Next.Date)
	}
	if d, ok := standing.ParseColumn(column); ok {
		return turn * cmp.Compare(a.Standing[d], b.Standing[d])
	}
	id, ok := figure.Lookup(column)
	if !ok {
		return 0
	}
	x, y := a.Value(id), b.Value(id)
	if !x.Known || !y.Known {
		return cmp.Compare(flag(x.Known), flag(y.Known)) * -1
	}
	return turn * x.Rat().Cmp(y.Rat())
}

func flag(b bool) int {
	if b {
		return 1
	}
	return 0
}

// Sortable tells whether lists can be sorted by a column.
func Sortable(column string) bool {
	switch column = strings.TrimPrefix(column, "-"); column {
	case "project", "name", "lead", "sponsor", "stage", "state", "currency", "stated", "milestone", ErrorColumn:
		return true
	}
	_, dim := standing.ParseColumn(column)
	_, fig := figure.Lookup(column)
	return dim || fig
}
