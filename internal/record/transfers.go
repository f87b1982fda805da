package record

import (
	"fmt"

	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Transfers are money that is moved: between projects, programmes and sources, or within a
// project from a reserve to a cost code. The rows of one add up to nothing.
var Transfers = func() *transfersKind {
	k := &transfersKind{Kind: records("transfers", "transfer", "part of a transfer", "money that is moved between projects, programmes and sources, or from a reserve to a cost code; the rows of one transfer add up to nothing")}
	k.Transfer = k.text("transfer", "what tells it from others", Key)
	k.Scope = k.text("scope", "the code of a project or a programme, or * for the whole portfolio", Key)
	k.From = k.text("source", "of the money; empty where it stays in its source", Key, Blank)
	k.CostCode = k.ref("cost_code", CostCodeRef, "of a draw-down within a project: from a reserve, to a code", Key, Blank)
	k.Period = k.period("period", "from which on it is so", Key, Years)
	k.Amount = k.money("amount", "what comes; below zero: what goes")
	k.Currency = k.currency("currency", "of all its parts; empty: the reporting one")
	k.Reason = k.text("reason", "why, and who decided it")
	k.Refuse = k.refuse
	k.Sum = &Sum{Of: k.set, Refuse: k.together}
	k.Own = true
	return k
}()

type transfersKind struct {
	*Kind
	Transfer, Scope, From, Currency, Reason TextCol
	CostCode                                RefCol
	Period                                  PeriodCol
	Amount                                  NumberCol
}

func (k *transfersKind) refuse(r Run, x *Change) (column, why string) {
	if why := unscoped(r, k.Scope.Of(x.After)); why != "" {
		return "scope", why
	}
	if k.Reason.Of(x.After) == "" {
		return "reason", "say why the money is moved, and who decided it"
	}
	return priced(r, x.After, k.Amount, k.Currency, "")
}

// moved tells the rows of a transfer that add up: those in one currency, from one period on.
type moved struct {
	transfer, currency string
	period             int64
}

func (k *transfersKind) set(row *portfolio.Row) (set any, n int64) {
	c := k.Currency.Of(row)
	n, _ = AmountOf(row, k.Amount, money.Currency(c))
	return moved{k.Transfer.Of(row), c, int64(k.Period.Of(row))}, n
}

func (k *transfersKind) together(r Run, row *portfolio.Row, sum int64) (column, why string) {
	if sum == 0 {
		return "", ""
	}
	c := money.Currency(k.Currency.Of(row))
	return "amount", fmt.Sprintf("the parts of transfer %q in %s add up to %s, not to nothing; what one gets, another gives",
		k.Transfer.Of(row), r.PeriodName(k.Period.Of(row)), money.Format(sum, c))
}
