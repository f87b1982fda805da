package figure_test

import (
	"fmt"

	"turret/internal/core/exact"
	"turret/internal/core/figure"
)

// Every figure is an entry of the catalogue: what it is called, what it is counted
// in, and what it is made of.
func ExampleLookup() {
	id, ok := figure.Lookup("cpi")
	e := figure.Get(id)
	fmt.Println(ok, e.Title, e.Unit)
	_, ok = figure.Lookup("luck")
	fmt.Println(ok)
	// Output:
	// true Cost performance index ratio
	// false
}

// What cannot be known carries the reason; a quotient is an exact fraction.
func ExampleExact() {
	v := figure.Exact(figure.Ratio, exact.Of(2, 3))
	fmt.Println(v.Known, figure.Decimals(v.R, 3))
	v = figure.Unknown(figure.Ratio, "nothing was spent")
	fmt.Println(v.Known, v.Why)
	// Output:
	// true 0.667
	// false nothing was spent
}
