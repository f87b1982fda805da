package calendar_test

import (
	"fmt"

	"turret/internal/core/calendar"
)

// Where an office lists no periods of its own they are calendar months; its fiscal
// year begins in April.
func ExampleMonths() {
	months := calendar.Months(4)
	p := months.Of(calendar.DateOf(2026, 11, 28))
	fmt.Println(months.Code(p), months.First(p), months.Last(p), months.Code(p+2))
	// Output: 2026-11 2026-11-01 2026-11-30 2027-01
}

func ExampleParseDate() {
	d, err := calendar.ParseDate("2026-02-28")
	fmt.Println(d+1, err)
	_, err = calendar.ParseDate("2026-02-29")
	fmt.Println(err != nil)
	// Output:
	// 2026-03-01 <nil>
	// true
}
