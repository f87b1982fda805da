// Package standing rates projects: rules as data, each with a reading, a limit
// for Watch and one for Act, combined to dimensions and overall, with reasons.
package standing

import (
	"fmt"
	"math/big"
	"strings"

	"turret/internal/core/calendar"
	"turret/internal/core/figure"
	"turret/internal/core/portfolio"
)

// Standing is the state of one dimension, or overall.
type Standing uint8

// The standings in rising order of the attention they ask for. Unrated is not
// known, too early, or not running.
const (
	Unrated Standing = iota
	Steady
	Watch
	Act
)

func (s Standing) String() string { return [...]string{"Unrated", "Steady", "Watch", "Act"}[s] }

// Code is the standing in lower case, as files have it.
func (s Standing) Code() string { return strings.ToLower(s.String()) }

// Parse reads a standing in any case; ok is false for another word.
func Parse(s string) (st Standing, ok bool) {
	for st = Unrated; st <= Act; st++ {
		if strings.EqualFold(s, st.String()) {
			return st, true
		}
	}
	return Unrated, false
}

// Dimension is what is rated.
type Dimension uint8

// The dimensions, and overall, which combines them.
const (
	Overall Dimension = iota
	Dates
	Cost
	Progress
	Risk
	Crew
	Data
	dimensions
)

// Dimensions lists every dimension, overall first.
var Dimensions = []Dimension{Overall, Dates, Cost, Progress, Risk, Crew, Data}

func (d Dimension) String() string {
	return [...]string{"overall", "dates", "cost", "progress", "risk", "crew", "data"}[d]
}

// ParseDimension reads the name of a dimension.
func ParseDimension(s string) (Dimension, bool) {
	for _, d := range Dimensions {
		if d.String() == s {
			return d, true
		}
	}
	return 0, false
}

// Direction tells when a value breaks a limit.
type Direction string

// The directions of rules.
const (
	Above   Direction = "above"
	Below   Direction = "below"
	AtLeast Direction = "at least"
)

// Rule rates one reading. A nil limit is never broken.
type Rule struct {
	Dimension  Dimension
	Reading    figure.ID
	Direction  Direction
	Watch, Act *big.Rat
	From       calendar.Period // in force from this period; zero: always
}

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

// Defaults are the rules of an office that has set none.
var Defaults = []Rule{
	{Cost, figure.CPI, Below, limit("0.95"), limit("0.90"), 0},
	{Cost, figure.ComputedOver, Above, limit("0.05"), limit("0.10"), 0},
	{Cost, figure.StatedOver, Above, limit("0.05"), limit("0.10"), 0},
	{Dates, figure.SPIT, Below, limit("0.95"), limit("0.85"), 0},
	{Dates, figure.FinishSlip, Above, limit("10"), limit("40"), 0},
	{Dates, figure.MilestoneSlip, Above, limit("0"), limit("20"), 0},
	{Progress, figure.LateShare, Above, limit("0.05"), limit("0.15"), 0},
	{Risk, figure.RiskExposure, AtLeast, limit("12"), limit("20"), 0},
	{Data, figure.StatementAge, AtLeast, limit("1"), limit("2"), 0},
	{Data, figure.Errors, AtLeast, nil, limit("1"), 0},
	{Data, figure.Warnings, AtLeast, limit("1"), nil, 0},
}

// InForce gives the rules that hold in a period: of each dimension and reading
// the one stated last at or before it, the defaults coming first.
func InForce(own []Rule, p calendar.Period) []Rule {
	out := append([]Rule(nil), Defaults...)
	for _, r := range own {
		if r.From > p {
			continue
		}
		found := false
		for i := range out {
			if out[i].Dimension == r.Dimension && out[i].Reading == r.Reading {
				found = true
				if out[i].From <= r.From {
					out[i] = r
				}
			}
		}
		if !found {
			out = append(out, r)
		}
	}
	return out
}

// Reason is what one rule said.
type Reason struct {
	Dimension Dimension
	Reading   figure.ID
	Value     figure.Value
	Direction Direction
	Watch     string // limits as decimals, "" for none
	Act       string
	Standing  Standing
	Silent    string // why the rule says nothing, or ""
}

// Result is the standing of a project.
type Result struct {
	Computed  [dimensions]Standing // what the rules say
	Standing  [dimensions]Standing // the same with the overrides in force
	Why       string               // why overall is Unrated, or ""
	Reasons   []Reason
	Overrides []portfolio.Override // in force
	Stated    Standing             // the lead's own
	HasStated bool
	StatedIn  calendar.Period
}

