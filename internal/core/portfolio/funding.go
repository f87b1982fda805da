package portfolio

import (
	"turret/internal/core/calendar"
	"turret/internal/core/money"
)

// Funding is money that is authorised for a scope, from a period on; or, of a transfer, what
// comes to it or, below zero, goes from it.
type Funding struct {
	Scope    string // the code of a project or a programme, or Everywhere
	From     string // the source of the money; "" where a transfer does not tell
	Period   calendar.Period
	Amount   int64 // minor units
	Currency money.Currency
	Says     string // who decided it, or why it is moved
	Transfer string // what tells the transfer; "" where the money is authorised
	Code     string // of a draw-down, the cost code that it is of
	Source   Source
}

// FundingOf gives the money that is authorised for a programme, or with Everywhere for the
// whole portfolio, and for the programmes in it: not that of projects.
func (o *Office) FundingOf(group string) (out []Funding) {
	for _, f := range o.Funding {
		if group == Everywhere || o.Under(f.Scope, group) {
			out = append(out, f)
		}
	}
	return out
}
