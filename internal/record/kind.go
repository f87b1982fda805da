// Package record declares the kinds of records: for each, in one file, its
// columns and key, how it is kept, what may be said of it, what a change of it
// touches, and its words. The store, gathering, exports, forms, history and
// conflicts all follow from the declarations; no column is read by its name
// elsewhere.
package record

import (
	"slices"

	"turret/internal/core/portfolio"
)

// Type says how a column is read and kept.
type Type uint8

// The types of columns. Refs point to records by code.
const (
	Text     Type = iota
	Code          // the code of the record itself
	Date          // day number
	Period        // period ordinal
	Whole         // whole number
	Decimal       // quantity in millionths
	Money         // decimal text until its currency is known
	RateText      // decimal text
	Choice        // one of the column's domain
	CurrencyCode
	Day // weekday mon … sun, or an ISO date
	ProjectRef
	ProgrammeRef
	CostCodeRef
	ActivityRef // an activity of the row's project
	EndRef      // an activity of the row's project, or PROJECT/ACTIVITY
	VersionRef  // baseline number, statement period or nothing, by kind
	CentreRef   // a cost centre that is listed
)

// Whole tells whether a column of the type is kept as an integer.
func (t Type) Whole() bool {
	switch t {
	case Date, Period, Whole, Decimal, ProjectRef, ProgrammeRef, CostCodeRef, CentreRef:
		return true
	}
	return false
}

// Ref tells whether a column of the type points to a record by its code.
func (t Type) Ref() bool {
	switch t {
	case ProjectRef, ProgrammeRef, CostCodeRef, CentreRef, ActivityRef, EndRef:
		return true
	}
	return false
}

// To gives the kind of records that a type of references points to; nil for
// others, and for activities, which belong to a project.
func (t Type) To() *Kind {
	switch t {
	case ProjectRef:
		return Projects.Kind
	case ProgrammeRef:
		return Programmes.Kind
	case CostCodeRef:
		return CostCodes.Kind
	case CentreRef:
		return CostCentres.Kind
	}
	return nil
}

// Keeping says how the rows of a kind are kept.
type Keeping uint8

// Records are rows of their own; parts hold what is stated about one project;
// cells are the time-phased amounts; the ledger holds postings.
const (
	Records Keeping = iota
	Parts
	Cells
	Ledger
)

// Column is one column of a kind.
type Column struct {
	Name    string
	Type    Type
	Key     bool
	Blank   bool     // a key that may be left empty
	Domain  []string // of a Choice
	Open    bool     // of a Choice: the office has words of its own beside them
	Default string   // what an empty cell of a new row means
	Years   bool     // of a Period: a fiscal year, such as FY27, is its first period
	Stamp   bool     // it tells who said the row, or on what: not what is said
	Min     int64    // of Whole and Decimal, in the column's own scale
	Max     int64    // no limit where it is not above Min
	SQL     string   // the column of the database, of records
	About   string
}

// Touch is what a change of records touches beside them.
type Touch uint8

// From everything that is computed to nothing of it.
const (
	Everything Touch = iota // the office, its projects and their figures
	Judgement               // how projects are judged
	Sayings                 // what was said about some projects
	Workings                // what the office goes by, and no figure
	Names                   // nothing but the records themselves
)

// Kind is one kind of record, and the table in which people send it.
type Kind struct {
	Name    string // of the table
	One     string // what screens call one of its rows
	About   string
	Keep    Keeping
	Columns []Column
	Version string // the column that tells the part: a period or a baseline
	SQL     string // the table of the database, of records
	Touches Touch
	Own     bool // the office's own business: read in its own form alone, since nobody sends it otherwise

	// Refuse gives the column and the reason why a row may not become what a run
	// makes of it, or nothing. Nil refuses nothing.
	Refuse func(r Run, x *Change) (column, why string)

	// Form is how the kind is kept on a page made from its columns; nil where it has
	// none, or one of a make of its own.
	Form *Form

	// Sum is what rows of the kind have to add up to together; nil for none.
	Sum *Sum
}

// Form is a page that lists the records of a kind and takes one at a time.
type Form struct {
	Title string // of the page
	Says  string // a sentence on what the records are for
	Needs string // what its writer must be allowed to do, in the words of right
	Scope string // the column with the project or programme of a record; who administers that writes it too
}

// Sum is a number that the rows of a set add up to.
type Sum struct {
	Of     func(*portfolio.Row) (set any, n int64)
	Refuse func(r Run, row *portfolio.Row, sum int64) (column, why string)
}

// Index gives the place of a column, or -1.
func (k *Kind) Index(name string) int {
	return slices.IndexFunc(k.Columns, func(c Column) bool { return c.Name == name })
}

// BySQL gives the place of the column that the database calls so, or -1.
func (k *Kind) BySQL(name string) int {
	return slices.IndexFunc(k.Columns, func(c Column) bool { return c.SQL == name })
}

// SQLColumns lists what the database calls the columns, in their order.
func (k *Kind) SQLColumns() []string {
	out := make([]string, len(k.Columns))
	for i := range k.Columns {
		out[i] = k.Columns[i].SQL
	}
	return out
}

// Project gives the place of the column that tells which project a record of the
// kind belongs to; -1 where it belongs to none, and for projects themselves.
func (k *Kind) Project() int {
	if len(k.Columns) > 0 && k.Columns[0].Type == ProjectRef {
		return 0
	}
	return -1
}

func records(name, sql, one, about string) *Kind {
	return &Kind{Name: name, SQL: sql, One: one, About: about}
}

func parts(name, version, one, about string) *Kind {
	return &Kind{Name: name, Keep: Parts, Version: version, One: one, About: about}
}

func cells(name, one, about string) *Kind {
	return &Kind{Name: name, Keep: Cells, One: one, About: about}
}

func ledger(name, one, about string) *Kind {
	return &Kind{Name: name, Keep: Ledger, One: one, About: about}
}

// NewRecords begins the declaration of a kind of records: the name of its table,
// that in the database, what one row is called, and what it is about.
func NewRecords(name, sql, one, about string) *Kind { return records(name, sql, one, about) }
