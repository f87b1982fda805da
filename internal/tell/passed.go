package tell

import (
	"turret/internal/core/figure"
	"turret/internal/core/money"
)

// Passed says how much of the actual cost of a project or group is a plan, taken as time
// passed; "" where none is.
func Passed(v figure.Value, c money.Currency) string {
	if !v.Known || v.N == 0 {
		return ""
	}
	return Figure(figure.ACFromPlan, v, c, true).Text + " " + string(c) + " of the actual cost is the plan as time passed: nothing is booked of those periods."
}
