package record

import (
	"turret/internal/core/portfolio"
	"turret/internal/core/sharing"
)

// Shares: how the money of a project, or of a cost code in it, is shared out to cost centres; lines that name a centre stay there.
var Shares = func() *sharesKind {
	k := &sharesKind{
		Kind: records(
			"shares",
			"share",
			"share",
			"how the money of a project, or of a cost code in it, is shared out to cost centres; lines that name a centre stay there",
		),
	}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.CostCode = k.ref("cost_code", CostCodeRef, "the code, with those below it; empty: the whole project", Key, Blank)
	k.From = k.period("from", "in force from this period, until the next that is stated", Key, As("from_period"))
	k.CostCentre = k.text("cost_centre", "cost centre", Key)
	k.Percent = k.decimal(
		"percent",
		"those of one period add up to 100; or to 0, where nothing is shared any more",
		Within(0, hundred),
	)
	k.Sum = &Sum{Of: k.set, Refuse: k.together}
	return k
}()

type sharesKind struct {
	*Kind
	Project, CostCode RefCol
	CostCentre        TextCol
	From              PeriodCol
	Percent           NumberCol
}

// set tells which rows share the same money from the same period on.
func (k *sharesKind) set(row *portfolio.Row) (set any, n int64) {
	return [3]int64{k.Project.ID(row), k.CostCode.ID(row), int64(k.From.Of(row))}, k.Percent.Of(row)
}

func (k *sharesKind) together(r Run, row *portfolio.Row, sum int64) (column, why string) {
	return "percent", sharing.Refuse(sum, r.PeriodCode(k.From.Of(row)))
}
