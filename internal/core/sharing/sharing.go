// Package sharing says how the money of a project may be shared out to cost
// centres.
package sharing

import (
	"fmt"
	"strings"

	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// All is the sum of the shares of one set, in millionths of a percent.
const All = 100 * portfolio.Quantity

// Refuse gives the reason why the shares of a set that begins in a period do not
// stand together, or "": they add up to 100 percent, or to nothing where nothing is
// shared any more. The sum is in millionths of a percent, the period as it is
// written.
func Refuse(sum int64, from string) string {
	if sum == All || sum == 0 {
		return ""
	}
	text := strings.TrimRight(strings.TrimRight(money.FormatScaled(sum, portfolio.QuantityScale), "0"), ".")
	return fmt.Sprintf(
		"the shares from %s add up to %s%%, not to 100; state them all, those that end with 0",
		from,
		text,
	)
}
