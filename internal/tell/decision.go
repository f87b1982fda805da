package tell

import (
	"fmt"
	"strings"

	"turret/internal/core/figure"
	"turret/internal/core/money"
)

// Decision is a proposed baseline that waits to be approved or rejected.
type Decision struct {
	Number   int
	Currency money.Currency
	Known    bool  // the plans can be had in the currency
	Plan     int64 // in force, in minor units
	Change   int64 // what the baseline adds to it
	Shift    int   // working days by which the finish moves
	Proposer string
	On       string // the day of the proposal, or ""
}

// String says what is to be decided: what it would do to the plan and to the finish, and
// who proposed it.
func (d Decision) String() string {
	out := fmt.Sprintf("Baseline %d is to be approved or rejected", d.Number)
	var does []string
	switch {
	case !d.Known:
		does = append(does, "what it does to the plan is not known, as a rate is missing")
	case d.Change == 0:
		does = append(does, "it leaves the plan's sum as it is")
	default:
		much := max(d.Change, -d.Change)
		text := "it " + map[bool]string{true: "adds ", false: "takes "}[d.Change > 0] + Millions(figure.Whole(figure.Money, much), d.Currency)
		if d.Plan != 0 {
			text += " (" + Share(much, d.Plan, false) + ")"
		}
		does = append(does, text+map[bool]string{true: " to the plan", false: " from the plan"}[d.Change > 0])
	}
	switch {
	case d.Shift > 0:
		does = append(does, "moves the finish by "+Plural(d.Shift, "working day", "working days"))
	case d.Shift < 0:
		does = append(does, "brings the finish "+Plural(-d.Shift, "working day", "working days")+" nearer")
	}
	between := " and "
	if !d.Known {
		between = "; it "
	}
	out += ": " + strings.Join(does, between)
	switch {
	case d.Proposer != "" && d.On != "":
		out += fmt.Sprintf("; proposed by %s on %s", d.Proposer, d.On)
	case d.Proposer != "":
		out += "; proposed by " + d.Proposer
	case d.On != "":
		out += "; proposed on " + d.On
	}
	return out + "."
}
