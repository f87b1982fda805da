package entry

import (
	"slices"

	"turret/internal/change"
	"turret/internal/core/calendar"
	"turret/internal/core/money"
	"turret/internal/core/portfolio"
	"turret/internal/office"
	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
)

// planRun is what the refusals of kinds may ask of a plan.
type planRun struct{ p *plan }

func (r planRun) Closed(p calendar.Period) bool       { return r.p.snap.Closed[p] }
func (r planRun) PeriodCode(p calendar.Period) string { return r.p.snap.Office.Periods.Code(p) }
func (r planRun) PeriodName(p calendar.Period) string { return r.p.snap.Office.Periods.Name(p) }
func (r planRun) FiscalStart() int                    { return r.p.snap.Office.Periods.FiscalStart() }
func (r planRun) Reporting() money.Currency           { return r.p.reporting() }
func (r planRun) ReportedIn() money.Currency          { return r.p.snap.Office.Reporting }
func (r planRun) Stated() bool                        { return len(r.p.snap.Stated) > 0 }
func (r planRun) Role(name string) bool               { return slices.Contains(right.Roles, right.Role(name)) }
func (r planRun) Decided() bool                       { return r.p.opts.origin == office.Decided }
func (r planRun) Close(p calendar.Period)             { r.p.toClose = append(r.p.toClose, p) }

func (r planRun) Known(k *record.Kind, code string) bool { return r.p.id(k.Name, code) != 0 }

func (r planRun) Each(k *record.Kind, do func(*portfolio.Row)) {
	for _, e := range r.p.records[k.Name].list {
		if e.before != nil || e.touched() {
			do(&e.after)
		}
	}
}

func (r planRun) Paid(project int64) bool {
	return slices.ContainsFunc(r.p.snap.Stated[project], func(s store.Stated) bool {
		return s.Kind.Lines() || s.Kind == portfolio.BaselinePart
	})
}

// Another tells whether an account of that displayed name is someone else's.
func (r planRun) Another(name string) bool {
	who := change.By{Name: name}
	return !r.p.by.Same(who) && slices.ContainsFunc(r.p.accounts, func(a store.Account) bool {
		return !a.Disabled && who.Same(change.By{Name: a.Name})
	})
}
