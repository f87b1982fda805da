package record

// Controls are what a source says that it handed over: what was taken is held against it.
var Controls = func() *controlsKind {
	k := &controlsKind{Kind: records("controls", "control", "control total", "what the postings of a source add up to, by period, as the source says")}
	k.From = k.text("source", "of the postings, as their gathering calls it", Key)
	k.Period = k.period("period", "accounting period", Key)
	k.CostCode = k.text("cost_code", "a code, as the source writes it; empty: all of the period", Key, Blank)
	k.Amount = k.money("amount", "what they add up to")
	k.Currency = k.currency("currency", "empty: the reporting one", Key, Blank)
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