// Disagrees tells that the lead states better than the figures say. Unrated
// never disagrees.
func (r *Result) Disagrees() bool {
	return r.HasStated && r.Stated != Unrated && r.Computed[Overall] != Unrated && r.Stated < r.Computed[Overall]
}

// DefaultTooEarly is the elapsed share in percent below which rules on indices
// stay silent, unless the project sets its own.
const DefaultTooEarly = 15

func silentEarly(id figure.ID) bool {
	return id == figure.CPI || id == figure.SPIT || id == figure.ComputedOver
}

// Rate computes the standing of a project from an evaluation in its own
// currency and the rules in force.
func Rate(e *figure.Eval, rules []Rule) *Result {
	p := e.Subject.(*figure.Project)
	r := &Result{}
	r.stated(p)
	if st := p.StateAt(p.Day); st != portfolio.Active {
		r.Why = "it is " + string(st)
	} else {
		early := tooEarly(e, p)
		for _, rule := range rules {
			r.apply(e, rule, early)
		}
		r.overall(early)
	}
	r.Standing = r.Computed
	for _, o := range p.Overrides {
		d, ok := ParseDimension(o.Dimension)
		st, ok2 := Parse(o.Standing)
		if ok && ok2 && o.From <= e.Period && e.Period <= o.Until {
			r.Standing[d] = st
			r.Overrides = append(r.Overrides, o)
		}
	}
	return r
}

func (r *Result) stated(p *figure.Project) {
	for i := range p.Narratives {
		n := &p.Narratives[i]
		if n.Period <= p.Period && n.Section == "summary" && n.Stated != "" && n.Period >= r.StatedIn {
			if st, ok := Parse(n.Stated); ok {
				r.Stated, r.HasStated, r.StatedIn = st, true, n.Period
			}
		}
	}
}

func tooEarly(e *figure.Eval, p *figure.Project) bool {
	at := big.NewRat(DefaultTooEarly, 100)
	if p.TooEarly >= 0 {
		at = big.NewRat(p.TooEarly, 100*portfolio.Quantity)
	}
	v := e.Get(figure.ElapsedShare)
	return v.Known && v.R.Cmp(at) < 0
}

func (r *Result) apply(e *figure.Eval, rule Rule, early bool) {
	if rule.Watch == nil && rule.Act == nil {
		return
	}
	v := e.Get(rule.Reading)
	reason := Reason{Dimension: rule.Dimension, Reading: rule.Reading, Value: v, Direction: rule.Direction, Watch: text(rule.Watch), Act: text(rule.Act)}
	switch {
	case early && silentEarly(rule.Reading):
		reason.Silent = "too early"
	case !v.Known:
		reason.Silent = v.Why
	default:
		reason.Standing = Steady
		if breaks(v.Rat(), rule.Direction, rule.Watch) {
			reason.Standing = Watch
		}
		if breaks(v.Rat(), rule.Direction, rule.Act) {
			reason.Standing = Act
		}
		r.Computed[rule.Dimension] = max(r.Computed[rule.Dimension], reason.Standing)
	}
	r.Reasons = append(r.Reasons, reason)
}

func breaks(v *big.Rat, d Direction, limit *big.Rat) bool {
	if limit == nil {
		return false
	}
	c := v.Cmp(limit)
	switch d {
	case Below:
		return c < 0
	case AtLeast:
		return c >= 0
	default:
		return c > 0
	}
}

// overall: Act when dates or cost is Act, or two dimensions are; Watch when any
// is Watch or Act; Steady when one at least is rated. Data does not count.
func (r *Result) overall(early bool) {
	acts, watches, rated := 0, 0, 0
	for _, d := range []Dimension{Dates, Cost, Progress, Risk, Crew} {
		switch r.Computed[d] {
		case Act:
			acts++
			watches++
			rated++
		case Watch:
			watches++
			rated++
		case Steady:
			rated++
		}
	}
	switch {
	case r.Computed[Dates] == Act || r.Computed[Cost] == Act || acts >= 2:
		r.Computed[Overall] = Act
	case watches > 0:
		r.Computed[Overall] = Watch
	case rated > 0 && early:
		r.Why = "too early"
	case rated > 0:
		r.Computed[Overall] = Steady
	default:
		r.Why = "no rule could be evaluated"
	}
}

func text(r *big.Rat) string {
	if r == nil {
		return ""
	}
	return figure.TrimDecimals(r.FloatString(6))
}
