package entry

import (
	"fmt"
	"strings"

	"turret/internal/gather"
	"turret/internal/record"
	"turret/internal/store"
)

// What readers of files say, for the edges.
type (
	File    = gather.File
	Refusal = gather.Refusal
	Mapping = gather.Mapping
	Part    = gather.Part
)

// What a row of a sheet was taken for.
const (
	PartTitle    = gather.PartTitle
	PartBand     = gather.PartBand
	PartRow      = gather.PartRow
	PartSum      = gather.PartSum
	PartHeading  = gather.PartHeading
	HeadsProject = gather.HeadsProject
	PartAgain    = gather.PartAgain
	PartWords    = gather.PartWords
	PartLeft     = gather.PartLeft
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

// AsMonth is what a column under a period's head is.
const AsMonth = gather.AsMonth

// UnitNames are the units that amounts can be said to be in.
var UnitNames = gather.UnitNames

// ScaleNames are the scales that words of likelihood and impact can be said to be of.
var ScaleNames = gather.ScaleNames

// HeadKey is how mappings call a column by its head.
func HeadKey(head string) string { return gather.Normal(head) }

// EveryColumn stands for all columns in a mapping's forms.
const EveryColumn = gather.Every

// Collect reads files, directories and zips within the limits.
func Collect(paths []string) ([]File, []Refusal, error) {
	return gather.Collect(paths, gather.DefaultLimits)
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
		out = append(out, gather.AsCredit, gather.AsMark, gather.AsUnit)
	}
	if t == record.Rates.Kind {
		out = append(out, gather.AsInverse, gather.AsUnits)
	}
	if t == record.Activities.Kind || t == record.Progress.Kind {
		out = append(out, gather.AsDuration, gather.AsBefore, gather.AsAfter)
	}
	return append(out, gather.AsMonth, gather.AsTotal, gather.AsExtra, gather.AsNone)
}

// FormsOf lists the forms that the cells of a column can have.
func FormsOf(table, as string) []string {
	t := record.Named(table)
	if t == nil {
		return nil
	}
	if as == gather.AsMonth || as == gather.AsCredit || as == gather.AsInverse {
		return []string{gather.Point, gather.Comma}
	}
	if as == gather.AsDuration {
		return []string{gather.InDays, gather.InWeeks, gather.InElapsed}
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
		case c.Type == record.ProjectRef,
			c.Type == record.CurrencyCode,
			c.Type == record.Period,
			c.Type == record.VersionRef,
			c.Key && c.Type == record.Choice:
			out = append(out, c.Name)
		}
	}
	return out
}

// PlaceName is how a file, or a sheet of one, is called.
func PlaceName(f store.File) string {
	if f.Sheet == "" {
		return f.Name
	}
	return f.Name + ", sheet " + f.Sheet
}
