// Package outlook splits the change of a computed outlook between two periods
// into causes that add up to it.
package outlook

import (
	"math/big"

	"turret/internal/core/money"
)

// Cause is why a computed outlook is another at a later period.
type Cause uint8

// The causes. With what is left to earn priced at what its estimate says a unit
// of it costs, the outlook is AC + (BAC − EV) × price, and each cause is what one
// term of it adds, in this order.
const (
	OnlyInOne   Cause = iota // the project counts at one period only
	PlanChange               // of what was left to earn, at the price of before
	Actuals                  // what was spent between the two
	Earned                   // what was earned between the two, at the price of before
	Method                   // another estimate counts
	Performance              // what is left, at the new price in place of the old
	Restated                 // without an estimate from what is earned: what is still to come
	Causes                   // how many there are
)

// Title is what a screen calls a cause.
func (c Cause) Title() string {
	return [...]string{"projects only in one", "plan change", "actuals", "scope earned", "another estimate", "performance", "to go restated"}[c]
}

// Code is what an address calls a cause.
func (c Cause) Code() string {
	return [...]string{"project", "plan", "actuals", "earned", "method", "performance", "restated"}[c]
}

// Side is a project at one period: amounts in minor units of one currency.
type Side struct {
	BAC, EV, AC, EAC int64
	Share            *big.Rat         // earned share; nil where it is not known
	Method           string           // name of the estimate that counts; "": one that is not made from what is earned
	Others           map[string]int64 // the estimates that are known, by name
}

// Between splits the change of a project's outlook from a to b; nil is a period
// at which it does not count. The steps add up to EAC of b less EAC of a, each
// rounded half to even but for the last of them, which takes the rest.
func Between(a, b *Side) (steps [Causes]int64, err error) {
	switch {
	case a == nil && b == nil:
		return steps, nil
	case a == nil:
		steps[OnlyInOne] = b.EAC
		return steps, nil
	case b == nil:
		steps[OnlyInOne] = -a.EAC
		return steps, nil
	}
	steps[Actuals] = b.AC - a.AC
	rest := b.EAC - a.EAC - steps[Actuals]
	if a.Share == nil || b.Share == nil || a.Method == "" || a.BAC == a.EV {
		steps[Restated] = rest
		return steps, nil
	}
	price := big.NewRat(a.EAC-a.AC, a.BAC-a.EV)
	grown := big.NewRat(b.BAC-a.BAC, 1)
	left := new(big.Rat).Sub(big.NewRat(1, 1), a.Share)
	if steps[PlanChange], err = money.Round(product(grown, left, price)); err != nil {
		return steps, err
	}
	gained := new(big.Rat).Sub(big.NewRat(b.EV-a.EV, 1), product(grown, a.Share))
	if steps[Earned], err = money.Round(product(gained, price, big.NewRat(-1, 1))); err != nil {
		return steps, err
	}
	rest -= steps[PlanChange] + steps[Earned]
	if b.Method != a.Method {
		steps[Method] = rest
		if same, ok := b.Others[a.Method]; ok {
			steps[Method] = b.EAC - same
		}
		rest -= steps[Method]
	}
	steps[Performance] = rest
	return steps, nil
}

func product(list ...*big.Rat) *big.Rat {
	out := big.NewRat(1, 1)
	for _, x := range list {
		out.Mul(out, x)
	}
	return out
}
