package office

import (
	"fmt"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/right"
)

// What the edges need of the rooms behind the office.
type (
	Actor   = right.Actor
	Denied  = right.Denied
	File    = gather.File
	Refusal = gather.Refusal
)

// Operator is whoever has the database file in hand and works on the command
// line; Analyst works in the web application.
const (
	Operator = right.Operator
	Analyst  = right.Analyst
)

// Collect reads files, directories and zips within the limits.
func Collect(paths []string) ([]File, []Refusal, error) {
	return gather.Collect(paths, gather.DefaultLimits)
}

// ParseAgainst reads the name of a baseline: latest or original.
func ParseAgainst(s string) (portfolio.Against, error) {
	switch s {
	case "latest":
		return portfolio.Latest, nil
	case "original":
		return portfolio.Original, nil
	}
	return 0, fmt.Errorf("readings are against latest or original, not %q", s)
}

// ParseTable reads the name of a table.
func ParseTable(s string) (*portfolio.Table, error) {
	if t := portfolio.TableNamed(s); t != nil {
		return t, nil
	}
	var names []string
	for _, t := range portfolio.Tables {
		names = append(names, t.Name)
	}
	return nil, fmt.Errorf("%q is not a table; there are %s", s, strings.Join(names, ", "))
}
