package standing

import (
	"math/big"

	"turret/internal/core/calendar"
	"turret/internal/core/exact"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
)

// Reason is what one rule said.
type Reason struct {
	Dimension Dimension
	Rates     string    // the dimension's title
	Reading   figure.ID // of the catalogue, where Own is ""
	Own       string    // else the title of the office's own rule, or its expression
	Value     figure.Value
	Direction Direction
	Watch     string // limits as decimals, "" for none
	Act       string
	Standing  Standing
	Silent    string // why the rule says nothing, or ""
}

// Title is what screens call the rule's reading.
func (r *Reason) Title() string {
	if r.Own != "" {
		return r.Own
	}
	return figure.Get(r.Reading).Title
}

// Name is what files call the rule's reading.
func (r *Reason) Name() string {
	if r.Own != "" {
		return r.Own
	}
	return figure.Get(r.Reading).Name
}

// Same tells whether another reason is of the same rule.
func (r *Reason) Same(o *Reason) bool {
	return r.Dimension == o.Dimension && r.Own == o.Own && (r.Own != "" || r.Reading == o.Reading)
}

// Result is the standing of a project.
type Result struct {
	Computed  Table  // what the rules say
	Standing  Table  // the same with the overrides in force
	Why       string // why overall is Unrated, or ""
	Reasons   []Reason
	Overrides []portfolio.Override // in force
	Stated    Standing             // the lead's own
	HasStated bool
	StatedIn  calendar.Period
	Version   string // of the rule set
}

// Disagrees tells that the lead states better than the figures say. Unrated
// never disagrees.
func (r *Result) Disagrees() bool {
	return r.HasStated && r.Stated != Unrated && r.Computed[Overall] != Unrated && r.Stated < r.Computed[Overall]
}

// Judge rates readings, wherever they come from, by the rules in force.
func (s *Set) Judge(get func(figure.ID) figure.Value, f Facts) *Result {
	r := &Result{Stated: f.Stated, HasStated: f.HasStated, StatedIn: f.StatedIn, Version: s.Version}
	if f.State != portfolio.Active {
		r.Why = "it is " + string(f.State)
	} else {
		early := f.early(get)
		r.Reasons = make([]Reason, 0, len(f.Rules))
		for i := range f.Rules {
			if rule := &f.Rules[i]; !s.noData || rule.Dimension != Data {
				r.apply(get, rule, s.Title(rule.Dimension), early, f.Exponent)
			}
		}
		r.overall(s, early)
	}
	r.Standing = r.Computed
	for _, o := range f.Overrides {
		d, ok := s.Dimension(o.Dimension)
		st, ok2 := Parse(o.Standing)
		if ok && ok2 && o.From <= f.Period && f.Period <= o.Until {
			r.Standing[d] = st
			r.Overrides = append(r.Overrides, o)
		}
	}
	return r
}

func (f *Facts) early(get func(figure.ID) figure.Value) bool {
	v := get(figure.ElapsedShare)
	return v.Known && v.R.Cmp(figure.EarlyLimit(f.TooEarly)) < 0
}

func (r *Result) apply(get func(figure.ID) figure.Value, rule *Rule, rates string, early bool, exponent int) {
	if rule.Watch == nil && rule.Act == nil {
		return
	}
	v := rule.value(get, exponent)
	reason := Reason{
		Dimension: rule.Dimension,
		Rates:     rates,
		Reading:   rule.Reading,
		Value:     v,
		Direction: rule.Direction,
		Watch:     rule.watchText,
		Act:       rule.actText,
	}
	if rule.Expr != nil {
		if reason.Own = rule.Title; reason.Own == "" {
			reason.Own = rule.Expr.Source
		}
	}
	switch {
	case early && rule.silentEarly():
		reason.Silent = "too early"
	case !v.Known:
		reason.Silent = v.Why
	default:
		reason.rate(rule.Watch, rule.Act)
		r.Computed[rule.Dimension] = max(r.Computed[rule.Dimension], reason.Standing)
	}
	r.Reasons = append(r.Reasons, reason)
}

// rate sets the standing that a known value has by its limits.
func (r *Reason) rate(watch, act *big.Rat) {
	v := r.Value.Ratio()
	r.Standing = Steady
	if breaks(v, r.Direction, watch) {
		r.Standing = Watch
	}
	if breaks(v, r.Direction, act) {
		r.Standing = Act
	}
}

func breaks(v exact.Ratio, d Direction, limit *big.Rat) bool {
	if limit == nil {
		return false
	}
	c := v.Cmp(exact.FromRat(limit))
	switch d {
	case Below:
		return c < 0
	case AtLeast:
		return c >= 0
	default:
		return c > 0
	}
}

// overall combines the dimensions by the policy in force. Data does not count.
func (r *Result) overall(s *Set, early bool) {
	var w Weights
	var acts int
	for _, d := range s.Dimensions() {
		n := s.Weight(d)
		if n == 0 || r.Computed[d] == Unrated {
			continue
		}
		w.Add(r.Computed[d], n)
		if r.Computed[d] == Act {
			acts++
		}
	}
	st := Unrated
	switch {
	case s.Overall.How != Usual:
		st = s.Overall.Combine(&w)
	case r.Computed[Dates] == Act || r.Computed[Cost] == Act || acts >= 2:
		st = Act
	case w.count[Act] > 0 || w.count[Watch] > 0:
		st = Watch
	case w.count[Steady] > 0:
		st = Steady
	}
	switch {
	case st == Unrated:
		r.Why = "no rule could be evaluated"
	case st == Steady && early:
		st, r.Why = Unrated, "too early"
	}
	r.Computed[Overall] = st
}
