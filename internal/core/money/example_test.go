package money_test

import (
	"fmt"

	"turret/internal/core/money"
)

// Amounts are whole minor units of their currency, which has as many of them as
// ISO 4217 says.
func ExampleParse() {
	euro, err := money.Parse("1234.56", "EUR")
	fmt.Println(euro, err)
	yen, err := money.Parse("1234", "JPY")
	fmt.Println(yen, err)
	_, err = money.Parse("1234.567", "EUR")
	fmt.Println(err != nil)
	// Output:
	// 123456 <nil>
	// 1234 <nil>
	// true
}

func ExampleFormat() {
	fmt.Println(money.Format(123456, "EUR"), money.Format(-5, "EUR"), money.Format(1234, "JPY"))
	// Output: 1234.56 -0.05 1234
}

// A share of an amount loses nothing: what rounding leaves goes to one of them.
func ExampleShare() {
	fmt.Println(money.Share(100, []int64{1, 1, 1}))
	// Output: [34 33 33]
}
