package board

import (
	"cmp"
	"slices"
	"strings"

	"turret/internal/core/figure"
	"turret/internal/core/standing"
	"turret/internal/office"
	"turret/internal/office/weigh"
)

// Order says how a list of projects is arranged.
type Order struct {
	Group string   // programme, lead, stage or none
	Sort  string   // a figure, a dimension, or project, lead, stage, state, milestone; "-" first: falling
	Fold  []string // groups whose parts are not listed
}

// sort arranges projects; what is not known comes last, equals by code.
func (l *lister) sort(list []*office.Reading) {
	slices.SortStableFunc(list, func(a, b *office.Reading) int {
		if l.errors != nil {
			return cmp.Or(l.farther(a.Code, b.Code), strings.Compare(a.Code, b.Code))
		}
		x, y := cmp.Or(l.keys.Project(a.Code), a), cmp.Or(l.keys.Project(b.Code), b)
		return cmp.Or(office.Order(x, y, l.order.Sort), strings.Compare(a.Code, b.Code))
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
	slices.SortStableFunc(rows, func(a, b Row) int { return office.Order(a.Now, b.Now, l.order.Sort) })
}

// Sortable tells whether lists can be sorted by a column.
func Sortable(column string) bool {
	switch column = strings.TrimPrefix(column, "-"); column {
	case "project", "name", "lead", "sponsor", "stage", "state", "currency", "stated", "milestone", weigh.ErrorColumn:
		return true
	}
	_, dim := standing.ParseColumn(column)
	_, fig := figure.Lookup(column)
	return dim || fig
}
