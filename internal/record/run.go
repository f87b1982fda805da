package record

import (
	"fmt"

	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Change is a record as it was, or nil for a new one, and as a run makes it. The
// rows that a run only touches are the same before and after.
type Change struct {
	Before *portfolio.Row
	After  *portfolio.Row
	Same   bool // it becomes nothing else than it was
}

// Run is what a refusal may ask of the run that a change belongs to: what there
// is, as the run leaves it.
type Run interface {
	Closed(p calendar.Period) bool
	PeriodCode(p calendar.Period) string
	PeriodName(p calendar.Period) string
	FiscalStart() int
	Reporting() money.Currency
	ReportedIn() money.Currency            // the reporting currency before the run
	Known(k *Kind, code string) bool       // there is a record of that code
	Each(k *Kind, do func(*portfolio.Row)) // every record of a kind
	Stated() bool                          // something is stated about any project
	Paid(project int64) bool               // money is stated about a project
	Role(name string) bool                 // there is such a role
	Decided() bool                         // someone decides it; else a file or a form says it
	Another(name string) bool              // someone else than who runs it signs in by that name
	Close(p calendar.Period)               // the run closes a period
}

// ordered refuses a day that lies before another.
func ordered(x *Change, start, finish DateCol) (column, why string) {
	if !start.Said(x.After) || !finish.Said(x.After) || start.Of(x.After) <= finish.Of(x.After) {
		return "", ""
	}
	from, to := start.Column().Name, finish.Column().Name
	return to, fmt.Sprintf(
		"%s %s lies before %s %s; correct one of them",
		to,
		finish.Of(x.After),
		from,
		start.Of(x.After),
	)
}

// effective refuses what would take effect in a closed period.
func effective(r Run, x *Change, from PeriodCol, what string) (column, why string) {
	if p := from.Of(x.After); !x.Same && r.Closed(p) {
		return "from", fmt.Sprintf("%s is closed; let the %s take effect from an open period", r.PeriodCode(p), what)
	}
	return "", ""
}

// spanned refuses a span that ends before it begins.
func spanned(x *Change, from, until PeriodCol) (column, why string) {
	if until.Said(x.After) && until.Of(x.After) < from.Of(x.After) {
		return "until", "the last period comes before the first"
	}
	return "", ""
}
