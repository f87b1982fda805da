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
	Role    = right.Role
	Denied  = right.Denied
	File    = gather.File
	Refusal = gather.Refusal
	Mapping = gather.Mapping
)

// EveryColumn stands for all columns in a mapping's forms.
const EveryColumn = gather.Every

// The roles: the operator is whoever has the database file in hand and works on
// the command line; the others sign in.
const (
	Operator      = right.Operator
	Analyst       = right.Analyst
	Lead          = right.Lead
	Executive     = right.Executive
	Administrator = right.Administrator
)

// Roles lists the roles that an account may have.
var Roles = right.Roles

// MayAdmit tells whether an actor administers accounts, and MayShare whether
// they may share views: screens leave out what would be refused.
func MayAdmit(a Actor) bool { return right.May(a, right.Admit) }

// MayGather tells whether an actor may gather files.
func MayGather(a Actor) bool { return right.May(a, right.Gather) }

// MayShare tells whether an actor may share views.
func MayShare(a Actor) bool { return right.May(a, right.Share) }

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
