package standing

import (
	"fmt"
	"math/big"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/expression"
	"turret/internal/core/figure"
)

// Direction tells when a value breaks a limit.
type Direction string

// The directions of rules.
const (
	Above   Direction = "above"
	Below   Direction = "below"
	AtLeast Direction = "at least"
)

// Rule rates one reading: a figure of the catalogue, or an expression over it.
// A nil limit is never broken; a rule without limits is off.
type Rule struct {
	Dimension  Dimension
	Reading    figure.ID        // of the catalogue, where Expr is nil
	Expr       *expression.Expr // else
	Title      string           // of an expression
	Direction  Direction
	Watch, Act *big.Rat
	From       calendar.Period // in force from this period; zero: always
	Scope      string          // code of a programme or project; "": all

	watchText, actText string // the limits as texts, once it is in a set
}

// Names is what expressions over the catalogue may use, with units.
var Names = func() map[string]expression.Unit {
	out := make(map[string]expression.Unit, figure.Len())
	for i := range figure.Len() {
		e := figure.Get(figure.ID(i))
		out[e.Name] = expression.Of(e.Unit)
	}
	return out
}

// ReadingText is the reading as a rule's record has it: the name of a figure,
// or the expression.
func (r *Rule) ReadingText() string {
	if r.Expr != nil {
		return r.Expr.Source
	}
	return figure.Get(r.Reading).Name
}

// key tells rules apart that rate the same.
func (r *Rule) key() string { return fmt.Sprint(r.Dimension, " ", r.ReadingText()) }

func limit(s string) *big.Rat {
	if s == "" {
		return nil
	}
	r, _ := new(big.Rat).SetString(s)
	return r
}

// ParseLimit reads a limit; "" is none.
func ParseLimit(s string) (*big.Rat, error) {
	r := limit(s)
	if s != "" && (r == nil || strings.ContainsAny(s, "/eE")) {
		return nil, fmt.Errorf("%q is not a plain decimal number", s)
	}
	return r, nil
}

// LimitText writes a limit as a plain decimal; nil is "".
func LimitText(r *big.Rat) string {
	if r == nil {
		return ""
	}
	return figure.TrimDecimals(r.FloatString(6))
}

// Crossed tells whether the limit for Act would be reached before that for
// Watch.
func Crossed(d Direction, watch, act *big.Rat) bool {
	if watch == nil || act == nil {
		return false
	}
	if d == Below {
		return act.Cmp(watch) > 0
	}
	return act.Cmp(watch) < 0
}

func rule(d Dimension, id figure.ID, dir Direction, watch, act string) Rule {
	return Rule{Dimension: d, Reading: id, Direction: dir, Watch: limit(watch), Act: limit(act)}
}

// Defaults are the rules of an office that has set none.
var Defaults = []Rule{
	rule(Cost, figure.CPI, Below, "0.95", "0.90"),
	rule(Cost, figure.ComputedOver, Above, "0.05", "0.10"),
	rule(Cost, figure.StatedOver, Above, "0.05", "0.10"),
	rule(Dates, figure.SPIT, Below, "0.95", "0.85"),
	rule(Dates, figure.FinishSlip, Above, "10", "40"),
	rule(Dates, figure.MilestoneSlip, Above, "0", "20"),
	rule(Progress, figure.LateShare, Above, "0.05", "0.15"),
	rule(Risk, figure.RiskExposure, AtLeast, "12", "20"),
	rule(Data, figure.StatementAge, AtLeast, "1", "2"),
	rule(Data, figure.Errors, AtLeast, "", "1"),
	rule(Data, figure.Warnings, AtLeast, "1", ""),
}

// silentEarly tells whether a rule stays silent while it is too early: those on
// CPI, SPI(t) and the computed outlook, and expressions that use them.
func (r *Rule) silentEarly() bool {
	early := func(id figure.ID) bool {
		return id == figure.CPI || id == figure.SPIT || id == figure.ComputedOver
	}
	if r.Expr == nil {
		return early(r.Reading)
	}
	for _, n := range r.Expr.Names {
		if id, ok := figure.Lookup(n); ok && (early(id) || id == figure.EACComputed) {
			return true
		}
	}
	return false
}

// value reads what the rule rates. Money counts in major units of the
// project's currency.
func (r *Rule) value(get func(figure.ID) figure.Value, exponent int) figure.Value {
	if r.Expr == nil {
		return get(r.Reading)
	}
	v := r.Expr.Eval(func(name string) expression.Value {
		id, ok := figure.Lookup(name)
		if !ok {
			return expression.Unknown(name + " is not a figure any more")
		}
		return Known(get(id), exponent)
	})
	switch {
	case !v.Known:
		return figure.Unknown(r.Expr.Unit.Figure(), v.Why)
	case v.R == nil: // it holds or not
		n := int64(0)
		if v.B {
			n = 1
		}
		return figure.Whole(figure.Count, n)
	}
	u := r.Expr.Unit.Figure()
	if u == figure.Ratio || u == figure.Periods || u == figure.Size {
		return figure.Exact(u, exact.FromRat(v.R))
	}
	if u == figure.Money {
		return figure.Exact(figure.Ratio, exact.FromRat(v.R))
	}
	if v.R.IsInt() && v.R.Num().IsInt64() {
		return figure.Whole(u, v.R.Num().Int64())
	}
	return figure.Exact(figure.Ratio, exact.FromRat(v.R))
}

// Known gives a figure as expressions take it: money in major units.
func Known(v figure.Value, exponent int) expression.Value {
	if !v.Known {
		return expression.Unknown(v.Why)
	}
	r := v.Rat()
	if v.Unit == figure.Money {
		r = new(big.Rat).SetFrac(r.Num(), new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(exponent)), nil))
	}
	return expression.Num(r)
}
