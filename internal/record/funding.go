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
