package record

// Risks are risks and issues as stated in a period.
var Risks = func() *risksKind {
	k := &risksKind{Kind: parts("risks", "period", "risk", "risks and issues as stated in a period")}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.Risk = k.text("risk", "code within the project", Key)
	k.KindCol = k.choice("kind", []string{"risk", "issue"}, "kind", Default("risk"))
	k.Title = k.text("title", "title")
	k.Likelihood = k.whole("likelihood", "1 to 5", Within(1, 5))
	k.Impact = k.whole("impact", "1 to 5", Within(1, 5))
	k.CostImpact = k.money("cost_impact", "in the project's currency")
	k.Owner = k.text("owner", "who answers for it")
	k.Due = k.date("due", "due")
	k.State = k.choice("state", []string{"open", "closed"}, "state", Default("open"))
	k.Response = k.text("response", "what is done")
	k.Period = k.period("period", "stated in", Key)
	return k
}()

type risksKind struct {
	*Kind
	Project                                      RefCol
	Risk, KindCol, Title, Owner, State, Response TextCol
	Period                                       PeriodCol
	Due                                          DateCol
	Likelihood, Impact, CostImpact               NumberCol
}
