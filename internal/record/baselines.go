package record

import (
	"turret/internal/core/approval"
	"turret/internal/core/portfolio"
)

// Baselines are plans that are proposed, approved or rejected.
var Baselines = func() *baselinesKind {
	k := &baselinesKind{
		Kind: records("baselines", "baseline", "baseline", "plans that are proposed, approved or rejected"),
	}
	k.Project = k.ref("project", ProjectRef, "project", Key)
	k.Baseline = k.whole("baseline", "1 is the original", Key, Within(1, 9999))
	k.Approved = k.date("approved", "in force from this day")
	k.Reason = k.text("reason", "why")
	k.Approver = k.text("approver", "who approved or rejected it")
	k.State = k.choice(
		"state",
		[]string{"proposed", "approved", "rejected"},
		"only an approved one counts; it stays approved",
		Default("approved"),
	)
	k.Proposed = k.date("proposed", "the day it was proposed")
	k.Proposer = k.text("proposer", "by whom; someone else approves it")
	k.Remark = k.text("remark", "what the approver said")
	k.Refuse = k.refuse
	return k
}()

type baselinesKind struct {
	*Kind
	Project                                   RefCol
	Reason, Approver, State, Proposer, Remark TextCol
	Approved, Proposed                        DateCol
	Baseline                                  NumberCol
}

// refuse keeps what is approved approved, and by someone else than who proposed
// it.
func (k *baselinesKind) refuse(r Run, x *Change) (column, why string) {
	if x.Same {
		return "", ""
	}
	say := func(row *portfolio.Row) approval.Row {
		return approval.Row{
			Number: int(k.Baseline.Of(row)), State: portfolio.Approval(k.State.Or(row)), Dated: k.Approved.Said(row),
			Approver: k.Approver.Of(row), Proposer: k.Proposer.Of(row),
		}
	}
	var was *approval.Row
	if x.Before != nil {
		before := say(x.Before)
		was = &before
	}
	return approval.Refuse(was, say(x.After), r.Decided(), r.Another)
}
