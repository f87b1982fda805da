package portfolio

import (
	"maps"
	"slices"
)

// Said tells what a field of a row says.
type Said uint8

// A field says nothing (what was there stays), a value, or that there is none.
const (
	Nothing Said = iota
	Value
	None
)

// Field is one value of a row. Dates, periods and whole numbers stand in Int,
// quantities in Int as millionths, texts in Text. A reference has the record's
// id in Int and its code at the time in Text. Money and rates stand in Text as
// canonical decimals until their currency is known, then in Int as minor units.
type Field struct {
	Said Said
	Int  int64
	Text string
}

// Source is where a value was said: a row of a received file.
type Source struct {
	File int32 // id of the file or sheet; zero: not from a file
	Row  int32 // row number, the header being row 1
}

// Row is one row of a table: fields in the table's order of columns, with
// columns that the table does not list kept in Extra as text by name.
type Row struct {
	ID     int64 // of the record or activity; zero: none
	Fields []Field
	Extra  map[string]string
	Source Source
}

// Clone gives a row that shares nothing with this one.
func (r *Row) Clone() Row {
	c := *r
	c.Fields = slices.Clone(r.Fields)
	c.Extra = maps.Clone(r.Extra)
	return c
}

// QuantityScale is the number of decimals of a quantity: percentages, units,
// weights and sizes are whole numbers of millionths.
const QuantityScale = 6

// Quantity is a count of millionths.
const Quantity = 1_000_000

// Computed stands in Int beside an amount in Text that a spreadsheet computed:
// it may have more decimals than its currency, and is rounded half to even.
const Computed = 1
