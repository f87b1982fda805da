package record

import (
	"turret/internal/core/calendar"
	"turret/internal/core/portfolio"
)

// Option says more about a column.
type Option func(*Column)

// Key marks a column of the key, Blank one that may be empty all the same, Stamp one that
// tells who said the row, or on what, and Years one of periods that takes fiscal years too.
var (
	Key   Option = func(c *Column) { c.Key = true }
	Blank Option = func(c *Column) { c.Blank = true }
	Stamp Option = func(c *Column) { c.Stamp = true }
	Years Option = func(c *Column) { c.Years = true }
)

// Within bounds a number, in the column's own scale.
func Within(low, high int64) Option { return func(c *Column) { c.Min, c.Max = low, high } }

// Default is what an empty cell of a new row means.
func Default(text string) Option { return func(c *Column) { c.Default = text } }

// As names the column of the database, where it is called otherwise.
func As(sql string) Option { return func(c *Column) { c.SQL = sql } }

const (
	many    = 1_000_000_000_000 * portfolio.Quantity // more than anyone counts
	hundred = 100 * portfolio.Quantity               // percent
)

// Col is a column of a kind, by its place.
type Col struct {
	at   int
	kind *Kind
}

// Column is what is declared of it.
func (c Col) Column() *Column { return &c.kind.Columns[c.at] }

// In gives the column's field of a row.
func (c Col) In(r *portfolio.Row) *portfolio.Field { return &r.Fields[c.at] }

// Said tells whether a row has a value there.
func (c Col) Said(r *portfolio.Row) bool { return r.Fields[c.at].Said == portfolio.Value }

// Mark gives what a row says there: a value, none, or nothing.
func (c Col) Mark(r *portfolio.Row) portfolio.Mark {
	f := r.Fields[c.at]
	return portfolio.Mark{Said: f.Said, Int: f.Int}
}

func (c Col) int(r *portfolio.Row) int64 {
	if !c.Said(r) {
		return 0
	}
	return r.Fields[c.at].Int
}

func (c Col) text(r *portfolio.Row) string {
	if !c.Said(r) {
		return ""
	}
	return r.Fields[c.at].Text
}

// The columns by what they hold. Of gives a row's value; where it says none, zero
// or "".
type (
	TextCol   struct{ Col }
	NumberCol struct{ Col }
	DateCol   struct{ Col }
	PeriodCol struct{ Col }
	RefCol    struct{ Col }
)

// Of gives the text.
func (c TextCol) Of(r *portfolio.Row) string { return c.text(r) }

// Or gives the text, or what an empty cell means.
func (c TextCol) Or(r *portfolio.Row) string {
	if s := c.text(r); s != "" {
		return s
	}
	return c.Column().Default
}

// Of gives the number, in the column's own scale.
func (c NumberCol) Of(r *portfolio.Row) int64 { return c.int(r) }

// Of gives the day.
func (c DateCol) Of(r *portfolio.Row) calendar.Date { return calendar.Date(c.int(r)) }

// Of gives the period.
func (c PeriodCol) Of(r *portfolio.Row) calendar.Period { return calendar.Period(c.int(r)) }

// ID gives the id of what is referred to, and Code its code of the time.
func (c RefCol) ID(r *portfolio.Row) int64    { return c.int(r) }
func (c RefCol) Code(r *portfolio.Row) string { return c.text(r) }

func (k *Kind) add(name string, t Type, about string, opts []Option) Col {
	c := Column{Name: name, Type: t, About: about, SQL: name}
	for _, set := range opts {
		set(&c)
	}
	k.Columns = append(k.Columns, c)
	return Col{len(k.Columns) - 1, k}
}

func (k *Kind) text(name, about string, opts ...Option) TextCol {
	return TextCol{k.add(name, Text, about, opts)}
}

func (k *Kind) code(name, about string, opts ...Option) TextCol {
	return TextCol{k.add(name, Code, about, opts)}
}

func (k *Kind) rate(name, about string, opts ...Option) TextCol {
	return TextCol{k.add(name, RateText, about, opts)}
}

func (k *Kind) currency(name, about string, opts ...Option) TextCol {
	return TextCol{k.add(name, CurrencyCode, about, opts)}
}

func (k *Kind) day(name, about string, opts ...Option) TextCol {
	return TextCol{k.add(name, Day, about, opts)}
}

func (k *Kind) choice(name string, domain []string, about string, opts ...Option) TextCol {
	c := TextCol{k.add(name, Choice, about, opts)}
	c.Column().Domain = domain
	return c
}

func (k *Kind) date(name, about string, opts ...Option) DateCol {
	return DateCol{k.add(name, Date, about, opts)}
}

func (k *Kind) period(name, about string, opts ...Option) PeriodCol {
	return PeriodCol{k.add(name, Period, about, opts)}
}

func (k *Kind) whole(name, about string, opts ...Option) NumberCol {
	return NumberCol{k.add(name, Whole, about, opts)}
}

func (k *Kind) decimal(name, about string, opts ...Option) NumberCol {
	return NumberCol{k.add(name, Decimal, about, opts)}
}

func (k *Kind) money(name, about string, opts ...Option) NumberCol {
	return NumberCol{k.add(name, Money, about, opts)}
}

func (k *Kind) ref(name string, t Type, about string, opts ...Option) RefCol {
	return RefCol{k.add(name, t, about, opts)}
}

func (k *Kind) version(name, about string, opts ...Option) RefCol {
	return RefCol{k.add(name, VersionRef, about, opts)}
}

// The columns of kinds that are declared elsewhere, by what they hold.

// Text adds a column of text.
func (k *Kind) Text(name, about string, opts ...Option) TextCol { return k.text(name, about, opts...) }

// Choice adds a column of one of a domain of words.
func (k *Kind) Choice(name string, domain []string, about string, opts ...Option) TextCol {
	return k.choice(name, domain, about, opts...)
}

// Date adds a column of days.
func (k *Kind) Date(name, about string, opts ...Option) DateCol { return k.date(name, about, opts...) }

// Whole adds a column of whole numbers.
func (k *Kind) Whole(name, about string, opts ...Option) NumberCol {
	return k.whole(name, about, opts...)
}

// Ref adds a column that points to records of a kind by code.
func (k *Kind) Ref(name string, t Type, about string, opts ...Option) RefCol {
	return k.ref(name, t, about, opts...)
}
