package figure

import (
	"cmp"
	"maps"
	"slices"

	"turret/internal/core/calendar"
	"turret/internal/core/earned"
	"turret/internal/core/exact"
	"turret/internal/core/money"
)

// Subject is what figures are computed of: a project or a group.
type Subject interface {
	// IsGroup tells a group from a project.
	IsGroup() bool
	// Done tells that nothing is left to do: every estimate is the actual cost.
	Done(e *Eval) bool
	// Base gives an entry that has no formula over other entries.
	Base(e *Eval, id ID, p calendar.Period) Value
	// Plan gives the cumulative plan of what has earned value.
	Plan() (earned.Series, string)
	// Facts lists what a base entry is made of.
	Facts(e *Eval, id ID, p calendar.Period) []Fact
}

// Eval evaluates the catalogue for one subject at one period, in one currency
// and against one baseline. Each entry is computed once. It is not safe for
// use by several goroutines until every entry needed is computed.
//
// A project has one CPI, whatever currency its amounts are shown in: of an evaluation
// that shows them in another one, shares, indices and dates are those of its own.
type Eval struct {
	Subject  Subject
	Period   calendar.Period
	Currency money.Currency
	Calendar *calendar.Periods
	now      [entries]Value
	have     [entries]bool
	earlier  map[key]Value
	schedule *schedule
	rec      *Node
	own      *Eval // of the same project in its own currency; nil: this is it
}

type key struct {
	id ID
	p  calendar.Period
}

type schedule struct {
	earned.Schedule
	first calendar.Period
	why   string
}

// New begins an evaluation.
func New(s Subject, p calendar.Period, c money.Currency, periods *calendar.Periods) *Eval {
	return &Eval{Subject: s, Period: p, Currency: c, Calendar: periods, earlier: make(map[key]Value)}
}

// Of gives the evaluation that an entry is one of: shares, indices and dates of a project
// that is shown in another currency are those of its own.
func (e *Eval) Of(id ID) *Eval {
	if e.borrows(id) {
		return e.own
	}
	return e
}

// borrows tells whether an entry is one of the project's own currency. What was found
// in the data belongs to each evaluation.
func (e *Eval) borrows(id ID) bool {
	return e.own != nil && catalogue[id].Unit != Money && !slices.Contains(judged[:], id)
}

// judged are the entries that rest on more than what is stated of the project itself.
var judged = [...]ID{
	Errors, Warnings, FloatLeast, Critical, NearCritical, LinksBroken, Conflicts, FinishNetwork, FinishStretched, FinishSpread,
}

// Judge gives the same evaluation of a project with what was found in its data, and what
// the network of all projects tells of it; nil where that was not computed. The one it is
// made of stays as it is; both may go on apart.
func (e *Eval) Judge(found Found, web *Web) *Eval {
	out := *e
	p := *e.Subject.(*Project)
	p.found, p.web = &found, web
	out.Subject, out.earlier = &p, maps.Clone(e.earlier)
	for _, id := range judged {
		out.have[id] = false
		out.Get(id)
	}
	return &out
}

// Get gives an entry at the evaluation's own period.
func (e *Eval) Get(id ID) Value { return e.At(id, e.Period) }

// At gives an entry at a period no later than the evaluation's, against the
// same baseline.
func (e *Eval) At(id ID, p calendar.Period) Value {
	if e.borrows(id) {
		return e.borrow(id, p)
	}
	if e.rec == nil {
		if p == e.Period && e.have[id] {
			return e.now[id]
		}
		if v, ok := e.earlier[key{id, p}]; ok {
			return v
		}
	}
	outer := e.rec
	if outer != nil {
		e.rec = &Node{ID: id, Period: p, Currency: e.Currency}
	}
	v := e.compute(id, p)
	v.Unit = catalogue[id].Unit
	if p == e.Period {
		e.now[id], e.have[id] = v, true
	} else {
		e.earlier[key{id, p}] = v
	}
	if outer != nil {
		e.rec.Value = v
		outer.Inputs = append(outer.Inputs, e.rec)
		e.rec = outer
	}
	return v
}

// borrow gives an entry of the project's own currency, and records it as such.
func (e *Eval) borrow(id ID, p calendar.Period) Value {
	if e.rec != nil {
		e.own.rec, e.own.schedule = e.rec, nil
		defer func() { e.own.rec = nil }()
	}
	return e.own.At(id, p)
}

func (e *Eval) compute(id ID, p calendar.Period) Value {
	if f := catalogue[id].of; f != nil && (!catalogue[id].partsFirst || !e.Subject.IsGroup()) {
		return f(e, p)
	}
	return e.Subject.Base(e, id, p)
}

// All computes every entry of the catalogue.
func (e *Eval) All() {
	for i := range catalogue {
		e.Get(ID(i))
	}
}

// earnedSchedule computes the schedule at the evaluation's period, once.
func (e *Eval) earnedSchedule() *schedule {
	if e.schedule != nil && e.rec == nil {
		return e.schedule
	}
	pv, why := e.Subject.Plan()
	s := &schedule{first: pv.First, why: why}
	if why == "" {
		s.Schedule, s.why = earned.NewSchedule(pv, e.Period, func(q calendar.Period) (int64, bool) {
			v := e.At(EV, q)
			return v.N, v.Known
		})
	}
	e.schedule = s
	return s
}

// unknown gives the reason of the first value that is not known.
func unknown(vals ...Value) (string, bool) {
	for _, v := range vals {
		if !v.Known {
			return v.Why, true
		}
	}
	return "", false
}

// less gives a − b.
func less(a, b Value) Value {
	if why, bad := unknown(a, b); bad {
		return Value{Why: why}
	}
	if a.R.Is() || b.R.Is() {
		return Value{Known: true, R: a.Ratio().Sub(b.Ratio())}
	}
	return wholeOr(money.Add(a.N, -b.N))
}

func wholeOr(n int64, ok bool) Value {
	if !ok {
		return Value{Why: "it is beyond 64 bits"}
	}
	return Value{Known: true, N: n}
}

// over gives a ÷ b; a zero divisor gives the reason zero.
func over(a, b Value, zero string) Value {
	if why, bad := unknown(a, b); bad {
		return Value{Why: why}
	}
	switch {
	case b.Ratio().Sign() == 0:
		return Value{Why: zero}
	case !a.R.Is() && !b.R.Is():
		return Value{Known: true, R: exact.Of(a.N, b.N)}
	}
	return Value{Known: true, R: a.Ratio().Quo(b.Ratio())}
}

// Term is an entry that a formula asked for at another period than the
// evaluation's own.
type Term struct {
	ID    ID
	Back  int // periods before the evaluation's
	Value Value
}

// Terms lists what formulas asked for at earlier periods, in order.
func (e *Eval) Terms() []Term {
	var out []Term
	for k, v := range e.earlier {
		out = append(out, Term{k.id, int(e.Period - k.p), v})
	}
	slices.SortFunc(out, func(a, b Term) int { return cmp.Or(int(a.ID-b.ID), a.Back-b.Back) })
	return out
}

// Values gives every entry at the evaluation's period, by ID.
func (e *Eval) Values() []Value {
	out := make([]Value, entries)
	for i := range out {
		out[i] = e.Get(ID(i))
	}
	return out
}
