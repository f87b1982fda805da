// Package driver asks where overruns and slips gather: how much of the spread of
// an outcome goes with an attribute of projects.
package driver

import (
	"cmp"
	"slices"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"
)

// Observation is a project, or a part of one, with a value of the attribute and
// its outcome.
type Observation struct {
	Value   string
	Money   int64 // what counts as its size, in minor units; it weighs nothing
	Outcome float64
}

// Group is all observations of one value.
type Group struct {
	Value  string
	Count  int
	Money  int64
	Mean   float64
	Spread float64 // standard deviation; zero of a single one
}

// Word is what can honestly be said of an attribute.
type Word string

// The words. Same is where all have one value; Few where there are too few
// observations to say; Chance where as much would be explained by values drawn by
// lot, in one case of twenty or more; Clear where it would not.
const (
	Same   Word = "same"
	Few    Word = "few"
	Chance Word = "chance"
	Clear  Word = "clear"
)

// Result is how outcomes go with an attribute.
type Result struct {
	Groups    []Group // the largest mean first
	Count     int
	Mean      float64 // of all
	Spread    float64
	Explained float64 // share of the spread, 0 to 1, see Explain
	Luck      float64 // how likely values drawn by lot would explain as much
	Word      Word
}

// What is needed to say anything: so many observations, and so many more than
// values.
const (
	fewest = 8
	more   = 4
)

// Explain groups observations by their values. Explained is ε² of a one-way
// analysis of variance: 1 − (spread within ÷ its degrees of freedom) ÷ (spread of
// all ÷ its degrees of freedom), not below zero. It does not grow by splitting
// into more values, as the plain share would. (T. L. Kelley, An Unbiased
// Correlation Ratio Measure, 1935.) Luck is the tail of the F distribution.
func Explain(list []Observation) (r Result) {
	by := make(map[string][]float64)
	money := make(map[string]int64)
	var all []float64
	for _, o := range list {
		by[o.Value] = append(by[o.Value], o.Outcome)
		money[o.Value] += o.Money
		all = append(all, o.Outcome)
	}
	if r.Count = len(all); r.Count == 0 {
		r.Word = Few
		return r
	}
	r.Mean, r.Spread = summary(all)
	within := 0.0
	for value, outcomes := range by {
		g := Group{Value: value, Count: len(outcomes), Money: money[value]}
		g.Mean, g.Spread = summary(outcomes)
		within += squares(outcomes, g.Mean)
		r.Groups = append(r.Groups, g)
	}
	slices.SortFunc(
		r.Groups,
		func(a, b Group) int { return cmp.Or(cmp.Compare(b.Mean, a.Mean), cmp.Compare(a.Value, b.Value)) },
	)
	n, k := float64(r.Count), float64(len(r.Groups))
	total := squares(all, r.Mean)
	switch {
	case k == 1:
		r.Word = Same
		return r
	case r.Count < fewest || n-k < more || total == 0:
		r.Word = Few
		return r
	}
	r.Explained = max(0, 1-(within/(n-k))/(total/(n-1)))
	r.Word = Clear
	if within > 0 {
		f := ((total - within) / (k - 1)) / (within / (n - k))
		r.Luck = distuv.F{D1: k - 1, D2: n - k}.Survival(max(f, 0))
	}
	if r.Luck >= 0.05 {
		r.Word = Chance
	}
	return r
}

func summary(list []float64) (mean, spread float64) {
	if len(list) == 1 {
		return list[0], 0
	}
	return stat.MeanStdDev(list, nil)
}

func squares(list []float64, mean float64) (sum float64) {
	for _, x := range list {
		sum += (x - mean) * (x - mean)
	}
	return sum
}
