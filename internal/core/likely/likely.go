// Package likely tells amounts that are not to be believed beside what is known of the same
// cells: in another unit, with their sign turned, in another currency, or running on.
//
// It judges by quotients, which need no exactness; nothing that is kept is computed here.
package likely

import (
	"math"
	"slices"
)

// Pair is an amount as a file would state it, and what is known of the same cell: stated
// before, planned, or usual. Both are in the same currency; zero says nothing.
type Pair struct{ Is, Was float64 }

// few is the number of pairs from which most of them decide; fewer must all agree.
const few = 3

// share is how many of the pairs must agree, where there are many.
const share = 0.8

// most tells whether enough of the pairs that say something fit.
func most(pairs []Pair, fits func(Pair) bool) bool {
	n, of := 0, 0
	for _, p := range pairs {
		if p.Is == 0 || p.Was == 0 {
			continue
		}
		of++
		if fits(p) {
			n++
		}
	}
	switch {
	case of < 2:
		return false
	case of < few:
		return n == of
	}
	return float64(n) >= share*float64(of)
}

// said is the number of pairs that say something.
func said(pairs []Pair) (n int) {
	for _, p := range pairs {
		if p.Is != 0 && p.Was != 0 {
			n++
		}
	}
	return n
}

// Power gives the power of ten by which amounts are off, from -6 to 6: -3 where they are
// about a thousandth of what is known. Zero where they are not, or the pairs do not tell.
func Power(pairs []Pair) int {
	const wide, narrow = 0.3, 0.15 // of a power: a factor of 2, and of 1.4
	for _, k := range [...]int{-6, -3, -2, -1, 1, 2, 3, 6} {
		within := wide
		if k == 1 || k == -1 || k == 2 || k == -2 {
			// An amount may well be ten times what it was; several, all alike, may not.
			if within = narrow; said(pairs) < few {
				continue
			}
		}
		if most(pairs, func(p Pair) bool {
			return math.Abs(math.Log10(math.Abs(p.Is/p.Was))-float64(k)) < within
		}) {
			return k
		}
	}
	return 0
}

// Turned tells amounts whose sign is the other one.
func Turned(pairs []Pair) bool {
	return most(pairs, func(p Pair) bool { return p.Is*p.Was < 0 })
}

// Converted tells amounts that were multiplied by a rate: they are in another currency. A
// rate near one tells nothing.
func Converted(pairs []Pair, rate float64) bool {
	const near, within = 0.25, 0.08 // of a power of ten
	if rate <= 0 || math.Abs(math.Log10(rate)) < near {
		return false
	}
	return most(pairs, func(p Pair) bool {
		return math.Abs(math.Log10(math.Abs(p.Is/p.Was))-math.Log10(rate)) < within
	})
}

// Step is an amount of one period of a row, in the order of periods, with what is known of
// that period alone.
type Step = Pair

// Running tells rows whose amounts are each all up to their period: they follow the sums
// of what is known, and not what is known itself. The sums begin with a row's first period,
// or with what is known before it, which before gives for each row.
func Running(rows [][]Step, before []float64) bool {
	return runs(rows, make([]float64, len(rows))) || runs(rows, before)
}

func runs(rows [][]Step, before []float64) bool {
	const within, more = 0.15, 1.5 // of the sum; than what is known alone
	fits, all := 0, 0
	for i, steps := range rows {
		sum := before[i]
		for _, p := range steps {
			first := sum == 0
			sum += p.Was
			if p.Is == 0 || p.Was == 0 || first {
				continue
			}
			all++
			if math.Abs(p.Is) < more*math.Abs(p.Was) && math.Abs(sum) > 2*math.Abs(p.Was) {
				return false // it is its period's own
			}
			if math.Abs(p.Is-sum) <= within*math.Abs(sum) && math.Abs(sum) > more*math.Abs(p.Was) {
				fits++
			}
		}
	}
	return all >= 2 && float64(fits) >= share*float64(all)
}

// Move is how what is to come of a project differs from what it last was.
type Move int

// What is to come moves by its amount, or by how many cost codes name it.
const (
	Still Move = iota
	ByAmount
	ByCodes
)

// Moved compares what is to come of a project, as a file states it, with what was to come
// of the same periods before: each in all, and in how many cost codes. It moves by its amount
// where it is limit times as much or more, or as little, or turned; and by its codes where
// there are limit times fewer than the five or more there were. Nothing stated, or nothing
// that was to come, tells nothing.
func Moved(is, was int64, codes, before int, limit float64) Move {
	const enough = 5
	if was <= 0 || codes == 0 {
		return Still
	}
	switch times := float64(is) / float64(was); {
	case times <= 1/limit || times >= limit:
		return ByAmount
	case before >= enough && float64(codes)*limit <= float64(before):
		return ByCodes
	}
	return Still
}

// Same tells whether amounts are all exactly those of something else, cell by cell: so
// many are no chance.
func Same(is, other []int64) bool {
	const enough = 4
	n := 0
	for i := range is {
		if is[i] != 0 {
			n++
		}
	}
	return n >= enough && slices.Equal(is, other)
}
