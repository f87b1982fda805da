// Package standing rates projects: rules as data, each with a reading, a limit
// for Watch and one for Act, combined to dimensions and overall, with reasons.
package standing

import (
	"fmt"
	"strings"
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

// Dimension is what is rated. Those after Data are the office's own, in the
// order in which it made them.
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
	builtIn
)

// Most is the number of dimensions that there can be, overall included.
const Most = 12

// Dimensions lists the dimensions that every office has, overall first.
var Dimensions = []Dimension{Overall, Dates, Cost, Progress, Risk, Crew, Data}

// Table holds a standing for each dimension.
type Table [Most]Standing

// String is the name of a dimension; one of the office's own has its name in
// the rule set, and is own_1 and so on in addresses.
func (d Dimension) String() string {
	if d >= builtIn {
		return fmt.Sprintf("own_%d", d-builtIn+1)
	}
	return [...]string{"overall", "dates", "cost", "progress", "risk", "crew", "data"}[d]
}

// Own tells whether a dimension is the office's own.
func (d Dimension) Own() bool { return d >= builtIn }

// ParseColumn reads the name that a dimension has in addresses.
func ParseColumn(s string) (Dimension, bool) {
	for d := Overall; d < Most; d++ {
		if d.String() == s {
			return d, true
		}
	}
	return 0, false
}

// ParseDimension reads the name of a dimension that every office has.
func ParseDimension(s string) (Dimension, bool) {
	for _, d := range Dimensions {
		if d.String() == s {
			return d, true
		}
	}
	return 0, false
}
