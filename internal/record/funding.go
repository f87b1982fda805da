package record

import (
	"errors"
	"fmt"

	"turret/internal/core/money"
	"turret/internal/core/portfolio"
)

// Funding is money that is authorised: for a project, a programme or the whole portfolio, from
// a source.
var Funding = func() *fundingKind {
	k := &fundingKind{Kind: records("funding", "funding", "funding", "money that is authorised for a project, a programme or the whole portfolio, by source")}
	k.Scope = k.text("scope", "the code of a project or a programme, or * for the whole portfolio", Key)
	k.From = k.text("source", "where the money comes from", Key)
	k.Period = k.period("period", "from which on it may be spent; of a fiscal year, such as FY27, its first period", Key, Years)
	k.Decision = k.text("decision", "who decided it, and when")
	k.Amount = k.money("amount", "what is authorised")
	k.Currency = k.currency("currency", "empty: that of the project, else the reporting one")
	k.Refuse = k.refuse
	k.Form = &Form{
		Title: "Funding", Needs: founding,
		Says: "Money that is authorised, beside what is planned and what it comes to. Money of a programme is for all below it.",
	}
	k.Own = true
	return k
}()

type fundingKind struct {
	*Kind
	Scope, From, Decision, Currency TextCol
	Period                          PeriodCol
	Amount                          NumberCol
}

func (k *fundingKind) refuse(r Run, x *Change) (column, why string) {
	if why := unscoped(r, k.Scope.Of(x.After)); why != "" {
		return "scope", why
	}
	return priced(r, x.After, k.Amount, k.Currency, k.Scope.Of(x.After))
}

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

// Controls are what a source says that it handed over: what was taken is held against it.
var Controls = func() *controlsKind {
	k := &controlsKind{Kind: records("controls", "control", "control total", "what the postings of a source add up to, by period, as the source says")}
	k.From = k.text("source", "of the postings, as their gathering calls it", Key)
	k.Period = k.period("period", "accounting period", Key)
	k.CostCode = k.text("cost_code", "a code, as the source writes it; empty: all of the period", Key, Blank)
	k.Amount = k.money("amount", "what they add up to")
	k.Currency = k.currency("currency", "empty: the reporting one")
	k.Refuse = k.refuse
	k.Touches = Names
	k.Form = &Form{
		Title: "Control totals", Needs: "gather files",
		Says: "What each source of postings says that it handed over, by period: the ledger is held against it, to the cent.",
	}
	k.Own = true
	return k
}()

type controlsKind struct {
	*Kind
	From, CostCode, Currency TextCol
	Period                   PeriodCol
	Amount                   NumberCol
}

func (k *controlsKind) refuse(r Run, x *Change) (column, why string) {
	return priced(r, x.After, k.Amount, k.Currency, "")
}

// Clients are those that projects are done for.
var Clients = func() *clientsKind {
	k := &clientsKind{Kind: records("clients", "client", "client", "those that projects are done for, and what they are called")}
	k.Client = k.code("client", "code, as projects name it", Key)
	k.NameCol = k.text("name", "name")
	k.Touches = Names
	k.Form = &Form{
		Title: "Clients", Needs: founding,
		Says: "Projects name their client by its code; here it gets its name.",
	}
	k.Own = true
	return k
}()

type clientsKind struct {
	*Kind
	Client, NameCol TextCol
}

// unscoped tells why something is no scope of money, or "".
func unscoped(r Run, scope string) string {
	if scope == portfolio.Everywhere || r.Known(Projects.Kind, scope) || r.Known(Programmes.Kind, scope) {
		return ""
	}
	return fmt.Sprintf("there is no project or programme %q; * is the whole portfolio", scope)
}

// priced refuses an amount that its currency does not have: with no digits for it, or beyond
// 64 bits.
func priced(r Run, row *portfolio.Row, amount NumberCol, currency TextCol, scope string) (column, why string) {
	if !amount.Said(row) {
		return amount.Column().Name, "an amount is wanted; 0 where it is nothing"
	}
	c := money.Currency(currency.Of(row))
	if c == "" {
		c = r.Reporting()
		r.Each(Projects.Kind, func(p *portfolio.Row) {
			if own := Projects.Currency.Of(p); Projects.Project.Of(p) == scope && own != "" {
				c = money.Currency(own)
			}
		})
	}
	text := amount.In(row).Text
	if amount.In(row).Int == portfolio.Computed {
		text = money.RoundText(text, c.Exponent())
	}
	switch _, err := money.Parse(text, c); {
	case errors.Is(err, money.ErrPrecision):
		return amount.Column().Name, fmt.Sprintf("%s has %d decimals, and this has more; round it as it was decided", c, c.Exponent())
	case err != nil:
		return amount.Column().Name, err.Error()
	}
	return "", ""
}

// AmountOf gives an amount that a record keeps as text, in minor units of a currency. The
// error is that of money.Parse.
func AmountOf(row *portfolio.Row, amount NumberCol, c money.Currency) (int64, error) {
	if !amount.Said(row) {
		return 0, nil
	}
	return money.Parse(money.RoundText(amount.In(row).Text, c.Exponent()), c)
}
