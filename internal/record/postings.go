package record

// Postings are booked ledger lines.
var Postings = func() *postingsKind {
	k := &postingsKind{Kind: ledger("postings", "posting", "booked ledger lines")}
	k.Posting = k.code("posting", "the ledger's own number", Key)
	k.Date = k.date("date", "booking day")
	k.Period = k.period("period", "accounting period; empty: that of the date, or the first open one after it")
	k.Project = k.ref("project", ProjectRef, "project")
	k.CostCode = k.ref("cost_code", CostCodeRef, "cost code")
	k.Class = k.choice("class", []string{"capex", "opex"}, classAbout)
	k.CostCentre = k.text("cost_centre", "cost centre")
	k.Activity = k.ref("activity", ActivityRef, "activity")
	k.Amount = k.money("amount", "amount")
	k.Currency = k.currency("currency", "empty: the project's")
	k.Supplier = k.text("supplier", "supplier")
	k.Text = k.text("text", "text")
	return k
}()

type postingsKind struct {
	*Kind
	Project, CostCode, Activity                          RefCol
	Posting, Class, CostCentre, Currency, Supplier, Text TextCol
	Period                                               PeriodCol
	Date                                                 DateCol
	Amount                                               NumberCol
}
