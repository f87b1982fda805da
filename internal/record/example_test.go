package record_test

import (
	"fmt"

	"turret/internal/core/portfolio"
	"turret/internal/record"
)

// A kind's columns read its rows; none is found by its name.
func ExampleNamed() {
	k := record.Named("overrides")
	fmt.Println(k == record.Overrides.Kind, k.One, k.Project())
	row := portfolio.Row{Fields: make([]portfolio.Field, len(k.Columns))}
	*record.Overrides.Reason.In(&row) = portfolio.Field{Said: portfolio.Value, Text: "seen on site"}
	fmt.Println(record.Overrides.Reason.Of(&row), record.Overrides.Until.Said(&row))
	// Output:
	// true standing 0
	// seen on site false
}
