package record

// classAbout says what the class is of an amount that states none.
const classAbout = "empty: the one that the plan states on the cost code; else opex, with a finding"

// Costs are time-phased amounts: plan, forecast, commitment, accrual, actual totals.
var Costs = func() *costsKind {
	k := &costsKind{
		Kind: cells("costs", "amount", "time-phased amounts: plan, forecast, commitment, accrual, actual totals"),
	}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.CostCode = k.ref("cost_code", CostCodeRef, "cost code", Key)
	k.KindCol = k.choice("kind", []string{"plan", "forecast", "commitment", "accrual", "actual"}, "kind", Key)
	k.Flow = k.choice("flow", []string{"cost", "income", "benefit"}, "flow", Key, Default("cost"))
	k.Class = k.choice("class", []string{"capex", "opex"}, classAbout, Key, Blank)
	k.Period = k.period("period", "the month of the amount", Key)
	k.VersionCol = k.version(
		"version",
		"baseline number for plan, statement period for forecast and commitment, else empty",
		Key,
		Blank,
	)
	k.CostCentre = k.text("cost_centre", "cost centre", Key, Blank)
	k.Activity = k.ref("activity", ActivityRef, "activity", Key, Blank)
	k.Amount = k.money("amount", "amount")
	k.Currency = k.currency("currency", "empty: the project's")
	k.Note = k.text("note", "note")
	return k
}()

type costsKind struct {
	*Kind
	Project, CostCode, VersionCol, Activity          RefCol
	KindCol, Flow, Class, CostCentre, Currency, Note TextCol
	Period                                           PeriodCol
	Amount                                           NumberCol
}
