package format_test

import (
	"fmt"

	"turret/internal/core/portfolio"
	"turret/internal/store/format"
)

// Time-phased amounts go behind a format number and come back as they were; the
// hash is over what they say, not over how they are packed.
func ExampleEncodeLines() {
	body := format.EncodeLines([]portfolio.Line{{
		Code: "210", Flow: portfolio.Cost, Class: "capex", Currency: "EUR",
		Cells: []portfolio.Cell{{Period: 24323, Amount: 125000}, {Period: 24324, Amount: -4000}},
	}})
	lines, err := format.DecodeLines(body)
	fmt.Println(lines[0].Code, lines[0].Cells[1].Amount, err)
	_, err = format.DecodeLines(body[:len(body)/2])
	fmt.Println(err != nil)
	// Output:
	// 210 -4000 <nil>
	// true
}
