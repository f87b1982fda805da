package office

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/gather"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
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

// What rules of mappings are.
type (
	CodeRule = gather.CodeRule
	SkipRule = gather.SkipRule
)

// Matches are the ways in which a code can match, and AllForms the forms that a
// column can be written in.
var (
	Matches  = []string{gather.Exact, gather.Prefix, gather.Pattern}
	AllForms = []string{gather.Point, gather.Comma, gather.YearFirst, gather.DayFirst, gather.MonthFirst}
)

// DueStatements are the kinds of statement that can be due by a day.
var DueStatements = record.Statements

// AsMonth is what a column under a period's head is.
const AsMonth = gather.AsMonth

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

// MayMap tells whether an actor may say how files are read.
func MayMap(a Actor) bool { return right.May(a, right.Map) }

// MayBrief tells whether an actor may make briefs.
func MayBrief(a Actor) bool { return right.May(a, right.Brief) }

// MayClose tells whether an actor closes and reopens periods.
func MayClose(a Actor) bool { return right.May(a, right.Close) }

// MayAnswer tells whether an actor may answer findings and set standings.
func MayAnswer(a Actor) bool { return right.May(a, right.Answer) }

// MayPropose tells whether an actor may propose baselines.
func MayPropose(a Actor) bool { return right.May(a, right.Propose) }

// MayApprove tells whether an actor may approve baselines that another proposed.
func MayApprove(a Actor) bool { return right.May(a, right.Approve) }

// MayRule tells whether an actor may change rules and checks.
func MayRule(a Actor) bool { return right.May(a, right.Rule) }

// MayDraw tells whether an actor draws periods and calendars.
func MayDraw(a Actor) bool { return right.May(a, right.Draw) }

// MayBrief gives the error of one who may not make briefs, or nil.
func (o *Office) MayBrief(a Actor) error { return right.Check(a, right.Brief) }

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
func ParseTable(s string) (*record.Kind, error) {
	if t := record.Named(s); t != nil {
		return t, nil
	}
	var names []string
	for _, t := range record.Kinds() {
		names = append(names, t.Name)
	}
	return nil, fmt.Errorf("%q is not a table; there are %s", s, strings.Join(names, ", "))
}

// Question is what someone has to say before a sheet can be read.
type Question = gather.Question

// Refusef makes the error of something that cannot be done as asked.
func Refusef(format string, args ...any) error { return refuse(format, args...) }

// Revision is the last batch's id.
func (o *Office) Revision(ctx context.Context, a Actor) (int64, error) {
	if err := right.Check(a, right.Read); err != nil {
		return 0, err
	}
	return o.store.Revision(ctx)
}

// TableNames lists the tables that people send.
func TableNames() (out []string) {
	for _, t := range record.Kinds() {
		out = append(out, t.Name)
	}
	return out
}

// Uses lists what a column of a file can be taken for in a table.
func Uses(table string) (out []string) {
	t := record.Named(table)
	if t == nil {
		return nil
	}
	for i := range t.Columns {
		out = append(out, t.Columns[i].Name)
	}
	if t.Index("amount") >= 0 {
		out = append(out, gather.AsCredit)
	}
	return append(out, gather.AsMonth, gather.AsTotal, gather.AsExtra, gather.AsNone)
}

// FormsOf lists the forms that the cells of a column can have.
func FormsOf(table, as string) []string {
	t := record.Named(table)
	if t == nil {
		return nil
	}
	if as == gather.AsMonth || as == gather.AsCredit {
		return []string{gather.Point, gather.Comma}
	}
	i := t.Index(as)
	if i < 0 {
		return nil
	}
	switch t.Columns[i].Type {
	case record.Money, record.Decimal, record.Whole, record.RateText:
		return []string{gather.Point, gather.Comma}
	case record.Date, record.Day:
		return []string{gather.YearFirst, gather.DayFirst, gather.MonthFirst}
	}
	return nil
}

// Fixable lists the columns of a table that all rows of a sheet may share.
func Fixable(table string) (out []string) {
	t := record.Named(table)
	if t == nil {
		return nil
	}
	for i := range t.Columns {
		switch c := &t.Columns[i]; {
		case c.Type == record.ProjectRef, c.Type == record.CurrencyCode, c.Type == record.Period, c.Type == record.VersionRef, c.Key && c.Type == record.Choice:
			out = append(out, c.Name)
		}
	}
	return out
}

// What a disk can refuse.
var (
	ErrFull     = store.ErrFull
	ErrReadOnly = store.ErrReadOnly
	ErrDamaged  = store.ErrDamaged
)

// Fault gives the sentence for people of a disk that is full or a database that
// cannot be written to; "" of any other error.
func Fault(err error) string {
	switch {
	case errors.Is(err, ErrFull):
		return "The disk is full: nothing was written, and all is as it was. Make room on it and try again."
	case errors.Is(err, ErrDamaged):
		return "The database file is damaged: what is asked for cannot be read as it was written. Nothing was changed. Whoever runs Turret restores the last sound backup; turret restore tells whether one is."
	case errors.Is(err, ErrReadOnly):
		return "The database cannot be written to: nothing was written, and all is as it was. Check the rights of its file and directory, and try again."
	}
	return ""
}
