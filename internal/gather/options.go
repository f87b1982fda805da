package gather

import (
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/record"
)

// Options say how files are read.
type Options struct {
	Limits    Limits
	Periods   *calendar.Periods
	Period    calendar.Period                          // of rows that state none; zero: none
	Latest    calendar.Period                          // that anything is stated in; zero: none
	Table     *record.Kind                             // what every file is, or nil
	Words     map[string]string                        // the office's own words for columns, normal, to the column
	Names     *Names                                   // of what the office has; or nil
	Called    func(project, name string) bool          // whether a project has an activity of that name, and none of that code; or nil
	Reporting money.Currency                           // what rates are in; "" where it is not known
	Currency  func(project string) money.Currency      // that a project is kept in, "" where it is not known; or nil
	Booked    func(Spent) (string, error)              // what is known as spent, a plain decimal; or nil
	Coded     func(project, code string) bool          // whether a project has an activity of that code; or nil
	Activity  func(project, name string) string        // the code of the one activity of a project that is called so, or ""; or nil
	Placed    func(project, above, name string) string // the code of the one activity of that name below one of that normal name, or ""; or nil
	Stated    func(project string) bool                // whether progress of a project was stated before; or nil
	Works     func(project string) *calendar.Calendar  // the days that a project works, nil where it is not known; or nil
	Every     []CodeRule                               // for codes of any source that the office does not have
	Quick     bool                                     // the number of rows is not needed
	Trust     bool                                     // what looks unlikely, or does not agree with itself, is right
	Tick      func(rows int)                           // told now and then, or nil
	Stop      func() bool                              // asked now and then whether to read on; nil: always

	texts map[string]string // texts met before, so that what repeats is kept once
}

// keep gives a text that outlives the row.
func (o *Options) keep(s string) string {
	if t, ok := o.texts[s]; ok {
		return t
	}
	t := strings.Clone(s)
	if len(o.texts) < 10_000 {
		if o.texts == nil {
			o.texts = make(map[string]string)
		}
		o.texts[t] = t
	}
	return t
}

// named is the table that the options or the file's name tell: costs.csv,
// costs-2026-11.csv.
func (o *Options) named(s *Sheet) *record.Kind {
	if o.Table != nil {
		return o.Table
	}
	if t := TableOf(s.File); t != nil {
		return t
	}
	return record.Named(canonical(s.Name))
}
