package expression_test

import (
	"fmt"

	"turret/internal/core/expression"
	"turret/internal/core/figure"
)

// An expression is read once, over names with units; what does not add up is told
// with the place.
func ExampleParse() {
	names := map[string]expression.Unit{
		"ac":  expression.Of(figure.Money),
		"ev":  expression.Of(figure.Money),
		"cpi": expression.Of(figure.Ratio),
	}
	x, err := expression.Parse("ac - ev > 0 or cpi < 0.9", names)
	fmt.Println(x != nil, err)
	_, err = expression.Parse("ac + cpi", names)
	fmt.Println(err)
	// Output:
	// true <nil>
	// it adds money with a ratio, which say nothing about each other, at "+ cpi"
}
