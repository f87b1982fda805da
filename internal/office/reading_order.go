package office

import (
	"cmp"
	"strings"

	"turret/internal/core/figure"
	"turret/internal/core/standing"
)

// Order orders two readings by a column.
func Order(a, b *Reading, by string) int {
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
